<?php

declare(strict_types=1);

namespace App\Http\Sources;

use DeepSpring\Access\Schemes;
use DeepSpring\Value\Kind\Field as KindField;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * What a form shows of each scheme, and how a field becomes a member of the source file and back:
 * `secret:NAME` stands for a secret, `{NAME}` for a variable of the environment.
 *
 * @phpstan-type Field array{label: string, kind: string, default?: string, choices?: array<string, string>, width?: string, hint?: string, at?: list<string>}
 */
final class SchemeFields
{
    /** Widths of fields by what they hold. */
    private const WIDTHS = ['url' => '!w-full', 'members' => '!w-full', 'take' => '!w-full', 'value' => '!w-44', 'pairs' => '!w-44', 'number' => '!w-20', 'raw' => '!w-20', 'text' => '!w-40'];

    public static function title(string $scheme): string
    {
        return Schemes::family()->kind($scheme)->title ?? $scheme;
    }

    /**
     * What a new one begins with.
     *
     * @return array<string, mixed>|null null where there is no such scheme to add
     */
    public static function fresh(string $scheme): ?array
    {
        $kind = Schemes::family()->kind($scheme);

        return $kind === null || $kind->fields === [] ? null : ['scheme' => $scheme] + self::started($kind);
    }

    /**
     * @return array<string, mixed>
     */
    private static function started(Kind $kind): array
    {
        $start = [];
        foreach ($kind->fields as $field) {
            // An optional secret is not asked for at once, but that of a client usually is there.
            if ($field->start !== null && ($field->isRequired || ! $field->isSecret || $field->name === 'client_secret')) {
                $start[$field->name] = $field->start;
            }
        }

        return $start;
    }

    /**
     * The schemes that are not offered by a button of their own.
     *
     * @return array<string, string> name → title
     */
    public static function others(string ...$offered): array
    {
        return array_diff_key(Schemes::family()->titles(), array_fill_keys([...$offered, 'none'], 1));
    }

    /**
     * @return array<string, Field> by name in the form
     */
    public static function of(string $scheme): array
    {
        $fields = [];
        foreach (Schemes::family()->kind($scheme)->fields ?? [] as $field) {
            foreach ($field->parts === [] ? [$field] : $field->parts as $one) {
                $fields[$one->name] = self::field($one);
            }
        }

        return $fields;
    }

    /**
     * @return Field
     */
    private static function field(KindField $field): array
    {
        $kind = match ($field->type) {
            FieldType::Value => $field->isSecret ? ($field->isRequired ? 'secret' : 'secret?') : 'value',
            FieldType::Choice => 'select',
            FieldType::Flag => 'bool',
            FieldType::Parameters => 'pairs',
            FieldType::Members => 'members',
            FieldType::Take => 'take',
            FieldType::Raw => 'raw',
            FieldType::Url => 'url',
            default => $field->type->isNumber() ? 'number' : 'text',
        };
        $default = $kind === 'bool' ? ($field->default === true ? '1' : '0') : ($field->start['secret'] ?? $field->default);

        return ['label' => $field->label, 'kind' => $kind === 'url' ? 'text' : $kind, 'width' => self::WIDTHS[rtrim($kind, '?')] ?? '!w-44', 'hint' => $field->example]
            + (is_string($default) ? ['default' => $default] : []) + ($field->choices === [] ? [] : ['choices' => $field->choices]) + ($field->at === [] ? [] : ['at' => $field->at]);
    }

    /**
     * What stands in a field of the form.
     *
     * @param  Field  $field
     * @param  array<string, mixed>  $entry
     */
    public static function shown(string $name, array $field, array $entry): string
    {
        if ($field['kind'] === 'take') {
            $take = $entry['take'] ?? [];

            return isset($take['json']) ? $take['json'] : (isset($take['header']) ? "header {$take['header']}" : (isset($take['cookie']) ? "cookie {$take['cookie']}" : ''));
        }
        $value = $entry;
        foreach ($field['at'] ?? [$name] as $step) {
            $value = is_array($value) ? $value[$step] ?? null : null;
        }
        if ($field['kind'] === 'bool') {
            return $value === null ? ($field['default'] ?? '1') : ($value === true ? '1' : '0');
        }
        if (in_array($field['kind'], ['pairs', 'members'], true)) {
            return is_array($value) ? urldecode(str_replace('%26', '%2526', http_build_query(array_map(self::text(...), $value), '', '&', PHP_QUERY_RFC3986))) : '';
        }

        return $value === null ? (in_array($field['kind'], ['select', 'text'], true) && in_array($name, ['prefix', 'credentials_in', 'as'], true) ? ($field['default'] ?? '') : '') : self::text($value);
    }

    /**
     * The entry of the source file for what a form sent.
     *
     * @param  array<string, mixed>  $row
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     */
    public static function entry(string $scheme, array $row, array $was): array
    {
        $entry = ['scheme' => $scheme] + (($was['scheme'] ?? '') === $scheme ? $was : []);
        foreach (self::of($scheme) as $name => $field) {
            if (! array_key_exists($name, $row)) {
                continue;
            }
            $typed = is_string($row[$name]) ? ($field['kind'] === 'raw' ? $row[$name] : trim($row[$name])) : '';
            $value = self::member($typed, $field);
            if ($field['kind'] === 'take') {
                $entry['take'] = $value ?? $entry['take'] ?? [];
            } else {
                $entry = self::put($entry, $field['at'] ?? [$name], $value === ($field['default'] ?? null) && in_array($name, ['prefix', 'credentials_in'], true) ? null : $value);
            }
        }

        return $entry;
    }

    /**
     * @param  Field  $field
     */
    private static function member(string $typed, array $field): mixed
    {
        return match ($field['kind']) {
            'secret' => ['secret' => preg_match('/^secret:([A-Za-z0-9_-]{1,64})$/D', $typed, $part) === 1 ? $part[1] : ($field['default'] ?? 'secret')],
            'secret?' => $typed === '' ? null : ['secret' => preg_match('/^secret:([A-Za-z0-9_-]{1,64})$/D', $typed, $part) === 1 ? $part[1] : ($field['default'] ?? 'secret')],
            'value' => $typed === '' && isset($field['default']) ? ['secret' => $field['default']] : self::parsed($typed),
            'number' => preg_match('/^\d{1,6}$/D', $typed) === 1 ? (int) $typed : ($typed === '' ? null : $typed),
            'bool' => $typed === ($field['default'] ?? '1') ? null : $typed === '1',
            'pairs', 'members' => self::pairs($typed, $field['kind'] === 'members'),
            'take' => match (true) {
                preg_match('/^(header|cookie)\s+(\S+)$/iD', $typed, $part) === 1 => [strtolower($part[1]) => $part[2]],
                $typed === '' => null,
                default => ['json' => $typed],
            },
            'raw' => $typed === '' ? null : $typed,
            default => self::parsed($typed),
        };
    }

    public static function parsed(string $typed): mixed
    {
        return match (true) {
            $typed === '' => null,
            preg_match('/^secret:([A-Za-z0-9_-]{1,64})$/D', $typed, $part) === 1 => ['secret' => $part[1]],
            preg_match('/^\{([A-Za-z0-9_-]{1,64})\}$/D', $typed, $part) === 1 => ['variable' => $part[1]],
            default => $typed,
        };
    }

    public static function text(mixed $value): string
    {
        return match (true) {
            is_array($value) && isset($value['secret']) => 'secret:'.$value['secret'],
            is_array($value) && isset($value['variable']) => '{'.$value['variable'].'}',
            is_scalar($value) => (string) $value,
            default => '',
        };
    }

    /**
     * @return array<string, mixed>|null
     */
    private static function pairs(string $typed, bool $values): ?array
    {
        $pairs = [];
        foreach (array_filter(explode('&', $typed), static fn (string $one): bool => trim($one) !== '') as $pair) {
            [$name, $value] = array_map(trim(...), explode('=', $pair, 2) + [1 => '']);
            $pairs[$name] = $values ? self::parsed($value) ?? '' : $value;
        }

        return $pairs === [] ? null : $pairs;
    }

    /**
     * @param  array<array-key, mixed>  $into
     * @param  list<string>  $at
     * @return array<array-key, mixed>
     */
    private static function put(array $into, array $at, mixed $value): array
    {
        $step = array_shift($at);
        if ($at !== []) {
            $into[$step] = self::put(is_array($into[$step] ?? null) ? $into[$step] : [], $at, $value);
            if ($into[$step] === []) {
                unset($into[$step]);
            }
        } elseif ($value === null) {
            unset($into[$step]);
        } else {
            $into[$step] = $value;
        }

        return $into;
    }
}
