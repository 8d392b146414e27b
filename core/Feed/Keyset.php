<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * Which rows come after a given one. That does not depend on how many stand before it, so a row that was there all
 * along is met once and only once, whatever is added, taken away or put in place meanwhile.
 */
final class Keyset
{
    /**
     * @param  list<OrderPart>  $order
     * @param  list<string|null>  $last  the values of that row, in the same order
     */
    public static function after(array $order, array $last): BoundSql
    {
        $any = [];
        $same = [];
        foreach ($order as $place => $part) {
            $beyond = self::beyond($part, $last[$place]);
            if ($beyond !== null) {
                $any[] = BoundSql::all(...$same, ...[$beyond]);
            }
            $same[] = self::equal($part, $last[$place]);
        }

        return new BoundSql($any === [] ? 'FALSE' : implode(' OR ', array_map(static fn (BoundSql $one): string => "($one->sql)", $any)), array_merge(...array_map(static fn (BoundSql $one): array => $one->values, $any)));
    }

    /**
     * Null where nothing can come after that value.
     */
    private static function beyond(OrderPart $part, ?string $last): ?BoundSql
    {
        $column = $part->column->sql();
        if ($last === null) {
            return $part->fromTheEnd ? null : new BoundSql("$column IS NOT NULL", []);
        }
        $term = $part->term($last);
        if (! $part->fromTheEnd) {
            return new BoundSql("$column > $term->sql", $term->values);
        }

        return new BoundSql($part->column->isKey ? "$column < $term->sql" : "($column < $term->sql OR $column IS NULL)", $term->values);
    }

    private static function equal(OrderPart $part, ?string $last): BoundSql
    {
        if ($last === null) {
            return new BoundSql("{$part->column->sql()} IS NULL", []);
        }
        $term = $part->term($last);

        return new BoundSql("{$part->column->sql()} = $term->sql", $term->values);
    }
}
