<?php

declare(strict_types=1);

namespace StandIns;

final readonly class Request
{
    /**
     * @param  array<array-key, string>  $query
     * @param  array<string, string>  $headers  names in lower case
     */
    public function __construct(public string $method, public string $path, public array $query, public array $headers, public string $body)
    {
    }

    public static function current(): self
    {
        $headers = [];
        foreach (getallheaders() as $name => $value) {
            $headers[strtolower((string) $name)] = (string) $value;
        }
        parse_str((string) parse_url((string) $_SERVER['REQUEST_URI'], PHP_URL_QUERY), $query);

        return new self(
            (string) $_SERVER['REQUEST_METHOD'],
            rawurldecode((string) parse_url((string) $_SERVER['REQUEST_URI'], PHP_URL_PATH)),
            array_map(static fn (mixed $value): string => is_array($value) ? implode(',', $value) : (string) $value, $query),
            $headers,
            (string) file_get_contents('php://input'),
        );
    }

    /**
     * The body as a form.
     *
     * @return array<array-key, mixed>
     */
    public function form(): array
    {
        parse_str($this->body, $form);

        return $form;
    }

    /**
     * Scheme, host and port that were asked.
     */
    public static function origin(): string
    {
        return 'http://'.($_SERVER['HTTP_HOST'] ?? '127.0.0.1');
    }

    public function below(string $prefix): self
    {
        return new self($this->method, substr($this->path, strlen($prefix)), $this->query, $this->headers, $this->body);
    }

    public function number(string $name, int $default, int $least, int $most): ?int
    {
        $value = $this->query[$name] ?? (string) $default;

        return ctype_digit($value) && (int) $value >= $least ? min((int) $value, $most) : null;
    }
}
