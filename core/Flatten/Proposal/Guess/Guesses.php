<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

use DeepSpring\Flatten\Proposal\Values;

/**
 * The first guess that recognises the values; text where none does.
 */
final readonly class Guesses
{
    /** @var list<Guess> */
    private array $all;

    public function __construct()
    {
        $this->all = [new Epochs, new Numbers, new Losses, new Words, new Days, new Identifiers, new NumberTexts];
    }

    public function of(Values $values, string $name): TypeProposal
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
