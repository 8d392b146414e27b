<?php

declare(strict_types=1);

namespace App\Http\Sheets;

use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;

/**
 * What the stratum Onward of a sheet sends → `onward` of a source file. What its form does not show
 * stays as the document has it.
 */
final readonly class OnwardForm
{
    private const ENDS = ['max_pages', 'max_records', 'short_page_ends'];

    /** style → the settings that the form shows */
    private const FIELDS = [
        'none' => [],
        'page' => ['send_as', 'in', 'first', 'size', 'size_as', 'pages', 'total', 'end_on', ...self::ENDS],
        'offset' => ['send_as', 'in', 'first', 'size', 'size_as', 'total', 'end_on', ...self::ENDS],
        'cursor' => ['next', 'from_last', 'send_as', 'in', 'more', 'size', 'size_as', 'total', ...self::ENDS],
        'next-link' => ['link', 'any_origin', 'size', 'size_as', 'total', ...self::ENDS],
        'link-header' => ['rel', 'any_origin', 'size', 'size_as', 'total', ...self::ENDS],
        'range' => ['unit', 'size', 'max_pages', 'max_records'],
        'partition' => ['list', 'value', 'send_as', 'in', 'first_holds', 'method', 'path', 'take', 'total', 'max_pages', 'max_records'],
        'window' => ['from_as', 'to_as', 'step', 'start', 'end', 'to_is', 'inner', 'max_pages', 'max_records'],
    ];

    private const NUMBERS = ['first', 'size', 'max_pages', 'max_records'];

    private const FLAGS = ['any_origin', 'short_page_ends'];

    /** Values that need not be written down. */
    private const USUAL = ['in' => 'query', 'first_holds' => 'first', 'to_is' => 'excluded', 'rel' => 'next', 'method' => ''];

    /** A style just chosen starts with what most APIs use, for the person to correct. */
    private const BEGINNING = [
        'page' => ['send_as' => 'page'], 'offset' => ['send_as' => 'offset'], 'cursor' => ['send_as' => 'after', 'next' => '$.next'], 'next-link' => ['link' => '$.next'],
        'range' => ['unit' => 'items', 'size' => 100], 'partition' => ['list' => '$.partitions[*]', 'send_as' => 'partition'],
        'window' => ['from_as' => 'from', 'to_as' => 'to', 'step' => 'P1M', 'start' => '-P1Y'],
    ];

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
        $fields = self::FIELDS[$style] ?? [];
        $isNew = ($was['style'] ?? 'none') !== $style;
        $onward = ['style' => $style];
        foreach ($fields as $field) {
            $value = self::value($form, $field, $isNew ? [] : $was);
            if ($value !== null && $value !== '' && $value !== (self::USUAL[$field] ?? null)) {
                $onward[$field] = $value;
            }
        }
        if ($isNew) {
            return $onward + (self::BEGINNING[$style] ?? []);
        }

        // Settings of this style that the form does not show.
        return $onward + array_diff_key($was, array_fill_keys($fields, 1));
    }

    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $was
     */
    private static function value(array $form, string $field, array $was): mixed
    {
        if (in_array($field, self::FLAGS, true)) {
            return isset($form['flags']) ? (self::text($form, $field) === '1' ? true : null) : ($was[$field] ?? null);
        }
        $text = self::text($form, $field);

        return match (true) {
            ! array_key_exists($field, $form) => $was[$field] ?? null,
            in_array($field, self::NUMBERS, true) => preg_match('/^\d{1,9}$/D', $text) === 1 ? (int) $text : $text,
            $field === 'end_on' => array_map(static fn (string $one): int|string => ctype_digit($one) ? (int) $one : $one, preg_split('/[\s,]+/', $text, -1, PREG_SPLIT_NO_EMPTY) ?: []) ?: null,
            $field === 'take' => self::take($text),
            $field === 'inner' => self::inner(is_array($form['inner']) ? $form['inner'] : [], $was['inner'] ?? []),
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
