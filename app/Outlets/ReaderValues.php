<?php

declare(strict_types=1);

namespace App\Outlets;

use DeepSpring\Feed\FilterSql;

/**
 * What is set for a reader, as people write it: `house = northmere, desk = east`.
 */
final class ReaderValues
{
    private const LONGEST = 500;

    private const MOST = 20;

    /**
     * @return array<string, string>
     *
     * @throws CannotPublish
     */
    public static function read(string $text): array
    {
        $values = [];
        foreach (preg_split('/[,\r\n]+/', $text) ?: [] as $line) {
            if (trim($line) === '') {
                continue;
            }
            [$name, $value] = array_map(trim(...), explode('=', $line, 2) + [1 => '']);
            if (preg_match(FilterSql::OF_READER, $name) !== 1 || $value === '' || mb_strlen($value) > self::LONGEST) {
                throw CannotPublish::because('"'.trim($line).'" is not written like house = northmere: a name of lower-case letters, an equals sign, a value.', 'values');
            }
            if (isset($values[$name])) {
                throw CannotPublish::because("\"$name\" is set twice.", 'values');
            }
            $values[$name] = $value;
        }

        return count($values) <= self::MOST ? $values : throw CannotPublish::because('At most '.self::MOST.' values are set for one reader.', 'values');
    }

    /**
     * @param  array<string, string>  $values
     */
    public static function written(array $values): string
    {
        return implode(', ', array_map(static fn (string $name, string $value): string => "$name = $value", array_map(strval(...), array_keys($values)), $values));
    }
}
