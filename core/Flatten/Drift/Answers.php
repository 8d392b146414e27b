<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Drift;

use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Flatten\PlanPlaces;
use DeepSpring\Flatten\Proposal\Guess\Guesses;
use DeepSpring\Flatten\Proposal\RecordField;
use DeepSpring\Flatten\Shaping;

/**
 * What a person answers to a change → the plan changed accordingly.
 */
final readonly class Answers
{
    /**
     * @param  array<string, mixed>  $flatten  of a source file
     * @param  list<mixed>  $records  of the answer in which the change was seen
     */
    public function __construct(private array $flatten, private array $records)
    {
    }

    /**
     * @return array<string, mixed> the same where there is nothing to change
     */
    public function apply(string $answer, string $path): array
    {
        return match ($answer) {
            'add' => $this->add($path),
            'leave out' => ['leave_out' => array_values(array_unique([...($this->flatten['leave_out'] ?? []), $path]))] + $this->flatten,
            'change type' => $this->retype($path),
            'drop column' => $this->drop($path),
            default => $this->flatten,
        };
    }

    /**
     * @return array<string, mixed>
     */
    private function add(string $path): array
    {
        return (new Shaping($this->flatten, $this->records))->add($path);
    }

    /**
     * @return array<string, mixed>
     */
    private function retype(string $path): array
    {
        [, $records, $inside] = PlanPlaces::find($this->flatten, $this->records, $path);
        $field = new RecordField;
        foreach ($records as $record) {
            foreach (JsonPath::parse($inside)->values($record) as $value) {
                $field->take($value);
            }
        }
        $name = preg_match('/(\w+)\W*$/', $inside, $part) === 1 ? $part[1] : '';
        $type = $field->isScalar() ? (new Guesses)->of($field->stats(), $name)->column : ['type' => 'json'];

        return PlanPlaces::change($this->flatten, $path, static function (array $one) use ($inside, $type): array {
            foreach ($one['columns'] as $number => $column) {
                if (($column['from'] ?? '') === $inside) {
                    $one['columns'][$number] = array_diff_key($column, ['type' => 1, 'scale' => 1, 'precision' => 1, 'read_as' => 1, 'zone' => 1]) + $type;
                }
            }

            return $one;
        });
    }

    /**
     * @return array<string, mixed>
     */
    private function drop(string $path): array
    {
        [, , $inside] = PlanPlaces::find($this->flatten, [], $path);

        return PlanPlaces::change($this->flatten, $path, static function (array $one) use ($inside): array {
            $left = array_values(array_filter($one['columns'], static fn (array $column): bool => ($column['from'] ?? '') !== $inside || in_array($column['name'], $one['key'] ?? [], true)));
            // A table without a column would be none.
            $one['columns'] = $left === [] ? $one['columns'] : $left;

            return $one;
        });
    }
}
