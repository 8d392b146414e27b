<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

final readonly class BatchAnswer
{
    public function __construct(public int $status, public string $body)
    {
    }

    public function isSuccess(): bool
    {
        return $this->status >= 200 && $this->status < 300;
    }
}
