<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Value\JsonSubtrees;

/**
 * The endpoints of a large file as few bytes, written and read one by one, with what they have in common
 * once: lines of JSON, compressed (RFC 1950). A line that begins with "part" is a part, the others are
 * endpoints.
 */
final class PackedEndpoints
{
    private const CHUNK = 65_536;

    private const FLAGS = JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION | JSON_THROW_ON_ERROR;

    /**
     * @param  list<array<string, mixed>>  $endpoints
     *
     * @throws \JsonException
     */
    public static function pack(array $endpoints): string
    {
        $parts = new EqualParts;
        $deflate = deflate_init(ZLIB_ENCODING_DEFLATE, ['level' => 1]) ?: throw new \LogicException;
        $packed = '';
        foreach ($endpoints as $endpoint) {
            $before = $parts->count();
            $short = $parts->taken($endpoint);
            foreach ($parts->since($before) as $part) {
                $packed .= deflate_add($deflate, 'part '.json_encode($part, self::FLAGS)."\n", ZLIB_NO_FLUSH);
            }
            $packed .= deflate_add($deflate, json_encode($short, self::FLAGS)."\n", ZLIB_NO_FLUSH);
        }

        return $packed.deflate_add($deflate, '', ZLIB_FINISH);
    }

    /**
     * @return list<array<string, mixed>>
     *
     * @throws \UnexpectedValueException when it is not what `pack` wrote
     */
    public static function unpack(string $packed): array
    {
        $parts = new EqualParts;
        $endpoints = [];
        try {
            foreach (self::lines($packed) as $line) {
                if (str_starts_with($line, 'part ')) {
                    $parts->add(self::part(substr($line, 5)));
                } else {
                    $endpoints[] = $parts->put(self::endpoint($line));
                }
            }
        } catch (\JsonException|\OutOfBoundsException $fault) {
            throw new \UnexpectedValueException('These endpoints cannot be unpacked: '.$fault->getMessage(), 0, $fault);
        }

        return $endpoints;
    }

    /**
     * @return array<string, mixed>
     *
     * @throws \JsonException
     */
    private static function endpoint(string $line): array
    {
        return JsonSubtrees::decoded('{"endpoints":['.$line.']}')['endpoints'][0];
    }

    /**
     * A part that is an object is a body: no other is.
     *
     * @return array<array-key, mixed>
     *
     * @throws \JsonException
     */
    private static function part(string $json): array
    {
        return $json[0] === '{' ? self::endpoint('{"ask":{"body":'.$json.'}}')['ask']['body'] : json_decode($json, true, 512, JSON_THROW_ON_ERROR);
    }

    /**
     * @return \Generator<int, string>
     */
    private static function lines(string $packed): \Generator
    {
        $inflate = inflate_init(ZLIB_ENCODING_DEFLATE) ?: throw new \LogicException;
        $rest = '';
        for ($at = 0; $at < strlen($packed); $at += self::CHUNK) {
            $came = @inflate_add($inflate, substr($packed, $at, self::CHUNK));
            if ($came === false) {
                throw new \UnexpectedValueException('These endpoints cannot be unpacked: they are not compressed.');
            }
            $lines = explode("\n", $rest.$came);
            $rest = array_pop($lines);
            foreach ($lines as $line) {
                yield $line;
            }
        }
        if ($rest !== '' || inflate_get_status($inflate) !== ZLIB_STREAM_END) {
            throw new \UnexpectedValueException('These endpoints cannot be unpacked: they end too early.');
        }
    }
}
