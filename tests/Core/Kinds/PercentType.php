<?php

declare(strict_types=1);

namespace Tests\Core\Kinds;

use DeepSpring\Flatten\Type\ColumnType;
use DeepSpring\Flatten\Type\Storage;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Unfit;

/**
 * A column type that nobody has: whole percent, written with the sign.
 */
final readonly class PercentType implements ColumnType
{
    public static function kind(): Kind
    {
        return new Kind('percent', 'percent', 'Whole percent.', [new Field('above', FieldType::Flag, 'above 100', 'Whether more than 100 is allowed.', default: false)]);
    }

    public static function of(array $column, bool $inKey): self
    {
        return new self($column['above'] ?? false);
    }

    private function __construct(private bool $above)
    {
    }

    public function convert(mixed $value): string|Unfit
    {
        if (! is_string($value) || preg_match('/^(\d{1,6}) ?%$/D', $value, $part) !== 1) {
            return new Unfit('not a percentage like 12 %');
        }

        return (int) $part[1] > 100 && ! $this->above ? new Unfit('more than 100 %') : $part[1];
    }

    public function storage(): Storage
    {
        return Storage::Integer;
    }

    public function name(): string
    {
        return 'percent';
    }

    public function label(): string
    {
        return 'percent';
    }
}
