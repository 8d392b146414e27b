<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

use DeepSpring\Value\SafeNames;

/**
 * A short name for a table in a statement.
 */
final class TableAlias
{
    /**
     * First letters of the words of a name, where nothing else is called so.
     *
     * @param  list<string>  $taken  names that there are
     */
    public static function of(string $table, array $taken): string
    {
        $letters = implode('', array_map(static fn (string $word): string => $word[0], array_filter(explode('_', $table), static fn (string $word): bool => $word !== '')));
        $taken = array_map(strtolower(...), $taken);
        for ($alias = $letters, $number = 2; in_array($alias, $taken, true) || SafeNames::clean($alias) !== $alias; $number++) {
            $alias = "$letters$number";
        }

        return $alias;
    }
}
