<?php

declare(strict_types=1);

namespace DeepSpring\Pace;

/**
 * Divides the requests at once among those who read at the same time.
 */
final readonly class Shares
{
    /**
     * As even as it goes; where there are more readers than requests, they take turns.
     *
     * @param  array<array-key, int>  $wants  how many each could use, in an order that all agree on
     * @param  int  $turn  counts up with time
     * @return array<array-key, int>
     */
    public static function of(int $atOnce, array $wants, int $turn): array
    {
        $names = array_keys($wants);
        $count = count($names);
        $shares = array_fill_keys($names, 0);
        $left = min($atOnce, array_sum($wants));
        for ($round = 0; $left > 0; $round++) {
            for ($at = 0; $at < $count && $left > 0; $at++) {
                $name = $names[($at + $turn) % $count];
                if ($shares[$name] < $wants[$name]) {
                    $shares[$name]++;
                    $left--;
                }
            }
        }

        return $shares;
    }
}
