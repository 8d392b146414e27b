<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * One request on its way into a batch.
 */
final readonly class BatchedRequest
{
    /**
     * @param  string  $path  relative to the service root, percent-encoded
     * @param  array<string, string>  $headers
     */
    public function __construct(public string $id, public string $method, public string $path, public array $headers = [], public string $body = '')
    {
    }

    public function reads(): bool
    {
        return in_array($this->method, ['GET', 'HEAD'], true);
    }

    /**
     * As an HTTP message (RFC 9112 §2.1).
     */
    public function message(): string
    {
        $headers = $this->headers + ($this->body === '' ? [] : ['content-length' => (string) strlen($this->body)]);

        return "$this->method $this->path HTTP/1.1\r\n".implode('', array_map(static fn (string $name, string $value): string => "$name: $value\r\n", array_keys($headers), $headers))."\r\n$this->body";
    }
}
