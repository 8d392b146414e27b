<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

final readonly class BooleanType implements ColumnType
{
    public function convert(mixed $value): string|Unfit
    {
        return match (true) {
            $value === true, $value === 'true', $value === 1, $value === '1' => '1',
            $value === false, $value === 'false', $value === 0, $value === '0' => '0',
            is_array($value), is_object($value) => Unfit::structure($value),
            default => new Unfit('neither true nor false'),
        };
    }

    public function name(): string
    {
        return 'boolean';
    }

    public function label(): string
    {
        return 'true or false';
    }
}
