<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * Days since the end of 1899, as spreadsheets count (ECMA-376 part 1, 18.17.4.1). They take 1900 for a leap
 * year, so days before March of it differ between programs and are left to texts.
 */
final class SerialDate
{
    private const DAY = 86_400_000;

    /** Of 1970-01-01. */
    private const EPOCH = 25_569;

    private const FIRST = 61;

    /**
     * @return string|null a number of days; null for what it would not keep exactly
     */
    public static function of(string $value, ExportType $type): ?string
    {
        if ($type === ExportType::Time) {
            return preg_match('/^([01]\d|2[0-3]):([0-5]\d):([0-5]\d)(?:\.(\d{1,6}))?$/D', $value, $part) === 1 && self::isShort($part[4] ?? '')
                ? self::days((int) $part[1] * 3_600_000 + (int) $part[2] * 60_000 + (int) $part[3] * 1000 + self::milliseconds($part[4] ?? '')) : null;
        }
        if (preg_match('/^(\d{4})-(\d\d)-(\d\d)(?:[ T](\d\d):(\d\d):(\d\d)(?:\.(\d{1,6}))?)?$/D', $value, $part) !== 1 || ! checkdate((int) $part[2], (int) $part[3], (int) $part[1]) || ! self::isShort($part[7] ?? '')) {
            return null;
        }
        $day = intdiv((int) gmmktime(0, 0, 0, (int) $part[2], (int) $part[3], (int) $part[1]), 86_400) + self::EPOCH;
        if ($day < self::FIRST) {
            return null;
        }
        $within = (int) ($part[4] ?? 0) * 3_600_000 + (int) ($part[5] ?? 0) * 60_000 + (int) ($part[6] ?? 0) * 1000 + self::milliseconds($part[7] ?? '');

        return $within === 0 ? (string) $day : rtrim(sprintf('%.11F', $day + $within / self::DAY), '0');
    }

    private static function isShort(string $fraction): bool
    {
        return rtrim(substr($fraction, 3), '0') === '';
    }

    private static function milliseconds(string $fraction): int
    {
        return (int) str_pad(substr($fraction, 0, 3), 3, '0');
    }

    private static function days(int $milliseconds): string
    {
        return $milliseconds === 0 ? '0' : rtrim(sprintf('%.15F', $milliseconds / self::DAY), '0');
    }
}
