<?php

declare(strict_types=1);

namespace App\View;

/**
 * Boxes in three columns and the bands between them. All lengths are pixels.
 *
 * @phpstan-type Box array{id: string, kind: string, x: int, y: int, w: int, h: int, title: string, full: string, mono: bool, isBundle: bool, sub: string, url: string|null, state: string}
 * @phpstan-type Band array{from: string, to: string, d: string, width: float, state: string}
 */
final class WatershedDrawing
{
    private const X = ['source' => 0, 'table' => 360, 'query' => 700];

    private const W = ['source' => 190, 'table' => 190, 'query' => 200];

    public const BOX = 42;

    /** From the top of one box to the top of the next. */
    private const STEP = 50;

    /** Between the boxes of one source and those of the next. */
    private const APART = 10;

    /** @var array<string, Box> by id */
    public array $boxes = [];

    /** @var list<Band> */
    public array $bands = [];

    public int $height = 0;

    /**
     * A source and the tables that it feeds, one below the other.
     *
     * @param  array{id: string, title: string, sub: string, url: string|null, state: string}  $source
     * @param  list<array{id: string, title: string, full: string, sub: string, url: string|null, state: string, rows: int, isBundle: bool}>  $tables
     */
    public function group(array $source, array $tables): void
    {
        $height = max(1, count($tables)) * self::STEP;
        $this->box('source', $source, $this->height + intdiv($height - self::STEP, 2));
        foreach ($tables as $number => $table) {
            $this->box('table', $table, $this->height + $number * self::STEP, true, $table['isBundle']);
            $this->band($source['id'], $table['id'], $table['rows'], $table['state']);
        }
        $this->height += $height + self::APART;
    }

    /**
     * From a table to another that is asked for each of its rows, on the side of the queries.
     */
    public function course(string $from, string $to, int $rows, string $state): void
    {
        if ($from === $to || ! isset($this->boxes[$from], $this->boxes[$to])) {
            return;
        }
        [$a, $b] = [$this->boxes[$from], $this->boxes[$to]];
        $x = $a['x'] + $a['w'];
        [$y1, $y2] = [$a['y'] + intdiv($a['h'], 2), $b['y'] + intdiv($b['h'], 2)];
        $out = $x + min(110, 40 + intdiv(abs($y2 - $y1), 8));
        $this->bands[] = ['from' => $from, 'to' => $to, 'd' => "M$x {$y1}C$out $y1 $out $y2 $x $y2", 'width' => round(3 + 3 * log10(max(1, $rows)), 1), 'state' => $state];
    }

    /**
     * Queries stand beside what they read, in its order.
     *
     * @param  list<array{id: string, title: string, sub: string, url: string|null, state: string, reads: array<string, int>}>  $queries  reads: box of a table → rows
     */
    public function queries(array $queries): void
    {
        $wanted = [];
        foreach ($queries as $number => $query) {
            $read = array_map(fn (string $id): int => $this->boxes[$id]['y'], array_keys($query['reads']));
            $wanted[$number] = $read === [] ? PHP_INT_MAX : intdiv(array_sum($read), count($read));
        }
        asort($wanted);
        $y = 0;
        foreach ($wanted as $number => $place) {
            $query = $queries[$number];
            $y = $place === PHP_INT_MAX ? $y : max($y, $place - 1);
            $this->box('query', $query, $y);
            $of = 0;
            foreach ($query['reads'] as $id => $rows) {
                $this->band($id, $query['id'], $rows, 'fresh', (int) round(self::BOX * ++$of / (count($query['reads']) + 1)));
            }
            $y += self::STEP;
        }
        $this->height = max($this->height, $y);
    }

    /**
     * @param  array{id: string, title: string, full?: string, sub: string, url: string|null, state: string}  $of
     */
    private function box(string $kind, array $of, int $y, bool $mono = false, bool $isBundle = false): void
    {
        $this->boxes[$of['id']] = [
            'id' => $of['id'], 'kind' => $kind, 'x' => self::X[$kind], 'y' => $y + 1, 'w' => self::W[$kind], 'h' => self::BOX,
            'title' => mb_strimwidth($of['title'], 0, $mono ? 22 : 27, '…', 'UTF-8'), 'full' => $of['full'] ?? $of['title'], 'mono' => $mono, 'isBundle' => $isBundle,
            'sub' => mb_strimwidth($of['sub'], 0, 32, '…', 'UTF-8'), 'url' => $of['url'], 'state' => $of['state'],
        ];
    }

    private function band(string $from, string $to, int $rows, string $state, ?int $into = null): void
    {
        $a = $this->boxes[$from];
        $b = $this->boxes[$to];
        $x1 = $a['x'] + $a['w'];
        $y2 = $b['y'] + ($into ?? intdiv($b['h'], 2));
        // A column of tables spreads over the height of its source, so that bands do not lie on each other.
        $y1 = max($a['y'] + 12, min($a['y'] + $a['h'] - 12, $y2));
        $x2 = $b['x'];
        $mid = intdiv($x1 + $x2, 2);
        $this->bands[] = ['from' => $from, 'to' => $to, 'd' => "M$x1 {$y1}C$mid $y1 $mid $y2 $x2 $y2", 'width' => round(3 + 3 * log10(max(1, $rows)), 1), 'state' => $state];
    }
}
