<?php

declare(strict_types=1);

namespace App\OData;

use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\RowBatch;

/**
 * What one request showed.
 */
final readonly class SetPreview
{
    public function __construct(
        /** Secrets masked. */
        public string $address,
        public int $status,
        public float $milliseconds,
        public string $body,
        public string $contentType,
        public ?int $count = null,
        public ?Plan $plan = null,
        public ?RowBatch $batch = null,
    ) {
    }

    public function with(?int $count = null, ?Plan $plan = null, ?RowBatch $batch = null): self
    {
        return new self($this->address, $this->status, $this->milliseconds, $this->body, $this->contentType, $count ?? $this->count, $plan ?? $this->plan, $batch ?? $this->batch);
    }

    public function readable(): string
    {
        return rawurldecode($this->address);
    }
}
