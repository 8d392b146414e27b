<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

/**
 * Any value, as JSON text.
 */
final readonly class JsonType implements ColumnType
{
    public function convert(mixed $value): string|Unfit
    {
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
