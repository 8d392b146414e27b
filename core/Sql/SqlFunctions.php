<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * Functions of MariaDB that are of use in asking, as `functions.json` lists them.
 */
final class SqlFunctions
{
    /** @var array<string, SqlFunction>|null */
    private static ?array $all = null;

    /**
     * @return array<string, SqlFunction> by name
     */
    public static function all(): array
    {
        if (self::$all === null) {
            self::$all = [];
            foreach ((array) json_decode((string) file_get_contents(__DIR__.'/functions.json'), true, flags: JSON_THROW_ON_ERROR) as $one) {
                self::$all[$one['name']] = new SqlFunction($one['name'], $one['group'], $one['form'], $one['says'], $one['example']);
            }
        }

        return self::$all;
    }

    /**
     * @return list<string>
     */
    public static function names(): array
    {
        return array_keys(self::all());
    }

    public static function find(string $name): ?SqlFunction
    {
        return self::all()[strtolower($name)] ?? null;
    }
}
