<?php

declare(strict_types=1);

namespace App\View;

/**
 * Pages as bars in time, one below the other; where there are many, those in the middle are left
 * out and counted.
 */
final readonly class Ladder
{
    public const WIDTH = 660;

    private const STEP = 17;

    private const MOST = 9;

    /**
     * @param  list<array{x: float, y: int, w: float, wait: float, waitX: float, text: string, textX: float, failed: bool}>  $bars
     */
    private function __construct(public array $bars, public int $height, public int $hidden)
    {
    }

    /**
     * @param  list<array{start: int, ms: int, records: int|null, waited: int}>  $pages  milliseconds
     */
    public static function of(array $pages): self
    {
        $end = 1;
        foreach ($pages as $page) {
            $end = max($end, $page['start'] + $page['ms']);
        }
        $scale = (self::WIDTH - 150) / $end;
        $hidden = max(0, count($pages) - self::MOST);
        $bars = [];
        foreach ($pages as $index => $page) {
            if ($hidden > 0 && $index >= self::MOST - 2 && $index < count($pages) - 2) {
                continue;
            }
            $x = round($page['start'] * $scale, 1);
            $w = max(2.0, round($page['ms'] * $scale, 1));
            $wait = round(min($page['waited'], $page['start']) * $scale, 1);
            $bars[] = [
                'x' => $x, 'y' => count($bars) * self::STEP, 'w' => $w, 'wait' => $wait, 'waitX' => round($x - $wait, 1),
                'failed' => $page['records'] === null,
                'text' => 'page '.($index + 1).' · '.($page['records'] === null ? 'failed' : Show::number($page['records'])).($page['waited'] > 0 ? ' · waited '.Show::duration($page['waited']) : ''),
                'textX' => min($x + $w + 7, self::WIDTH - 148),
            ];
        }

        return new self($bars, count($bars) * self::STEP + 4, $hidden);
    }
}
