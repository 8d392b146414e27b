<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

use DeepSpring\Flatten\Proposal\SampledValues;

/**
 * Texts of digits of which something would be lost as numbers.
 */
final readonly class LossGuess implements Guess
{
    private const WAYS = [
        '/^-?0\d+$/D' => 'keeps its zero',
        '/^\+\d+$/D' => 'keeps its plus',
        '/^-?(?:[1-9]\d{19,}|9223372036854775[89]\d\d|922337203685477[6-9]\d{3}|92233720368547[89]\d{4}|9223372036854[89]\d{5}|922337203685[5-9]\d{6}|9[3-9]\d{17})$/D' => 'is beyond 64 bits',
    ];

    public function of(SampledValues $values, string $name): ?TypeProposal
    {
        if (! $values->isText()) {
            return null;
        }
        foreach (self::WAYS as $pattern => $why) {
            foreach ($values->matching($pattern) as $text) {
                if ($why !== 'is beyond 64 bits' || filter_var($text, FILTER_VALIDATE_INT) === false) {
                    return TypeProposal::text("$text $why");
                }
            }
        }

        return null;
    }
}
