<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

/**
 * The type that holds the values of two types, where there is one: a table is narrow or wide by what came last, its
 * versions have to hold all that ever came.
 */
final class VersionColumns
{
    private const WHOLE = ['tinyint', 'smallint', 'int', 'bigint'];

    private const TEXT = ['varchar', 'mediumtext', 'longtext'];

    /**
     * @param  string  $one  as the database writes it: varchar(64), decimal(18,2), bigint(20)
     */
    public static function wider(string $one, string $other): ?string
    {
        [$first, $second] = [self::parts($one), self::parts($other)];
        if ($first === $second) {
            return $one;
        }
        if ([$first[0], $second[0]] === ['decimal', 'decimal']) {
            [$whole, $scale] = [max($first[1] - $first[2], $second[1] - $second[2]), max($first[2], $second[2])];

            return $whole + $scale > 65 ? null : 'decimal('.($whole + $scale).",$scale)";
        }
        // tinyint(1) is a yes or no.
        $isYesOrNo = in_array(['tinyint', 1, 0], [$first, $second], true);
        foreach ([self::WHOLE, self::TEXT] as $family) {
            $places = [array_search($first[0], $family, true), array_search($second[0], $family, true)];
            if (! in_array(false, $places, true) && ! $isYesOrNo) {
                return match (true) {
                    $places[0] > $places[1] => $one,
                    $places[0] < $places[1] => $other,
                    default => $first[1] >= $second[1] ? $one : $other,
                };
            }
        }

        return null;
    }

    /**
     * @return array{string, int, int}
     */
    private static function parts(string $type): array
    {
        preg_match('/^(\w+)(?:\((\d+)(?:,(\d+))?\))?/', strtolower($type), $part);
        // How many digits of a whole number are shown says nothing of what it holds, but for a yes or no.
        $isWhole = in_array($part[1] ?? '', self::WHOLE, true) && ! ($part[1] === 'tinyint' && ($part[2] ?? '') === '1');

        return [$part[1] ?? '', $isWhole ? 0 : (int) ($part[2] ?? 0), (int) ($part[3] ?? 0)];
    }
}
