<?php

declare(strict_types=1);

namespace App\View;

use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Models\TableProfile;
use App\Reservoir\ColumnProfile;
use Illuminate\Support\Collection;

/**
 * What a column is like, and how that went over time.
 */
final readonly class ColumnHistory
{
    /** Looks that a line is drawn of. */
    private const LOOKS = 30;

    private const WIDTH = 90;

    private const HEIGHT = 18;

    /**
     * @param  list<array{rows: int, profile: ColumnProfile, at: string}>  $looks  the oldest first
     */
    private function __construct(public KeptColumn $column, public ColumnProfile $now, public int $rows, private array $looks)
    {
    }

    /**
     * @return list<self>
     */
    public static function of(KeptTable $table): array
    {
        /** @var Collection<int, TableProfile> $looks */
        $looks = TableProfile::of($table)->limit(self::LOOKS)->get()->toBase()->reject(static fn (TableProfile $one): bool => $one->columns === [])->reverse()->values();
        $last = $looks->last();
        $all = [];
        foreach ($last === null ? [] : $table->keptColumns() as $column) {
            $of = [];
            foreach ($looks as $look) {
                $found = array_values(array_filter($look->columns, static fn (array $one): bool => $one['name'] === $column->name))[0] ?? null;
                if ($found !== null) {
                    $of[] = ['rows' => $look->rows, 'profile' => ColumnProfile::fromArray($found), 'at' => Show::at($look->at)];
                }
            }
            $now = end($of);
            if ($now !== false) {
                $all[] = new self($column, $now['profile'], $now['rows'], $of);
            }
        }

        return $all;
    }

    public function nullShare(): string
    {
        return $this->now->nulls === 0 ? 'none' : Show::number($this->now->nulls).' ('.self::percent($this->now->nulls, $this->rows).')';
    }

    public function distinct(): string
    {
        return match (true) {
            $this->now->distinct === null => 'not counted',
            $this->now->distinct > 1 && $this->now->distinct === $this->rows - $this->now->nulls => 'all different',
            default => Show::number($this->now->distinct),
        };
    }

    public function lengths(): string
    {
        return $this->now->lengths === null ? '' : ($this->now->lengths[0] === $this->now->lengths[1] ? (string) $this->now->lengths[0] : "{$this->now->lengths[0]} to {$this->now->lengths[1]}");
    }

    /**
     * Bars of a histogram.
     *
     * @return list<array{x: int, y: float, w: int, h: float, title: string}>
     */
    public function bars(): array
    {
        $most = max(1, ...array_column($this->now->bars, 'rows'), ...[1]);
        $step = intdiv(120, max(1, count($this->now->bars)));
        $bars = [];
        foreach ($this->now->bars as $place => $bar) {
            $height = $bar['rows'] === 0 ? 0.0 : max(1.0, round(28 * $bar['rows'] / $most, 1));
            $bars[] = ['x' => $place * $step, 'y' => 28 - $height, 'w' => $step - 1, 'h' => $height, 'title' => "{$bar['from']} to {$bar['to']}: ".Show::count($bar['rows'], 'row')];
        }

        return $bars;
    }

    /**
     * The most frequent values, with their share.
     *
     * @return list<array{value: string, w: float, share: string}>
     */
    public function common(): array
    {
        $most = max(1, ...array_column($this->now->common, 'rows'), ...[1]);

        return array_map(fn (array $one): array => ['value' => $one['value'], 'w' => max(1.0, round(60 * $one['rows'] / $most, 1)), 'share' => self::percent($one['rows'], $this->rows)], $this->now->common);
    }

    /**
     * How many rows had no value, as a line over time; null where there is but one look, or always a value.
     *
     * @return array{points: string, says: string}|null
     */
    public function nullsOverTime(): ?array
    {
        $has = array_filter($this->looks, static fn (array $look): bool => $look['profile']->nulls > 0);
        if (count($this->looks) < 2 || $has === []) {
            return null;
        }
        $points = [];
        foreach ($this->looks as $place => $look) {
            $share = $look['rows'] === 0 ? 0 : $look['profile']->nulls / $look['rows'];
            $points[] = round(1 + $place * (self::WIDTH - 2) / (count($this->looks) - 1), 1).','.round(1 + (1 - $share) * (self::HEIGHT - 2), 1);
        }
        $first = $this->looks[0];
        $last = $this->looks[count($this->looks) - 1];

        return ['points' => implode(' ', $points), 'says' => 'without a value: '.self::percent($first['profile']->nulls, $first['rows'])." at {$first['at']}, ".self::percent($last['profile']->nulls, $last['rows'])." at {$last['at']}, ".count($this->looks).' looks'];
    }

    private static function percent(int $part, int $of): string
    {
        $share = $of === 0 ? 0.0 : 100 * $part / $of;

        return $part > 0 && $share < 0.1 ? 'under 0.1 %' : rtrim(rtrim(number_format($share, 1, '.', ''), '0'), '.').' %';
    }
}
