<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

use DeepSpring\Flatten\Proposal\SampledValues;

/**
 * Whole numbers that are moments, by their range and the name of the field: seconds or milliseconds
 * since 1970 from 1990 to 2100, or a day like 20310302.
 */
final readonly class EpochGuess implements Guess
{
    private const MOMENT = '/(?:^|_|(?<=[a-z])(?=[A-Z]))(?:at|on|date|time|timestamp|ts|created|updated|modified|changed|since|until|expires|expiry|expiration|from|till|start|end|due|epoch|iat|exp|nbf|last_?seen)(?:_?(?:ms|utc|time|date|at|on|millis|epoch|sec|seconds))?$/i';

    private const SECONDS = [631152000, 4102444800];

    public function of(SampledValues $values, string $name): ?TypeProposal
    {
        $areTexts = $values->isText() && $values->emptyTexts === 0 && $values->allMatch('/^[1-9]\d{7,12}$/D');
        if (! $areTexts && ($values->integers === 0 || $values->integers !== $values->filled) || preg_match(self::MOMENT, $name) !== 1) {
            return null;
        }
        $numbers = $areTexts ? array_map(intval(...), $values->texts()) : [];
        $least = $numbers !== [] ? min($numbers) : (int) $values->least;
        $most = $numbers !== [] ? max($numbers) : (int) $values->most;
        [$first, $last] = self::SECONDS;
        if ($least >= 19000101 && $most <= 21001231 && ! $areTexts && self::areDays([$least, $most])) {
            return new TypeProposal(['type' => 'date', 'read_as' => 'yyyyMMdd'], 'a day as a number');
        }

        return match (true) {
            $least >= $first && $most <= $last => new TypeProposal(['type' => 'datetime', 'read_as' => 'epoch'], 'seconds since 1970'),
            $least >= $first * 1000 && $most <= $last * 1000 => new TypeProposal(['type' => 'datetime', 'read_as' => 'epoch-ms'], 'milliseconds since 1970'),
            default => null,
        };
    }

    /**
     * @param  list<int>  $numbers
     */
    private static function areDays(array $numbers): bool
    {
        foreach ($numbers as $number) {
            if (! checkdate(intdiv($number, 100) % 100, $number % 100, intdiv($number, 10000))) {
                return false;
            }
        }

        return true;
    }
}
