<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * OData JSON 4.01 §19.
 */
final readonly class AskedJsonBatch implements AskedBatch
{
    private const DEPTH = 16;

    private const FLAGS = JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE;

    public function requests(string $contentType, string $body): array
    {
        $document = json_decode($body, true, self::DEPTH);
        $requests = is_array($document) ? $document['requests'] ?? null : null;
        if (! is_array($requests) || ! array_is_list($requests)) {
            throw UnreadableBatch::isAsked('it is no JSON with a list "requests"');
        }
        $parts = [];
        foreach ($requests as $number => $one) {
            $id = is_array($one) ? $one['id'] ?? null : null;
            if (! is_array($one) || ! is_string($id) && ! is_int($id) || ! is_string($one['method'] ?? null) || ! is_string($one['url'] ?? null)) {
                throw UnreadableBatch::isAsked('request '.($number + 1).' has no id, method or url');
            }
            if (isset($parts[(string) $id])) {
                throw UnreadableBatch::isAsked("two requests have the id \"$id\"");
            }
            $headers = [];
            foreach (is_array($one['headers'] ?? null) ? $one['headers'] : [] as $name => $value) {
                $headers[strtolower((string) $name)] = is_scalar($value) ? (string) $value : '';
            }
            $after = array_map(static fn (mixed $one): string => is_scalar($one) ? (string) $one : '', array_values((array) ($one['dependsOn'] ?? [])));
            $parts[(string) $id] = new BatchPart((string) $id, strtoupper($one['method']), $one['url'], $headers, $after);
        }
        count($parts) <= self::MOST || throw UnreadableBatch::isAsked('it has '.count($parts).' requests; '.self::MOST.' are taken at once');

        return array_values($parts);
    }

    public function contentType(): string
    {
        return 'application/json';
    }

    public function answer(array $replies): string
    {
        return '{"responses":['.implode(',', array_map(static function (BatchReply $reply): string {
            $headers = $reply->headers + ($reply->body === '' ? [] : ['content-type' => $reply->type]);
            // What is no JSON is a text.
            $body = str_contains($reply->type, 'json') ? $reply->body : (string) json_encode($reply->body, self::FLAGS);

            return '{"id":'.json_encode($reply->id, self::FLAGS).",\"status\":$reply->status,\"headers\":".json_encode($headers === [] ? new \stdClass : $headers, self::FLAGS).($reply->body === '' ? '' : ",\"body\":$body").'}';
        }, $replies)).']}';
    }
}
