<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

use DeepSpring\Flatten\Proposal\SampledValues;
use DeepSpring\Value\WrittenNumber;

/**
 * Numbers that come as text, as JSON writes them or as people do.
 */
final readonly class NumberTextGuess implements Guess
{
    private const PLAIN = '/^-?(?:0|[1-9]\d{0,20})(?:\.\d{1,18})?$/D';

    public function of(SampledValues $values, string $name): ?TypeProposal
    {
        if (! $values->isText() || $values->distinct === []) {
            return null;
        }
        if ($values->allMatch(self::PLAIN)) {
            return $this->plain($values);
        }
        if ($values->emptyTexts === 0 && $values->allMatch('/^-?(?:0|[1-9]\d*)(?:\.\d+)?[eE][+-]?\d{1,3}$|^-?(?:0|[1-9]\d*)(?:\.\d+)?$/D')) {
            return new TypeProposal(['type' => 'float'], 'comes as text, with an exponent in places');
        }

        return $values->allMatch('/^[+−-]?\d{1,3}(?:[., \x{a0}\x{202f}\'’]\d{3})*(?:[.,]\d+)?$|^-?\d+,\d+$/uD') ? $this->written($values) : null;
    }

    private function plain(SampledValues $values): TypeProposal
    {
        if ($values->emptyTexts > 0) {
            return TypeProposal::text('empty strings among the values');
        }
        $scales = array_map(static fn (string $text): int => strlen((string) strrchr($text, '.')), $values->texts());
        $scale = max([1, ...$scales]) - 1;

        return $scale === 0 ? new TypeProposal(['type' => 'integer'], 'comes as text') : new TypeProposal(['type' => 'decimal', 'scale' => $scale], 'comes as text');
    }

    /**
     * The one way of writing that fits all and that some of them prove.
     */
    private function written(SampledValues $values): TypeProposal
    {
        $fitting = [];
        foreach (array_keys(WrittenNumber::FORMS) as $form) {
            $written = WrittenNumber::of($form);
            $scale = 0;
            $proven = false;
            foreach ($values->texts() as $text) {
                $plain = $written?->plain($text);
                if (! is_string($plain)) {
                    continue 2;
                }
                $decimals = max(0, strlen((string) strrchr($plain, '.')) - 1);
                $scale = max($scale, $decimals);
                // A comma before three digits may be either; before any other count it is no group.
                $proven = $proven || $decimals > 0 && $decimals !== 3 || preg_match('/[.,\'’ ]\d{3}[.,]/u', $text) === 1 || preg_match('/[., \'’\x{a0}\x{202f}]\d{3}[., \'’\x{a0}\x{202f}]\d{3}(?!\d)/u', $text) === 1;
            }
            if ($proven) {
                $fitting[$form] = $scale;
            }
        }
        // What fits without groups fits with them, too.
        if (count($fitting) > 1) {
            unset($fitting['1234,5']);
        }
        if (count($fitting) > 1 && count(array_unique($fitting)) === 1 && count(array_unique(array_map(static fn (string $form): string => WrittenNumber::FORMS[$form][1], array_keys($fitting)))) === 1) {
            $fitting = array_slice($fitting, 0, 1);
        }
        if (count($fitting) !== 1 || $values->emptyTexts > 0) {
            return TypeProposal::text('numbers written with groups: say how under "written like", if they are numbers', true);
        }
        $form = array_key_first($fitting);

        return new TypeProposal($fitting[$form] === 0 ? ['type' => 'integer', 'read_as' => $form] : ['type' => 'decimal', 'scale' => $fitting[$form], 'read_as' => $form], "written like $form");
    }
}
