<?php

declare(strict_types=1);

namespace App\View;

use App\Queries\ChartData;
use App\Queries\Charts;
use DeepSpring\Chart\AxisTicks;
use DeepSpring\Chart\ChartKind;

/**
 * A picture of rows as SVG, with its colours in it, so that it can be kept as a file.
 */
final class ChartDrawing
{
    private const LEFT = 64;

    private const TOP = 12;

    private const HEIGHT = 260;

    private const BAR = 22;

    private const NAMES = 150;

    /** Told apart by lightness too. */
    private const COLOURS = ['#176b74', '#c9851a', '#0d3b40', '#a33b2a', '#7fb0a9', '#8f8a7a', '#d9c27a'];

    private const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

    private string $svg = '';

    private int $height = self::TOP + self::HEIGHT + 44;

    /**
     * @param  array<string, string>  $headings  what columns are called, by their names
     */
    public function __construct(private readonly ChartData $data, private readonly array $headings = [])
    {
        match ($data->shape->kind) {
            ChartKind::Line => $this->lines(),
            ChartKind::Multiples => $this->multiples(),
            ChartKind::Bars, ChartKind::Stacked => $this->bars(),
            ChartKind::Scatter => $this->points(),
            ChartKind::Heat => $this->heat(),
            ChartKind::Distribution => $this->distribution(),
        };
    }

    public function svg(): string
    {
        $width = self::LEFT + Charts::WIDTH + 20;
        $title = $this->text("{$this->named($this->data->measured)} by {$this->named($this->data->along)}, {$this->data->shape->kind->label()}");

        return "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 $width $this->height\" width=\"$width\" height=\"$this->height\" role=\"img\" aria-label=\"$title\" font-family=\"Atkinson Hyperlegible Next, sans-serif\" font-size=\"11\" fill=\"#12282b\"><title>$title</title>$this->svg</svg>";
    }

    private function lines(): void
    {
        $this->axes(true);
        $number = 0;
        foreach ($this->data->lines as $pieces) {
            $colour = self::COLOURS[$number++ % count(self::COLOURS)];
            foreach ($pieces as $piece) {
                if (count($piece) === 1) {
                    $this->svg .= "<circle cx=\"{$this->x($piece[0][0])}\" cy=\"{$this->y($piece[0][1])}\" r=\"2\" fill=\"$colour\"/>";

                    continue;
                }
                $path = implode('L', array_map(fn (array $point): string => "{$this->x($point[0])} {$this->y($point[1])}", $piece));
                $this->svg .= "<path d=\"M$path\" fill=\"none\" stroke=\"$colour\" stroke-width=\"1.5\" stroke-linejoin=\"round\"/>";
            }
        }
        count($this->data->lines) > 1 && $this->legend(array_map(strval(...), array_keys($this->data->lines)));
    }

    /**
     * Series beside each other over the same time. Those of one column have one scale; several columns have one each.
     */
    private function multiples(): void
    {
        [$from, $to] = $this->data->x;
        [$wide, $high, $gap] = [Charts::PANEL, 74, 30];
        $across = 3;
        $number = 0;
        foreach ($this->data->lines as $name => $pieces) {
            [$left, $top] = [16 + ($number % $across) * ($wide + 24), self::TOP + 12 + intdiv($number, $across) * ($high + $gap)];
            $values = array_merge(...array_map(static fn (array $piece): array => array_column($piece, 1), $pieces ?: [[]]));
            [$least, $greatest] = $this->data->shape->series !== null ? $this->data->y : ($values === [] ? [0.0, 1.0] : [min($values), max($values)]);
            $x = static fn (float $at): float => round($left + ($to > $from ? ($at - $from) / ($to - $from) : 0.5) * $wide, 1);
            $y = static fn (float $at): float => round($top + $high - ($greatest > $least ? ($at - $least) / ($greatest - $least) : 0.5) * $high, 1);
            $this->svg .= "<rect x=\"$left\" y=\"$top\" width=\"$wide\" height=\"$high\" fill=\"none\" stroke=\"#ddd6c6\"/><text x=\"$left\" y=\"".($top - 4).'">'.$this->text(mb_strimwidth($this->named((string) $name), 0, 20, '…')).'</text>'
                .'<text x="'.($left + $wide).'" y="'.($top - 4).'" text-anchor="end" fill="#626860">'.($values === [] ? 'nothing' : AxisTicks::short(min($values)).' to '.AxisTicks::short(max($values))).'</text>';
            foreach ($pieces as $piece) {
                $points = array_map(static fn (array $point): string => "{$x($point[0])} {$y($point[1])}", $piece);
                $this->svg .= count($piece) === 1 ? "<circle cx=\"{$x($piece[0][0])}\" cy=\"{$y($piece[0][1])}\" r=\"1.5\" fill=\"".self::COLOURS[0].'"/>' : '<path d="M'.implode('L', $points).'" fill="none" stroke="'.self::COLOURS[0].'" stroke-width="1.2" stroke-linejoin="round"/>';
            }
            $number++;
        }
        $bottom = self::TOP + 12 + (int) ceil($number / $across) * ($high + $gap) - 8;
        $this->svg .= "<text x=\"16\" y=\"$bottom\" fill=\"#626860\">".$this->text($this->named($this->data->measured)).', each from '.gmdate('Y-m-d H:i', (int) $from).' to '.gmdate('Y-m-d H:i', (int) $to).' UTC'.($this->data->shape->series === null ? ', each with a scale of its own' : '').'</text>';
        $this->height = $bottom + 12;
    }

    /**
     * What columns are called, of one or of several with commas between them.
     */
    private function named(string $names): string
    {
        return $this->headings[$names] ?? implode(', ', array_map(fn (string $name): string => $this->headings[$name] ?? $name, explode(', ', $names)));
    }

    private function points(): void
    {
        $this->axes(false);
        foreach ($this->data->points as [$x, $y]) {
            $this->svg .= "<circle cx=\"{$this->x($x)}\" cy=\"{$this->y($y)}\" r=\"2\" fill=\"".self::COLOURS[0].'" fill-opacity=".6"/>';
        }
    }

    private function distribution(): void
    {
        $this->axes(false);
        $wide = Charts::WIDTH / count($this->data->bins);
        foreach ($this->data->bins as $number => $count) {
            if ($count > 0) {
                $top = $this->y($count);
                $this->svg .= '<rect x="'.round(self::LEFT + $number * $wide, 1)."\" y=\"$top\" width=\"".round($wide - 1, 1).'" height="'.round(self::TOP + self::HEIGHT - $top, 1).'" fill="'.self::COLOURS[0].'"/>';
            }
        }
    }

    private function bars(): void
    {
        [$least, $greatest] = $this->data->y;
        $room = self::LEFT + Charts::WIDTH - self::NAMES - 70;
        $scale = $greatest > $least ? $room / ($greatest - $least) : 0.0;
        $zero = self::NAMES - $least * $scale;
        $series = [];
        $top = self::TOP;
        foreach ($this->data->bars as $along => $amounts) {
            $this->svg .= '<text x="'.(self::NAMES - 8).'" y="'.($top + 13).'" text-anchor="end">'.$this->text(mb_strimwidth((string) $along, 0, 24, '…')).'</text>';
            $at = $zero;
            foreach ($amounts as $name => $amount) {
                $number = $series[$name] ??= count($series);
                $from = $amount < 0 ? $zero + $amount * $scale : $at;
                if ($amount > 0 || $this->data->shape->kind === ChartKind::Bars) {
                    $this->svg .= '<rect x="'.round($from, 1)."\" y=\"$top\" width=\"".round(abs($amount) * $scale, 1).'" height="16" fill="'.self::COLOURS[$number % count(self::COLOURS)].'"><title>'.$this->text("$along, $name: ".rtrim(rtrim(sprintf('%.4F', $amount), '0'), '.')).'</title></rect>';
                    $at += max(0.0, $amount * $scale);
                }
            }
            $this->svg .= '<text x="'.round(max($at, $zero) + 5, 1).'" y="'.($top + 13).'" fill="#626860">'.AxisTicks::short((float) array_sum($amounts)).'</text>';
            $top += self::BAR;
        }
        $this->height = $top + 10;
        if (count($series) > 1) {
            $this->height += 24;
            $this->legend(array_map(strval(...), array_keys($series)), $top + 16);
        }
    }

    private function heat(): void
    {
        [$least, $greatest] = $this->data->y;
        $wide = Charts::WIDTH / 24;
        foreach (self::DAYS as $day => $name) {
            $top = self::TOP + $day * 28;
            $this->svg .= '<text x="'.(self::LEFT - 8).'" y="'.($top + 18)."\" text-anchor=\"end\">$name</text>";
            for ($hour = 0; $hour < 24; $hour++) {
                $mean = $this->data->heat[$day][$hour] ?? null;
                $share = $mean === null ? 0.0 : ($greatest > $least ? ($mean - $least) / ($greatest - $least) : 1.0);
                $fill = $mean === null ? 'fill="none" stroke="#ddd6c6" stroke-dasharray="2 2"' : 'fill="#176b74" fill-opacity="'.round(0.12 + 0.88 * $share, 2).'"';
                $this->svg .= '<rect x="'.round(self::LEFT + $hour * $wide, 1)."\" y=\"$top\" width=\"".round($wide - 2, 1)."\" height=\"26\" $fill><title>$name $hour:00, ".($mean === null ? 'nothing' : AxisTicks::short($mean)).'</title></rect>';
            }
        }
        $bottom = self::TOP + 7 * 28;
        foreach ([0, 6, 12, 18] as $hour) {
            $this->svg .= '<text x="'.round(self::LEFT + $hour * $wide, 1).'" y="'.($bottom + 16)."\">$hour:00</text>";
        }
        $this->svg .= '<text x="'.(self::LEFT + Charts::WIDTH).'" y="'.($bottom + 16).'" text-anchor="end" fill="#626860">mean of '.$this->text($this->named($this->data->measured)).', '.AxisTicks::short($least).' pale, '.AxisTicks::short($greatest).' full, in UTC</text>';
        $this->height = $bottom + 28;
    }

    private function axes(bool $isMoment): void
    {
        foreach (AxisTicks::numbers(...$this->data->y) as $tick) {
            $y = $this->y($tick);
            $this->svg .= '<line x1="'.self::LEFT.'" x2="'.(self::LEFT + Charts::WIDTH)."\" y1=\"$y\" y2=\"$y\" stroke=\"#ddd6c6\"/><text x=\"".(self::LEFT - 6).'" y="'.($y + 4).'" text-anchor="end">'.AxisTicks::short($tick).'</text>';
        }
        [$from, $to] = $this->data->x;
        $ticks = $isMoment ? AxisTicks::moments((int) $from, (int) $to) : array_map(AxisTicks::short(...), array_combine(array_map(strval(...), AxisTicks::numbers($from, $to)), AxisTicks::numbers($from, $to)));
        foreach ($ticks as $at => $label) {
            $x = $this->x((float) $at);
            $this->svg .= "<line x1=\"$x\" x2=\"$x\" y1=\"".(self::TOP + self::HEIGHT).'" y2="'.(self::TOP + self::HEIGHT + 4)."\" stroke=\"#8f8a7a\"/><text x=\"$x\" y=\"".(self::TOP + self::HEIGHT + 16)."\" text-anchor=\"middle\">$label</text>";
        }
        $this->svg .= '<text x="'.(self::LEFT + Charts::WIDTH).'" y="'.(self::TOP + self::HEIGHT + 32).'" text-anchor="end" fill="#626860">'.$this->text($this->named($this->data->along)).($isMoment ? ', UTC' : '').'</text>';
        count($this->data->lines) < 2 && $this->svg .= '<text x="'.self::LEFT.'" y="'.(self::TOP + self::HEIGHT + 32).'" fill="#626860">'.$this->text($this->named($this->data->measured)).'</text>';
    }

    /**
     * @param  list<string>  $names
     */
    private function legend(array $names, ?int $y = null): void
    {
        $x = self::LEFT;
        foreach ($names as $number => $name) {
            $short = mb_strimwidth($this->named($name), 0, 18, '…');
            $y ??= self::TOP + self::HEIGHT + 34;
            $this->svg .= "<rect x=\"$x\" y=\"".($y - 9).'" width="10" height="10" fill="'.self::COLOURS[$number % count(self::COLOURS)].'"/><text x="'.($x + 14)."\" y=\"$y\">".$this->text($short).'</text>';
            $x += 24 + 6 * mb_strwidth($short);
        }
    }

    private function x(float $value): float
    {
        [$from, $to] = $this->data->x;

        return round(self::LEFT + ($to > $from ? ($value - $from) / ($to - $from) : 0.5) * Charts::WIDTH, 1);
    }

    private function y(float $value): float
    {
        [$from, $to] = $this->data->y;

        return round(self::TOP + self::HEIGHT - ($to > $from ? ($value - $from) / ($to - $from) : 0.5) * self::HEIGHT, 1);
    }

    private function text(string $text): string
    {
        return htmlspecialchars(mb_scrub((string) preg_replace('/[\x00-\x1f]/', ' ', $text), 'UTF-8'), ENT_QUOTES | ENT_XML1, 'UTF-8');
    }
}
