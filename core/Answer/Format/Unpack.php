<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\UnreadableAnswer;

/**
 * Bodies that are themselves packed: gzip (RFC 1952), and zip archives of one file.
 */
final class Unpack
{
    /** Bytes that are unpacked at a time. */
    private const CHUNK = 65_536;

    /**
     * @param  int  $most  bytes that may come out
     *
     * @throws UnreadableAnswer
     */
    public static function of(string $body, int $most): string
    {
        if (str_starts_with($body, "\x1f\x8b")) {
            return self::gzip($body, $most);
        }

        return str_starts_with($body, "PK\x03\x04") ? self::zip($body, $most) : $body;
    }

    private static function gzip(string $body, int $most): string
    {
        $text = '';
        // Its end says how long the last member is, modulo 2^32 (RFC 1952 §2.3.1); where that is too much, it is only counted.
        $said = strlen($body) > 18 ? unpack('V', substr($body, -4))[1] ?? 0 : 0;
        if ($said > $most) {
            self::count($body, $most);
        }
        // A member after the other (RFC 1952 §2.2); zeros at the end fill up a block.
        for ($at = 0; $at < strlen($body); $at += self::member($body, $at, $text, $most)) {
            if ($at > 0 && trim(substr($body, $at, 1024), "\0") === '' && strspn($body, "\0", $at) === strlen($body) - $at) {
                break;
            }
        }

        return $text;
    }

    /**
     * Unpacks the first member and forgets it.
     */
    private static function count(string $body, int $most): void
    {
        $context = inflate_init(ZLIB_ENCODING_GZIP);
        $size = 0;
        foreach (str_split($body, 8192) as $chunk) {
            $part = $context === false ? false : @inflate_add($context, $chunk);
            $size += $part === false ? 0 : strlen($part);
            if ($size > $most) {
                throw self::tooLarge($most);
            }
        }
    }

    /**
     * Unpacks one member.
     *
     * @param  int  $at  its first byte
     * @param  string  $text  what came out of those before, to which this adds
     * @return int bytes that it takes
     */
    private static function member(string $body, int $at, string &$text, int $most): int
    {
        $context = inflate_init(ZLIB_ENCODING_GZIP);
        $end = strlen($body);
        for ($from = $at; $context !== false && $from < $end; $from += self::CHUNK) {
            $part = @inflate_add($context, substr($body, $from, self::CHUNK));
            if ($part === false) {
                break;
            }
            $text .= $part;
            if (strlen($text) > $most) {
                throw self::tooLarge($most);
            }
            if (inflate_get_status($context) === ZLIB_STREAM_END) {
                return inflate_get_read_len($context);
            }
        }

        throw UnreadableAnswer::beyondReading('it is packed with gzip, and damaged'.($at > 0 ? ' after the first part' : ''));
    }

    /**
     * From the central directory, which says what is where (APPNOTE 4.3).
     */
    private static function zip(string $body, int $most): string
    {
        $end = strrpos($body, "PK\x05\x06");
        $about = $end === false ? false : @unpack('vcount/Vsize/Voffset', substr($body, $end + 10, 10));
        if ($about === false) {
            throw UnreadableAnswer::beyondReading('it is a zip archive, and damaged');
        }
        $files = [];
        $at = (int) $about['offset'];
        for ($number = 0; $number < (int) $about['count']; $number++) {
            $entry = substr($body, $at, 4) === "PK\x01\x02" ? @unpack('vflags/vmethod/Vtime/Vcrc/Vpacked/Vsize/vname/vextra/vcomment/x8/Voffset', substr($body, $at + 8, 38)) : false;
            if ($entry === false) {
                throw UnreadableAnswer::beyondReading('it is a zip archive, and damaged');
            }
            $name = substr($body, $at + 46, (int) $entry['name']);
            $at += 46 + $entry['name'] + $entry['extra'] + $entry['comment'];
            if (! str_ends_with($name, '/') && ! str_starts_with($name, '__MACOSX/')) {
                $files[] = ['name' => $name] + ['is' => $entry];
            }
        }
        if (count($files) !== 1) {
            throw UnreadableAnswer::beyondReading($files === [] ? 'it is a zip archive without a file' : 'it is a zip archive of '.count($files).' files ('.mb_scrub(implode(', ', array_slice(array_column($files, 'name'), 0, 4)), 'UTF-8').'), and one is wanted');
        }
        $entry = $files[0]['is'];
        if (((int) $entry['flags'] & 1) === 1) {
            throw UnreadableAnswer::beyondReading('it is a zip archive with a password');
        }
        if ((int) $entry['size'] > $most) {
            throw self::tooLarge($most);
        }
        $local = @unpack('vname/vextra', substr($body, (int) $entry['offset'] + 26, 4));
        $packed = $local === false ? '' : substr($body, (int) $entry['offset'] + 30 + $local['name'] + $local['extra'], (int) $entry['packed']);
        $text = match ((int) $entry['method']) {
            0 => $packed,
            8 => @gzinflate($packed, $most),
            default => throw UnreadableAnswer::beyondReading('it is a zip archive packed in a way that is not read here'),
        };

        return $text === false || crc32($text) !== (int) $entry['crc'] ? throw UnreadableAnswer::beyondReading('it is a zip archive, and damaged') : $text;
    }

    private static function tooLarge(int $most): UnreadableAnswer
    {
        return UnreadableAnswer::beyondReading('unpacked it is more than '.intdiv($most, 1_000_000).' MB');
    }
}
