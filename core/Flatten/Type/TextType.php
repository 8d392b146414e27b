<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Unfit;

/**
 * Text as it came; numbers and true/false in the form that JSON writes.
 */
final readonly class TextType implements ColumnType
{
    /** What a MEDIUMTEXT column holds, in bytes. */
    public const LONGEST = 16777215;

    /** Bytes that fit every text column. */
    public const SHORT = 255;

    public static function kind(): Kind
    {
        return new Kind('text', 'text', 'Any text.');
    }

    public static function of(array $column, bool $inKey): self
    {
        return new self($inKey ? Types::KEY_LENGTH : null);
    }

    /**
     * @param  int|null  $length  characters that a key column holds
     */
    public function __construct(public ?int $length = null)
    {
    }

    public function convert(mixed $value): string|Unfit
    {
        $text = match (true) {
            is_string($value) => $value,
            is_int($value) => (string) $value,
            is_bool($value) => $value ? 'true' : 'false',
            is_float($value) && is_finite($value) => (string) json_encode($value),
            default => null,
        };
        if ($text === null) {
            return is_float($value) ? Unfit::digits('a number beyond 64 bits, whose digits are not known') : Unfit::structure($value);
        }
        if ($this->length !== null && strlen($text) > $this->length && mb_strlen($text, 'UTF-8') > $this->length) {
            return new Unfit("longer than the {$this->length} characters a key column holds");
        }

        return strlen($text) > self::LONGEST ? new Unfit('longer than 16 MB') : $text;
    }

    public function storage(): Storage
    {
        return Storage::Text;
    }

    public function name(): string
    {
        return 'text';
    }

    public function label(): string
    {
        return 'text';
    }
}
