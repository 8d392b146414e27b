<?php

declare(strict_types=1);

namespace App\Console;

/**
 * Text for somebody's terminal. What a service sent may hold sequences that a terminal obeys: they
 * would move the cursor, change the title, or type for whoever looks on.
 */
final readonly class Terminal
{
    /**
     * Control characters as signs that can be seen (ECMA-48: C0 but for line ends and tabs, DEL, and C1),
     * and those that turn the direction of writing.
     */
    public static function safe(string $text): string
    {
        $text = mb_scrub($text, 'UTF-8');

        return (string) preg_replace_callback(
            '/[\x00-\x08\x0b-\x1f\x7f]|\xc2[\x80-\x9f]|\xe2\x80[\x8e\x8f\xaa-\xae]|\xe2\x81[\xa6-\xa9]/',
            static fn (array $sign): string => $sign[0] === "\r" ? '' : sprintf('\\u%04x', mb_ord($sign[0], 'UTF-8')),
            str_replace("\r\n", "\n", $text),
        );
    }

    /**
     * @param  resource  $stream
     */
    public static function isWatched($stream): bool
    {
        return stream_isatty($stream);
    }
}
