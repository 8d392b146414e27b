<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * Days, moments and times of day as version 2 of OData writes them ([JSON format 2.0] §4; XML Schema `duration`).
 */
final class OldMoment
{
    /**
     * `2031-03-02 09:30:00.250000` or `2031-03-02` → `/Date(1930296600250)/`
     *
     * @throws \InvalidArgumentException where it is finer than a millisecond, which this form cannot say
     */
    public static function json(string $value): string
    {
        $fraction = rtrim(substr($value, 20), '0');
        if (strlen($fraction) > 3) {
            throw new \InvalidArgumentException("the moment $value, and version 2 of OData has no more than milliseconds.");
        }
        $moment = new \DateTimeImmutable(substr($value, 0, 19), new \DateTimeZone('UTC'));
        $seconds = $moment->getTimestamp();
        $milliseconds = (int) str_pad($fraction, 3, '0');

        return '/Date('.($seconds * 1000 + $milliseconds).')/';
    }

    /**
     * `09:30:00.25` → `PT9H30M0.25S`
     */
    public static function duration(string $value): string
    {
        [$hours, $minutes, $seconds] = explode(':', $value) + [1 => '0', 2 => '0'];
        $seconds = ltrim($seconds, '0');

        return 'PT'.(int) $hours.'H'.(int) $minutes.'M'.($seconds === '' || $seconds[0] === '.' ? "0$seconds" : $seconds).'S';
    }
}
