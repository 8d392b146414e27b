<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Spreadsheet;

use Brick\Math\BigDecimal;

/**
 * How a number in a cell is to be understood: as a number, as a day or a time, or as digits with zeros before them
 * (ECMA-376 Part 1 §18.8.30, numFmt).
 */
final readonly class CellForm
{
    /** Days from the first day of counting to the Unix epoch: of 1900 (with a 29 February that there was not), of 1904. */
    private const EPOCH = 25_569;

    private const EPOCH_1904 = 24_107;

    private function __construct(private bool $hasDay, private bool $hasTime, private int $zeros)
    {
    }

    public static function plain(): self
    {
        return new self(false, false, 0);
    }

    /**
     * @param  int  $number  of the format
     * @param  string|null  $code  of a format of the file; null for one that every program knows
     */
    public static function of(int $number, ?string $code): self
    {
        if ($code === null) {
            $hasDay = $number >= 14 && $number <= 17 || $number === 22 || $number >= 27 && $number <= 31 || $number >= 34 && $number <= 36 || $number >= 50 && $number <= 58;
            $hasTime = $number >= 18 && $number <= 22 || $number === 32 || $number === 33 || $number >= 45 && $number <= 47;

            return new self($hasDay, $hasTime, 0);
        }
        // Only the part for positive numbers, without texts, colours and conditions.
        $bare = (string) preg_replace(['/"[^"]*"|\\\\.|_.|\*./u', '/\[(?!h+\]|m+\]|s+\])[^\]]*\]/i'], '', $code);
        $bare = strtolower(explode(';', $bare)[0]);
        if (preg_match('/^0{2,}$/D', $bare) === 1) {
            return new self(false, false, strlen($bare));
        }
        // An m beside hours or seconds is a minute.
        $isMinute = preg_match('/[hs]/', $bare) === 1;

        return new self(preg_match('/[dy]/', $bare) === 1 || str_contains($bare, 'm') && ! $isMinute, $isMinute, 0);
    }

    /**
     * @param  string  $value  as it stands in the file
     */
    public function written(string $value, bool $counts1904 = false): string
    {
        if (! is_numeric($value)) {
            return $value;
        }
        if ($this->hasDay || $this->hasTime) {
            return $this->moment((float) $value, $counts1904) ?? self::number($value);
        }

        return $this->zeros > 0 && preg_match('/^\d+$/D', $value) === 1 ? str_pad($value, $this->zeros, '0', STR_PAD_LEFT) : self::number($value);
    }

    /**
     * With the fifteen digits that count, so that 19.989999999999998 is 19.99 as in the sheet.
     */
    private static function number(string $value): string
    {
        if (preg_match('/^-?\d{1,15}$/D', $value) === 1) {
            return $value;
        }
        $rounded = sprintf('%.15G', (float) $value);
        if (! str_contains($rounded, 'E')) {
            return $rounded;
        }
        $plain = (string) BigDecimal::of($rounded)->stripTrailingZeros();

        return strlen($plain) <= 40 ? $plain : $rounded;
    }

    private function moment(float $serial, bool $counts1904): ?string
    {
        if ($serial < 0 || $serial > 2_958_466) {
            return null;
        }
        // Of the days before 1 March 1900 one is too many, since that February is counted with 29.
        $days = (int) floor($serial) - ($counts1904 ? self::EPOCH_1904 : self::EPOCH) + (! $counts1904 && $serial >= 1 && $serial < 60 ? 1 : 0);
        $milliseconds = (int) round(($serial - floor($serial)) * 86_400_000);
        $at = (new \DateTimeImmutable('@0'))->modify(sprintf('%+d days', $days))->modify(sprintf('+%d milliseconds', $milliseconds));
        $time = $milliseconds % 1000 === 0 ? 'H:i:s' : 'H:i:s.v';

        return match (true) {
            ! $this->hasDay && $serial < 1 => $at->format($time),
            $this->hasTime || $milliseconds !== 0 => $at->format("Y-m-d\\T$time"),
            default => $at->format('Y-m-d'),
        };
    }
}
