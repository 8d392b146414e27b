<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

/**
 * A large document made small: long arrays and large objects keep their beginning, long texts too.
 * What is worked on with it (finding records, proposing columns) sees the same shape as the whole.
 */
final class Digest
{
    private const CUTS = [200, 50, 12, 3];

    private const MOST_BYTES = 1_000_000;

    private const LONGEST_TEXT = 4000;

    public static function of(mixed $document): mixed
    {
        foreach (self::CUTS as $cut) {
            $digest = self::cut($document, $cut, 0);
            if (strlen((string) json_encode($digest, JSON_INVALID_UTF8_SUBSTITUTE)) <= self::MOST_BYTES) {
                break;
            }
        }

        return $digest;
    }

    private static function cut(mixed $value, int $most, int $depth): mixed
    {
        if (is_array($value)) {
            return array_map(static fn (mixed $one): mixed => self::cut($one, $depth > 1 ? max(3, intdiv($most, 4)) : $most, $depth + 1), array_slice($value, 0, $most));
        }
        if ($value instanceof \stdClass) {
            $copy = new \stdClass;
            foreach (array_slice(get_object_vars($value), 0, 2 * $most + 100, true) as $name => $member) {
                $copy->{$name} = self::cut($member, $most, $depth + 1);
            }

            return $copy;
        }

        return is_string($value) && strlen($value) > self::LONGEST_TEXT ? mb_strcut($value, 0, self::LONGEST_TEXT, 'UTF-8') : $value;
    }
}
