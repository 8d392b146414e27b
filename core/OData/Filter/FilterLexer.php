<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

/**
 * A `$filter` → tokens, with the literals of all versions (OData 4.01 ABNF; [URI conventions 2.0]
 * §2.2.2). Whether the version at hand has them is for `Check`.
 */
final class FilterLexer
{
    private const PREFIXES = ['datetime' => 'Edm.DateTime', 'datetimeoffset' => 'Edm.DateTimeOffset', 'time' => 'Edm.Time', 'guid' => 'Edm.Guid', 'x' => 'Edm.Binary', 'binary' => 'Edm.Binary', 'duration' => 'Edm.Duration', 'geography' => 'Edm.Geography', 'geometry' => 'Edm.Geometry'];

    private const SIGNS = ['==' => 'eq', '=' => 'eq', '!=' => 'ne', '<>' => 'ne', '>=' => 'ge', '<=' => 'le', '>' => 'gt', '<' => 'lt', '&&' => 'and', '||' => 'or'];

    private const PATTERN = <<<'REGEX'
        ~\G(?:
          (?<blank>[ \t\r\n]+)
        | (?<quoted>(?:[\p{L}_][\p{L}\p{N}_.]*)?'(?:[^']|'')*')
        | (?<open>(?:[\p{L}_][\p{L}\p{N}_.]*)?')
        | (?<json>(?:\{(?:[^{}\[\]"]++|"(?:[^"\\]++|\\.)*+"|(?&json))*+\}|\[(?:[^{}\[\]"]++|"(?:[^"\\]++|\\.)*+"|(?&json))*+\]))
        | (?<guid>[0-9a-fA-F]{8}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{12})(?![\w-])
        | (?<moment>-?\d{4,}-\d\d-\d\dT\d\d:\d\d(?::\d\d(?:\.\d+)?)?(?:Z|[+-]\d\d:\d\d))
        | (?<date>-?\d{4,}-\d\d-\d\d)(?![\w:])
        | (?<time>\d\d:\d\d(?::\d\d(?:\.\d+)?)?)
        | (?<number>-?(?:INF\b|\d+(?:\.\d+)?(?:[eE][+-]?\d+)?[lLmMdDfF]?(?![\w.])))
        | (?<word>[$@]?[\p{L}_][\p{L}\p{N}_.]*)
        | (?<sign>==|!=|<>|>=|<=|&&|\|\||[=<>])
        | (?<mark>[()/,:*-])
        )~xu
        REGEX;

    /**
     * @return list<FilterToken> with one of the kind End
     *
     * @throws InvalidFilter
     */
    public static function tokens(string $filter): array
    {
        $tokens = [];
        $length = strlen($filter);
        for ($place = 0; $place < $length; $place += strlen((string) $part[0])) {
            $at = mb_strlen(substr($filter, 0, $place), 'UTF-8');
            if (preg_match(self::PATTERN, $filter, $part, PREG_UNMATCHED_AS_NULL, $place) !== 1) {
                throw InvalidFilter::hasStray(mb_substr(mb_scrub(substr($filter, $place), 'UTF-8'), 0, 1, 'UTF-8'), $at);
            }
            if ($part['open'] !== null) {
                throw InvalidFilter::isNotClosed($at);
            }
            if ($part['sign'] !== null && ! ($part['sign'] === '=' && self::namesArgument($tokens))) {
                throw InvalidFilter::usesSign($part['sign'], self::SIGNS[$part['sign']], $at);
            }
            if ($part['blank'] === null) {
                $tokens[] = self::token($part, $at);
            }
        }
        $tokens[] = new FilterToken(FilterTokenKind::End, '', mb_strlen($filter, 'UTF-8'));

        return $tokens;
    }

    /**
     * Whether a parameter of a function was named last: `Service.Near(place=3)`.
     *
     * @param  list<FilterToken>  $tokens
     */
    private static function namesArgument(array $tokens): bool
    {
        $count = count($tokens);
        $isName = $count >= 3 && $tokens[$count - 1]->kind === FilterTokenKind::Name;

        return $isName && ($tokens[$count - 2]->is(',') || $tokens[$count - 2]->is('(') && $tokens[$count - 3]->kind === FilterTokenKind::Name && ! in_array($tokens[$count - 3]->text, ['and', 'or', 'not'], true));
    }

    /**
     * @param  array<array-key, string|null>  $part
     */
    private static function token(array $part, int $at): FilterToken
    {
        $text = (string) $part[0];

        return match (true) {
            $part['quoted'] !== null => new FilterToken(FilterTokenKind::Literal, $text, $at, self::quoted($text)),
            $part['json'] !== null => new FilterToken(FilterTokenKind::Literal, $text, $at),
            $part['guid'] !== null => new FilterToken(FilterTokenKind::Literal, $text, $at, 'Edm.Guid'),
            $part['moment'] !== null => new FilterToken(FilterTokenKind::Literal, $text, $at, 'Edm.DateTimeOffset'),
            $part['date'] !== null => new FilterToken(FilterTokenKind::Literal, $text, $at, 'Edm.Date'),
            $part['time'] !== null => new FilterToken(FilterTokenKind::Literal, $text, $at, 'Edm.TimeOfDay'),
            $part['number'] !== null => new FilterToken(FilterTokenKind::Literal, $text, $at, self::number($text)),
            in_array($text, ['true', 'false'], true) => new FilterToken(FilterTokenKind::Literal, $text, $at, 'Edm.Boolean'),
            $text === 'null' => new FilterToken(FilterTokenKind::Literal, $text, $at),
            in_array($text, ['INF', 'NaN'], true) => new FilterToken(FilterTokenKind::Literal, $text, $at, 'Edm.Double'),
            $part['word'] !== null => new FilterToken(FilterTokenKind::Name, $text, $at),
            default => new FilterToken(FilterTokenKind::Mark, $text, $at),
        };
    }

    /**
     * An enumeration is named before the quote.
     */
    private static function quoted(string $text): string
    {
        $prefix = (string) strstr($text, "'", true);

        return $prefix === '' ? 'Edm.String' : self::PREFIXES[strtolower($prefix)] ?? $prefix;
    }

    private static function number(string $text): string
    {
        return match (strtolower(substr($text, -1))) {
            'l' => 'Edm.Int64',
            'm' => 'Edm.Decimal',
            'd' => 'Edm.Double',
            'f' => str_ends_with($text, 'INF') ? 'Edm.Double' : 'Edm.Single',
            default => preg_match('/^-?\d+$/D', $text) === 1 ? 'Edm.Int32' : (preg_match('/[eE]/', $text) === 1 ? 'Edm.Double' : 'Edm.Decimal'),
        };
    }
}
