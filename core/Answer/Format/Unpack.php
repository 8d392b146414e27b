<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\UnreadableAnswer;

/**
 * Bodies that are themselves packed: gzip (RFC 1952), and zip archives of one file.
 */
final class Unpack
{
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
        // Its end says how long it is, modulo 2^32 (RFC 1952 §2.3.1); where that is too much, it is only counted.
        $said = strlen($body) > 18 ? unpack('V', substr($body, -4))[1] ?? 0 : 0;
        $text = $said > $most ? false : @gzdecode($body, $most);
        if ($text !== false) {
            return $text;
        }
        $context = inflate_init(ZLIB_ENCODING_GZIP);
        $size = 0;
        foreach (str_split($body, 8192) as $chunk) {
            $part = $context === false ? false : @inflate_add($context, $chunk);
            $size += $part === false ? 0 : strlen($part);
            if ($size > $most) {
                throw self::tooLarge($most);
            }
        }

        throw UnreadableAnswer::beyondReading('it is packed with gzip, and damaged');
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
                $files[$name] = $entry;
            }
        }
        if (count($files) !== 1) {
            throw UnreadableAnswer::beyondReading($files === [] ? 'it is a zip archive without a file' : 'it is a zip archive of '.count($files).' files ('.mb_scrub(implode(', ', array_slice(array_keys($files), 0, 4)), 'UTF-8').'), and one is wanted');
        }
        $entry = array_values($files)[0];
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
