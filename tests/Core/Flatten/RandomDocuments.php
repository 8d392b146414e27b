<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use Random\Engine\Mt19937;
use Random\Randomizer;

/**
 * Records as hostile as services make them, the same ones for a seed. Every leaf occurs once in
 * all of them, so that it can be found again.
 */
final class RandomDocuments
{
    private const NAMES = ['id', 'name', 'order', 'ORDER', 'Order', 'value', 'key', 'a.b', "it's", 'say "x"', '渡辺', '0', '12', '$ref', 'attributes', 'items', 'node', 'edges', 'results', 'by_house', 'tags', 'created_at', 'is_open', 'amount', 'post code', 'SELECT', 'x[*]', '@', '?', 'back\\slash', 'line
break', 'é', ' ', 'data', 'position', 'parent', 'loan_id'];

    private readonly Randomizer $random;

    private int $leaf = 0;

    /** @var list<string|int|float> all leaves that occur once */
    public array $leaves = [];

    public function __construct(int $seed)
    {
        $this->random = new Randomizer(new Mt19937($seed));
    }

    /**
     * @return list<mixed>
     */
    public function records(): array
    {
        $schema = $this->schema(0);
        $records = [];
        for ($count = $this->random->getInt(1, 12); $count > 0; $count--) {
            $records[] = $this->value($schema);
        }

        return $records;
    }

    /**
     * @return array{string, mixed}
     */
    private function schema(int $depth): array
    {
        $kinds = $depth === 0 ? ['object', 'object', 'object', 'object', 'mixed', 'rows', 'leaf'] : ($depth > 3 ? ['leaf'] : ['leaf', 'leaf', 'leaf', 'leaf', 'object', 'object', 'objects', 'objects', 'leaves', 'dictionary', 'pairs', 'mixed', 'rows', 'edges', 'nothing']);
        $kind = $kinds[$this->random->getInt(0, count($kinds) - 1)];

        return [$kind, match ($kind) {
            'object', 'objects', 'edges' => $this->members($depth),
            'leaves', 'leaf' => ['text', 'integer', 'decimal', 'date', 'datetime', 'zeros', 'long', 'boolean', 'null', 'epoch', 'any', 'european'][$this->random->getInt(0, 11)],
            'dictionary', 'rows' => $this->schema($depth + 1),
            'mixed' => [$this->schema($depth + 1), $this->schema($depth + 1)],
            'pairs' => $this->random->getInt(1, 4),
            default => null,
        }];
    }

    /**
     * @return array<string, array{string, mixed}>
     */
    private function members(int $depth): array
    {
        $members = [];
        foreach ((array) $this->random->pickArrayKeys(self::NAMES, $this->random->getInt(1, 8)) as $name) {
            $members['n'.$name] = $this->schema($depth + 1);
        }

        return $members;
    }

    /**
     * @param  array{string, mixed}  $schema
     */
    private function value(array $schema): mixed
    {
        [$kind, $of] = $schema;
        if ($this->random->getInt(0, 11) === 0) {
            return null;
        }

        return match ($kind) {
            'object' => $this->object($of),
            'objects' => array_map(fn (): mixed => $this->random->getInt(0, 25) === 0 ? null : $this->object($of), range(1, $this->random->getInt(1, 4))),
            'edges' => (object) ['edges' => array_map(fn (): object => (object) ['node' => $this->object($of)], range(1, $this->random->getInt(1, 3)))],
            'leaves' => array_map(fn (): mixed => $this->leaf($of), $this->random->getInt(0, 3) === 0 ? [] : range(1, $this->random->getInt(1, 20))),
            'dictionary' => $this->dictionary($of),
            'rows' => array_map(fn (): mixed => $this->value($of), range(1, $this->random->getInt(1, 3))),
            'pairs' => array_map(fn (int $number): object => (object) ['name' => "pair $number", 'value' => $this->leaf('text')], range(1, (int) $of)),
            'mixed' => $this->value($of[$this->random->getInt(0, 1)]),
            'nothing' => [[], new \stdClass, null][$this->random->getInt(0, 2)],
            default => $this->leaf($of),
        };
    }

    /**
     * @param  array<string, array{string, mixed}>  $members
     */
    private function object(array $members): object
    {
        $object = new \stdClass;
        foreach ($members as $name => $schema) {
            if ($this->random->getInt(0, 5) > 0) {
                $object->{self::NAMES[(int) substr((string) $name, 1)]} = $this->value($schema);
            }
        }

        return $object;
    }

    /**
     * @param  array{string, mixed}  $of
     */
    private function dictionary(array $of): object
    {
        $object = new \stdClass;
        for ($count = $this->random->getInt(0, 6); $count > 0; $count--) {
            $object->{'K-'.++$this->leaf} = $this->value($of);
        }

        return $object;
    }

    private function leaf(string $type): string|int|float|bool|null
    {
        $number = ++$this->leaf;
        $leaf = match ($type) {
            'text' => "leaf $number,\t\"x\\",
            'integer' => 1_000_000 + $number,
            'decimal' => 1_000_000 + $number + 0.25,
            'date' => gmdate('Y-m-d', 1_900_000_000 + 86400 * $number),
            'datetime' => gmdate('Y-m-d\TH:i:s', 1_900_000_000 + 61 * $number).['Z', '+02:00'][$number % 2],
            'zeros' => sprintf('%09d', $number),
            'long' => '98765432109876'.(10_000_000 + $number),
            'epoch' => 1_800_000_000 + $number,
            'european' => sprintf('%02d.%02d.%04d', $number % 28 + 1, intdiv($number, 28) % 12 + 1, 1900 + intdiv($number, 336)),
            'any' => [$number + 2_000_000, "any $number", $number + 0.5][$number % 3],
            'boolean' => $number % 2 === 0,
            default => null,
        };
        if (! is_bool($leaf) && $leaf !== null) {
            $this->leaves[] = $leaf;
        }

        return $leaf;
    }
}
