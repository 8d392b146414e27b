<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Unfit;

/**
 * Any value, as JSON text; with `read_as: text`, the JSON that a text holds.
 */
final readonly class JsonType implements ColumnType
{
    private const DEPTH = 512;

    public static function kind(): Kind
    {
        return new Kind('json', 'JSON', 'What is left as it is.', [new Field('read_as', FieldType::Choice, 'comes as', '`text` for a text that holds JSON.', choices: ['' => 'JSON', 'text' => 'text that holds JSON'], shape: TypeFields::READ_AS)]);
    }

    public static function of(array $column, bool $inKey): self
    {
        return new self(($column['read_as'] ?? '') === 'text');
    }

    public function __construct(public bool $fromText = false)
    {
    }

    public function convert(mixed $value): string|Unfit
    {
        if ($this->fromText && is_string($value)) {
            json_decode($value, false, self::DEPTH);

            return json_last_error() === JSON_ERROR_NONE ? $value : new Unfit($value === '' ? 'an empty string where JSON was expected' : 'not JSON: '.strtolower(json_last_error_msg()));
        }
        $json = json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION);

        return match (true) {
            $json !== false => $json,
            json_last_error() === JSON_ERROR_INF_OR_NAN => Unfit::digits('a number beyond 64 bits, whose digits are not known'),
            default => new Unfit('cannot be written as JSON: '.json_last_error_msg()),
        };
    }

    public function storage(): Storage
    {
        return Storage::Json;
    }

    public function name(): string
    {
        return 'json';
    }

    public function label(): string
    {
        return 'JSON';
    }
}
