<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * OData 4.01 part 1 §11.7.7, and [Batch 2.0]: each request is a part with an HTTP message in it. A change set is one
 * request that changes something.
 */
final readonly class AskedMultipartBatch implements AskedBatch
{
    /**
     * @param  string  $boundary  of the answer, which occurs in no reply
     */
    public function __construct(private string $boundary)
    {
    }

    public function requests(string $contentType, string $body): array
    {
        if (preg_match('~^multipart/mixed\s*;.*?boundary=(?:"([^"]{1,200})"|([^\s;"]{1,200}))~is', $contentType, $found) !== 1) {
            throw UnreadableBatch::isAsked('its media type names no boundary');
        }
        $boundary = preg_quote(($found[2] ?? '') !== '' ? $found[2] : $found[1], '/');
        if (preg_match("/(?:^|\n)--$boundary--[ \t]*(?:\r?\n|$)/", $body) !== 1) {
            throw UnreadableBatch::isAsked('its last boundary is missing, so something may be missing, too');
        }
        $pieces = preg_split("/(?:^|\r?\n)--{$boundary}[ \t]*\r?\n/", (string) preg_replace("/\r?\n?--$boundary--[ \t]*(?:\r?\n.*)?$/s", "\r\n", $body)) ?: [];
        $parts = [];
        foreach (array_slice($pieces, 1) as $number => $piece) {
            $parts[] = self::part($number + 1, $piece);
            count($parts) <= self::MOST || throw UnreadableBatch::isAsked('it has more than '.self::MOST.' requests');
        }

        return $parts !== [] ? $parts : throw UnreadableBatch::isAsked('there is no request in it');
    }

    /**
     * @throws UnreadableBatch
     */
    private static function part(int $number, string $piece): BatchPart
    {
        [$head, $message] = preg_split('/\r?\n\r?\n/', ltrim($piece, "\r\n"), 2) + [1 => ''];
        $outer = self::headers($head);
        $id = $outer['content-id'] ?? (string) $number;
        if (str_starts_with(strtolower($outer['content-type'] ?? ''), 'multipart/mixed')) {
            return new BatchPart($id, 'POST', '', $outer);
        }
        [$line, $rest] = preg_split('/\r?\n/', ltrim($message, "\r\n"), 2) + [1 => ''];
        if (preg_match('~^([A-Za-z]+)[ \t]+(\S+)(?:[ \t]+HTTP/\d(?:\.\d)?)?[ \t]*$~D', $line, $found) !== 1) {
            throw UnreadableBatch::isAsked("part $number begins with no request line such as GET loans HTTP/1.1");
        }

        return new BatchPart($id, strtoupper($found[1]), $found[2], self::headers((preg_split('/\r?\n\r?\n/', $rest, 2) ?: [''])[0]));
    }

    /**
     * @return array<string, string>
     */
    private static function headers(string $text): array
    {
        preg_match_all('/^([A-Za-z0-9-]+)[ \t]*:[ \t]*([^\r\n]*)/m', $text, $found, PREG_SET_ORDER);
        $headers = [];
        foreach ($found as [, $name, $value]) {
            $headers[strtolower($name)] = trim($value);
        }

        return $headers;
    }

    public function contentType(): string
    {
        return "multipart/mixed; boundary=$this->boundary";
    }

    public function answer(array $replies): string
    {
        $body = '';
        foreach ($replies as $reply) {
            $headers = '';
            foreach ($reply->headers + ($reply->body === '' ? [] : ['Content-Type' => $reply->type, 'Content-Length' => (string) strlen($reply->body)]) as $name => $value) {
                $headers .= "$name: $value\r\n";
            }
            $body .= "--$this->boundary\r\nContent-Type: application/http\r\nContent-Transfer-Encoding: binary\r\nContent-ID: $reply->id\r\n\r\nHTTP/1.1 $reply->status ".($reply->status < 400 ? 'OK' : 'Error')."\r\n$headers\r\n$reply->body\r\n";
        }

        return "$body--$this->boundary--\r\n";
    }
}
