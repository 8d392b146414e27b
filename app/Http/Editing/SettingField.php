<?php

declare(strict_types=1);

namespace App\Http\Editing;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;

/**
 * One declared setting, as a form shows it.
 */
final readonly class SettingField
{
    public string $label;

    public string $help;

    public string $example;

    /** @var array<int|string, string> */
    public array $choices;

    public bool $isFlag;

    /** Whether it is typed line by line. */
    public bool $isLines;

    public string $width;

    public string $value;

    /**
     * @param  string  $id  of the element
     * @param  string  $name  of the field of the form
     * @param  array<string, mixed>  $entry  in which it stands
     */
    public function __construct(Field $field, public string $id, public string $name, array $entry)
    {
        $this->label = $field->label;
        $this->help = $field->help;
        $this->example = $field->example;
        $this->choices = $field->choices;
        $this->isFlag = $field->type === FieldType::Flag && $field->choices === [];
        $this->isLines = $field->type === FieldType::Paths;
        $this->width = match (true) {
            $field->type->isNumber(), $field->type === FieldType::Statuses => '!w-16',
            in_array($field->type, [FieldType::Path, FieldType::Figure], true) => '!w-36',
            $field->type === FieldType::Text => '!w-52',
            default => '!w-28',
        };
        $value = $entry[$field->name] ?? ($field->choices === [] ? null : $field->default);
        $this->value = match (true) {
            $field->type === FieldType::Flag && $field->choices !== [] => is_bool($value) ? (string) (int) $value : '',
            $field->type === FieldType::Raw => is_string($value) ? addcslashes($value, "\t") : '',
            default => self::text($value),
        };
    }

    private static function text(mixed $value): string
    {
        return match (true) {
            is_bool($value) => $value ? '1' : '',
            is_array($value) && ! array_is_list($value) => implode("\n", array_map(static fn (string $name, mixed $one): string => "$name: ".(is_scalar($one) ? $one : ''), array_map(strval(...), array_keys($value)), $value)),
            is_array($value) => implode(' ', array_map(static fn (mixed $one): string => is_scalar($one) ? (string) $one : '', $value)),
            default => is_scalar($value) ? (string) $value : '',
        };
    }
}
