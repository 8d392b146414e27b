<?php

declare(strict_types=1);

namespace DeepSpring\Check;

/**
 * What checks have in common that single rows break.
 */
trait OfRows
{
    public function isOfRows(): bool
    {
        return true;
    }

    public function broken(Found $found): ?string
    {
        return $found->broken === 0 ? null : $this->sentence($found).'.';
    }

    public function held(Found $found): string
    {
        return $found->all();
    }

    /**
     * What is broken, without a full stop.
     */
    abstract private function sentence(Found $found): string;
}
