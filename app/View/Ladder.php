<?php

declare(strict_types=1);

namespace App\View;

/**
 * Pages as rungs in time, one below the other: waits before them, tries, failures. Few are drawn
 * with their words, many as a thin picture of the whole.
 *
 * @phpstan-type Rung array{start: int, ms: int, records: int|null, waited: int, page?: int, to?: int, tries?: int}
 * @phpstan-type Bar array{x: float, y: float, w: float, h: float, wait: float, waitX: float, failed: bool, again: bool, says: string}
 */
final readonly class Ladder
{
    public const WIDTH = 660;

    /** Rungs that are drawn with words beside them. */
    private const WORDS = 14;

    private const STEP = 17;

    /** Pixels that all rungs together take when they are many. */
    private const TALL = 236;

    private const AXIS = 18;

    /**
     * @param  list<Bar>  $bars
     * @param  list<array{x: float, y: float, text: string, failed: bool, before: bool}>  $words
     * @param  list<array{x: float, text: string}>  $ticks
     * @param  float|null  $endX  where the run will probably be done
     */
    private function __construct(public array $bars, public array $words, public array $ticks, public float $height, public int $pages, public ?float $endX, public string $endText, public int $width)
    {
    }

    /**
     * @param  list<Rung>  $rungs  milliseconds
     * @param  int|null  $left  seconds until it is probably done
     * @param  int  $width  pixels
     */
    public static function of(array $rungs, ?int $left = null, int $width = self::WIDTH): self
    {
        $end = 1;
        foreach ($rungs as $rung) {
            $end = max($end, $rung['start'] + $rung['ms']);
        }
        $whole = $left === null ? $end : $end + 1000 * $left;
        $count = count($rungs);
        $isFew = $count <= self::WORDS;
        $scale = ($width - ($isFew ? 170 : 90)) / $whole;
        $step = $isFew ? self::STEP : max(1.4, min(self::STEP, self::TALL / $count));
        $bars = [];
        $words = [];
        $pages = 0;
        foreach ($rungs as $index => $rung) {
            [$from, $to] = [$rung['page'] ?? $index + 1, $rung['to'] ?? $rung['page'] ?? $index + 1];
            $pages = max($pages, $to);
            $x = round($rung['start'] * $scale, 1);
            $w = max(2.0, round($rung['ms'] * $scale, 1));
            $wait = round(min($rung['waited'], $rung['start']) * $scale, 1);
            $failed = $rung['records'] === null;
            $says = ($from === $to ? "page $from" : "pages $from to $to").' · '.($failed ? 'failed' : Show::number((int) $rung['records'])).($rung['waited'] > 0 ? ' · waited '.Show::duration($rung['waited']) : '').(($rung['tries'] ?? 1) > 1 ? " · try {$rung['tries']}" : '');
            $y = round($index * $step, 1);
            $bars[] = ['x' => $x, 'y' => $y + ($isFew ? 2 : 0), 'w' => $w, 'h' => $isFew ? 12.0 : round(max(1.2, $step - min(3, $step / 4)), 1), 'wait' => $wait, 'waitX' => round($x - $wait, 1), 'failed' => $failed, 'again' => ($rung['tries'] ?? 1) > 1, 'says' => $says];
            if ($isFew || $index === 0 || $index === $count - 1 || $failed) {
                // Where there is no room after a rung, its words stand before it.
                $before = $x + $w + 7 + 6.4 * mb_strlen($says) > $width;
                $words[] = ['x' => $before ? max(6.4 * mb_strlen($says), round($x - $wait - 6, 1)) : $x + $w + 7, 'y' => $isFew ? $y + 12 : max(9.0, min($y + $step, $count * $step) + 2), 'text' => $says, 'failed' => $failed, 'before' => $before];
            }
        }
        // Words of many rungs must not lie on each other.
        $words = $isFew ? $words : self::apart($words);
        $tall = $count * $step + 4;

        return new self($bars, $words, self::ticks($whole, $scale), $tall + self::AXIS, $pages, $left === null ? null : round($whole * $scale, 1), $left === null ? '' : 'probably done', $width);
    }

    /**
     * @param  list<array{x: float, y: float, text: string, failed: bool, before: bool}>  $words
     * @return list<array{x: float, y: float, text: string, failed: bool, before: bool}>
     */
    private static function apart(array $words): array
    {
        $kept = [];
        foreach (array_reverse($words) as $word) {
            if ($kept === [] || $kept[count($kept) - 1]['y'] - $word['y'] > 14) {
                $kept[] = $word;
            }
        }

        return array_reverse($kept);
    }

    /**
     * @return list<array{x: float, text: string}>
     */
    private static function ticks(int $whole, float $scale): array
    {
        foreach ([10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 30_000, 60_000, 120_000, 300_000, 600_000, 1_800_000, 3_600_000] as $gap) {
            if ($whole / $gap <= 7) {
                break;
            }
        }
        $ticks = [];
        for ($at = 0; $at <= $whole && count($ticks) < 40; $at += $gap) {
            $ticks[] = ['x' => round($at * $scale, 1), 'text' => $at === 0 ? '0' : Show::duration($at)];
        }

        return $ticks;
    }
}
