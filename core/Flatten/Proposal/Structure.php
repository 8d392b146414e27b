<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

/**
 * The fields of sampled records: objects inside are walked into, arrays are kept apart.
 */
final class Structure
{
    private const DEEPEST = 8;

    private const MOST_FIELDS = 400;

    /** @var array<string, FieldStats> JSONPath → what was seen */
    public array $fields = [];

    /** @var array<string, list<string>> JSONPath → names from the record to the field */
    public array $names = [];

    /** @var array<string, list<mixed>> JSONPath of an array → all elements seen */
    public array $elements = [];

    public int $records = 0;

    /** @var array<string, true> JSONPath of what was an object in some record */
    private array $folded = [];

    /**
     * @param  list<mixed>  $records
     */
    public function __construct(array $records)
    {
        foreach ($records as $record) {
            $this->records++;
            if (is_object($record)) {
                $this->walk($record, '$', []);
            } else {
                $this->field('$', ['value'])?->add($record);
            }
        }
        $this->keepMixedWhole();
        $this->dropFoldedObjects();
    }

    /**
     * @param  list<string>  $names
     */
    private function walk(object $object, string $path, array $names): void
    {
        foreach (get_object_vars($object) as $name => $value) {
            $name = (string) $name;
            $at = $path.self::step($name);
            $down = [...$names, $name];
            if (is_object($value) && count($down) < self::DEEPEST && get_object_vars($value) !== []) {
                $this->folded[$at] = true;
                $this->walk($value, $at, $down);
            } elseif (is_array($value)) {
                $this->field($at, $down)?->add($value === [] ? null : $value);
                $this->elements[$at] ??= [];
                if (count($this->elements[$at]) < 20000) {
                    array_push($this->elements[$at], ...$value);
                }
            } else {
                $this->field($at, $down)?->add($value);
            }
        }
    }

    /**
     * A field that is an object in one record and a value or an array in the next is kept whole.
     */
    private function keepMixedWhole(): void
    {
        foreach (array_keys($this->folded) as $path) {
            if (! isset($this->fields[$path]) || ($this->fields[$path]->values === 0 && ! isset($this->elements[$path]))) {
                continue;
            }
            $this->fields[$path]->add(new \stdClass);
            foreach (array_keys($this->fields) as $other) {
                if (str_starts_with($other, $path.'.') || str_starts_with($other, $path.'[')) {
                    unset($this->fields[$other], $this->elements[$other]);
                }
            }
            unset($this->elements[$path]);
        }
    }

    /**
     * A field that is null in one record and an object in the next is its members.
     */
    private function dropFoldedObjects(): void
    {
        foreach (array_keys($this->fields) as $path) {
            if ($this->fields[$path]->values > 0 || isset($this->elements[$path])) {
                continue;
            }
            foreach (array_keys($this->fields) as $other) {
                if (str_starts_with($other, $path.'.') || str_starts_with($other, $path.'[')) {
                    unset($this->fields[$path]);

                    break;
                }
            }
        }
    }

    /**
     * @param  list<string>  $names
     */
    private function field(string $path, array $names): ?FieldStats
    {
        if (! isset($this->fields[$path])) {
            if (count($this->fields) >= self::MOST_FIELDS) {
                return null;
            }
            $this->fields[$path] = new FieldStats;
            $this->names[$path] = $names;
        }

        return $this->fields[$path];
    }

    private static function step(string $name): string
    {
        return preg_match('/^[A-Za-z_][A-Za-z0-9_]*$/D', $name) === 1 ? ".$name" : \DeepSpring\Answer\JsonPath\Location::step($name);
    }
}
