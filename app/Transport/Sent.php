<?php

declare(strict_types=1);

namespace App\Transport;

use DeepSpring\Diagnose\Failing;
use Psr\Http\Message\RequestInterface;

/**
 * A request that left, and what came of it.
 */
final readonly class Sent
{
    /**
     * @param  array<string, string>  $headers  of the answer, by name in lower case
     */
    public function __construct(
        public RequestInterface $request,
        public ?int $status,
        public string $reason,
        public string $protocol,
        public array $headers,
        public string $body,
        public ?Failing $failing,
        public string $detail,
        public Timing $timing,
        /** Start line and headers exactly as they left; null when that was not watched. */
        public ?string $head = null,
    ) {
    }

    public function contentType(): string
    {
        return $this->headers['content-type'] ?? '';
    }
}
