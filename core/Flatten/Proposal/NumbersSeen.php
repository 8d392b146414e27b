<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

use Brick\Math\BigDecimal;
use DeepSpring\Flatten\Type\DecimalType;

/**
 * Numbers as they were written: how many digits a column needs to keep every one of them, and whether
 * a float of 64 bits (IEEE 754) would.
 */
final readonly class NumbersSeen
{
    /** Significant digits that survive a float whatever they are. */
    private const SAFE_DIGITS = 15;

    /** Beyond these powers of ten nothing fits a decimal, and little a float. */
    private const MOST_POWER = 280;

    /** Digits behind the point. */
    public int $scale;

    /** Digits before the point. */
    public int $whole;

    /** Significant digits of the longest. */
    public int $digits;

    public bool $hasExponent;

    /** Whether every one of them is the same number after it was a float. */
    public bool $surviveFloat;

    /**
     * @param  list<string>  $written  as JSON writes them
     * @param  int|null  $least  of whole numbers beside them
     */
    public function __construct(array $written, ?int $least = null, ?int $most = null)
    {
        $scale = $digits = 0;
        $whole = max(1, strlen(ltrim((string) $least, '-')), strlen(ltrim((string) $most, '-')));
        $hasExponent = false;
        $survive = $least === null || $most === null || max(abs($least), abs($most)) <= 2 ** 53;
        foreach ($written as $text) {
            [$before, $behind, $significant, $isPower] = self::measured($text);
            [$scale, $whole, $digits] = [max($scale, $behind), max($whole, $before), max($digits, $significant)];
            $hasExponent = $hasExponent || $isPower;
            $survive = $survive && self::survives($text, $before, $behind, $significant);
        }
        [$this->scale, $this->whole, $this->digits, $this->hasExponent, $this->surviveFloat] = [$scale, $whole, $digits, $hasExponent, $survive];
    }

    /**
     * A column of decimals that keeps them all.
     *
     * @param  int  $scale  digits behind the point at least, where there is room for them
     * @return array<string, mixed>|null null where the database has no room
     */
    public function decimal(int $scale = 0): ?array
    {
        $scale = $this->whole + max($scale, $this->scale) <= DecimalType::MOST_DIGITS ? max($scale, $this->scale) : $this->scale;
        if ($scale > DecimalType::MOST_DECIMALS || $this->whole + $scale > DecimalType::MOST_DIGITS) {
            return null;
        }

        return ['type' => 'decimal', 'scale' => $scale] + ($this->whole + $scale > (new DecimalType($scale))->precision ? ['precision' => $this->whole + $scale] : []);
    }

    /**
     * @return array{int, int, int, bool} digits before the point, digits behind it, significant ones, whether there is an exponent
     */
    private static function measured(string $text): array
    {
        preg_match('/^-?(\d+)(?:\.(\d+))?(?:[eE]([+-]?\d+))?$/D', $text, $part, PREG_UNMATCHED_AS_NULL);
        $decimals = $part[2] ?? '';
        $all = ltrim(($part[1] ?? '').$decimals, '0');
        $significant = rtrim($all, '0');
        if (! isset($part[3])) {
            // Zeros at the end are kept while there is room: 1.50 has two decimals.
            $behind = strlen($decimals) > DecimalType::MOST_DECIMALS ? strlen(rtrim($decimals, '0')) : strlen($decimals);

            return [max(1, strlen($part[1] ?? '')), $behind, strlen($significant), false];
        }
        if ($significant === '') {
            return [1, 0, 0, true];
        }
        $power = max(-self::MOST_POWER * 2, min(self::MOST_POWER * 2, (int) $part[3])) - strlen($decimals) + strlen($all) - strlen($significant);

        return [max(1, strlen($significant) + $power), max(0, -$power), strlen($significant), true];
    }

    private static function survives(string $text, int $before, int $behind, int $significant): bool
    {
        if ($before > self::MOST_POWER || $behind > self::MOST_POWER) {
            return false;
        }

        return $significant <= self::SAFE_DIGITS || BigDecimal::of((string) json_encode((float) $text))->isEqualTo(BigDecimal::of($text));
    }
}
