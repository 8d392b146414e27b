<?php

declare(strict_types=1);

namespace DeepSpring\Value;

/**
 * JSON that is written into a document as it stands: a number with its digits, a part of a document.
 */
final readonly class JsonText
{
    public function __construct(public string $json)
    {
    }

    /**
     * A tree of `stdClass`, lists, scalars, null and `JsonText` → JSON (RFC 8259).
     *
     * @throws \JsonException when a text is not UTF-8
     */
    public static function encode(mixed $value): string
    {
        if ($value instanceof self) {
            return $value->json;
        }
        if ($value instanceof \stdClass) {
            $members = [];
            foreach (get_object_vars($value) as $name => $member) {
                $members[] = self::scalar((string) $name).':'.self::encode($member);
            }

            return '{'.implode(',', $members).'}';
        }

        return is_array($value) ? '['.implode(',', array_map(self::encode(...), array_values($value))).']' : self::scalar($value);
    }

    /**
     * JSON → a tree of `stdClass`, lists, scalars and null, in which a number that PHP would write
     * otherwise (`1.0`, `1e5`, twenty digits) is a `JsonText` of its digits.
     *
     * @throws \JsonException
     */
    public static function decode(string $json): mixed
    {
        $mark = 'number '.hash('xxh128', $json).' ';
        $tree = json_decode($json, false, 512, JSON_THROW_ON_ERROR | JSON_BIGINT_AS_STRING);
        $marked = preg_replace_callback('/"(?:[^"\\\\]++|\\\\.)*+"(*SKIP)(*FAIL)|-?\d++(?:\.\d++)?(?:[eE][+-]?\d++)?/s', static fn (array $part): string => self::isPlain($part[0]) ? $part[0] : "\"$mark$part[0]\"", $json);

        return $marked === $json ? $tree : self::unmarked(json_decode((string) $marked, false, 512, JSON_THROW_ON_ERROR), $mark);
    }

    /**
     * A number (RFC 8259 §6) as PHP has it, where it would be written the same again; its digits otherwise.
     */
    public static function number(string $digits): int|float|self
    {
        $value = json_decode($digits, false, 2, JSON_BIGINT_AS_STRING);

        return (is_int($value) || is_float($value)) && (string) json_encode($value) === $digits ? $value : new self($digits);
    }

    private static function isPlain(string $number): bool
    {
        return ! self::number($number) instanceof self;
    }

    private static function unmarked(mixed $value, string $mark): mixed
    {
        if (is_string($value)) {
            return str_starts_with($value, $mark) ? new self(substr($value, strlen($mark))) : $value;
        }
        if ($value instanceof \stdClass) {
            $tree = new \stdClass;
            foreach (get_object_vars($value) as $name => $member) {
                $tree->{$name} = self::unmarked($member, $mark);
            }

            return $tree;
        }

        return is_array($value) ? array_map(static fn (mixed $one): mixed => self::unmarked($one, $mark), $value) : $value;
    }

    /**
     * JSON without blanks and with texts written in one way, so that two spellings of the same document
     * are the same text; numbers and the order of members stay.
     */
    public static function canonical(string $json): string
    {
        return (string) preg_replace_callback('/"(?:[^"\\\\]++|\\\\.)*+"|\s++/s', static fn (array $part): string => $part[0][0] === '"' ? (string) json_encode(json_decode($part[0], false, 2), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE) : '', $json);
    }

    private static function scalar(mixed $value): string
    {
        return json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION | JSON_THROW_ON_ERROR);
    }
}
