<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * OData 4.01 part 1 §11.7.7; the only form of versions 2 and 3 ([Batch 2.0]). Answers come in the order
 * of the requests, whatever id they carry.
 */
final readonly class MultipartBatch implements BatchForm
{
    /**
     * @param  string  $boundary  that occurs in no request
     */
    public function __construct(private string $boundary)
    {
    }

    public function contentType(): string
    {
        return "multipart/mixed; boundary={$this->boundary}";
    }

    public function encode(array $requests): string
    {
        $body = '';
        foreach ($requests as $id => $one) {
            $body .= "--{$this->boundary}\r\nContent-Type: application/http\r\nContent-Transfer-Encoding: binary\r\nContent-ID: $id\r\n\r\nGET {$one['path']} HTTP/1.1\r\nAccept: {$one['accept']}\r\n\r\n\r\n";
        }

        return "$body--{$this->boundary}--\r\n";
    }

    public function decode(string $contentType, string $body, array $ids): array
    {
        if (preg_match('~^multipart/mixed\s*;.*?boundary=(?:"([^"]+)"|([^\s;]+))~is', $contentType, $part) !== 1) {
            throw UnreadableBatch::because('it is no multipart answer');
        }
        $boundary = $part[2] ?? $part[1];
        $pieces = preg_split('/(?:^|\r?\n)--'.preg_quote($boundary, '/').'(?:--)?[ \t]*(?:\r?\n|$)/', $body) ?: [];
        $answers = [];
        foreach (array_values(array_filter($pieces, static fn (string $piece): bool => trim($piece) !== '')) as $place => $piece) {
            if (isset($ids[$place]) && preg_match('~(?:^|\n)HTTP/\d(?:\.\d)? (\d{3})[^\n]*\n(.*)$~s', $piece, $found) === 1) {
                // Without headers, the body begins after the empty line that stands there at once.
                $content = preg_split('/\r?\n\r?\n/', "\n".$found[2], 2) ?: [];
                $answers[$ids[$place]] = new BatchAnswer((int) $found[1], trim($content[1] ?? ''));
            }
        }

        return $answers;
    }
}
