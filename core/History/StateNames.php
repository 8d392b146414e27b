<?php

declare(strict_types=1);

namespace DeepSpring\History;

/**
 * What earlier states of a table are called in the database.
 */
final class StateNames
{
    private const LONGEST = 64;

    /**
     * `loans__20300503_100000`
     *
     * @param  \DateTimeImmutable  $of  when the state was read
     * @param  \Closure(string): bool  $isTaken
     */
    public static function snapshot(string $table, \DateTimeImmutable $of, \Closure $isTaken): string
    {
        return self::free($table, '__'.$of->setTimezone(new \DateTimeZone('UTC'))->format('Ymd_His'), $isTaken);
    }

    /**
     * `loans__changes`
     *
     * @param  \Closure(string): bool  $isTaken
     */
    public static function changes(string $table, \Closure $isTaken): string
    {
        return self::free($table, '__changes', $isTaken);
    }

    /**
     * Whether something may be an earlier state by its name.
     */
    public static function mayBeOne(string $name): bool
    {
        return preg_match('/__(?:\d{8}_\d{6}|changes)(?:_\d+)?$/D', $name) === 1;
    }

    /**
     * @param  \Closure(string): bool  $isTaken
     */
    private static function free(string $table, string $end, \Closure $isTaken): string
    {
        for ($number = 1; ; $number++) {
            $tail = $end.($number === 1 ? '' : "_$number");
            $name = mb_strcut($table, 0, self::LONGEST - strlen($tail)).$tail;
            if (! $isTaken($name)) {
                return $name;
            }
        }
    }
}
