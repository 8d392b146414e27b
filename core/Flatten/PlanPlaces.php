<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Answer\JsonPath\JsonPath;

/**
 * Where a path inside a record belongs among the tables of a `flatten` of a source file: to the
 * branch whose elements hold it, or to the main table.
 */
final class PlanPlaces
{
    /**
     * The table whose elements hold a path, those elements, and the path inside them.
     *
     * @param  array<string, mixed>  $table
     * @param  list<mixed>  $records
     * @return array{array<string, mixed>, list<mixed>, string}
     */
    public static function find(array $table, array $records, string $path): array
    {
        foreach ($table['branches'] ?? [] as $branch) {
            $from = (string) $branch['from'];
            if ($from !== '$' && self::isBelow($path, $from)) {
                $inside = [];
                foreach ($records as $record) {
                    array_push($inside, ...JsonPath::parse($from)->values($record));
                }

                return self::find($branch, $inside, '$'.substr($path, strlen($from)));
            }
        }

        return [$table, $records, $path];
    }

    /**
     * The plan with that table changed.
     *
     * @param  array<string, mixed>  $table
     * @param  \Closure(array<string, mixed>): array<string, mixed>  $change
     * @return array<string, mixed>
     */
    public static function change(array $table, string $path, \Closure $change): array
    {
        foreach ($table['branches'] ?? [] as $number => $branch) {
            $from = (string) $branch['from'];
            if ($from !== '$' && self::isBelow($path, $from)) {
                $table['branches'][$number] = self::change($branch, '$'.substr($path, strlen($from)), $change);

                return $table;
            }
        }

        return $change($table);
    }

    public static function isBelow(string $path, string $above): bool
    {
        return str_starts_with($path, "$above.") || str_starts_with($path, "{$above}[");
    }

    public static function isAtOrBelow(string $path, string $above): bool
    {
        return $path === $above || self::isBelow($path, $above);
    }
}
