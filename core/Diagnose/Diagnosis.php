<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

/**
 * What failed, the likely cause, and what to do.
 */
final readonly class Diagnosis
{
    public function __construct(
        /** Stable, for programs and tests. */
        public string $code,
        /** What failed and where, in one sentence. */
        public string $what,
        /** The likely cause and what to do. */
        public string $advice,
        /** The stratum or setting it belongs to: address, access, ask, answer, onward, flatten, keep. */
        public string $where,
    ) {
    }

    /**
     * @return array{code: string, what: string, advice: string, where: string}
     */
    public function toArray(): array
    {
        return ['code' => $this->code, 'what' => $this->what, 'advice' => $this->advice, 'where' => $this->where];
    }
}
