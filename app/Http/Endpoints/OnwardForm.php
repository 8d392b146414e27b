<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use DeepSpring\Onward\Pagers;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;

/**
 * What the stratum Onward of a sheet sends → `onward` of a source file. What its form does not show
 * stays as the document has it.
 */
final readonly class OnwardForm
{
    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     *
     * @throws InvalidSourceFile
     */
    public static function apply(array $form, array $was): array
    {
        $style = self::text($form, 'style') ?: 'none';
        $kind = Pagers::family()->kind($style);
        $isNew = ($was['style'] ?? 'none') !== $style;
        $onward = ['style' => $style];
        foreach ($kind->fields ?? [] as $field) {
            $value = self::value($form, $field, $isNew ? [] : $was);
            // What was written down stays written down, even where it is the default.
            if ($value !== null && $value !== '' && ($field->type->isNumber() || $value !== $field->default || (! $isNew && $value === ($was[$field->name] ?? null)))) {
                $onward[$field->name] = $value;
            }
        }
        if ($isNew) {
            return $onward + ($kind?->start() ?? []);
        }

        // Settings that the form does not show.
        return $onward + array_diff_key($was, array_fill_keys(array_map(static fn (Field $field): string => $field->name, $kind->fields ?? []), 1));
    }

    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $was
     */
    private static function value(array $form, Field $field, array $was): mixed
    {
        $name = $field->name;
        if ($field->type === FieldType::Flag) {
            return isset($form['flags']) ? (self::text($form, $name) === '1' ? true : null) : ($was[$name] ?? null);
        }
        $text = self::text($form, $name);

        return match (true) {
            ! array_key_exists($name, $form) => $was[$name] ?? null,
            $field->type->isNumber() => preg_match('/^\d{1,9}$/D', $text) === 1 ? (int) $text : $text,
            $field->type === FieldType::Statuses => array_map(static fn (string $one): int|string => ctype_digit($one) ? (int) $one : $one, preg_split('/[\s,]+/', $text, -1, PREG_SPLIT_NO_EMPTY) ?: []) ?: null,
            $field->type === FieldType::Paths => self::take($text),
            $field->type === FieldType::Paging => self::inner(is_array($form[$name]) ? $form[$name] : [], $was[$name] ?? []),
            default => $text,
        };
    }

    /**
     * Lines of `name: $.path`.
     *
     * @return array<string, string>|null
     *
     * @throws InvalidSourceFile
     */
    private static function take(string $text): ?array
    {
        $take = [];
        foreach (preg_split('/\r?\n/', $text) ?: [] as $line) {
            if (trim($line) === '') {
                continue;
            }
            if (preg_match('/^\s*([^:\s]+)\s*:\s*(\$.*?)\s*$/D', $line, $part) !== 1) {
                throw InvalidSourceFile::because([new Fault('endpoints[0].onward.take', "\"$line\" is not understood: write a name, a colon and the path in the first answer, like handle: $.handle.")]);
            }
            $take[$part[1]] = $part[2];
        }

        return $take ?: null;
    }

    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>|null
     */
    private static function inner(array $form, array $was): ?array
    {
        $style = self::text($form, 'style');

        return $style === '' || $style === 'none' ? null : self::apply($form, $was);
    }

    /**
     * @param  array<string, mixed>  $form
     */
    private static function text(array $form, string $name): string
    {
        return is_string($form[$name] ?? null) ? trim($form[$name]) : '';
    }
}
