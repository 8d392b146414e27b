<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

/**
 * What failed, the likely cause, and what to do.
 */
final readonly class Diagnosis
{
    /**
     * @param  list<string>  $evidence  what it stands on, each as it was sent or received, or counted
     * @param  list<Diagnosis>  $others  less likely causes
     */
    public function __construct(
        /** Stable, for programs and tests. */
        public string $code,
        /** What failed and where, in one sentence. */
        public string $what,
        /** The likely cause and what to do. */
        public string $advice,
        /** The stratum or setting it belongs to: address, access, ask, answer, onward, flatten, keep. */
        public string $where,
        public Sureness $sure = Sureness::Likely,
        public array $evidence = [],
        public ?Repair $repair = null,
        public array $others = [],
    ) {
    }

    /**
     * @param  list<Diagnosis>  $others
     */
    public function besides(array $others): self
    {
        return new self($this->code, $this->what, $this->advice, $this->where, $this->sure, $this->evidence, $this->repair, $others);
    }

    /**
     * @return array<string, mixed>
     */
    public function toArray(): array
    {
        return array_filter([
            'code' => $this->code, 'what' => $this->what, 'advice' => $this->advice, 'where' => $this->where,
            'sure' => $this->sure->label(), 'evidence' => $this->evidence, 'repair' => $this->repair?->toArray(),
            'others' => array_map(static fn (self $one): array => $one->toArray(), $this->others),
        ], static fn (mixed $value): bool => $value !== [] && $value !== null);
    }
}
