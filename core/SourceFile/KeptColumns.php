<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Check\Checks;
use DeepSpring\Check\InvalidCheck;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Shaping;

/**
 * What is said of columns and tables under `keep`, and of columns under `change`, carried along when these get other
 * names.
 */
final class KeptColumns
{
    /** Settings of checks that name columns of their table. */
    private const NAMED = ['unique', 'never_empty', 'one_of', 'range', 'matches', 'refers', 'newest'];

    /**
     * @param  array<string, mixed>  $before  a document
     * @param  array<string, mixed>  $after  the same document, changed
     * @return array<string, mixed>
     */
    public static function following(array $before, array $after): array
    {
        $were = null;
        foreach ($after['endpoints'] ?? [] as $number => $endpoint) {
            $isKept = isset($endpoint['keep']['checks']) || isset($endpoint['keep']['refresh']);
            if (! isset($endpoint['flatten']) || ! $isKept && ! isset($endpoint['change'])) {
                continue;
            }
            $were ??= array_column($before['endpoints'] ?? [], null, 'slug');
            $was = $were[$endpoint['slug']] ?? null;
            if (! isset($was['flatten']) || $was['flatten'] === $endpoint['flatten']) {
                continue;
            }
            if ($isKept && ($was['keep'] ?? null) === $endpoint['keep']) {
                $after['endpoints'][$number]['keep'] = self::renamed($endpoint['keep'], $was['flatten'], $endpoint['flatten']);
            }
            if (isset($endpoint['change']) && ($was['change'] ?? null) === $endpoint['change']) {
                $after['endpoints'][$number]['change'] = self::changed($endpoint['change'], self::names($was['flatten']['columns'] ?? [], $endpoint['flatten']['columns'] ?? []), [$was['flatten']['table'], $endpoint['flatten']['table']]);
            }
        }

        return $after;
    }

    /**
     * @param  array<string, mixed>  $keep
     * @param  array<string, mixed>  $before  flatten
     * @param  array<string, mixed>  $after  flatten
     * @return array<string, mixed>
     */
    private static function renamed(array $keep, array $before, array $after): array
    {
        $tables = Plan::tablesIn($after);
        foreach (Plan::tablesIn($before) as $place => $was) {
            $now = $tables[$place] ?? null;
            if ($now === null) {
                continue;
            }
            $names = self::names($was['columns'] ?? [], $now['columns'] ?? []);
            $isMain = $place === '';
            foreach ($keep['checks'] ?? [] as $number => $check) {
                if (($check['table'] ?? null) === ($isMain ? null : $was['table']) || $isMain && ($check['table'] ?? '') === $was['table']) {
                    $check = isset($check['table']) ? ['table' => $now['table']] + $check : $check;
                    $keep['checks'][$number] = self::check($check, $names);
                }
            }
            foreach ($isMain ? ['since', 'deleted'] : [] as $part) {
                $column = $keep['refresh'][$part]['column'] ?? null;
                if ($column !== null && isset($names[$column])) {
                    $keep['refresh'][$part]['column'] = $names[$column];
                }
            }
        }

        return $keep;
    }

    /**
     * @param  array<string, mixed>  $change
     * @param  array<string, string>  $names  old → new
     * @param  array{string, string}  $table  its old name, and its new one
     * @return array<string, mixed>
     */
    private static function changed(array $change, array $names, array $table): array
    {
        $new = static fn (string $name): string => $names[$name] ?? $name;
        $bound = static function (array $binding) use ($new): array {
            isset($binding['inputs']) && $binding['inputs'] = array_map($new, $binding['inputs']);
            isset($binding['puts']) && $binding['puts'] = array_combine(array_map($new, array_map(strval(...), array_keys($binding['puts']))), array_values($binding['puts']));

            return $binding;
        };
        foreach (array_intersect_key($change, ['get' => 1, 'create' => 1, 'update' => 1, 'delete' => 1]) as $role => $binding) {
            $change[$role] = array_replace($binding, $bound($binding));
        }
        foreach (['actions', 'together'] as $several) {
            isset($change[$several]) && $change[$several] = array_map(static fn (array $binding): array => array_replace($binding, $bound($binding)), $change[$several]);
        }
        isset($change['columns']) && $change['columns'] = array_map($new, $change['columns']);
        $offered = [];
        foreach ($change['offered'] ?? [] as $column => $of) {
            // What is offered may come from the table itself.
            $offered[$new((string) $column)] = ($of['table'] ?? null) === $table[0] ? ['table' => $table[1], 'column' => $new($of['column'])] : $of;
        }

        return $offered === [] ? $change : array_replace($change, ['offered' => $offered]);
    }

    /**
     * @param  list<array<string, mixed>>  $before
     * @param  list<array<string, mixed>>  $after
     * @return array<string, string> old names → new ones
     */
    private static function names(array $before, array $after): array
    {
        $were = array_column($before, 'name');
        $are = array_column($after, 'name');
        $names = [];
        foreach ($before as $place => $column) {
            if (in_array($column['name'], $are, true)) {
                continue;
            }
            // At the same place, or the same but for its name.
            $same = array_values(array_filter($after, static fn (array $one): bool => ! in_array($one['name'], $were, true) && array_diff_key($one, ['name' => 1]) === array_diff_key($column, ['name' => 1])));
            $there = count($before) === count($after) ? $after[$place] : null;
            $new = count($same) === 1 ? $same[0]['name'] : ($there !== null && ! in_array($there['name'], $were, true) ? $there['name'] : null);
            if ($new !== null) {
                $names[$column['name']] = $new;
            }
        }

        return $names;
    }

    /**
     * @param  array<string, mixed>  $check
     * @param  array<string, string>  $names
     * @return array<string, mixed>
     */
    private static function check(array $check, array $names): array
    {
        try {
            $kind = Checks::kindOf($check);
        } catch (InvalidCheck) {
            return $check;
        }
        $new = static fn (string $name): string => $names[$name] ?? $name;
        if (in_array($kind, self::NAMED, true)) {
            $check[$kind] = is_array($check[$kind]) ? array_map($new, $check[$kind]) : $new((string) $check[$kind]);
        } elseif ($kind === 'every') {
            foreach ($names as $old => $name) {
                $check['every'] = Shaping::inExpression($check['every'], $old, $name);
            }
        }

        return $check;
    }
}
