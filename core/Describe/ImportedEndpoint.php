<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\Access\Origin;

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
     * @param  string|null  $refusal  why a source file cannot hold it; null when it can
     * @param  string|null  $base  its own base address, where it is not that of the others
     * @param  bool  $isSecured  whether the description says that it needs authentication
     */
    public function __construct(
        public array $endpoint,
        public string $id,
        public string $group = '',
        public array $missing = [],
        public bool $isDeprecated = false,
        public ?string $refusal = null,
        public ?string $base = null,
        public bool $isSecured = false,
    ) {
    }

    /**
     * The endpoint with its own address, in one environment.
     *
     * @param  list<string>  $agreed  origins to which the authentication of the source goes as well
     */
    public function in(string $environment, array $agreed): self
    {
        if ($this->base === null) {
            return $this;
        }
        $isAgreed = $this->isSecured && in_array(Origin::of($this->base), $agreed, true);

        return $this->with(['ask' => $this->endpoint['ask'] + ['base' => [$environment => $this->base]] + ($isAgreed ? ['access' => 'source'] : [])] + $this->endpoint);
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
        return new self($endpoint, $this->id, $this->group, $this->missing, $this->isDeprecated, $this->refusal, $this->base, $this->isSecured);
    }

    public function at(?string $base, bool $isSecured): self
    {
        return new self($this->endpoint, $this->id, $this->group, $this->missing, $this->isDeprecated, $this->refusal, $base, $isSecured);
    }

    public function refused(string $refusal): self
    {
        return new self($this->endpoint, $this->id, $this->group, $this->missing, $this->isDeprecated, $refusal, $this->base, $this->isSecured);
    }
}
