<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * OData JSON 4.01 §19.
 */
final readonly class JsonBatch implements BatchForm
{
    public function contentType(): string
    {
        return 'application/json';
    }

    public function encode(array $requests): string
    {
        return json_encode(['requests' => array_map(static fn (int|string $id, array $one): array => ['id' => (string) $id, 'method' => 'GET', 'url' => $one['path'], 'headers' => ['accept' => $one['accept']]], array_keys($requests), $requests)], JSON_UNESCAPED_SLASHES | JSON_THROW_ON_ERROR);
    }

    public function decode(string $contentType, string $body, array $ids): array
    {
        $document = json_decode($body, true);
        if (! is_array($document) || ! is_array($document['responses'] ?? null)) {
            throw UnreadableBatch::because('it has no responses');
        }
        $answers = [];
        foreach ($document['responses'] as $one) {
            if (is_array($one) && is_scalar($one['id'] ?? null) && is_int($one['status'] ?? null)) {
                $content = $one['body'] ?? '';
                $answers[(string) $one['id']] = new BatchAnswer($one['status'], is_string($content) ? $content : (string) json_encode($content));
            }
        }

        return array_intersect_key($answers, array_flip($ids));
    }
}
