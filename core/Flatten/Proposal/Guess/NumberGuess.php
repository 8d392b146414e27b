<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

use DeepSpring\Flatten\Proposal\SampledValues;

/**
 * Numbers, and true and false. Money is never a float.
 */
final readonly class NumberGuess implements Guess
{
    public const MONEY = '/(?:^|_|(?<=[a-z])(?=[A-Z]))(?:amount|price|cost|total|subtotal|fee|tax|value|cover|balance|sum|paid|due_amount|net|gross|premium|discount|charge|salary|budget)s?(?:_|$|(?=[A-Z]))/i';

    public const FLAG = '/^(?:is|has|can|was|should|allow|allows|enabled?|active|deleted|archived)(?:_|$|(?=[A-Z]))|(?:_flag|Flag|_enabled|_active)$/';

    /** Behind the point at least, where there are any. */
    private const DECIMALS = 2;

    /** From which on a number looks like what a service has computed in floats (IEEE 754: 15 to 17). */
    private const FLOAT_DIGITS = 15;

    public function of(SampledValues $values, string $name): ?TypeProposal
    {
        if ($values->booleans > 0 && $values->booleans === $values->filled) {
            return new TypeProposal(['type' => 'boolean']);
        }
        if (! $values->isNumber()) {
            return null;
        }
        if ($values->floats + $values->long === 0) {
            return $values->least >= 0 && $values->most <= 1 && preg_match(self::FLAG, $name) === 1
                ? new TypeProposal(['type' => 'boolean'], 'comes as 0 and 1')
                : new TypeProposal(['type' => 'integer']);
        }
        $numbers = $values->numbers();
        $isFloat = $numbers->hasExponent || $numbers->digits >= self::FLOAT_DIGITS;
        if ($isFloat && $values->floats > 0 && $numbers->surviveFloat && preg_match(self::MONEY, $name) !== 1) {
            return new TypeProposal(['type' => 'float'], $numbers->hasExponent ? 'is written with an exponent in places, as floats are' : "has up to {$numbers->digits} digits, as floats are written; each that was seen stays the same as one");
        }
        $decimal = $numbers->decimal($values->floats > 0 ? self::DECIMALS : 0);

        return match (true) {
            $decimal === null => TypeProposal::text('has more digits than a decimal holds, so it is kept as text'),
            $values->floats === 0 => new TypeProposal($decimal, 'is beyond 64 bits in places'),
            default => new TypeProposal($decimal, $numbers->hasExponent ? 'is written with an exponent in places' : null),
        };
    }
}
