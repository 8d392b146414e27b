<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use DeepSpring\Ask\Input;
use DeepSpring\Ask\StandsFor;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;

/**
 * One input as the sheet of an endpoint sends it → the input of a source file.
 */
final readonly class InputForm
{
    /**
     * @param  array<string, mixed>  $row  as the form sends it
     * @param  array<string, mixed>  $was  as the document has it; empty for a new one
     * @param  int  $place  among the inputs, from 0
     * @return array<string, mixed>
     *
     * @throws InvalidSourceFile when a text in it cannot be read
     */
    public static function apply(array $row, array $was, int $place): array
    {
        $input = ['name' => self::text($row, 'name'), 'in' => self::text($row, 'in')] + $was;
        $input = array_diff_key($input, ['fixed' => 1, 'try' => 1, 'type' => 1, 'required' => 1]);
        $type = self::text($row, 'type');
        $input += $type === '' || ($type === 'text' && ! isset($was['type'])) ? [] : ['type' => $type];
        $isFixed = self::text($row, 'filled') === 'fixed';
        if (isset($row['details'])) {
            $input = array_diff_key($input, ['default' => 1, 'choices' => 1, 'many' => 1, 'private' => 1, 'about' => 1, 'send_empty' => 1, 'send_as' => 1, 'stands_for' => 1]);
            $stands = self::standsFor(self::text($row, 'stands_for'), $was['stands_for'] ?? null, $place);
            $choices = array_values(array_filter(array_map(trim(...), explode(',', self::text($row, 'choices'))), static fn (string $one): bool => $one !== ''));
            $input += (self::text($row, 'many') === '' ? [] : ['many' => self::text($row, 'many')])
                + (self::text($row, 'default') === '' ? [] : ['default' => self::asBefore($was['default'] ?? null, self::several(self::text($row, 'default'), self::text($row, 'many')))])
                + ($choices === [] ? [] : ['choices' => self::asBefore($was['choices'] ?? null, $choices)])
                + ($stands === null ? [] : ['stands_for' => $stands])
                + (self::text($row, 'about') === '' ? [] : ['about' => self::text($row, 'about')])
                + (self::text($row, 'private') === '1' ? ['private' => true] : [])
                + (['1' => ['send_empty' => true], 'bare' => ['send_empty' => 'bare']][self::text($row, 'send_empty')] ?? [])
                + (in_array(self::text($row, 'send_as'), ['', $input['name']], true) ? [] : ['send_as' => self::text($row, 'send_as')]);
        }
        // A text may begin with blanks that are meant, so it is taken as it is.
        $value = is_string($row['value'] ?? null) ? $row['value'] : '';
        $before = $was['fixed'] ?? $was['try'] ?? null;
        // Values that nobody changed stay parted as they were, also where one of them holds a comma.
        $values = is_array($before) && ($input['many'] ?? '') !== '' && self::written($before) === $value ? array_map(Input::text(...), array_values($before)) : self::several($value, $input['many'] ?? '');
        if (is_string($values)) {
            $values = match (true) {
                $type === 'integer' && preg_match('/^-?(?:0|[1-9]\d{0,14})$/D', $values) === 1 => (int) $values,
                $type === 'boolean' && in_array($values, ['true', 'false'], true) => $values === 'true',
                default => $values,
            };
        }
        $input += $isFixed ? ['fixed' => self::asBefore($was['fixed'] ?? null, $values)] : ($value === '' ? [] : ['try' => self::asBefore($was['try'] ?? null, $values)]);
        $required = isset($row['details']) ? self::text($row, 'required') === '1' : ($was['required'] ?? false) === true;
        if ($input['in'] === 'path' || $required && ! $isFixed) {
            $input['required'] = true;
        }

        return $input;
    }

    /**
     * A value as the field shows it.
     */
    public static function written(mixed $value): string
    {
        return is_array($value) ? implode(', ', array_map(Input::text(...), $value)) : Input::text($value);
    }

    /**
     * @return string|list<string>
     */
    private static function several(string $value, string $many): string|array
    {
        return $many === '' || $value === '' ? $value : array_map(trim(...), explode(',', $value));
    }

    /**
     * @param  array<string, mixed>|null  $was
     * @return array<string, mixed>|null
     *
     * @throws InvalidSourceFile
     */
    private static function standsFor(string $text, ?array $was, int $place): ?array
    {
        // What a file says and no field can is shown as it is, and kept as long as nobody changes it.
        if ($text === '' || $text === StandsFor::text($was)) {
            return $text === '' ? null : $was;
        }

        return StandsFor::read($text) ?? throw InvalidSourceFile::because([new Fault("endpoints[0].ask.inputs[$place].stands_for", "\"$text\" is not understood. Write a column and how it is compared, with one of ".implode(', ', StandsFor::OPERATORS).', like: status =; or: rows; or: order due: due_at, due desc: -due_at.')]);
    }

    /**
     * A value that reads as it did keeps the type it had in the document.
     *
     * @param  string|int|bool|list<string>  $now
     */
    private static function asBefore(mixed $was, string|int|bool|array $now): mixed
    {
        if (is_int($now) || is_bool($now)) {
            return $was !== null && ! is_array($was) && (string) json_encode($was) === (string) json_encode($now) ? $was : $now;
        }
        // A field of several lines gives back its line breaks in one way only.
        $text = static fn (mixed $one): string => is_bool($one) ? var_export($one, true) : (is_scalar($one) ? strtr((string) $one, ["\r\n" => "\n"]) : '');
        $now = is_string($now) ? strtr($now, ["\r\n" => "\n"]) : $now;
        $same = is_array($was) && is_array($now) ? array_map($text, array_values($was)) === $now : ($was !== null && ! is_array($was) && $text($was) === $now);

        return $same ? $was : $now;
    }

    /**
     * @param  array<string, mixed>  $row
     */
    private static function text(array $row, string $name): string
    {
        return is_string($row[$name] ?? null) ? trim($row[$name]) : '';
    }
}
