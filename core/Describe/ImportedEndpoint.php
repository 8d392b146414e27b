<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * One endpoint that a description makes.
 */
final readonly class ImportedEndpoint
{
    /**
     * @param  array<string, mixed>  $endpoint  of a source file
     * @param  string  $id  method and path as the description has them: `GET /loans/{id}`
     * @param  string  $group  the tag it stands under
     * @param  list<string>  $missing  files that are needed and were not handed in
     */
    public function __construct(public array $endpoint, public string $id, public string $group = '', public array $missing = [], public bool $isDeprecated = false)
    {
    }

    public function slug(): string
    {
        return $this->endpoint['slug'];
    }

    public function method(): string
    {
        return $this->endpoint['ask']['method'] ?? 'GET';
    }

    /**
     * @param  array<string, mixed>  $endpoint
     */
    public function with(array $endpoint): self
    {
        return new self($endpoint, $this->id, $this->group, $this->missing, $this->isDeprecated);
    }
}
