<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

use Brick\Math\BigDecimal;
use Brick\Math\Exception\MathException;
use Brick\Math\RoundingMode;

/**
 * Exact arithmetic: whole numbers while they fit, digits after that. No float is ever in it.
 */
final class ExactNumbers
{
    /** Digits that a number has at most. */
    private const LONGEST = 400;

    /** Decimals of a division that does not end. */
    private const DECIMALS = 20;

    /**
     * @throws CannotEvaluate
     */
    public static function of(mixed $value): int|BigDecimal
    {
        if (is_int($value) || $value instanceof BigDecimal) {
            return $value;
        }
        if (is_float($value) && is_finite($value)) {
            $value = (string) json_encode($value);
        }
        if (is_string($value) && strlen($value) <= self::LONGEST && preg_match('/^-?\d+(?:\.\d+)?(?:[eE][+-]?\d{1,3})?$/D', trim($value)) === 1) {
            return self::bounded(BigDecimal::of(trim($value)));
        }

        throw CannotEvaluate::because(is_scalar($value) ? 'not a number: '.mb_strimwidth(is_bool($value) ? var_export($value, true) : (string) $value, 0, 40, '…', 'UTF-8') : 'not a number, but a structure');
    }

    public static function calculate(string $sign, int|BigDecimal $left, int|BigDecimal $right): int|BigDecimal
    {
        if (is_int($left) && is_int($right)) {
            $simple = match ($sign) {
                '+' => $left + $right,
                '-' => $left - $right,
                '*' => $left * $right,
                '%' => $right === 0 ? null : ($right === -1 ? 0 : $left % $right),
                default => $right === 0 || $right === -1 || $left % $right !== 0 ? null : intdiv($left, $right),
            };
            if (is_int($simple)) {
                return $simple;
            }
        }
        try {
            return self::bounded(match ($sign) {
                '+' => BigDecimal::of($left)->plus($right),
                '-' => BigDecimal::of($left)->minus($right),
                '*' => BigDecimal::of($left)->multipliedBy($right),
                '%' => BigDecimal::of($left)->remainder($right),
                default => BigDecimal::of($left)->dividedBy($right, self::DECIMALS, RoundingMode::HALF_EVEN),
            });
        } catch (MathException) {
            throw CannotEvaluate::because('a division by zero');
        }
    }

    public static function compare(int|BigDecimal $left, int|BigDecimal $right): int
    {
        return is_int($left) && is_int($right) ? $left <=> $right : BigDecimal::of($left)->compareTo($right);
    }

    /**
     * Without zeros at the end.
     */
    public static function text(int|BigDecimal $number): string
    {
        return is_int($number) ? (string) $number : (string) ($number->getScale() > 0 ? $number->stripTrailingZeros() : $number);
    }

    /**
     * @throws CannotEvaluate
     */
    public static function bounded(BigDecimal $number): BigDecimal
    {
        if (strlen((string) $number->getUnscaledValue()) > self::LONGEST || $number->getScale() > self::LONGEST) {
            throw CannotEvaluate::because('a number of more than '.self::LONGEST.' digits');
        }

        return $number;
    }

    /**
     * @throws CannotEvaluate when it is no whole number of the size of a count
     */
    public static function count(mixed $value): int
    {
        $number = self::of($value);
        if (is_int($number)) {
            return $number;
        }
        $text = self::text($number);

        return preg_match('/^-?\d{1,15}$/D', $text) === 1 ? (int) $text : throw CannotEvaluate::because("$text is no whole number");
    }
}
