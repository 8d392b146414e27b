<?php

declare(strict_types=1);

namespace DeepSpring\Chart;

/**
 * Points of a line, of each pixel no more than the first, the least, the greatest and the last, so that the line
 * looks as if all were drawn. It breaks where points are missing: where two are further apart than half as
 * much again as they usually are.
 */
final class LineThinner
{
    private const USUAL = 2000;

    private const APART = 1.5;

    /** @var array<int, array{float, float, float, float, float, float}> pixel → x and y of the first, least and greatest y, x and y of the last */
    private array $pixels = [];

    /** @var list<float> */
    private array $steps = [];

    private ?float $usual = null;

    private ?float $last = null;

    /** @var list<float> x of points after which something is missing */
    private array $breaks = [];

    /** @var list<array{float, float}> from and to of steps that were wide when the usual one was not known */
    private array $early = [];

    public int $points = 0;

    private float $wide = INF;

    /** Pixels for each unit of x. */
    private readonly float $scale;

    public function __construct(private readonly float $from, float $to, int $width)
    {
        $this->scale = $to > $from ? ($width - 1) / ($to - $from) : 0.0;
    }

    /**
     * In the order of x.
     */
    public function add(float $x, ?float $y): void
    {
        if ($y === null) {
            if ($this->last !== null) {
                $this->breaks[] = $this->last;
            }

            return;
        }
        $this->points++;
        if ($this->usual === null) {
            $this->learn($x);
        } elseif ($x - $this->last > $this->wide) {
            $this->breaks[] = (float) $this->last;
        }
        $pixel = (int) (($x - $this->from) * $this->scale);
        if (! isset($this->pixels[$pixel])) {
            $this->pixels[$pixel] = [$x, $y, $y, $y, $x, $y];
        } else {
            $of = &$this->pixels[$pixel];
            if ($y < $of[2]) {
                $of[2] = $y;
            } elseif ($y > $of[3]) {
                $of[3] = $y;
            }
            [$of[4], $of[5]] = [$x, $y];
        }
        $this->last = $x;
    }

    private function learn(float $x): void
    {
        if ($this->last !== null) {
            $this->steps[] = $x - $this->last;
            $this->early[] = [$this->last, $x];
            if (count($this->steps) === self::USUAL) {
                $this->settle();
            }
        }
    }

    private function settle(): void
    {
        $steps = array_filter($this->steps, static fn (float $step): bool => $step > 0);
        sort($steps);
        $this->usual = $steps === [] ? INF : $steps[intdiv(count($steps), 2)];
        $this->wide = self::APART * $this->usual;
        foreach ($this->early as [$from, $to]) {
            if ($to - $from > $this->wide) {
                $this->breaks[] = $from;
            }
        }
        $this->early = $this->steps = [];
    }

    /**
     * The pieces of the line, each a list of points.
     *
     * @return list<list<array{float, float}>>
     */
    public function pieces(): array
    {
        if ($this->usual === null) {
            $this->settle();
        }
        ksort($this->pixels);
        $breaks = array_flip(array_map(strval(...), $this->breaks));
        $pieces = [];
        $piece = [];
        foreach ($this->pixels as [$x, $first, $least, $greatest, $end, $last]) {
            foreach ([[$x, $first], [$x, $least], [$x, $greatest], [$end, $last]] as $point) {
                if ($piece === [] || end($piece) !== $point) {
                    $piece[] = $point;
                }
            }
            if (isset($breaks[(string) $end])) {
                $pieces[] = $piece;
                $piece = [];
            }
        }

        return $piece === [] ? $pieces : [...$pieces, $piece];
    }
}
