<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Functions;

use Brick\Math\BigDecimal;
use Brick\Math\RoundingMode;
use DeepSpring\Expression\CannotEvaluate;
use DeepSpring\Expression\ExactNumbers;
use DeepSpring\Expression\ValueKind;

final class NumberFunctions
{
    /**
     * @return list<Definition>
     */
    public static function all(): array
    {
        $group = 'Numbers';
        $n = ValueKind::Number;
        $places = static fn (mixed $places): int => max(-30, min(30, ExactNumbers::count($places ?? 0)));
        $extreme = static function (int $sign): \Closure {
            return static function (mixed ...$numbers) use ($sign): int|BigDecimal|null {
                $best = null;
                foreach ($numbers as $number) {
                    if ($number !== null && ($best === null || ExactNumbers::compare(ExactNumbers::of($number), $best) * $sign > 0)) {
                        $best = ExactNumbers::of($number);
                    }
                }

                return $best;
            };
        };

        return [
            new Definition($group, 'number(text)', [ValueKind::Text], $n, 'A number from a text that is written as JSON writes one.', ["number('12.50') * 2", '25'], static fn (string $text): int|BigDecimal => ExactNumbers::of($text)),
            new Definition($group, 'round(number, places)', [$n, $n], $n, 'To a count of decimals, half away from zero.', ['round(2.345, 2)', '2.35'], static fn (mixed $number, mixed $to = null): BigDecimal => self::round($number, $places($to), RoundingMode::HALF_UP), least: 1),
            new Definition($group, 'floor(number)', [$n], $n, 'The whole number below.', ['floor(-1.5)', '-2'], static fn (mixed $number): BigDecimal => self::round($number, 0, RoundingMode::FLOOR)),
            new Definition($group, 'ceiling(number)', [$n], $n, 'The whole number above.', ['ceiling(1.2)', '2'], static fn (mixed $number): BigDecimal => self::round($number, 0, RoundingMode::CEILING)),
            new Definition($group, 'abs(number)', [$n], $n, 'Without its sign.', ['abs(-3.5)', '3.5'], static fn (mixed $number): BigDecimal => BigDecimal::of(ExactNumbers::of($number))->abs()),
            new Definition($group, 'smallest(number, …)', [$n], $n, 'The smallest; what is empty is passed over.', ['smallest(3, 1.5, null)', '1.5'], $extreme(-1), repeats: true, takesEmpty: true),
            new Definition($group, 'largest(number, …)', [$n], $n, 'The largest; what is empty is passed over.', ['largest(3, 1.5, null)', '3'], $extreme(1), repeats: true, takesEmpty: true),
        ];
    }

    private static function round(mixed $number, int $places, RoundingMode $mode): BigDecimal
    {
        $exact = BigDecimal::of(ExactNumbers::of($number));
        if ($places >= 0) {
            return $exact->toScale($places, $mode);
        }
        try {
            return $exact->withPointMovedLeft(-$places)->toScale(0, $mode)->withPointMovedRight(-$places);
        } catch (\Brick\Math\Exception\MathException $failed) {
            throw CannotEvaluate::because($failed->getMessage());
        }
    }
}
