<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Check\Checks;
use DeepSpring\Check\InvalidCheck;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Shaping;

/**
 * What is said under Keep of columns and tables, carried along when these get other names.
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
            if (! isset($endpoint['flatten']) || ! isset($endpoint['keep']['checks']) && ! isset($endpoint['keep']['refresh'])) {
                continue;
            }
            $were ??= array_column($before['endpoints'] ?? [], null, 'slug');
            $was = $were[$endpoint['slug']] ?? null;
            if (isset($was['flatten']) && $was['flatten'] !== $endpoint['flatten'] && ($was['keep'] ?? null) === $endpoint['keep']) {
                $after['endpoints'][$number]['keep'] = self::renamed($endpoint['keep'], $was['flatten'], $endpoint['flatten']);
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
