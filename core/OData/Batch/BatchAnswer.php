<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

final readonly class BatchAnswer
{
    /**
     * @param  array<string, string>  $headers  by name in lower case
     */
    public function __construct(public int $status, public string $body, public array $headers = [])
    {
    }

    public function isSuccess(): bool
    {
        return $this->status >= 200 && $this->status < 300;
    }
}
