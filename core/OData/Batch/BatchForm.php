<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * Several reading requests as one body, and the answers in the body that comes back.
 */
interface BatchForm
{
    public function contentType(): string;

    /**
     * @param  array<string, array{path: string, accept: string}>  $requests  by id; paths relative to the service root, percent-encoded
     */
    public function encode(array $requests): string;

    /**
     * @param  list<string>  $ids  in the order in which they were asked
     * @return array<string, BatchAnswer> by id
     *
     * @throws UnreadableBatch
     */
    public function decode(string $contentType, string $body, array $ids): array;
}
