<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * The answer to one request of a batch.
 */
final readonly class BatchReply
{
    /**
     * @param  string  $type  media type of the body
     * @param  array<string, string>  $headers
     */
    public function __construct(public string $id, public int $status, public string $type, public string $body, public array $headers = [])
    {
    }
}
