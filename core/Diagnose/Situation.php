<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

/**
 * What is known when something went wrong: the request that left, and what came of it.
 */
final readonly class Situation
{
    /**
     * @param  list<string>  $accessHeaders  headers that access sets, in lower case
     * @param  array<string, string>  $headers  of the answer, by name in lower case
     * @param  list<int>  $ok  status codes that would have been a success
     */
    public function __construct(
        public string $method,
        public string $uri,
        public array $accessHeaders = [],
        public bool $hasAccess = false,
        public ?Failing $failing = null,
        /** What the transport said, without secrets. */
        public string $detail = '',
        public ?int $status = null,
        public array $headers = [],
        public string $body = '',
        public array $ok = [200],
        public int $timeout = 30,
    ) {
    }

    public function host(): string
    {
        return (string) parse_url($this->uri, PHP_URL_HOST);
    }

    public function authority(): string
    {
        $port = parse_url($this->uri, PHP_URL_PORT);

        return $this->host().(is_int($port) ? ":$port" : '');
    }
}
