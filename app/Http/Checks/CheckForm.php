<?php

declare(strict_types=1);

namespace App\Http\Checks;

use DeepSpring\Check\Checks;
use DeepSpring\Check\TableCheck;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;

/**
 * What the page of checks sends → `keep.checks` of a source file, and back. What cannot be read is told at its place,
 * not mended.
 */
final class CheckForm
{
    /**
     * @param  array<array-key, mixed>  $rows  kind, table, on, was (number in the document) and the fields of the kind
     * @param  list<array<string, mixed>>  $was
     * @return list<array<string, mixed>>
     */
    public static function read(array $rows, array $was): array
    {
        $checks = [];
        foreach (array_filter($rows, is_array(...)) as $row) {
            $kind = Checks::family()->kind(self::text($row, 'kind'));
            if ($kind === null) {
                continue;
            }
            $before = $was[(int) self::text($row, 'was')] ?? [];
            $before = self::text($row, 'was') !== '' && isset($before[$kind->name]) ? $before : [];
            $check = [];
            foreach ($kind->fields as $field) {
                $value = self::value($field, $row, $before[$field->name] ?? null);
                $value === null || $check[$field->name] = $value;
            }
            $table = self::text($row, 'table');
            $on = self::text($row, 'on');
            $checks[] = $check + ($table === '' ? [] : ['table' => $table]) + (in_array($on, ['', TableCheck::STOP], true) ? [] : ['on' => $on]);
        }

        return $checks;
    }

    /**
     * What stands in the fields for a check.
     *
     * @param  array<string, mixed>  $check
     * @return array<string, string>
     */
    public static function shown(string $kind, array $check): array
    {
        $shown = [];
        foreach (Checks::family()->kind($kind)->fields ?? [] as $field) {
            foreach ($field->parts as $part) {
                $shown[$part->name] = self::written($check[$field->name][$part->name] ?? null);
            }
            $field->parts !== [] || $shown[$field->name] = self::written($check[$field->name] ?? null);
        }

        return $shown;
    }

    private static function written(mixed $value): string
    {
        return match (true) {
            is_array($value) => implode(', ', array_map(static fn (mixed $one): string => preg_match('/[,"\n]|^\s|\s$|^$/', self::written($one)) === 1 ? '"'.str_replace('"', '""', self::written($one)).'"' : self::written($one), $value)),
            is_bool($value) => var_export($value, true),
            is_float($value) => (string) json_encode($value),
            default => is_scalar($value) ? (string) $value : '',
        };
    }

    /**
     * @param  array<array-key, mixed>  $row
     */
    private static function value(Field $field, array $row, mixed $was): mixed
    {
        if ($field->parts !== []) {
            $parts = [];
            foreach ($field->parts as $part) {
                $value = self::value($part, $row, null);
                $value === null || $parts[$part->name] = $value;
            }

            return $parts;
        }
        $raw = is_string($row[$field->name] ?? null) ? $row[$field->name] : '';
        $text = $field->type === FieldType::Raw ? $raw : trim($raw);
        if ($was !== null && self::written($was) === $text) {
            return $was;
        }

        return match (true) {
            in_array($field->type, [FieldType::Columns, FieldType::Values], true) => self::several($text),
            $text === '' => null,
            $field->type === FieldType::Number => self::number($text),
            $field->type === FieldType::Percent => is_numeric($text) ? $text + 0 : $text,
            default => $text,
        };
    }

    private static function number(string $text): int|string
    {
        $bare = str_replace([' ', "\u{2009}", ','], '', $text);

        return preg_match('/^\d{1,12}$/D', $bare) === 1 ? (int) $bare : $text;
    }

    /**
     * With commas between them; one that holds a comma stands in quotes.
     *
     * @return list<string>
     */
    private static function several(string $text): array
    {
        $values = [];
        preg_match_all('/\s*("(?:[^"]|"")*"|[^,]*)\s*(?:,|$)/', "$text,", $found);
        foreach (array_slice($found[1], 0, -1) as $one) {
            $one = trim($one);
            $values[] = strlen($one) > 1 && $one[0] === '"' && $one[-1] === '"' ? str_replace('""', '"', substr($one, 1, -1)) : $one;
        }

        return $text === '' ? [] : $values;
    }

    /**
     * @param  array<array-key, mixed>  $row
     */
    private static function text(array $row, string $name): string
    {
        return is_string($row[$name] ?? null) ? trim($row[$name]) : '';
    }
}
