<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

/**
 * Fields as a documentation lists them (name, type, example; one a line) → a sample answer of one record.
 */
final class SampleFields
{
    /**
     * @throws UnreadableAnswer when a line is none
     */
    public static function document(string $text): mixed
    {
        $record = new \stdClass;
        foreach (preg_split('/\r?\n/', $text) ?: [] as $number => $line) {
            if (trim($line) === '' || str_starts_with(ltrim($line), '#')) {
                continue;
            }
            $parts = array_map(trim(...), preg_split('/\t+|\s{2,}|\s*[|;]\s*|,\s+|:\s+|\s+/', trim($line, " \t|"), 3) ?: []);
            if (preg_match('/^[\pL\pN_$@.\[\]-]+$/uD', $parts[0]) !== 1) {
                throw UnreadableAnswer::beyondReading('line '.($number + 1).' does not begin with the name of a field');
            }
            self::put($record, array_values(array_filter(explode('.', str_replace('[]', '.[]', $parts[0])), static fn (string $step): bool => $step !== '')), self::value($parts[1] ?? 'text', $parts[2] ?? null));
        }
        if (get_object_vars($record) === []) {
            throw UnreadableAnswer::empty();
        }

        return $record;
    }

    /**
     * @param  list<string>  $path
     */
    private static function put(\stdClass $object, array $path, mixed $value): void
    {
        $name = array_shift($path);
        if ($name === null) {
            return;
        }
        $isList = ($path[0] ?? null) === '[]';
        $path = $isList ? array_slice($path, 1) : $path;
        if ($path === []) {
            $object->{$name} = $isList ? [$value] : $value;

            return;
        }
        $inner = $object->{$name} ?? null;
        $inner = is_array($inner) ? $inner[0] ?? null : $inner;
        $inner = $inner instanceof \stdClass ? $inner : new \stdClass;
        $object->{$name} = $isList ? [$inner] : $inner;
        self::put($inner, $path, $value);
    }

    private static function value(string $type, ?string $example): mixed
    {
        $example = $example === null ? null : trim($example, "\"'` ");
        $type = strtolower($type);

        return match (true) {
            preg_match('/^(?:int|long|bigint|whole)/', $type) === 1 => $example !== null && preg_match('/^-?\d{1,18}$/D', $example) === 1 ? (int) $example : 1,
            preg_match('/^(?:num|float|double|dec|money|real)/', $type) === 1 => is_numeric($example) ? (float) $example : 1.5,
            preg_match('/^bool/', $type) === 1 => $example !== 'false',
            preg_match('/^(?:datetime|date-time|timestamp|time)/', $type) === 1 => $example ?? '2031-01-15T06:00:00Z',
            preg_match('/^date/', $type) === 1 => $example ?? '2031-01-15',
            preg_match('/^(?:array|list)/', $type) === 1 => json_decode((string) $example) ?? [$example ?? 'text'],
            preg_match('/^(?:object|map|json)/', $type) === 1 => json_decode((string) $example) ?? new \stdClass,
            default => $example ?? 'text',
        };
    }
}
