<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * Fields with delimiters between them, a record a line (RFC 4180 and what is met besides). What is
 * not said is detected: delimiter, quote, encoding, whether the first line names the fields.
 */
final readonly class CsvFormat implements Format
{
    private const TYPES = ['text/csv', 'text/tab-separated-values', 'application/csv', 'text/x-csv', 'application/vnd.ms-excel'];

    private const DELIMITERS = [',', ';', "\t", '|'];

    private const LOOKED_AT = 40;

    private const NAMES = [',' => 'commas', ';' => 'semicolons', "\t" => 'tabs', '|' => 'bars'];

    /**
     * @param  array{delimiter?: non-empty-string, quote?: string, header?: bool, encoding?: string}  $said  of a source file
     */
    public function __construct(private array $said = [])
    {
    }

    public static function kind(): Kind
    {
        return new Kind('csv', 'CSV', 'Fields with delimiters between them, a record a line (RFC 4180), also TSV. What is not said is detected.', [
            new Field('delimiter', FieldType::Raw, 'delimiter', 'The character between two fields.', example: '; or \t', shape: ['type' => 'string', 'minLength' => 1, 'maxLength' => 1]),
            new Field('quote', FieldType::Raw, 'quote', 'The character around a field; an empty text where there is none.', example: '"', shape: ['type' => 'string', 'maxLength' => 1]),
            new Field('header', FieldType::Flag, 'first line', 'Whether the first line names the fields.', choices: ['' => 'detected', '1' => 'names the fields', '0' => 'is a record']),
            new Field('encoding', FieldType::Choice, 'encoding', 'What the bytes are.', choices: ['' => 'detected', ...array_combine(array_keys(Charset::KNOWN), array_keys(Charset::KNOWN))]),
        ]);
    }

    public static function of(array $settings): self
    {
        return new self($settings);
    }

    public function recognises(string $type, string $start): Recognition
    {
        return match (true) {
            in_array($type, self::TYPES, true) => Recognition::Named,
            $type === 'text/plain' && preg_match('/^[^\n]*([,;\t|])[^\n]*\n[^\n]*\1/', $start) === 1 => Recognition::Perhaps,
            default => Recognition::No,
        };
    }

    public function read(string $body, string $charset): Read
    {
        [$encoding, $text] = isset($this->said['encoding']) ? [$this->said['encoding'], $this->said['encoding'] === 'utf-8' ? Charset::withoutMark($body, '') : mb_convert_encoding($body, 'UTF-8', Charset::KNOWN[$this->said['encoding']])] : Charset::detected($body, $charset);
        if (trim($text) === '') {
            throw UnreadableAnswer::empty();
        }
        $quote = $this->said['quote'] ?? (substr_count($text, '"') >= 2 ? '"' : (preg_match('/(?:^|[,;\t|])\'[^\']*\'(?:[,;\t|\r\n]|$)/m', $text) === 1 ? "'" : '"'));
        $delimiter = $this->said['delimiter'] ?? $this->delimiter($text, $quote);
        [$rows, $bad] = $this->rows($text, $delimiter, $quote, PHP_INT_MAX);
        $hasHeader = $this->said['header'] ?? $this->hasHeader($rows);
        $width = max([1, ...array_map('count', array_slice($rows, 0, 1000))]);
        $names = $hasHeader ? self::names($rows[0] ?? []) : [];
        $records = [];
        foreach (array_slice($rows, $hasHeader ? 1 : 0) as $row) {
            $record = new \stdClass;
            foreach ($row as $place => $value) {
                $record->{$names[$place] ?? 'column_'.($place + 1)} = $value;
            }
            $records[] = $record;
        }
        $how = 'fields between '.(self::NAMES[$delimiter] ?? "\"$delimiter\"").", quoted with $quote, ".($hasHeader ? 'named by the first line' : "without a line of names, $width of them").", $encoding";

        return new Read($records, 'csv', $how, $bad, isList: true);
    }

    /**
     * @return non-empty-string
     */
    private function delimiter(string $text, string $quote): string
    {
        $best = [',', 0.0];
        foreach (self::DELIMITERS as $delimiter) {
            [$rows] = $this->rows($text, $delimiter, $quote, self::LOOKED_AT);
            $widths = array_map('count', $rows);
            $counts = array_count_values($widths);
            arsort($counts);
            $usual = (int) array_key_first($counts);
            // As many fields in as many lines as possible.
            $score = $usual < 2 ? 0.0 : $counts[$usual] / count($rows) + min(1, $usual / 100);
            $best = $score > $best[1] + 0.0001 ? [$delimiter, $score] : $best;
        }

        return $best[0];
    }

    /**
     * @param  non-empty-string  $delimiter
     * @return array{list<list<string|null>>, list<BadRecord>} an empty field without quotes is null
     */
    private function rows(string $text, string $delimiter, string $quote, int $most): array
    {
        $rows = $bad = [];
        if ($most !== PHP_INT_MAX) {
            $text = substr($text, 0, 200_000);
        }
        if ($quote === '' || ! str_contains($text, $quote)) {
            foreach (preg_split('/\r\n|\n|\r/', $text, $most === PHP_INT_MAX ? -1 : $most + 1) ?: [] as $line) {
                if ($line !== '' && count($rows) < $most) {
                    $rows[] = array_map(static fn (string $field): ?string => $field === '' ? null : $field, explode($delimiter, $line));
                }
            }

            return [$rows, []];
        }
        $q = preg_quote($quote, '/');
        $d = preg_quote($delimiter, '/');
        $pattern = "/\\G(?:[ ]*$q((?:[^$q]++|$q$q)*+)$q([^$d\\r\\n]*+)|((?!$q)[^$d\\r\\n]*+))($d|\\r\\n|\\n|\\r|\\z)/s";
        $row = [];
        for ($at = 0, $end = strlen($text); $at <= $end && count($rows) < $most;) {
            if (preg_match($pattern, $text, $part, PREG_UNMATCHED_AS_NULL, $at) !== 1) {
                $bad[] = self::open($text, $at);
                break;
            }
            $at += strlen((string) $part[0]);
            $row[] = isset($part[1]) ? str_replace($quote.$quote, $quote, $part[1]).$part[2] : ($part[3] === '' ? null : $part[3]);
            if ($part[4] === $delimiter) {
                continue;
            }
            if ($row !== [null]) {
                $rows[] = $row;
            }
            $row = [];
            if ($part[4] === '') {
                break;
            }
        }

        return [$rows, $bad];
    }

    /**
     * A quote that never ends, and what it takes with it.
     *
     * @param  int  $at  byte at which its field begins
     */
    private static function open(string $text, int $at): BadRecord
    {
        $line = 1 + preg_match_all('/\r\n|\n|\r/', substr($text, 0, $at));
        $start = max((int) strrpos(substr($text, 0, $at), "\n"), (int) strrpos(substr($text, 0, $at), "\r"));
        $start = $start === 0 ? 0 : $start + 1;
        $lines = preg_match_all('/(?:\r\n|\n|\r)(?!\z)/', substr($text, $at));

        return BadRecord::of("line $line", (string) preg_replace('/[\r\n].*/s', '', substr($text, $start)), 'a field begins with a quote that never ends'.($lines === 0 ? '' : ', so this line and the '.($lines === 1 ? '1 line' : "$lines lines").' after it could not be read'));
    }

    /**
     * @param  list<list<string|null>>  $rows
     */
    private function hasHeader(array $rows): bool
    {
        $first = $rows[0] ?? [];
        $isNumber = static fn (?string $text): bool => $text !== null && preg_match('/^[+-]?[\d.,\s]+$|^\d{4}-\d\d-\d\d/', $text) === 1;
        if (count($rows) < 2 || array_filter($first, static fn (?string $one): bool => $one === null || $isNumber($one)) !== [] || count(array_unique($first)) !== count($first)) {
            return count($rows) === 1 && array_filter($first, $isNumber) === [];
        }

        return true;
    }

    /**
     * @param  list<string|null>  $row
     * @return list<string>
     */
    private static function names(array $row): array
    {
        $taken = [];
        foreach ($row as $place => $name) {
            $name = trim((string) $name);
            $name = $name === '' || $name[0] === "\0" ? 'column_'.($place + 1) : $name;
            for ($try = $name, $number = 2; isset($taken[$try]); $number++) {
                $try = "{$name}_$number";
            }
            $taken[$try] = true;
        }

        return array_map(strval(...), array_keys($taken));
    }
}
