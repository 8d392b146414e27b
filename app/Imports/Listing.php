<?php

declare(strict_types=1);

namespace App\Imports;

use DeepSpring\Describe\Described;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\ImportNotice;

/**
 * What a description would make, for a program to read. Secrets are named, never shown.
 */
final class Listing
{
    /**
     * @return array<string, mixed>
     */
    public static function of(Described $described): array
    {
        return [
            'kind' => $described->kind, 'title' => $described->title, 'bases' => $described->bases,
            'access' => $described->access, 'access_alternatives' => array_map(strval(...), array_keys($described->alternatives)), 'headers' => (object) $described->headers, 'secrets' => array_map(strval(...), array_keys($described->secrets)),
            'listed' => count($described->endpoints), 'refused' => count($described->refused()),
            'endpoints' => array_map(static fn (ImportedEndpoint $one): array => [
                'slug' => $one->slug(), 'name' => $one->endpoint['name'], 'does' => $one->endpoint['does'] ?? null, 'group' => $one->group,
                'method' => $one->method(), 'base' => $one->base, 'path' => $one->endpoint['ask']['path'], 'headers' => (object) ($one->endpoint['ask']['headers'] ?? []),
                'inputs' => $one->endpoint['ask']['inputs'] ?? [], 'body' => $one->endpoint['ask']['body'] ?? null,
                'answer' => (object) ($one->endpoint['answer'] ?? []), 'onward' => $one->endpoint['onward'] ?? ['style' => 'none'],
                'columns' => $one->endpoint['flatten']['columns'] ?? [], 'key' => $one->endpoint['flatten']['key'] ?? [], 'branches' => $one->endpoint['flatten']['branches'] ?? [],
                'missing_files' => $one->missing, 'deprecated' => $one->isDeprecated, 'refused' => $one->refusal,
            ], $described->endpoints),
            'mends' => array_map(static fn (ImportNotice $one): array => $one->toArray(), $described->mends),
        ];
    }
}
