<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Seen;

use DeepSpring\Describe\Curl\FormPart;

/**
 * A request that somebody sent or wrote down.
 */
final readonly class SeenRequest
{
    /**
     * @param  list<array{string, string}>  $headers
     * @param  list<FormPart>|null  $parts  of a form with files
     * @param  list<string>  $missing  files that are needed
     * @param  mixed  $answer  the JSON that came back, when it is known
     */
    public function __construct(
        public string $method,
        public string $url,
        public array $headers,
        #[\SensitiveParameter] public ?string $user = null,
        public string $body = '',
        public ?array $parts = null,
        public array $missing = [],
        public mixed $answer = null,
    ) {
    }

    public function header(string $name): string
    {
        foreach ($this->headers as [$its, $value]) {
            if (strcasecmp($its, $name) === 0) {
                return $value;
            }
        }

        return '';
    }

    /**
     * Whether a browser sent it, which puts headers of its own into every request.
     */
    public function isFromBrowser(): bool
    {
        foreach ($this->headers as [$name, $value]) {
            if (preg_match('/^sec-(?:fetch|ch)-/i', $name) === 1 || strtolower($name) === 'user-agent' && str_starts_with($value, 'Mozilla/')) {
                return true;
            }
        }

        return false;
    }

    public function origin(): string
    {
        $parts = parse_url($this->url) ?: [];

        return strtolower(($parts['scheme'] ?? 'https').'://'.($parts['host'] ?? '')).(isset($parts['port']) ? ":{$parts['port']}" : '');
    }

    public function path(): string
    {
        return (string) parse_url($this->url, PHP_URL_PATH);
    }

    /**
     * @return list<array{string, string, bool}> name and value, decoded, and whether the name stands alone, without "="
     */
    public function query(): array
    {
        $pairs = [];
        foreach (array_filter(explode('&', (string) parse_url($this->url, PHP_URL_QUERY)), static fn (string $pair): bool => $pair !== '') as $pair) {
            [$name, $value] = array_map(static fn (string $one): string => mb_scrub(urldecode($one), 'UTF-8'), explode('=', $pair, 2) + [1 => '']);
            $pairs[] = [$name, $value, ! str_contains($pair, '=')];
        }

        return $pairs;
    }
}
