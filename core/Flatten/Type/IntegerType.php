<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Unfit;
use DeepSpring\Value\WrittenNumber;

/**
 * Whole numbers of 64 bits with a sign.
 */
final readonly class IntegerType implements ColumnType
{
    private ?WrittenNumber $written;

    public static function kind(): Kind
    {
        return new Kind('integer', 'whole number', 'From -2^63 to 2^63-1.', [TypeFields::writtenLike()]);
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
            return (string) $value;
        }
        if (is_string($value)) {
            $plain = $this->written?->plain($value) ?? $value;

            return $plain instanceof Unfit ? $plain : $this->fromText($plain);
        }
        if (is_float($value)) {
            return match (true) {
                floor($value) !== $value => new Unfit('not a whole number'),
                abs($value) > 9007199254740991.0 => Unfit::digits('a number with an exponent beyond 2^53, whose last digits are not known'),
                default => (string) (int) $value,
            };
        }

        return is_bool($value) ? new Unfit('true or false where a whole number was expected') : Unfit::structure($value);
    }

    private function fromText(string $value): string|Unfit
    {
        if (preg_match('/^-?(?:0|[1-9]\d*)$/D', $value) === 1) {
            return filter_var($value, FILTER_VALIDATE_INT) === false && $value !== '-0' ? new Unfit('beyond the 64 bits of a whole number') : ($value === '-0' ? '0' : $value);
        }

        return match (true) {
            $value === '' => new Unfit('an empty string where a whole number was expected'),
            preg_match('/^-?0\d+$/D', $value) === 1 => new Unfit('its leading zero would be lost; keep it as text'),
            preg_match('/^\+\d+$/D', $value) === 1 => new Unfit('its plus sign would be lost; keep it as text'),
            default => new Unfit('not a whole number'),
        };
    }

    public function storage(): Storage
    {
        return Storage::Integer;
    }

    public function name(): string
    {
        return 'integer';
    }

    public function label(): string
    {
        return 'whole number';
    }
}
