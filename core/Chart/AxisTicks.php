<?php

declare(strict_types=1);

namespace DeepSpring\Chart;

/**
 * Round places of an axis.
 */
final class AxisTicks
{
    /** Seconds between two, up to a day; then days, months and years. */
    private const SECONDS = [1, 5, 15, 60, 300, 900, 3600, 10_800, 21_600, 86_400, 172_800, 604_800];

    /**
     * Multiples of 1, 2 or 5 times a power of ten.
     *
     * @return list<float>
     */
    public static function numbers(float $least, float $greatest, int $about = 5): array
    {
        if (! is_finite($least) || ! is_finite($greatest) || $least >= $greatest) {
            return is_finite($least) ? [$least] : [];
        }
        $step = ($greatest - $least) / max(1, $about);
        $power = 10 ** floor(log10($step));
        foreach ([1, 2, 5, 10] as $times) {
            if ($times * $power >= $step) {
                $step = $times * $power;

                break;
            }
        }
        $ticks = [];
        for ($number = (int) ceil($least / $step - 1e-9); $number * $step <= $greatest + 1e-9 * $step; $number++) {
            $ticks[] = $number * $step;
        }

        return $ticks;
    }

    /**
     * Round moments in UTC.
     *
     * @return array<int, string> seconds since 1970 → how it is written
     */
    public static function moments(int $from, int $to, int $about = 6): array
    {
        $span = max(1, $to - $from);
        foreach (self::SECONDS as $step) {
            if ($span / $step <= $about) {
                $ticks = [];
                for ($at = (int) ceil($from / $step) * $step; $at <= $to; $at += $step) {
                    $ticks[$at] = gmdate($step < 60 ? 'H:i:s' : ($step < 86_400 ? ($at % 86_400 === 0 ? 'Y-m-d' : 'H:i') : 'Y-m-d'), $at);
                }

                return $ticks;
            }
        }
        $months = $span / 2_629_800;
        foreach ([1, 2, 3, 6, 12, 24, 60, 120, 240, 600] as $step) {
            if ($months / $step <= $about || $step === 600) {
                $ticks = [];
                for ($month = (int) ceil((12 * (int) gmdate('Y', $from) + (int) gmdate('n', $from) - 1) / $step) * $step; ($at = (int) gmmktime(0, 0, 0, $month % 12 + 1, 1, intdiv($month, 12))) <= $to; $month += $step) {
                    if ($at >= $from) {
                        $ticks[$at] = gmdate($step < 12 ? 'Y-m' : 'Y', $at);
                    }
                }

                return $ticks;
            }
        }

        return [];
    }

    /**
     * A number as short as it can be told: 1.2 k, 3 M.
     */
    public static function short(float $number): string
    {
        foreach ([[1e12, 1e12, 'T'], [1e9, 1e9, 'G'], [1e6, 1e6, 'M'], [1e4, 1e3, 'k']] as [$from, $by, $sign]) {
            if (abs($number) >= $from) {
                return self::plain($number / $by)." $sign";
            }
        }

        return self::plain($number);
    }

    private static function plain(float $number): string
    {
        $text = rtrim(rtrim(sprintf('%.4F', $number), '0'), '.');

        return $text === '-0' || $text === '' ? '0' : ($text === '0' && $number !== 0.0 ? sprintf('%.2g', $number) : $text);
    }
}
