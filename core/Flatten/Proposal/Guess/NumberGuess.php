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

    private const DECIMALS = 8;

    public function of(SampledValues $values, string $name): ?TypeProposal
    {
        if ($values->booleans > 0 && $values->booleans === $values->filled) {
            return new TypeProposal(['type' => 'boolean']);
        }
        if (! $values->isNumber()) {
            return null;
        }
        if ($values->floats === 0) {
            return $values->least >= 0 && $values->most <= 1 && preg_match(self::FLAG, $name) === 1
                ? new TypeProposal(['type' => 'boolean'], 'comes as 0 and 1')
                : new TypeProposal(['type' => 'integer']);
        }
        $isMoney = preg_match(self::MONEY, $name) === 1;

        return match (true) {
            $values->scale <= self::DECIMALS, $isMoney && $values->scale <= 18 => new TypeProposal(['type' => 'decimal', 'scale' => max(2, $values->scale)]),
            $isMoney => new TypeProposal(['type' => 'decimal', 'scale' => 18], 'is written with an exponent in places'),
            default => new TypeProposal(['type' => 'float'], $values->scale === 99 ? 'is written with an exponent in places' : null),
        };
    }
}
