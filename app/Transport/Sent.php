<?php

declare(strict_types=1);

namespace App\Transport;

use DeepSpring\Ask\SendFailure;
use GuzzleHttp\Psr7\Request;
use Psr\Http\Message\RequestInterface;
use Psr\Http\Message\StreamInterface;

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
        public ?SendFailure $failing,
        public string $detail,
        public Timing $timing,
        /** Start line and headers exactly as they left; null when that was not watched. */
        public ?string $head = null,
        /** The body, in place of a text, where it is too large for one. */
        public ?StreamInterface $stream = null,
    ) {
    }

    /**
     * An answer that was kept, as if it came now.
     */
    public static function kept(string $type, string $body): self
    {
        return new self(new Request('GET', ''), 200, '', '1.1', ['content-type' => $type], $body, null, '', Timing::none());
    }

    /**
     * Bytes of the body.
     */
    public function size(): int
    {
        return $this->stream === null ? strlen($this->body) : (int) $this->stream->getSize();
    }

    /**
     * Whether a body that is a stream holds one JSON text, by its media type and its first sign.
     */
    public function isOneJson(): bool
    {
        $this->stream?->rewind();

        return preg_match('/^(?:\xEF\xBB\xBF)?\s*[\[{]/', (string) $this->stream?->read(200)) === 1 && preg_match('/ndjson|jsonl|json-lines|json-seq|csv|xml/i', $this->contentType()) !== 1;
    }

    /**
     * The same with another body.
     */
    public function with(string $body): self
    {
        return new self($this->request, $this->status, $this->reason, $this->protocol, $this->headers, $body, $this->failing, $this->detail, $this->timing, $this->head, $this->stream);
    }

    /**
     * The same with the body as a text.
     */
    public function whole(): self
    {
        return new self($this->request, $this->status, $this->reason, $this->protocol, $this->headers, (string) $this->stream, $this->failing, $this->detail, $this->timing, $this->head);
    }

    public function contentType(): string
    {
        return $this->headers['content-type'] ?? '';
    }
}
