<?php

declare(strict_types=1);

namespace DeepSpring\Share;

/**
 * A request and its answer as evidence has them, secrets replaced by dots.
 */
final readonly class Recorded
{
    /**
     * @param  list<array{string, string}>  $headers
     * @param  list<array{string, string}>  $answerHeaders
     * @param  array<string, mixed>  $timing  phases in milliseconds
     */
    public function __construct(
        public string $method,
        public string $url,
        public array $headers,
        public string $body,
        public ?int $status,
        public array $answerHeaders,
        public ?string $answer,
        public array $timing,
        public \DateTimeInterface $at,
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
}
