<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * What somebody handed in to be described: a paste, a file, or what was fetched from an address.
 */
final readonly class ImportInput
{
    public string $text;

    public function __construct(
        string $text,
        /** Of the file; empty for a paste. */
        public string $name = '',
        /** Where it was fetched from, which is what relative addresses in it are relative to. */
        public ?string $address = null,
        public Files $files = new Files([]),
        /** @var list<string> base addresses of the source that it is for */
        public array $bases = [],
    ) {
        $this->text = self::decoded($text);
    }

    /**
     * As UTF-8, whatever Unicode encoding it came in: by its mark (Unicode §23.8), or by where the zeros of its
     * first characters stand (RFC 4627 §3).
     */
    private static function decoded(string $text): string
    {
        $start = substr($text, 0, 4);
        $from = match (true) {
            str_starts_with($start, "\xFF\xFE\0\0"), preg_match('/^[^\0]\0\0\0/s', $start) === 1 => 'UTF-32LE',
            str_starts_with($start, "\0\0\xFE\xFF"), preg_match('/^\0\0\0[^\0]/s', $start) === 1 => 'UTF-32BE',
            str_starts_with($start, "\xFF\xFE"), preg_match('/^[^\0]\0[^\0]\0/s', $start) === 1 => 'UTF-16LE',
            str_starts_with($start, "\xFE\xFF"), preg_match('/^\0[^\0]\0[^\0]/s', $start) === 1 => 'UTF-16BE',
            default => null,
        };

        return $from === null ? $text : (string) preg_replace('/^\x{FEFF}/u', '', mb_convert_encoding($text, 'UTF-8', $from));
    }
}
