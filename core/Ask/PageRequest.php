<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * What a pager changes in a request: query members, headers, members of the body, or the whole
 * address. It can be written down and read again, so that a run goes on in another process.
 */
final readonly class PageRequest
{
    /**
     * @param  array<array-key, string>  $query  in place of members of the same name
     * @param  string|null  $uri  in place of the address that the endpoint makes
     * @param  array<array-key, string>  $headers  by name in lower case
     * @param  array<array-key, string|int>  $body  members, by name or by names with dots between
     * @param  string|null  $method  in place of that of the endpoint; with one, nothing is carried
     * @param  string|null  $path  below the base address, in place of that of the endpoint
     * @param  list<array<string, list<string>>>  $records  inputs of each, where several records stand in one body
     */
    public function __construct(
        public array $query = [],
        public ?string $uri = null,
        public array $headers = [],
        public array $body = [],
        public ?string $method = null,
        public ?string $path = null,
        public array $records = [],
    ) {
    }

    /**
     * This and what another one adds to it.
     */
    public function with(self $other): self
    {
        return new self($other->query + $this->query, $other->uri ?? $this->uri, $other->headers + $this->headers, $other->body + $this->body, $other->method ?? $this->method, $other->path ?? $this->path, $other->records === [] ? $this->records : $other->records);
    }

    /**
     * @return array<string, mixed>
     */
    public function toArray(): array
    {
        return array_filter(get_object_vars($this), static fn (mixed $value): bool => $value !== [] && $value !== null);
    }

    /**
     * @param  array<string, mixed>  $from  what `toArray` made
     */
    public static function fromArray(array $from): self
    {
        return new self($from['query'] ?? [], $from['uri'] ?? null, $from['headers'] ?? [], $from['body'] ?? [], $from['method'] ?? null, $from['path'] ?? null, $from['records'] ?? []);
    }
}
