<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Flatten\Proposal\BranchJoin;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Value\SafeNames;

/**
 * What a person does to a plan by hand, one step at a time. Tables are numbered as `Plan::tables`
 * has them, columns from 0; whatever does not exist changes nothing.
 */
final readonly class Shaping
{
    /** Columns that a made key is made of at most. */
    private const KEYED = 90;

    /**
     * @param  array<string, mixed>  $flatten  of a source file
     * @param  list<mixed>  $records  sampled ones, for what is added to be typed by
     */
    public function __construct(public array $flatten, private array $records)
    {
    }

    /**
     * A field, and all below it, where it is not there yet: leaves as columns, lists as branches.
     *
     * @param  int|null  $at  place among the columns; the end without it
     * @param  bool  $leavesOnly  whether lists of objects are left alone
     * @return array<string, mixed>
     */
    public function add(string $path, ?int $at = null, bool $leavesOnly = false): array
    {
        [$table, $records, $inside] = PlanPlaces::find($this->flatten, $this->records, $path);
        $proposal = (new Proposer)->propose($records, (string) $table['table'])->flatten;
        $isNew = static fn (string $from): bool => PlanPlaces::isAtOrBelow($from, $inside);
        $there = array_map(self::bare(...), array_column($table['columns'], 'from'));
        $branched = array_column($table['branches'] ?? [], 'from');
        $columns = array_values(array_filter($proposal['columns'], static fn (array $column): bool => isset($column['from']) && $isNew($column['from']) && ! in_array(self::bare($column['from']), $there, true)));
        $branches = $leavesOnly ? [] : array_values(array_filter($proposal['branches'] ?? [], static fn (array $branch): bool => $isNew((string) $branch['from']) && ! in_array($branch['from'], $branched, true)));
        if ($columns === [] && $branches === [] && ! in_array(self::bare($inside), $there, true)) {
            // A field of elements that have no table of their own.
            $columns = [['name' => SafeNames::clean((string) preg_replace('/[^\pL\pN]+/u', '_', substr($inside, 1))), 'from' => $inside] + (str_contains($inside, '[*]') || str_ends_with($inside, '.*') ? ['type' => 'text', 'many' => 'join', 'with' => ', '] : ['type' => 'json'])];
        }
        [$numbers, $branches] = BranchJoin::of($table, $proposal, $branches);
        $columns = [...self::named(array_values($table['columns']), $numbers), ...self::named([...array_values($table['columns']), ...$numbers], $columns)];
        $taken = array_map(SafeNames::clean(...), array_column(Plan::tablesIn($this->flatten), 'table'));
        foreach ($branches as $number => $branch) {
            $branches[$number] = self::renamed($branch, $taken);
        }

        return PlanPlaces::change($this->flatten, $path, static function (array $one) use ($columns, $branches, $at): array {
            array_splice($one['columns'], $at ?? count($one['columns']), 0, $columns);
            if ($branches !== []) {
                $one['branches'] = [...($one['branches'] ?? []), ...$branches];
            }

            return $one;
        });
    }

    /**
     * Takes out the columns that read a path or what is below it, and branches of it. Columns of the
     * key stay, and so does the last one.
     *
     * @return array<string, mixed>
     */
    public function exclude(string $path): array
    {
        [, , $inside] = PlanPlaces::find($this->flatten, [], $path);

        return PlanPlaces::change($this->flatten, $path, static function (array $one) use ($inside): array {
            $left = array_values(array_filter($one['columns'], static fn (array $column): bool => ! PlanPlaces::isAtOrBelow(self::bare((string) ($column['from'] ?? '')), self::bare($inside)) || in_array($column['name'], $one['key'] ?? [], true)));
            $one['columns'] = $left === [] ? $one['columns'] : $left;
            $branches = array_values(array_filter($one['branches'] ?? [], static fn (array $branch): bool => ! PlanPlaces::isAtOrBelow((string) $branch['from'], $inside)));
            unset($one['branches']);

            return $one + ($branches === [] ? [] : ['branches' => $branches]);
        });
    }

    /**
     * @return array<string, mixed>
     */
    public function move(int $table, int $from, int $to): array
    {
        return $this->at($table, static function (array $one) use ($from, $to): array {
            if (isset($one['columns'][$from])) {
                $moved = array_splice($one['columns'], $from, 1);
                array_splice($one['columns'], max(0, min($to, count($one['columns']))), 0, $moved);
            }

            return $one;
        });
    }

    /**
     * Takes out one column, from the key as well.
     *
     * @return array<string, mixed>
     */
    public function drop(int $table, int $column): array
    {
        return $this->at($table, static function (array $one) use ($column): array {
            if (isset($one['columns'][$column]) && count($one['columns']) > 1) {
                $name = $one['columns'][$column]['name'];
                array_splice($one['columns'], $column, 1);
                $one['key'] = array_values(array_diff($one['key'] ?? [], [$name]));
            }

            return $one;
        });
    }

    /**
     * A column computed from those before it.
     *
     * @return array<string, mixed>
     */
    public function compute(int $table, string $name, string $expression): array
    {
        return $this->at($table, static fn (array $one): array => ['columns' => [...$one['columns'], ...self::named($one['columns'], [['name' => $name === '' ? 'computed' : $name, 'compute' => $expression]])]] + $one);
    }

    /**
     * A second table from the same records, with the same columns, for conditions to tell apart.
     *
     * @return array<string, mixed>
     */
    public function split(): array
    {
        $taken = array_map(SafeNames::clean(...), array_column(Plan::tablesIn($this->flatten), 'table'));
        $second = self::renamed(['table' => (string) $this->flatten['table'], 'from' => '$', 'key' => $this->flatten['key'] ?? [], 'columns' => $this->flatten['columns']], $taken);

        return ['branches' => [...($this->flatten['branches'] ?? []), $second]] + $this->flatten;
    }

    /**
     * A key made of all columns, for records that bring none: two that are alike in all of them are
     * one row then.
     *
     * @return array<string, mixed>
     */
    public function makeKey(int $table): array
    {
        return $this->at($table, static function (array $one): array {
            $names = array_map(static fn (string $name): string => preg_match('/^(?!(?:and|or|not|in|true|false|null)$)[A-Za-z_]\w*$/D', $name) === 1 ? $name : "`$name`", array_slice(array_column($one['columns'], 'name'), 0, self::KEYED));
            $made = self::named($one['columns'], [['name' => 'row_key', 'compute' => 'fingerprint('.implode(', ', $names).')', 'type' => 'text']]);
            $one['columns'] = [...$one['columns'], ...$made];
            $one['key'] = [$made[0]['name']];

            return $one;
        });
    }

    /**
     * Names without those of the objects around them, where they stay apart; or with them.
     *
     * @return array<string, mixed>
     */
    public function prefix(int $table, bool $with): array
    {
        return $this->at($table, static function (array $one) use ($with): array {
            $full = $last = [];
            foreach ($one['columns'] as $number => $column) {
                $names = isset($column['from']) ? self::names($column['from']) : [];
                $full[$number] = $names === [] ? $column['name'] : SafeNames::clean(implode('_', $names));
                $last[$number] = $names === [] ? $column['name'] : SafeNames::clean($names[count($names) - 1]);
            }
            $times = array_count_values($last);
            $chosen = array_map(static fn (int|string $number): string => $with || $times[$last[$number]] > 1 ? $full[$number] : $last[$number], array_keys($one['columns']));
            $key = $one['key'] ?? [];
            foreach (SafeNames::all($chosen) as $number => $name) {
                $was = $one['columns'][$number]['name'];
                $key = array_map(static fn (string $part): string => $part === $was ? $name : $part, $key);
                $one['columns'] = self::inExpressions($one['columns'], $was, $name);
                $one['where'] = isset($one['where']) ? self::inExpression($one['where'], $was, $name) : null;
                $one['columns'][$number]['name'] = $name;
            }
            $one['key'] = $key;

            return array_filter($one, static fn (mixed $value): bool => $value !== null);
        });
    }

    /**
     * Another name for a column, in the key and in expressions too.
     *
     * @return array<string, mixed>
     */
    public function rename(int $table, int $column, string $name): array
    {
        return $this->at($table, static function (array $one) use ($column, $name): array {
            $was = $one['columns'][$column]['name'] ?? null;
            if ($was === null || $name === '') {
                return $one;
            }
            $one['key'] = array_map(static fn (string $part): string => $part === $was ? $name : $part, $one['key'] ?? []);
            $one['columns'] = self::inExpressions($one['columns'], $was, $name);
            if (isset($one['where'])) {
                $one['where'] = self::inExpression($one['where'], $was, $name);
            }
            $one['columns'][$column]['name'] = $name;

            return $one;
        });
    }

    /**
     * @param  \Closure(array<string, mixed>): array<string, mixed>  $change
     * @return array<string, mixed>
     */
    public function at(int $table, \Closure $change): array
    {
        $count = 0;
        $walk = static function (array $one) use (&$walk, &$count, $table, $change): array {
            $isThis = $count++ === $table;
            foreach ($one['branches'] ?? [] as $number => $branch) {
                $one['branches'][$number] = $walk($branch);
            }

            return $isThis ? $change($one) : $one;
        };

        return $walk($this->flatten);
    }

    /**
     * @param  list<array<string, mixed>>  $columns
     * @return list<array<string, mixed>>
     */
    private static function inExpressions(array $columns, string $was, string $name): array
    {
        return array_map(static fn (array $column): array => isset($column['compute']) ? ['compute' => self::inExpression($column['compute'], $was, $name)] + $column : $column, $columns);
    }

    /**
     * Only where it is a name: not in a text, and not the function of that name.
     */
    public static function inExpression(string $expression, string $was, string $name): string
    {
        $to = preg_match('/^[A-Za-z_]\w*$/D', $name) === 1 ? $name : "`$name`";

        return (string) preg_replace('/(?:\'(?:[^\'\\\\]|\\\\.)*+\'|"(?:[^"\\\\]|\\\\.)*+")(*SKIP)(*FAIL)|`'.preg_quote($was, '/').'`|(?<![\w`])'.preg_quote($was, '/').'(?![\w`])(?!\s*\()/s', strtr($to, ['\\' => '\\\\', '$' => '\\$']), $expression);
    }

    /**
     * New columns with names that none of the others has.
     *
     * @param  list<array<string, mixed>>  $there
     * @param  list<array<string, mixed>>  $new
     * @return list<array<string, mixed>>
     */
    private static function named(array $there, array $new): array
    {
        $names = SafeNames::all([...array_column($there, 'name'), ...array_column($new, 'name')]);
        foreach ($new as $number => $column) {
            $new[$number]['name'] = $names[count($there) + $number];
        }

        return $new;
    }

    /**
     * @param  array<string, mixed>  $branch
     * @param  list<string>  $taken
     * @return array<string, mixed>
     */
    private static function renamed(array $branch, array &$taken): array
    {
        for ($name = (string) $branch['table'], $number = 2; in_array($name, $taken, true); $number++) {
            $name = "{$branch['table']}_$number";
        }
        $taken[] = $name;
        $branch['table'] = $name;
        foreach ($branch['branches'] ?? [] as $place => $below) {
            $branch['branches'][$place] = self::renamed($below, $taken);
        }

        return $branch;
    }

    /**
     * Without the elements of a list at the end, which name the same field.
     */
    private static function bare(string $path): string
    {
        return str_ends_with($path, '[*]') ? substr($path, 0, -3) : $path;
    }

    /**
     * @return list<string>
     */
    private static function names(string $path): array
    {
        preg_match_all("/\.([A-Za-z_]\w*)|\['((?:[^'\\\\]|\\\\.)*)'\]|\[(\d+)\]|==\s*[\"']([^\"']*)[\"']/", $path, $found, PREG_SET_ORDER | PREG_UNMATCHED_AS_NULL);

        return array_map(static fn (array $one): string => (string) ($one[1] ?? $one[2] ?? (isset($one[3]) ? (string) ((int) $one[3] + 1) : $one[4])), $found);
    }
}
