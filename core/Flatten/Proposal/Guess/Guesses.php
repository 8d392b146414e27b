<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

use DeepSpring\Flatten\Proposal\SampledValues;

/**
 * The first guess that recognises the values; text where none does.
 */
final readonly class Guesses
{
    /** @var list<Guess> */
    private array $all;

    public function __construct()
    {
        $this->all = [new EpochGuess, new NumberGuess, new LossGuess, new WordGuess, new DayGuess, new IdentifierGuess, new NumberTextGuess];
    }

    public function of(SampledValues $values, string $name): TypeProposal
    {
        if ($values->filled === 0) {
            return TypeProposal::text($values->nulls > 0 ? 'only null so far' : null);
        }
        foreach ($this->all as $guess) {
            $found = $guess->of($values, $name);
            if ($found !== null) {
                return $found;
            }
        }

        return TypeProposal::text($values->isText() ? null : 'holds more than one type');
    }
}
