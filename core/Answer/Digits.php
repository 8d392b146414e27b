<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

use DeepSpring\Value\JsonText;

/**
 * A JSON document in which every number that PHP would write otherwise is the text of its digits, so
 * that what a float would change can be looked up. Decoding twice costs time, so this is made only
 * where such a number meets a column that keeps digits.
 */
final readonly class Digits
{
    /** A number with more digits than 64 bits of a float surely keep, which are 15 (IEEE 754). */
    private const LONG = '/\.(?:\d{15}|(?<=\d{15}\.)\d|(?<=\d{14}\.)\d{2}|(?<=\d{13}\.)\d{3}|(?<=\d{12}\.)\d{4}|(?<=\d{11}\.)\d{5}|(?<=\d{10}\.)\d{6}|(?<=\d{9}\.)\d{7}|(?<=\d{8}\.)\d{8}|(?<=\d{7}\.)\d{9}|(?<=\d{6}\.)\d{10}|(?<=\d{5}\.)\d{11}|(?<=\d{4}\.)\d{12}|(?<=\d{3}\.)\d{13}|(?<=\d{2}\.)\d{14})/';

    /** Minus zero, and an exponent that a float may have no room for. What is too large for one is seen from the float. */
    private const MINUS = '/-(?:(?<=[:,\[\s]-)0(?![\d.eE])|(?<=\d[eE]-)\d{3,}+[\s,}\]])/';

    /** Numbers that PHP would write otherwise: with a point, with an exponent, beyond 64 bits, minus zero. */
    private const NUMBER = '/"(?:[^"\\\\]++|\\\\.)*+"(*SKIP)(*FAIL)|-?\d++(?:\.\d++(?:[eE][+-]?\d++)?|[eE][+-]?\d++)|-?\d{19,}+|-0(?!\d)/s';

    /** No text of an answer begins with it: it is made of the answer itself. */
    private string $mark;

    private mixed $document;

    /**
     * @param  list<list<string|int>>|null  $places  steps to each record; without them the document is the list of records
     * @param  list<string>|null  $names  of the values of a record that is an array
     */
    public function __construct(string $body, private ?array $places = null, private ?array $names = null)
    {
        $this->mark = 'digits '.hash('xxh128', $body).' ';
        $this->document = json_decode((string) preg_replace(self::NUMBER, '"'.$this->mark.'$0"', $body), false, JsonDecoder::DEPTH, JSON_BIGINT_AS_STRING);
    }

    /**
     * Whether a number of the text may be changed by decoding it, and look like another afterwards. Of
     * whole numbers beyond 64 bits the digits stay, as a text.
     */
    public static function mayBeUnusual(string $body): bool
    {
        return preg_match(self::LONG, $body) === 1 || preg_match(self::MINUS, $body) === 1;
    }

    /**
     * Whether a text may hold whole numbers beyond 64 bits, which decoding makes texts.
     */
    public static function mayHoldLong(string $json): bool
    {
        return preg_match('/(?<!\d)\d{19}/', $json) === 1;
    }

    public function document(): mixed
    {
        return $this->document;
    }

    public function record(int $index): mixed
    {
        $record = $this->at($this->document, $this->places[$index] ?? [$index]);
        if ($this->names === null || ! is_array($record)) {
            return $record;
        }
        $named = new \stdClass;
        foreach (array_values($record) as $place => $value) {
            $named->{$this->names[$place] ?? 'column_'.($place + 1)} = $value;
        }

        return $named;
    }

    /**
     * @param  list<string|int>  $steps
     */
    public function at(mixed $value, array $steps): mixed
    {
        return self::step($value, $steps);
    }

    /**
     * What stands in a document where names and indexes lead to; null where nothing does.
     *
     * @param  list<string|int>  $steps
     */
    public static function step(mixed $value, array $steps): mixed
    {
        foreach ($steps as $step) {
            $value = is_array($value) ? $value[$step] ?? null : ($value instanceof \stdClass ? $value->{$step} ?? null : null);
        }

        return $value;
    }

    /**
     * A value of such a document as its digits, or as it is.
     */
    public function plain(mixed $value): mixed
    {
        return is_string($value) && str_starts_with($value, $this->mark) ? substr($value, strlen($this->mark)) : $value;
    }

    /**
     * A value of such a document in which only those numbers are `JsonText` that PHP would write otherwise.
     */
    public function written(mixed $value): mixed
    {
        if (is_string($value)) {
            return str_starts_with($value, $this->mark) ? JsonText::number(substr($value, strlen($this->mark))) : $value;
        }
        if ($value instanceof \stdClass) {
            $tree = new \stdClass;
            foreach (get_object_vars($value) as $name => $member) {
                $tree->{$name} = $this->written($member);
            }

            return $tree;
        }

        return is_array($value) ? array_map($this->written(...), $value) : $value;
    }

    /**
     * A value of such a document as JSON, with numbers as they were written.
     */
    public function json(mixed $value): string
    {
        return str_replace('"'.$this->mark, '', (string) preg_replace('/"'.$this->mark.'([^"]*)"/', '"'.$this->mark.'$1', (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES)));
    }
}
