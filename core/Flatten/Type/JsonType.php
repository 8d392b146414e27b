<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Unfit;

/**
 * Any value, as JSON text; with `read_as: text`, the JSON that a text holds.
 */
final readonly class JsonType implements ColumnType
{
    private const DEPTH = 512;

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

        return $json === false ? new Unfit('cannot be written as JSON: '.json_last_error_msg()) : $json;
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
