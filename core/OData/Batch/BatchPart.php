<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * One request inside a batch that somebody sent.
 */
final readonly class BatchPart
{
    /**
     * @param  string  $url  as it was written: absolute, from the host's root, or relative to the service
     * @param  array<string, string>  $headers  by name in lower case
     * @param  list<string>  $after  ids of those that have to have been answered well before
     */
    public function __construct(public string $id, public string $method, public string $url, public array $headers = [], public array $after = [])
    {
    }
}
