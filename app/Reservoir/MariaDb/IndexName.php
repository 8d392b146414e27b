<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

/**
 * What an index over some columns is called.
 */
final class IndexName
{
    private const BEGINNING = 'ix_';

    /**
     * @param  list<string>  $columns
     */
    public static function of(array $columns): string
    {
        return self::BEGINNING.substr(hash('sha256', implode("\0", $columns)), 0, 20);
    }

    public static function isOne(string $name): bool
    {
        return preg_match('/^'.self::BEGINNING.'[0-9a-f]{20}$/D', $name) === 1;
    }

    /**
     * What an index is over.
     *
     * @return list<string>
     */
    public static function columns(\PDO $reader, string $schema, string $table, string $index): array
    {
        $found = $reader->prepare('select column_name from information_schema.statistics where table_schema = ? and table_name = ? and index_name = ? order by seq_in_index');
        $found->execute([$schema, $table, $index]);

        return array_map(strval(...), $found->fetchAll(\PDO::FETCH_COLUMN));
    }
}
