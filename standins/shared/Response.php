<?php

declare(strict_types=1);

namespace StandIns;

final readonly class Response
{
    /**
     * @param  array<string, string>  $headers
     */
    public function __construct(public int $status, public array $headers, public string $body)
    {
    }

    /**
     * @param  array<string, string>  $headers
     */
    public static function json(mixed $value, int $status = 200, array $headers = []): self
    {
        return new self($status, ['Content-Type' => 'application/json'] + $headers, (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION));
    }

    public static function html(string $html, int $status = 200): self
    {
        return new self($status, ['Content-Type' => 'text/html; charset=utf-8'], $html);
    }

    public function send(): void
    {
        foreach ($this->headers as $name => $value) {
            header("$name: $value");
        }
        // After the headers: one of them, WWW-Authenticate, would make it a 401.
        http_response_code($this->status);
        if (! isset($this->headers['Content-Length'])) {
            header('Content-Length: '.strlen($this->body));
        }
        echo $this->body;
    }
}
