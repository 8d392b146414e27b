<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\Principal;
use DeepSpring\Chart\ChartKind;
use DeepSpring\Chart\ChartShape;
use DeepSpring\Chart\ChartShapes;
use DeepSpring\Chart\ColumnRole;
use DeepSpring\Chart\LineThinner;
use DeepSpring\Export\ExportType;

/**
 * Pictures of all rows of a statement, of which no more is held than can be drawn.
 */
final class Charts
{
    public const WIDTH = 560;

    /** Pixels of one of several small charts. */
    public const PANEL = 190;

    private const BARS = 30;

    private const BINS = 40;

    /** Points of a scatter that lie on different places. */
    private const POINTS = 20_000;

    public function __construct(private readonly QueryRunner $runner)
    {
    }

    /**
     * @param  list<ResultColumn>  $columns
     * @param  list<bool>  $isAmount  of numbers, whether they are amounts
     * @return list<ChartShape>
     */
    public static function shapes(array $columns, array $isAmount): array
    {
        return ChartShapes::of(array_map(static fn (ResultColumn $column, bool $amount): ColumnRole => match (true) {
            $column->type === ExportType::Date, $column->type === ExportType::DateTime => ColumnRole::Moment,
            $column->isNumber && $amount => ColumnRole::Amount,
            default => ColumnRole::Name,
        }, $columns, $isAmount));
    }

    /**
     * @param  list<string>  $names  of the columns
     *
     * @throws QueryRefused
     */
    public function draw(Principal $principal, Environment $environment, string $sql, ChartShape $shape, array $names): ChartData
    {
        return match ($shape->kind) {
            ChartKind::Line, ChartKind::Multiples => $this->line($principal, $environment, $sql, $shape, $names),
            ChartKind::Bars, ChartKind::Stacked => $this->bars($principal, $environment, $sql, $shape, $names),
            ChartKind::Scatter => $this->scatter($principal, $environment, $sql, $shape, $names),
            ChartKind::Heat => $this->heat($principal, $environment, $sql, $shape, $names),
            ChartKind::Distribution => $this->distribution($principal, $environment, $sql, $shape, $names),
        };
    }

    /**
     * @param  list<string>  $names
     */
    private function line(Principal $principal, Environment $environment, string $sql, ChartShape $shape, array $names): ChartData
    {
        $along = (int) $shape->along;
        $range = $this->range($principal, $environment, $sql, $names[$along], true);

        // Rows come in the order of their time as a rule; sorting them would take longer than drawing them.
        return $this->drawn($this->rows($principal, $environment, $sql, null), $shape, $names, $range, true)
            ?? $this->drawn($this->rows($principal, $environment, $sql, $names[$along]), $shape, $names, $range, false)
            ?? throw new \LogicException('Rows that need no order are drawn in any.');
    }

    /**
     * @param  \Generator<int, list<string|null>>  $given
     * @param  list<string>  $names
     * @param  array{float, float}  $range
     * @param  bool  $mayTurn  whether rows may turn out to be in another order
     * @return ChartData|null null when they are
     */
    private function drawn(\Generator $given, ChartShape $shape, array $names, array $range, bool $mayTurn): ?ChartData
    {
        $along = (int) $shape->along;
        [$from, $to] = $range;
        $most = $shape->kind === ChartKind::Multiples ? ChartShapes::PANELS : ChartShapes::SERIES;
        $width = $shape->kind === ChartKind::Multiples ? self::PANEL : self::WIDTH;
        $before = -INF;
        $lines = [];
        [$least, $greatest, $rows, $left] = [INF, -INF, 0, 0];
        foreach ($given as $row) {
            $rows++;
            $x = self::seconds($row[$along]);
            if ($x === null) {
                $left++;

                continue;
            }
            if ($mayTurn && $x < $before) {
                return null;
            }
            $before = $x;
            foreach ($shape->measured as $place) {
                $series = $shape->series === null ? $names[$place] : (string) ($row[$shape->series] ?? '—');
                if (! isset($lines[$series])) {
                    if (count($lines) === $most) {
                        $left++;

                        continue;
                    }
                    $lines[$series] = new LineThinner($from, $to, $width);
                }
                $y = $row[$place] === null ? null : (float) $row[$place];
                $lines[$series]->add($x, $y);
                if ($y !== null) {
                    [$least, $greatest] = [min($least, $y), max($greatest, $y)];
                }
            }
        }
        $said = $left === 0 ? [] : [$shape->series === null ? "$left rows without a time are not drawn." : "Of more than $most series the first are drawn; $left rows are not."];

        return new ChartData($shape, $names[$along], implode(', ', array_map(static fn (int $place): string => $names[$place], $shape->measured)), array_map(static fn (LineThinner $one): array => $one->pieces(), $lines), [], [], [$from, $to], self::room($least, $greatest), [], [], $rows, $said);
    }

    /**
     * @param  list<string>  $names
     */
    private function bars(Principal $principal, Environment $environment, string $sql, ChartShape $shape, array $names): ChartData
    {
        $bars = $series = [];
        [$rows, $left, $negative] = [0, 0, 0];
        foreach ($this->rows($principal, $environment, $sql, null) as $row) {
            $rows++;
            $along = (string) ($row[(int) $shape->along] ?? '—');
            if (! isset($bars[$along]) && count($bars) === self::BARS) {
                $left++;

                continue;
            }
            foreach ($shape->measured as $place) {
                $name = $shape->series === null ? $names[$place] : (string) ($row[$shape->series] ?? '—');
                if (! isset($series[$name]) && count($series) === ChartShapes::SERIES) {
                    $name = 'others';
                }
                $series[$name] = true;
                $negative += $shape->kind === ChartKind::Stacked && (float) ($row[$place] ?? 0) < 0 ? 1 : 0;
                $bars[$along][$name] = ($bars[$along][$name] ?? 0.0) + (float) ($row[$place] ?? 0);
            }
        }
        $sums = $shape->kind === ChartKind::Stacked ? array_map(static fn (array $one): float => (float) array_sum(array_filter($one, static fn (float $amount): bool => $amount > 0)), $bars) : array_merge(...array_map(array_values(...), array_values($bars)) ?: [[]]);
        $sums = [0.0, ...array_values($sums)];
        $said = [...($left === 0 ? [] : ['The first '.self::BARS." are drawn; $left rows are of others."]), ...($negative === 0 ? [] : ["$negative amounts below nothing cannot be stacked and are not drawn."])];

        return new ChartData($shape, $names[(int) $shape->along], implode(', ', array_map(static fn (int $place): string => $names[$place], $shape->measured)), [], $bars, [], [0.0, 0.0], [min($sums), max($sums)], [], [], $rows, $said);
    }

    /**
     * @param  list<string>  $names
     */
    private function scatter(Principal $principal, Environment $environment, string $sql, ChartShape $shape, array $names): ChartData
    {
        [$along, $measured] = [(int) $shape->along, $shape->measured[0]];
        [$x1, $x2] = $this->range($principal, $environment, $sql, $names[$along], false);
        [$y1, $y2] = $this->range($principal, $environment, $sql, $names[$measured], false);
        $points = [];
        [$rows, $left] = [0, 0];
        foreach ($this->rows($principal, $environment, $sql, null) as $row) {
            $rows++;
            if ($row[$along] === null || $row[$measured] === null) {
                $left++;

                continue;
            }
            [$x, $y] = [(float) $row[$along], (float) $row[$measured]];
            // Of points that would lie on one place one is drawn.
            $place = (int) (($x2 > $x1 ? ($x - $x1) / ($x2 - $x1) : 0) * self::WIDTH / 2) * 1000 + (int) (($y2 > $y1 ? ($y - $y1) / ($y2 - $y1) : 0) * 130);
            if (count($points) < self::POINTS) {
                $points[$place] ??= [$x, $y];
            }
        }

        return new ChartData($shape, $names[$along], $names[$measured], [], [], array_values($points), [$x1, $x2], self::room($y1, $y2), [], [], $rows, $left === 0 ? [] : ["$left rows without one of the two values are not drawn."]);
    }

    /**
     * @param  list<string>  $names
     */
    private function heat(Principal $principal, Environment $environment, string $sql, ChartShape $shape, array $names): ChartData
    {
        $sums = $counts = [];
        $rows = 0;
        foreach ($this->rows($principal, $environment, $sql, null) as $row) {
            $rows++;
            $at = self::seconds($row[(int) $shape->along]);
            if ($at !== null && $row[$shape->measured[0]] !== null) {
                $hour = intdiv((int) floor($at), 3600);
                // 1970-01-01 was a Thursday.
                $cell = ((intdiv($hour, 24) + 3) % 7 + 7) % 7 * 24 + ($hour % 24 + 24) % 24;
                $sums[$cell] = ($sums[$cell] ?? 0.0) + (float) $row[$shape->measured[0]];
                $counts[$cell] = ($counts[$cell] ?? 0) + 1;
            }
        }
        $heat = [];
        foreach ($sums as $cell => $sum) {
            $heat[intdiv($cell, 24)][$cell % 24] = $sum / $counts[$cell];
        }
        $means = array_merge(...array_map(array_values(...), array_values($heat)) ?: [[0.0]]);

        return new ChartData($shape, $names[(int) $shape->along], $names[$shape->measured[0]], [], [], [], [0.0, 0.0], [min($means), max($means)], $heat, [], $rows, []);
    }

    /**
     * @param  list<string>  $names
     */
    private function distribution(Principal $principal, Environment $environment, string $sql, ChartShape $shape, array $names): ChartData
    {
        $measured = $shape->measured[0];
        [$from, $to] = $this->range($principal, $environment, $sql, $names[$measured], false);
        $bins = array_fill(0, self::BINS, 0);
        [$rows, $left] = [0, 0];
        foreach ($this->rows($principal, $environment, $sql, null) as $row) {
            $rows++;
            if ($row[$measured] === null) {
                $left++;

                continue;
            }
            $bins[$to > $from ? min(self::BINS - 1, max(0, (int) (((float) $row[$measured] - $from) / ($to - $from) * self::BINS))) : 0]++;
        }

        return new ChartData($shape, $names[$measured], 'rows', [], [], [], [$from, $to], [0.0, (float) max($bins)], [], $bins, $rows, $left === 0 ? [] : ["$left rows without a value are not drawn."]);
    }

    /**
     * @return array{float, float}
     */
    private function range(Principal $principal, Environment $environment, string $sql, string $column, bool $isMoment): array
    {
        $name = '`'.str_replace('`', '``', $column).'`';
        foreach ($this->runner->stream($principal, $environment, "select min($name), max($name) from (\n$sql\n) as q")->rows as $row) {
            $ends = $isMoment ? [self::seconds($row[0]), self::seconds($row[1])] : [$row[0] === null ? null : (float) $row[0], $row[1] === null ? null : (float) $row[1]];

            return [$ends[0] ?? 0.0, $ends[1] ?? 0.0];
        }

        return [0.0, 0.0];
    }

    /**
     * @param  string|null  $by  column whose order is needed
     * @return \Generator<int, list<string|null>>
     */
    private function rows(Principal $principal, Environment $environment, string $sql, ?string $by): \Generator
    {
        $ordered = $by === null ? $sql : "select * from (\n$sql\n) as q order by `".str_replace('`', '``', $by).'`';

        return $this->runner->stream($principal, $environment, $ordered)->rows;
    }

    /**
     * Some room above and below, so that no line lies on the edge; nothing is left out.
     *
     * @return array{float, float}
     */
    private static function room(float $least, float $greatest): array
    {
        if (! is_finite($least) || ! is_finite($greatest)) {
            return [0.0, 1.0];
        }
        $room = $greatest > $least ? ($greatest - $least) * 0.05 : max(1.0, abs($least) * 0.05);

        return [$least >= 0 && $least - $room < 0 ? 0.0 : $least - $room, $greatest + $room];
    }

    private static function seconds(?string $moment): ?float
    {
        if ($moment === null || strlen($moment) < 10) {
            return null;
        }
        // Neighbours share their minute as a rule, which is worked out once.
        static $minutes = [];
        $minute = substr($moment, 0, 16);
        if (! isset($minutes[$minute])) {
            $minutes = count($minutes) > 20_000 ? [] : $minutes;
            $minutes[$minute] = (float) gmmktime((int) substr($minute, 11, 2), (int) substr($minute, 14, 2), 0, (int) substr($minute, 5, 2), (int) substr($minute, 8, 2), (int) substr($minute, 0, 4));
        }

        return strlen($moment) < 19 ? $minutes[$minute] : $minutes[$minute] + (float) substr($moment, 17);
    }
}
