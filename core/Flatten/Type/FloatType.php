<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Unfit;
use DeepSpring\Value\WrittenNumber;

/**
 * Binary floating point of 64 bits (IEEE 754), for measurements.
 */
final readonly class FloatType implements ColumnType
{
    private ?WrittenNumber $written;

    public static function kind(): Kind
    {
        return new Kind('float', 'float', 'IEEE 754 double precision.', [TypeFields::writtenLike()]);
    }

    public static function of(array $column, bool $inKey): self
    {
        return new self($column['read_as'] ?? null);
    }

    public function __construct(?string $readAs = null)
    {
        $this->written = WrittenNumber::of($readAs);
    }

    public function convert(mixed $value): string|Unfit
    {
        if (is_int($value)) {
            return abs($value) <= 9007199254740992 ? (string) $value : new Unfit('a whole number beyond 2^53, which a float would change');
        }
        if (is_string($value) && $this->written !== null) {
            $value = $this->written->plain($value);
            if ($value instanceof Unfit) {
                return $value;
            }
        }
        if (is_string($value) && preg_match('/^-?(?:0|[1-9]\d*)(?:\.\d+)?(?:[eE][+-]?\d+)?$/D', $value) === 1) {
            $value = (float) $value;
        }
        if (is_float($value)) {
            return is_finite($value) ? (string) json_encode($value) : Unfit::digits('beyond the range of a float');
        }

        return is_array($value) || is_object($value) ? Unfit::structure($value) : new Unfit('not a number');
    }

    public function storage(): Storage
    {
        return Storage::Float;
    }

    public function name(): string
    {
        return 'float';
    }

    public function label(): string
    {
        return 'float';
    }
}
