<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * A multipart body taken apart (RFC 2046 §5.1).
 */
final class MultipartPieces
{
    /**
     * @return list<MultipartPiece>
     *
     * @throws UnreadableBatch
     */
    public static function of(string $contentType, string $body): array
    {
        if (preg_match('~^multipart/mixed\s*;.*?boundary=(?:"([^"]+)"|([^\s;"]+))~is', $contentType, $part) !== 1) {
            throw UnreadableBatch::because('it is no multipart answer');
        }
        $boundary = preg_quote($part[2] ?? $part[1], '/');
        $pieces = preg_split("/(?:^|\r?\n)--$boundary(?:--)?[ \t]*(?:\r?\n|$)/", $body) ?: [];

        // Before the first boundary stands nothing that counts.
        return array_values(array_map(self::piece(...), array_filter(array_slice($pieces, 1), static fn (string $piece): bool => trim($piece) !== '')));
    }

    private static function piece(string $text): MultipartPiece
    {
        [$head, $content] = (preg_split('/\r?\n\r?\n/', $text, 2) ?: []) + ['', ''];

        return new MultipartPiece(self::headers($head), $content);
    }

    /**
     * @return array<string, string> by name in lower case
     */
    public static function headers(string $head): array
    {
        $headers = [];
        foreach (preg_split('/\r?\n/', $head) ?: [] as $line) {
            [$name, $value] = explode(':', $line, 2) + [1 => ''];
            trim($name) === '' || $headers[strtolower(trim($name))] = trim($value);
        }

        return $headers;
    }
}
