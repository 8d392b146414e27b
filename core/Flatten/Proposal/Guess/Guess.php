<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

use DeepSpring\Flatten\Proposal\SampledValues;

/**
 * Recognises one kind of values. It says what it proposes only where every value seen would be kept.
 */
interface Guess
{
    /**
     * @param  string  $name  of the member, as the API writes it
     */
    public function of(SampledValues $values, string $name): ?TypeProposal;
}
