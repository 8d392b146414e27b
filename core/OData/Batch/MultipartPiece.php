<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * One part of a multipart body (RFC 2046 §5.1).
 */
final readonly class MultipartPiece
{
    /**
     * @param  array<string, string>  $headers  by name in lower case
     */
    public function __construct(public array $headers, public string $content)
    {
    }

    public function type(): string
    {
        return $this->headers['content-type'] ?? '';
    }

    public function isMultipart(): bool
    {
        return stripos($this->type(), 'multipart/') === 0;
    }

    /**
     * The id of the request that it answers, where it carries one.
     */
    public function id(): ?string
    {
        return isset($this->headers['content-id']) ? trim($this->headers['content-id'], "<> \t") : null;
    }

    /**
     * The HTTP answer in it; null where there is none.
     */
    public function answer(): ?BatchAnswer
    {
        if (preg_match('~^\s*HTTP/\d(?:\.\d)? (\d{3})[^\r\n]*(?:\r?\n|$)(.*)$~sD', $this->content, $found) !== 1) {
            return null;
        }
        // Without headers, the body begins after the empty line that stands there at once.
        [$head, $body] = (preg_split('/\r?\n\r?\n/', "\n".$found[2], 2) ?: []) + ['', ''];

        return new BatchAnswer((int) $found[1], trim($body), MultipartPieces::headers($head));
    }
}
