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

    private static function scalar(mixed $value): string
    {
        return json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION | JSON_THROW_ON_ERROR);
    }
}
