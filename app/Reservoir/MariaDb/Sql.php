<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

final class Sql
{
    public static function name(string $name): string
    {
        return '`'.str_replace('`', '``', $name).'`';
    }

    public static function text(string $text): string
    {
        return "'".strtr($text, ["'" => "''", '\\' => '\\\\', "\0" => ''])."'";
    }

    public static function table(string $schema, string $table): string
    {
        return self::name($schema).'.'.self::name($table);
    }
}
