<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Ask\SendFailure;

/**
 * What is known when something went wrong: the request that left, what came of it, and the
 * settings that made it. Nothing of it is secret.
 */
final readonly class Situation
{
    /**
     * @param  list<string>  $accessHeaders  headers that access sets, in lower case
     * @param  array<string, string>  $headers  of the answer, by name in lower case
     * @param  list<int>  $ok  status codes that would have been a success
     * @param  array<int, array<string, mixed>>  $access  the list of the source file
     * @param  array<string, mixed>  $ask  of the endpoint; empty for a request to the base address
     * @param  array<string, string>  $bases  addresses by name of the environment
     * @param  list<SecretFact>  $secrets
     * @param  list<array{status: int, to: string}>  $hops  redirects that were followed
     * @param  list<string>  $sentHeaders  names, in lower case
     * @param  list<string>  $siblings  paths of the other endpoints of the source
     */
    public function __construct(
        public string $method,
        public string $uri,
        public array $accessHeaders = [],
        public bool $hasAccess = false,
        public ?SendFailure $failing = null,
        /** What the transport said, without secrets. */
        public string $detail = '',
        public ?int $status = null,
        public array $headers = [],
        public string $body = '',
        public array $ok = [200],
        public int $timeout = 30,
        public array $access = [],
        public array $ask = [],
        public string $environment = '',
        public array $bases = [],
        public array $secrets = [],
        public array $hops = [],
        public array $sentHeaders = [],
        /** When the answer could not be read. */
        public ?UnreadableAnswer $unreadable = null,
        /** Records found in the answer; null when it did not come to that. */
        public ?int $records = null,
        public array $siblings = [],
    ) {
    }

    public function host(): string
    {
        return (string) parse_url($this->uri, PHP_URL_HOST);
    }

    /**
     * The same at another address, without redirects before it.
     */
    public function at(string $uri): self
    {
        return new self(...['uri' => $uri, 'hops' => []] + get_object_vars($this));
    }

    /**
     * Host and port, the port of the scheme included.
     */
    public function endpoint(): string
    {
        return $this->host().':'.(parse_url($this->uri, PHP_URL_PORT) ?: (str_starts_with($this->uri, 'http:') ? 80 : 443));
    }

    public function authority(): string
    {
        $port = parse_url($this->uri, PHP_URL_PORT);

        return $this->host().(is_int($port) ? ":$port" : '');
    }

    public function path(): string
    {
        return (string) parse_url($this->uri, PHP_URL_PATH);
    }

    /**
     * The base address that was used, as the source file has it.
     */
    public function base(): string
    {
        return $this->bases[$this->environment] ?? '';
    }

    /**
     * Where the base address in use stands in the source file.
     *
     * @return list<int|string>
     */
    public function baseAt(): array
    {
        return ['source', 'environments', $this->environment, 'base'];
    }

    public function isSuccess(): bool
    {
        return $this->status !== null && in_array($this->status, $this->ok, true);
    }

    public function header(string $name): string
    {
        return $this->headers[$name] ?? '';
    }

    public function said(): string
    {
        $said = ErrorBody::of($this->body)->sentence;

        return $said === null ? '' : " It says: \"$said\"";
    }

    public function isHtml(): bool
    {
        return preg_match('/^\s*(?:<!doctype html|<html|<head|<body)/i', substr($this->body, 0, 2000)) === 1;
    }
}
