<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

use DeepSpring\Flatten\Proposal\NumbersSeen;
use DeepSpring\Flatten\Proposal\SampledValues;
use DeepSpring\Value\WrittenNumber;

/**
 * Numbers that come as text, as JSON writes them or as people do.
 */
final readonly class NumberTextGuess implements Guess
{
    private const TOO_LONG = 'numbers with more digits than a decimal holds, so they are kept as text';

    /** Digits from which on a whole number may be beyond 64 bits. */
    private const LONG = 19;

    private const PLAIN = '/^-?(?:0|[1-9]\d*)(?:\.\d+)?$/D';

    public function of(SampledValues $values, string $name): ?TypeProposal
    {
        if (! $values->isText() || $values->distinct === []) {
            return null;
        }
        if ($values->allMatch(self::PLAIN)) {
            return $this->plain($values);
        }
        if ($values->emptyTexts === 0 && $values->allMatch('/^-?(?:0|[1-9]\d*)(?:\.\d+)?[eE][+-]?\d{1,3}$|^-?(?:0|[1-9]\d*)(?:\.\d+)?$/D')) {
            $numbers = new NumbersSeen($values->texts());
            $decimal = $numbers->decimal();

            return match (true) {
                $numbers->surviveFloat => new TypeProposal(['type' => 'float'], 'comes as text, with an exponent in places'),
                $decimal !== null => new TypeProposal($decimal, 'comes as text, with an exponent in places'),
                default => TypeProposal::text(self::TOO_LONG),
            };
        }

        return $values->allMatch('/^[+−-]?\d{1,3}(?:[., \x{a0}\x{202f}\'’]\d{3})*(?:[.,]\d+)?$|^-?\d+,\d+$/uD') ? $this->written($values) : null;
    }

    private function plain(SampledValues $values): TypeProposal
    {
        if ($values->emptyTexts > 0) {
            return TypeProposal::text('empty strings among the values');
        }
        $numbers = new NumbersSeen($values->texts());
        if ($numbers->scale === 0) {
            // Whole numbers beyond 64 bits are texts (LossGuess).
            return new TypeProposal(['type' => 'integer'], 'comes as text');
        }
        $decimal = $numbers->decimal();

        return $decimal === null ? TypeProposal::text(self::TOO_LONG) : new TypeProposal($decimal, 'comes as text');
    }

    /**
     * The one way of writing that fits all and that some of them prove.
     */
    private function written(SampledValues $values): TypeProposal
    {
        $fitting = [];
        foreach (array_keys(WrittenNumber::FORMS) as $form) {
            $written = WrittenNumber::of($form);
            $plains = [];
            $proven = false;
            foreach ($values->texts() as $text) {
                $plain = $written?->plain($text);
                if (! is_string($plain)) {
                    continue 2;
                }
                $decimals = max(0, strlen((string) strrchr($plain, '.')) - 1);
                $plains[] = $plain;
                // A comma before three digits may be either; before any other count it is no group.
                $proven = $proven || $decimals > 0 && $decimals !== 3 || preg_match('/[.,\'’ ]\d{3}[.,]/u', $text) === 1 || preg_match('/[., \'’\x{a0}\x{202f}]\d{3}[., \'’\x{a0}\x{202f}]\d{3}(?!\d)/u', $text) === 1;
            }
            if ($proven) {
                $numbers = new NumbersSeen($plains);
                $fitting[$form] = $numbers->scale === 0 && $numbers->whole < self::LONG ? ['type' => 'integer'] : $numbers->decimal();
            }
        }
        // What fits without groups fits with them, too.
        if (count($fitting) > 1) {
            unset($fitting['1234,5']);
        }
        if (count($fitting) > 1 && count(array_unique($fitting, SORT_REGULAR)) === 1 && count(array_unique(array_map(static fn (string $form): string => WrittenNumber::FORMS[$form][1], array_keys($fitting)))) === 1) {
            $fitting = array_slice($fitting, 0, 1);
        }
        if (count($fitting) !== 1 || $values->emptyTexts > 0) {
            return TypeProposal::text('numbers written with groups: say how under "written like", if they are numbers', true);
        }
        $form = array_key_first($fitting);

        return $fitting[$form] === null ? TypeProposal::text(self::TOO_LONG) : new TypeProposal($fitting[$form] + ['read_as' => $form], "written like $form");
    }
}
