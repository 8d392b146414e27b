<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use Brick\Math\BigDecimal;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Unfit;
use DeepSpring\Value\WrittenNumber;

/**
 * Exact numbers with a fixed count of decimals.
 */
final readonly class DecimalType implements ColumnType
{
    /** Digits before and after the point together, where none are said; more where 64 bits before the point need them. */
    private const USUAL = 38;

    /** That a database column holds: DECIMAL(65, 30) of MariaDB. */
    public const MOST_DIGITS = 65;

    public const MOST_DECIMALS = 30;

    /** Digits of a whole number of 64 bits. */
    private const LONG = 19;

    /** Significant digits that a JSON number surely keeps on its way through 64 bits (IEEE 754). */
    private const SAFE_DIGITS = 15;

    /** Digits before and after the point together. */
    public int $precision;

    /** Digits before the point. */
    private int $whole;

    private ?WrittenNumber $written;

    public static function kind(): Kind
    {
        return new Kind('decimal', 'decimal', 'Exact digits, of which a number stand behind the point.', [new Field('scale', FieldType::Number, 'decimals', 'Digits behind the point.', default: 2, shape: ['type' => 'integer', 'minimum' => 0, 'maximum' => self::MOST_DECIMALS]), new Field('precision', FieldType::Number, 'digits', 'Digits before and behind the point together, where 38 are too few.', shape: ['type' => 'integer', 'minimum' => 1, 'maximum' => self::MOST_DIGITS]), TypeFields::writtenLike()]);
    }

    public static function of(array $column, bool $inKey): self
    {
        return new self($column['scale'] ?? 2, $column['read_as'] ?? null, $column['precision'] ?? null);
    }

    public function __construct(public int $scale, ?string $readAs = null, ?int $precision = null)
    {
        $this->precision = $precision ?? max(self::USUAL, $scale + self::LONG + 1);
        $this->whole = max(0, $this->precision - $scale);
        $this->written = WrittenNumber::of($readAs);
    }

    public function convert(mixed $value): string|Unfit
    {
        if (is_float($value)) {
            if (! is_finite($value)) {
                return Unfit::digits('beyond what a decimal holds');
            }
            $digits = (string) json_encode($value);
            $point = strpos($digits, '.');
            if ($point !== false && strlen($digits) <= self::SAFE_DIGITS && strlen($digits) - $point - 1 <= $this->scale && ! str_contains($digits, 'e')) {
                return $digits;
            }
            if (strlen(ltrim(str_replace(['-', '.'], '', (string) strtok($digits, 'e')), '0')) > self::SAFE_DIGITS) {
                return Unfit::digits('more digits than a JSON number surely keeps; ask the API for text');
            }
        } elseif (is_int($value) || is_string($value)) {
            $digits = is_string($value) && $this->written !== null ? $this->written->plain($value) : (string) $value;
            if ($digits instanceof Unfit) {
                return $digits;
            }
        } else {
            return is_bool($value) ? new Unfit('true or false where a number was expected') : Unfit::structure($value);
        }
        if (preg_match('/^-?(0|[1-9]\d*)(?:\.(\d+))?$/D', $digits, $part) !== 1) {
            return $this->unusual($digits);
        }
        $decimals = $part[2] ?? '';
        if (strlen($decimals) > $this->scale && rtrim(substr($decimals, $this->scale), '0') !== '') {
            return new Unfit('has '.strlen(rtrim($decimals, '0'))." decimals, the column keeps {$this->scale}");
        }

        return strlen($part[1]) > $this->whole && $part[1] !== '0' ? new Unfit("more than {$this->whole} digits before the point") : $digits;
    }

    /**
     * What stands behind the whole part of a number, by its decimals as a whole number: nothing, `.01`, …
     * `.1`, … `.99`.
     *
     * @return list<string>|null null where they are too many to be listed
     */
    public function fractions(): ?array
    {
        if ($this->scale < 1 || $this->scale > 3) {
            return null;
        }
        $fraction = fn (int $number): string => rtrim('.'.str_pad((string) $number, $this->scale, '0', STR_PAD_LEFT), '.0');

        return array_map($fraction, range(0, 10 ** $this->scale - 1));
    }

    /**
     * Whether every whole number of 64 bits fits.
     */
    public function takesLong(): bool
    {
        return $this->whole >= self::LONG;
    }

    private function unusual(string $digits): string|Unfit
    {
        if (preg_match('/^-?(?:0|[1-9]\d*)(?:\.\d+)?[eE][+-]?\d{1,3}$/D', $digits) === 1) {
            return $this->convert((string) BigDecimal::of($digits)->stripTrailingZeros());
        }

        return match (true) {
            $digits === '' => new Unfit('an empty string where a number was expected'),
            preg_match('/^-?0\d/', $digits) === 1 => new Unfit('its leading zero would be lost; keep it as text'),
            str_starts_with($digits, '+') => new Unfit('its plus sign would be lost; keep it as text'),
            preg_match('/^-?\d{1,3}(?:[.,\' ]\d{3})*[.,]\d+$|^-?\d+,\d+$/D', $digits) === 1 => new Unfit('not written as JSON writes numbers; say with read_as how it is written'),
            default => new Unfit('not a number'),
        };
    }

    public function storage(): Storage
    {
        return Storage::Decimal;
    }

    public function name(): string
    {
        return 'decimal';
    }

    public function label(): string
    {
        return "decimal, {$this->scale} places";
    }
}
