<?php

declare(strict_types=1);

namespace DeepSpring\Value\Moment;

use Brick\Math\BigDecimal;
use Brick\Math\RoundingMode;
use DeepSpring\Value\Unfit;

/**
 * Seconds or milliseconds since 1970-01-01 in UTC.
 */
final readonly class Epoch implements MomentReader
{
    public function __construct(private bool $milliseconds)
    {
    }

    public function read(string|int|float|bool $value): Moment|Unfit
    {
        $digits = is_float($value) ? (string) json_encode($value) : $value;
        if (is_bool($digits) || ! is_int($digits) && preg_match('/^-?\d{1,20}(?:\.\d{1,20})?$/D', $digits) !== 1) {
            return is_float($value) && abs($value) > 1e15 ? new Unfit('outside the years 1000 to 9999') : new Unfit('not a number of '.($this->milliseconds ? 'milliseconds' : 'seconds').' since 1970');
        }
        if (is_int($digits) && abs($digits) < 1e15) {
            $unit = $this->milliseconds ? 1000 : 1;
            $rest = (($digits % $unit) + $unit) % $unit;

            return Moment::fromSeconds(intdiv($digits - $rest, $unit), $rest * 1000);
        }
        $exact = BigDecimal::of($digits)->multipliedBy($this->milliseconds ? 1000 : 1_000_000);
        $micro = $exact->toScale(0, RoundingMode::FLOOR)->toBigInteger();
        $isCut = ! $exact->isEqualTo($micro);
        if ($micro->abs()->isGreaterThan('300000000000000000')) {
            return new Unfit('outside the years 1000 to 9999');
        }
        $micro = $micro->toInt();
        $rest = (($micro % 1_000_000) + 1_000_000) % 1_000_000;

        $moment = Moment::fromSeconds(intdiv($micro - $rest, 1_000_000), $rest);

        return $isCut && $moment instanceof Moment ? $moment->missing(Loss::Fraction) : $moment;
    }
}
