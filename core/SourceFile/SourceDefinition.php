<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Access\Scheme;
use DeepSpring\Access\SchemeFactory;
use DeepSpring\Ask\RequestBuilder;

final readonly class SourceDefinition
{
    public string $slug;

    public string $name;

    /** Seconds. */
    public int $timeout;

    /** How often a request is sent at most. */
    public int $tries;

    /**
     * @param  array<string, mixed>  $source  valid by the schema
     */
    public function __construct(private array $source)
    {
        $this->slug = $source['slug'];
        $this->name = $source['name'];
        $this->timeout = $source['pace']['timeout'] ?? 30;
        $this->tries = $source['pace']['tries'] ?? 5;
    }

    /**
     * The base address in an environment, or null when the source has none there.
     */
    public function base(string $environment): ?string
    {
        return $this->source['environments'][$environment]['base'] ?? null;
    }

    /**
     * @return list<string>
     */
    public function environments(): array
    {
        return array_map(strval(...), array_keys($this->source['environments']));
    }

    /**
     * @return list<Scheme>
     */
    public function access(): array
    {
        return SchemeFactory::all($this->source['access'] ?? []);
    }

    /**
     * @return array<string, string>
     */
    public function headers(): array
    {
        return $this->source['headers'] ?? [];
    }

    public function testEndpoint(): ?string
    {
        return $this->source['test']['endpoint'] ?? null;
    }

    public function requests(string $base): RequestBuilder
    {
        return new RequestBuilder($base, $this->headers() + ['accept' => 'application/json'], array_map(strval(...), $this->source['query'] ?? []), $this->access());
    }
}
