<?php

declare(strict_types=1);

namespace App\View;

/**
 * Pages as rungs in time, one below the other: waits before them, tries, failures. Few are drawn
 * with their words, many as a thin picture of the whole.
 *
 * @phpstan-type Rung array{start: int, ms: int, records: int|null, waited: int, page?: int, to?: int, tries?: int, unit?: string}
 * @phpstan-type Bar array{x: float, y: float, w: float, h: float, wait: float, waitX: float, failed: bool, again: bool, says: string}
 * @phpstan-type Word array{x: float, y: float, text: string, failed: bool, before: bool}
 * @phpstan-type Box array{left: float, right: float, top: float, bottom: float}
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

    /** Height of a letter, and its usual width as a part of that. */
    private const LETTER = 12.0;

    private const LETTER_WIDTH = 0.56;

    /**
     * @param  list<Bar>  $bars
     * @param  list<Word>  $words
     * @param  list<array{x: float, text: string}>  $ticks
     * @param  float|null  $endX  where the run will probably be done
     */
    private function __construct(public array $bars, public array $words, public array $ticks, public float $height, public int $pages, public ?float $endX, public string $endText, public int $width, private string $unit)
    {
    }

    /**
     * @param  list<Rung>  $rungs  milliseconds
     * @param  int|null  $left  seconds until it is probably done
     * @param  int  $width  pixels
     * @param  string  $unit  what is numbered
     */
    public static function of(array $rungs, ?int $left = null, int $width = self::WIDTH, string $unit = 'page'): self
    {
        $rungs = array_map(static fn (array $rung): array => ['unit' => $unit] + $rung, $rungs);
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
        $pages = 0;
        foreach ($rungs as $index => $rung) {
            $pages = max($pages, $rung['to'] ?? $rung['page'] ?? $index + 1);
            $x = round($rung['start'] * $scale, 1);
            $wait = round(min($rung['waited'], $rung['start']) * $scale, 1);
            $bars[] = [
                'x' => $x, 'y' => round($index * $step, 1) + ($isFew ? 2 : 0), 'w' => max(2.0, round($rung['ms'] * $scale, 1)),
                'h' => $isFew ? 12.0 : round(max(1.2, $step - min(3, $step / 4)), 1), 'wait' => $wait, 'waitX' => round($x - $wait, 1),
                'failed' => $rung['records'] === null, 'again' => ($rung['tries'] ?? 1) > 1, 'says' => self::says($rung, $index, true),
            ];
        }
        $endX = $left === null ? null : round($whole * $scale, 1);
        $words = self::words($rungs, $bars, $step, $endX === null ? [] : [['left' => $endX, 'right' => $width, 'top' => 0.0, 'bottom' => self::LETTER + 2]], $width);
        $tall = $count * $step + 4;

        return new self($bars, $words, self::ticks($whole, $scale), $tall + self::AXIS, $pages, $endX, $left === null ? '' : 'probably done', $width, $unit);
    }

    /**
     * The picture in words: of every rung where they are few.
     */
    public function summary(): string
    {
        return Show::count($this->pages, $this->unit).' in time: '.implode('; ', count($this->bars) <= self::WORDS ? array_column($this->bars, 'says') : array_column($this->words, 'text'));
    }

    /**
     * The box that words take, as they are drawn.
     *
     * @param  Word  $word
     * @return Box
     */
    public static function box(array $word): array
    {
        $long = self::LETTER * self::LETTER_WIDTH * mb_strlen($word['text']);
        $left = $word['before'] ? $word['x'] - $long : $word['x'];

        return ['left' => $left, 'right' => $left + $long, 'top' => $word['y'] - self::LETTER + 1, 'bottom' => $word['y'] + 2];
    }

    /**
     * What is said of a rung, whole or as short as it can be.
     *
     * @param  Rung  $rung
     */
    private static function says(array $rung, int $index, bool $isWhole): string
    {
        [$from, $to] = [$rung['page'] ?? $index + 1, $rung['to'] ?? $rung['page'] ?? $index + 1];
        $unit = $rung['unit'] ?? 'page';
        $short = ($from === $to ? "$unit $from" : "{$unit}s $from to $to").' · '.($rung['records'] === null ? 'failed' : Show::number($rung['records']));

        return ! $isWhole ? $short : $short.($rung['waited'] > 0 ? ' · waited '.Show::duration($rung['waited']) : '').(($rung['tries'] ?? 1) > 1 ? " · try {$rung['tries']}" : '');
    }

    /**
     * Words beside rungs: of all where they are few, else of the first, the last and those that failed. They
     * lie on no bar and on no other words; where there is no room, they stand in the title of the bar alone.
     *
     * @param  list<Rung>  $rungs
     * @param  list<Bar>  $bars
     * @param  list<Box>  $taken  where nothing may stand
     * @return list<Word>
     */
    private static function words(array $rungs, array $bars, float $step, array $taken, int $width): array
    {
        $count = count($rungs);
        $words = [];
        foreach ($bars as $bar) {
            $taken[] = ['left' => min($bar['waitX'], $bar['x']), 'right' => $bar['x'] + $bar['w'], 'top' => $bar['y'], 'bottom' => $bar['y'] + $bar['h']];
        }
        // The last ones come first, since they say how it stands.
        foreach (array_reverse($rungs, true) as $index => $rung) {
            if ($count > self::WORDS && $index !== 0 && $index !== $count - 1 && $rung['records'] !== null) {
                continue;
            }
            $y = $count <= self::WORDS ? $index * $step + 12 : max(self::LETTER, min(($index + 1) * $step, $count * $step) + 2);
            foreach (array_unique([self::says($rung, $index, true), self::says($rung, $index, false)]) as $text) {
                $word = self::beside($bars[$index], $text, round($y, 1), $taken, $width);
                if ($word !== null) {
                    [$words[], $taken[]] = $word;
                    break;
                }
            }
        }

        return array_reverse($words);
    }

    /**
     * After a bar, or before it.
     *
     * @param  Bar  $bar
     * @param  list<Box>  $taken
     * @return array{Word, Box}|null null where there is no room
     */
    private static function beside(array $bar, string $text, float $y, array $taken, int $width): ?array
    {
        $row = array_values(array_filter($taken, static fn (array $box): bool => $box['top'] < $y + 2 && $box['bottom'] > $y - self::LETTER + 1));
        $after = max([$bar['x'] + $bar['w'], ...array_column(array_filter($row, static fn (array $box): bool => $box['left'] < $bar['x'] + $bar['w'] + 7), 'right')]) + 7;
        $before = min([$bar['waitX'], ...array_column(array_filter($row, static fn (array $box): bool => $box['right'] > $bar['waitX'] - 7), 'left')]) - 6;
        foreach ([[$after, false], [$before, true]] as [$x, $isBefore]) {
            $word = ['x' => round($x, 1), 'y' => $y, 'text' => $text, 'failed' => $bar['failed'], 'before' => $isBefore];
            $box = self::box($word);
            if ($box['left'] >= 0 && $box['right'] <= $width && array_filter($row, static fn (array $one): bool => $one['left'] < $box['right'] && $one['right'] > $box['left']) === []) {
                return [$word, $box];
            }
        }

        return null;
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
