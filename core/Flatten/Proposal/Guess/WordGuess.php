<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

use DeepSpring\Flatten\Proposal\SampledValues;

/**
 * Two words that mean yes and no, where both occur and nothing else does.
 */
final readonly class WordGuess implements Guess
{
    private const PAIRS = [['true', 'false'], ['yes', 'no'], ['y', 'n'], ['on', 'off'], ['t', 'f'], ['ja', 'nein'], ['oui', 'non']];

    public function of(SampledValues $values, string $name): ?TypeProposal
    {
        if (! $values->isText() || $values->emptyTexts > 0 || count($values->distinct) > 4) {
            return null;
        }
        $words = array_values(array_unique(array_map(static fn (string $text): string => mb_strtolower($text, 'UTF-8'), $values->texts())));
        sort($words);
        foreach (self::PAIRS as [$yes, $no]) {
            $pair = [$yes, $no];
            sort($pair);
            $both = $words === $pair;
            if (! $both && ! ($words !== [] && array_diff($words, $pair) === [] && preg_match(NumberGuess::FLAG, $name) === 1)) {
                continue;
            }

            return $yes === 'true' && array_diff($values->texts(), ['true', 'false']) === [] ? new TypeProposal(['type' => 'boolean'], 'comes as text') : new TypeProposal(['type' => 'boolean', 'read_as' => "$yes/$no"], "comes as $yes and $no");
        }

        return $words === ['0', '1'] && preg_match(NumberGuess::FLAG, $name) === 1 ? new TypeProposal(['type' => 'boolean'], 'comes as 0 and 1') : null;
    }
}
