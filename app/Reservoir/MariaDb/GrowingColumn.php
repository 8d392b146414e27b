<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\Type\DecimalType;
use DeepSpring\Flatten\Type\Storage;

/**
 * A column that is as wide as what came: a text by its characters, a number by its digits before the
 * point. A width of null is all that its type can hold.
 */
final readonly class GrowingColumn
{
    /**
     * Characters. All of them have a length of two bytes, so that making one wider leaves the rows as they
     * are (MariaDB, Instant ADD COLUMN and changes of VARCHAR).
     */
    private const CHARACTERS = [64, 255, 1000, 4000];

    /** Digits of any number that four bytes hold. */
    private const SHORT = 9;

    /** Digits before the point: nine of them take four bytes each. */
    private const DIGITS = [9, 18];

    /** Of a text, how many times longer ones there is room for. */
    private const TIMES = 2;

    /** Digits that a number can have more. */
    private const MORE = 1;

    private function __construct(private Storage $storage, private int $precision = 0, private int $scale = 0)
    {
    }

    /**
     * Null for one of a fixed width: those of a key, and of other types.
     */
    public static function of(Column $column): ?self
    {
        $type = $column->kept;

        return match (true) {
            $column->inKey => null,
            in_array($type->storage(), [Storage::Text, Storage::Integer], true) => new self($type->storage()),
            $type instanceof DecimalType => new self(Storage::Decimal, $type->precision, $type->scale),
            default => null,
        };
    }

    /**
     * The width for what was seen, and for somewhat more.
     *
     * @param  int  $seen  characters or digits
     */
    public function room(int $seen): ?int
    {
        return match ($this->storage) {
            Storage::Text => self::atLeast(self::TIMES * $seen, self::CHARACTERS),
            Storage::Integer => self::atLeast($seen + self::MORE, [self::SHORT]),
            default => self::atLeast($seen + self::MORE, array_filter(self::DIGITS, fn (int $digits): bool => $digits + $this->scale < $this->precision)),
        };
    }

    /**
     * @param  array<int>  $widths  ascending
     */
    private static function atLeast(int $needed, array $widths): ?int
    {
        foreach ($widths as $width) {
            if ($needed <= $width) {
                return $width;
            }
        }

        return null;
    }

    /**
     * Characters or digits of a value. Never more than its bytes, so that one of few bytes need not be looked at.
     */
    public function measure(string $value): int
    {
        return match ($this->storage) {
            Storage::Text => mb_strlen($value, 'UTF-8'),
            Storage::Integer => strlen(ltrim($value, '-')),
            default => strlen(ltrim(strstr("$value.", '.', true) ?: '', '-')),
        };
    }

    public function sql(?int $width): string
    {
        return match ($this->storage) {
            Storage::Text => $width === null ? 'MEDIUMTEXT' : "VARCHAR($width)",
            Storage::Integer => $width === null ? 'BIGINT' : 'INT',
            default => $width === null ? "DECIMAL($this->precision,$this->scale)" : 'DECIMAL('.($width + $this->scale).",$this->scale)",
        };
    }

    /**
     * The width of a column as the database has it.
     *
     * @param  string  $type  varchar, int, …
     */
    public function width(string $type, ?int $characters, ?int $precision): ?int
    {
        return match ($this->storage) {
            Storage::Text => $type === 'varchar' ? $characters : null,
            Storage::Integer => $type === 'int' ? self::SHORT : null,
            default => $type === 'decimal' && (int) $precision < $this->precision ? (int) $precision - $this->scale : null,
        };
    }

    public function isText(): bool
    {
        return $this->storage === Storage::Text;
    }
}
