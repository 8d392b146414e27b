<?php

declare(strict_types=1);

namespace App\Schedules;

use DeepSpring\Value\Phrase;

/**
 * How old rows are, in its two largest units.
 */
final class Age
{
    private const UNITS = ['day' => 86_400, 'h' => 3600, 'min' => 60, 's' => 1];

    /**
     * "3 h 5 min", "2 days 1 h", "40 s"
     */
    public static function words(int $seconds): string
    {
        $words = [];
        foreach (self::UNITS as $unit => $length) {
            $count = intdiv($seconds, $length);
            if ($count > 0 && count($words) < 2) {
                $words[] = $unit === 'day' ? Phrase::count($count, $unit) : "$count $unit";
            } elseif ($words !== []) {
                break;
            }
            $seconds %= $length;
        }

        return $words === [] ? '0 s' : implode(' ', $words);
    }
}
