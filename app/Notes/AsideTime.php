<?php

declare(strict_types=1);

namespace App\Notes;

use Illuminate\Support\Carbon;

/**
 * Until when a note is put aside, as people say it.
 */
final class AsideTime
{
    /** Choices, and what they are called. */
    public const CHOICES = ['hour' => 'for an hour', 'tomorrow' => 'until tomorrow, 8:00', 'monday' => 'until Monday, 8:00', 'week' => 'for a week', 'month' => 'for 30 days'];

    private const DAYS = 366;

    /**
     * @param  string  $said  one of the choices, or `YYYY-MM-DD HH:MM`
     * @param  string  $zone  that it is said in
     *
     * @throws \InvalidArgumentException with a sentence
     */
    public static function of(string $said, string $zone, Carbon $now): Carbon
    {
        $there = $now->copy()->setTimezone($zone);
        $until = match ($said) {
            'hour' => $now->copy()->addHour(),
            'tomorrow' => $there->copy()->addDay()->setTime(8, 0),
            'monday' => $there->copy()->next(Carbon::MONDAY)->setTime(8, 0),
            'week' => $now->copy()->addWeek(),
            'month' => $now->copy()->addDays(30),
            default => self::written($said, $zone),
        };
        if ($until <= $now) {
            throw new \InvalidArgumentException('That time is over already.');
        }
        if ($until > $now->copy()->addDays(self::DAYS)) {
            throw new \InvalidArgumentException('A note is put aside for a year at most.');
        }

        return $until->copy()->utc();
    }

    private static function written(string $said, string $zone): Carbon
    {
        if (preg_match('/^(\d{4})-(\d{2})-(\d{2})[ T](\d{2}):(\d{2})$/D', $said, $part) !== 1 || ! checkdate((int) $part[2], (int) $part[3], (int) $part[1]) || (int) $part[4] > 23 || (int) $part[5] > 59) {
            throw new \InvalidArgumentException('Say until when, like 2030-05-03 14:30.');
        }

        return Carbon::parse(strtr($said, 'T', ' '), $zone);
    }
}
