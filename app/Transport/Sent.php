<?php

declare(strict_types=1);

namespace App\Transport;

use DeepSpring\Answer\Format\Formats;
use DeepSpring\Answer\Format\JsonFormat;
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
        return self::known(200, ['content-type' => $type], $body);
    }

    /**
     * @param  array<string, string>  $headers  by name in lower case
     */
    public static function known(int $status, array $headers, string $body): self
    {
        return new self(new Request('GET', ''), $status, '', '1.1', $headers, $body, null, '', Timing::none());
    }

    /**
     * Bytes of the body.
     */
    public function size(): int
    {
        return $this->stream === null ? strlen($this->body) : (int) $this->stream->getSize();
    }

    /**
     * Whether a body that is a stream holds one JSON text, as far as it is detected.
     */
    public function isOneJson(): bool
    {
        $this->stream?->rewind();

        $start = (string) $this->stream?->read(200);

        return preg_match('/^(?:\xEF\xBB\xBF)?\s*[\[{]/', $start) === 1 && (new Formats)->for($this->contentType(), $start) instanceof JsonFormat;
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
