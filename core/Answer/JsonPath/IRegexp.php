<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

/**
 * A regular expression of RFC 9485, written anew for PCRE by the rules of its §5.4. What the RFC
 * does not allow (anchors, look-around, back references, \d and \w) is not handed through.
 */
final readonly class IRegexp
{
    private const ESCAPABLE = '()*+-.?[\\]^nrt{|}';

    private const CATEGORY = '/\G\\\\[pP]\{(?:L[lmotu]?|M[cen]?|N[dlo]?|P[cdefios]?|Z[lps]?|S[ckmo]?|C[cfno]?)\}/';

    private function __construct(private string $pcre, private string $text)
    {
    }

    public static function compile(string $pattern): ?self
    {
        if (preg_match('//u', $pattern) !== 1) {
            return null;
        }
        $at = 0;
        $pcre = self::branches($pattern, $at, 0);

        // A range like [z-a], or a count beyond what is counted here, is found out by PCRE alone.
        return $pcre === null || $at !== strlen($pattern) || @preg_match("/$pcre/u", '') === false ? null : new self($pcre, $pattern);
    }

    /**
     * @throws TooCostly when the regular expression gives up
     */
    public function matches(string $text, bool $whole): bool
    {
        $pcre = $whole ? '/\A(?:'.$this->pcre.')\z/u' : '/'.$this->pcre.'/u';

        // What the compiled form has no stack for, the interpreted one may still decide.
        $found = @preg_match($pcre, $text);
        $found = $found === false && preg_last_error() === PREG_JIT_STACKLIMIT_ERROR ? @preg_match('/(*NO_JIT)'.substr($pcre, 1), $text) : $found;

        return $found === false ? throw TooCostly::pattern($this->text, $text) : $found === 1;
    }

    private static function branches(string $pattern, int &$at, int $depth): ?string
    {
        $pcre = '';
        while ($at < strlen($pattern) && $pattern[$at] !== ')') {
            if ($pattern[$at] === '|') {
                $pcre .= '|';
                $at++;

                continue;
            }
            $atom = self::atom($pattern, $at, $depth);
            if ($atom === null || preg_match('/\G(?:[*+?]|\{(\d{1,5})(,(\d{0,5}))?\})?/', $pattern, $times, 0, $at) !== 1) {
                return null;
            }
            $at += strlen($times[0]);
            $pcre .= $atom.$times[0];
        }

        return $pcre;
    }

    private static function atom(string $pattern, int &$at, int $depth): ?string
    {
        $char = self::char($pattern, $at);
        if ($char === '(') {
            $at++;
            $inside = $depth < 100 ? self::branches($pattern, $at, $depth + 1) : null;
            if ($inside === null || ($pattern[$at] ?? '') !== ')') {
                return null;
            }
            $at++;

            return '(?:'.$inside.')';
        }
        if ($char === '[') {
            return self::set($pattern, $at);
        }
        if ($char === '\\') {
            return self::escape($pattern, $at);
        }
        if (strpbrk($char, '*+?{}])') !== false) {
            return null;
        }
        $at += strlen($char);

        return $char === '.' ? '[^\n\r]' : preg_quote($char, '/');
    }

    private static function escape(string $pattern, int &$at): ?string
    {
        if (preg_match(self::CATEGORY, $pattern, $found, 0, $at) === 1) {
            $at += strlen($found[0]);

            return $found[0];
        }
        $char = $pattern[$at + 1] ?? '';
        if ($char === '' || ! str_contains(self::ESCAPABLE, $char)) {
            return null;
        }
        $at += 2;

        return '\\'.$char;
    }

    private static function set(string $pattern, int &$at): ?string
    {
        $pcre = '[';
        $at++;
        if (($pattern[$at] ?? '') === '^') {
            $pcre .= '^';
            $at++;
        }
        $first = true;
        while (true) {
            $char = self::char($pattern, $at);
            if ($char === '') {
                return null;
            }
            if ($char === ']') {
                $at++;

                return $first ? null : $pcre.']';
            }
            $item = self::setItem($pattern, $at, $first);
            if ($item === null) {
                return null;
            }
            $pcre .= $item;
            $first = false;
        }
    }

    private static function setItem(string $pattern, int &$at, bool $first): ?string
    {
        if ($pattern[$at] === '-') {
            $at++;

            return $first || ($pattern[$at] ?? '') === ']' ? '\\-' : null;
        }
        $from = self::setChar($pattern, $at);
        if ($from === null || ($pattern[$at] ?? '') !== '-' || ($pattern[$at + 1] ?? '') === ']') {
            return $from;
        }
        if (str_starts_with($from, '\\p') || str_starts_with($from, '\\P')) {
            return null;
        }
        $at++;
        $to = ($pattern[$at] ?? '') === '-' ? null : self::setChar($pattern, $at);

        return $to === null || str_starts_with($to, '\\p') || str_starts_with($to, '\\P') ? null : $from.'-'.$to;
    }

    private static function setChar(string $pattern, int &$at): ?string
    {
        $char = self::char($pattern, $at);
        if ($char === '\\') {
            return self::escape($pattern, $at);
        }
        if ($char === '' || $char === '[' || $char === ']') {
            return null;
        }
        $at += strlen($char);

        return strpbrk($char, '^/&~#-') === false ? $char : '\\'.$char;
    }

    private static function char(string $pattern, int $at): string
    {
        return preg_match('/\G./su', $pattern, $found, 0, $at) === 1 ? $found[0] : '';
    }
}
