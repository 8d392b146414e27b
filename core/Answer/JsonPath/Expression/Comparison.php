<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use Brick\Math\BigDecimal;
use DeepSpring\Answer\JsonPath\Evaluation;
use DeepSpring\Answer\JsonPath\JsonPathTokenKind;
use DeepSpring\Value\JsonText;

/**
 * Two values compared by the rules of RFC 9535 §2.3.5.2.2: types that differ are unequal and in no
 * order, strings are ordered by code point, arrays and objects only have equality. Numbers that PHP would
 * change come as `JsonText`.
 */
final readonly class Comparison implements Logical
{
    public function __construct(private Comparable $left, private JsonPathTokenKind $operator, private Comparable $right)
    {
    }

    public function holds(mixed $current, Evaluation $in): bool
    {
        $left = $this->left->value($current, $in);
        $right = $this->right->value($current, $in);

        return match ($this->operator) {
            JsonPathTokenKind::Equal => self::same($left, $right),
            JsonPathTokenKind::NotEqual => ! self::same($left, $right),
            JsonPathTokenKind::Less => self::less($left, $right),
            JsonPathTokenKind::Greater => self::less($right, $left),
            JsonPathTokenKind::LessOrEqual => self::less($left, $right) || self::same($left, $right),
            JsonPathTokenKind::GreaterOrEqual => self::less($right, $left) || self::same($left, $right),
            default => throw new \LogicException("{$this->operator->value} does not compare."),
        };
    }

    private static function same(mixed $left, mixed $right): bool
    {
        if (self::isNumber($left) && self::isNumber($right)) {
            return self::compared($left, $right) === 0;
        }
        if (is_array($left) && is_array($right)) {
            return count($left) === count($right) && self::sameMembers($left, $right);
        }
        if ($left instanceof \stdClass && $right instanceof \stdClass) {
            $left = get_object_vars($left);
            $right = get_object_vars($right);

            return count($left) === count($right) && self::sameMembers($left, $right);
        }

        return $left === $right;
    }

    /**
     * @param  array<array-key, mixed>  $left
     * @param  array<array-key, mixed>  $right
     */
    private static function sameMembers(array $left, array $right): bool
    {
        foreach ($left as $name => $value) {
            if (! array_key_exists($name, $right) || ! self::same($value, $right[$name])) {
                return false;
            }
        }

        return true;
    }

    private static function less(mixed $left, mixed $right): bool
    {
        if (self::isNumber($left) && self::isNumber($right)) {
            return self::compared($left, $right) < 0;
        }

        return is_string($left) && is_string($right) && strcmp($left, $right) < 0;
    }

    /**
     * @phpstan-assert-if-true int|float|JsonText $value
     */
    private static function isNumber(mixed $value): bool
    {
        return is_int($value) || is_float($value) || $value instanceof JsonText;
    }

    /**
     * Two numbers by all of their digits, where these are known.
     */
    private static function compared(int|float|JsonText $left, int|float|JsonText $right): int
    {
        if (! $left instanceof JsonText && ! $right instanceof JsonText) {
            return $left <=> $right;
        }
        [$one, $other] = [self::exact($left), self::exact($right)];

        return $one === null || $other === null ? self::float($left) <=> self::float($right) : $one->compareTo($other);
    }

    private static function exact(int|float|JsonText $number): ?BigDecimal
    {
        $digits = $number instanceof JsonText ? $number->json : (string) json_encode($number);

        return preg_match('/[eE][+-]?\d{4}/', $digits) === 1 ? null : BigDecimal::of($digits);
    }

    private static function float(int|float|JsonText $number): float
    {
        return (float) ($number instanceof JsonText ? $number->json : $number);
    }
}
