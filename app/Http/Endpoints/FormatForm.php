<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Http\Editing\SettingField;
use DeepSpring\Answer\Format\Formats;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;

/**
 * The format of an endpoint's answers, as its sheet shows and sends it.
 */
final class FormatForm
{
    private const DETECTED = 'auto';

    /**
     * What the form sends → `answer` of a source file.
     *
     * @param  array<array-key, mixed>  $form
     * @param  array<string, mixed>  $answer
     * @return array<string, mixed>
     */
    public static function apply(array $form, array $answer): array
    {
        $format = is_string($form['as'] ?? null) ? $form['as'] : '';
        $kind = Formats::family()->kind($format);
        $was = $answer['format'] ?? self::DETECTED;
        // What was written down stays written down, even where it is the default.
        $answer = array_diff_key($answer, ['format' => 1]) + ($kind === null && ! isset($answer['format']) ? [] : ['format' => $kind === null ? self::DETECTED : $format]);
        if ($kind === null || $kind->fields === [] || $format !== $was) {
            return $answer;
        }
        $settings = [];
        foreach ($kind->fields as $field) {
            $value = self::value($field, is_string($form[$field->name] ?? null) ? $form[$field->name] : null, $answer[$format][$field->name] ?? null);
            $settings += $value === null ? [] : [$field->name => $value];
        }
        unset($answer[$format]);

        return $settings === [] ? $answer : $answer + [$format => $settings];
    }

    /**
     * @return array<string, string> name → title
     */
    public static function choices(): array
    {
        return [self::DETECTED => 'detected'] + Formats::family()->titles();
    }

    /**
     * The settings of the chosen format.
     *
     * @param  array<string, mixed>  $answer
     * @return list<SettingField>
     */
    public static function fields(array $answer): array
    {
        $format = $answer['format'] ?? self::DETECTED;

        return array_map(static fn (Field $field): SettingField => new SettingField($field, "format-{$field->name}", "format[{$field->name}]", $answer[$format] ?? []), Formats::family()->kind($format)->fields ?? []);
    }

    private static function value(Field $field, ?string $typed, mixed $was): mixed
    {
        return match (true) {
            $typed === null => $was,
            // No quote at all can only be said in the file, and stays.
            $typed === '' => $was === '' ? '' : null,
            $field->type === FieldType::Flag => $typed === '1',
            $field->type === FieldType::Raw => stripcslashes($typed),
            default => $typed,
        };
    }
}
