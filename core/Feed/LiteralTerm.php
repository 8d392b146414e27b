<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

use DeepSpring\OData\Filter\Node\FilterConstant;

/**
 * A literal of a filter → a value that is bound, cast to the type that it has, so that the database compares it
 * as that and not as a text (OData 4.01 ABNF `primitiveLiteral`; [URI conventions 2.0] §2.2.2).
 */
final class LiteralTerm
{
    /** How texts are compared: character by character, blanks at the end included. */
    public const COLLATION = 'utf8mb4_nopad_bin';

    private const MOMENT = '/^(-?\d{4,})-(\d\d)-(\d\d)(?:T(\d\d):(\d\d)(?::(\d\d)(?:\.(\d{1,12}))?)?)?(Z|[+-]\d\d:\d\d)?$/Di';

    private const DURATION = '/^PT(?=.)(?:(\d{1,2})H)?(?:(\d{1,2})M)?(?:(\d{1,2})(?:\.(\d{1,7}))?S)?$/D';

    /** Digits that a decimal of MariaDB has at most, and those behind its point. */
    private const DIGITS = 65;

    private const BEHIND = 38;

    /**
     * @throws CannotFilter
     */
    public static function of(FilterConstant $constant): Term
    {
        $text = $constant->text;
        if (str_starts_with($text, '[') || str_starts_with($text, '{')) {
            throw CannotFilter::notHere('A collection or an object as a value', $constant->at());
        }

        return match ($constant->type) {
            '' => new Term('NULL', [], TermKind::Nothing, true, false, $text),
            'Edm.String' => self::text(self::quoted($text), $text),
            'Edm.Boolean' => new Term($text === 'true' ? 'TRUE' : 'FALSE', [], TermKind::Boolean, false, false, $text),
            'Edm.Guid' => new Term('? COLLATE '.self::COLLATION, [strtolower(self::bare($text))], TermKind::Guid, false, false, $text),
            'Edm.Int32', 'Edm.Int64', 'Edm.Decimal' => self::number($text, $constant->at()),
            'Edm.Double', 'Edm.Single' => self::float($text, $constant->at()),
            'Edm.Date', 'Edm.DateTimeOffset', 'Edm.DateTime' => self::moment(self::bare($text), $constant),
            'Edm.TimeOfDay', 'Edm.Time' => self::time(self::bare($text), $constant),
            default => throw CannotFilter::notHere(str_starts_with($constant->type, 'Edm.') ? 'A value of the type '.$constant->type : "The enumeration $constant->type", $constant->at()),
        };
    }

    public static function text(string $value, ?string $literal = null): Term
    {
        return new Term('? COLLATE '.self::COLLATION, [$value], TermKind::Text, false, false, $literal ?? "'$value'");
    }

    /**
     * A moment in UTC, such as that of the request.
     */
    public static function at(\DateTimeImmutable $moment): Term
    {
        return new Term('CAST(? AS DATETIME(6))', [$moment->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d H:i:s.u')], TermKind::Moment, false);
    }

    /**
     * What stands between the quotes of a text, a quote inside being doubled.
     */
    public static function quoted(string $text): string
    {
        return str_replace("''", "'", substr($text, 1, -1));
    }

    private static function bare(string $text): string
    {
        return str_contains($text, "'") ? substr((string) strstr($text, "'"), 1, -1) : $text;
    }

    /**
     * @throws CannotFilter
     */
    private static function number(string $text, int $at): Term
    {
        $digits = rtrim($text, 'lLmM');
        if (preg_match('/^(-?)0*(\d*)(?:\.(\d+))?$/D', $digits, $part, PREG_UNMATCHED_AS_NULL) !== 1) {
            throw CannotFilter::because("\"$text\" is no number.", $at);
        }
        $fraction = rtrim((string) $part[3], '0');
        $behind = strlen($fraction);
        if (strlen($part[2]) + $behind > self::DIGITS || $behind > self::BEHIND) {
            throw CannotFilter::because("\"$text\" has more digits than any number here: ".self::DIGITS.' at most, '.self::BEHIND.' of them behind the point.', $at);
        }
        $isWhole = $behind === 0;
        $value = $part[1].($part[2] === '' ? '0' : $part[2]).($isWhole ? '' : ".$fraction");
        // A whole number of 64 bits is one for the database, too, so that an index of whole numbers serves.
        $isLong = $isWhole && (strlen($part[2]) < 19 || strlen($part[2]) === 19 && strcmp($part[2], '9223372036854775807') <= 0);

        return new Term($isLong ? 'CAST(? AS SIGNED)' : 'CAST(? AS DECIMAL('.max(1, strlen($part[2]) + $behind).",$behind))", [$value], TermKind::Number, false, $isWhole, $text);
    }

    /**
     * @throws CannotFilter
     */
    private static function float(string $text, int $at): Term
    {
        $value = rtrim($text, 'dDfF');
        if (preg_match('/^-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?$/D', $value) !== 1) {
            throw CannotFilter::notHere("The number $text", $at);
        }
        if (! is_finite((float) $value)) {
            throw CannotFilter::because("\"$text\" is larger than any number here.", $at);
        }

        return new Term('CAST(? AS DOUBLE)', [$value], TermKind::Float, false, false, $text);
    }

    /**
     * @throws CannotFilter
     */
    private static function moment(string $value, FilterConstant $constant): Term
    {
        $isDay = $constant->type === 'Edm.Date';
        if (preg_match(self::MOMENT, $value, $part, PREG_UNMATCHED_AS_NULL) !== 1 || $isDay !== ($part[4] === null)) {
            throw CannotFilter::because("\"$constant->text\" is not written like ".($isDay ? '2030-05-01.' : '2030-05-01T09:30:00Z.'), $constant->at());
        }
        $year = (int) $part[1];
        if (! checkdate((int) $part[2], (int) $part[3], max(1, min(9999, $year))) || $year < 1 || $year > 9999 || (int) $part[4] > 23 || (int) $part[5] > 59 || (int) $part[6] > 59) {
            throw CannotFilter::because("\"$constant->text\" is no moment of the years 1 to 9999.", $constant->at());
        }
        if ($isDay) {
            return new Term('CAST(? AS DATE)', [$value], TermKind::Date, false, false, $constant->text);
        }
        if (strlen(rtrim((string) $part[7], '0')) > 6) {
            throw CannotFilter::notHere("A moment closer than a microsecond ($constant->text)", $constant->at());
        }
        $fraction = str_pad(substr((string) $part[7], 0, 6), 6, '0');
        try {
            $moment = new \DateTimeImmutable("$part[1]-$part[2]-$part[3] $part[4]:$part[5]:".($part[6] ?? '00').".$fraction", new \DateTimeZone(in_array($part[8], [null, 'Z', 'z'], true) ? 'UTC' : $part[8]));
        } catch (\Exception) {
            throw CannotFilter::because("\"$constant->text\" has an offset that there is not.", $constant->at());
        }
        $term = self::at($moment);
        if (preg_match('/^\d{4}-/', $term->values[0]) !== 1 || str_starts_with($term->values[0], '0000')) {
            throw CannotFilter::because("\"$constant->text\" is no moment of the years 1 to 9999.", $constant->at());
        }

        return new Term($term->sql, $term->values, TermKind::Moment, false, false, $constant->text);
    }

    /**
     * @throws CannotFilter
     */
    private static function time(string $value, FilterConstant $constant): Term
    {
        if (preg_match(self::DURATION, $value, $part, PREG_UNMATCHED_AS_NULL) === 1) {
            $value = sprintf('%02d:%02d:%02d.%s', $part[1], $part[2], $part[3], $part[4] ?? '0');
        }
        if (preg_match('/^([01]\d|2[0-3]):[0-5]\d(?::[0-5]\d(?:\.(\d{1,12}))?)?$/D', $value, $part) !== 1 || strlen(rtrim($part[2] ?? '', '0')) > 6) {
            throw CannotFilter::because("\"$constant->text\" is no time of day like 09:30:00, to the microsecond.", $constant->at());
        }

        return new Term('CAST(? AS TIME(6))', [substr($value, 0, 15)], TermKind::Time, false, false, $constant->text);
    }
}
