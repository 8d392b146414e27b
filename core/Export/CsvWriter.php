<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * Rows as CSV (RFC 4180): CRLF line ends, quotes where needed, null as nothing and an empty text
 * as two quotes, so that the two differ.
 *
 * With the guard on, a text that a spreadsheet would run as a formula, blanks before it or not, gets an apostrophe in front.
 * Numbers are left alone.
 */
final readonly class CsvWriter
{
    public function __construct(private bool $guard, private string $separator = ',')
    {
    }

    /**
     * @param  list<string|int|float|null>  $values
     * @param  list<bool>  $isText  whether each column holds text, to which the guard applies
     */
    public function line(array $values, array $isText = []): string
    {
        $cells = [];
        foreach ($values as $index => $value) {
            $cells[] = $this->cell($value, $isText[$index] ?? true);
        }

        return implode($this->separator, $cells)."\r\n";
    }

    private function cell(string|int|float|null $value, bool $isText): string
    {
        if ($value === null) {
            return '';
        }
        $value = (string) $value;
        if ($this->guard && $isText && $value !== '' && self::wouldRun($value)) {
            $value = "'".$value;
        }

        return $value === '' || strpbrk($value, "\"\r\n".$this->separator) !== false || $value[0] === ' ' || $value[-1] === ' '
            ? '"'.str_replace('"', '""', $value).'"'
            : $value;
    }

    /**
     * Whether a spreadsheet may take a text for a formula. A sign before digits alone is none: a phone number
     * like +47 4149583 stays what it is.
     */
    public static function wouldRun(string $value): bool
    {
        if (preg_match('/^[+\-]\d[\d .]*$/D', $value) === 1) {
            return false;
        }

        // Spreadsheets pass over blanks, line ends and signs that cannot be seen before they look.
        return strspn($value, "\t\r", 0, 1) === 1 || preg_match('/^[\s\x00-\x20\x7f\p{Z}\p{Cf}"\']*[=+\-@＝＋－＠﹦﹢﹣﹫]/u', $value) === 1 || preg_match('/^[\x00-\x20]*[=+\-@]/', $value) === 1;
    }
}
