<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

/**
 * The tables of a `flatten` by their number: the main one is 0, and each comes before its branches.
 */
final class FlattenTables
{
    /**
     * @param  array<string, mixed>  $flatten
     * @param  \Closure(array<string, mixed>): (array<string, mixed>|null)  $change  null takes the table out with all below it
     * @return array<string, mixed> empty when the main table was taken out
     */
    public static function change(array $flatten, int $number, \Closure $change): array
    {
        $count = 0;

        return self::walk($flatten, static function (array $table) use (&$count, $number, $change): ?array {
            return $count++ === $number ? $change($table) : $table;
        }) ?? [];
    }

    /**
     * @param  array<string, mixed>  $flatten
     * @param  \Closure(array<string, mixed>, int): (array<string, mixed>|null)  $change
     * @return array<string, mixed>
     */
    public static function each(array $flatten, \Closure $change): array
    {
        $count = 0;

        return self::walk($flatten, static function (array $table) use (&$count, $change): ?array {
            return $change($table, $count++);
        }) ?? [];
    }

    /**
     * @param  array<string, mixed>  $table
     * @param  \Closure(array<string, mixed>): (array<string, mixed>|null)  $change
     * @return array<string, mixed>|null
     */
    private static function walk(array $table, \Closure $change): ?array
    {
        $changed = $change($table);
        $branches = [];
        foreach ($table['branches'] ?? [] as $branch) {
            $one = self::walk($branch, $change);
            if ($one !== null) {
                $branches[] = $one;
            }
        }
        if ($changed === null) {
            return null;
        }
        unset($changed['branches']);

        return $changed + ($branches === [] ? [] : ['branches' => $branches]);
    }
}
