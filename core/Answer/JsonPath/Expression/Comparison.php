<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;
use DeepSpring\Answer\JsonPath\JsonPathTokenKind;

/**
 * Two values compared by the rules of RFC 9535 §2.3.5.2.2: types that differ are unequal and in no
 * order, strings are ordered by code point, arrays and objects only have equality.
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
        if ((is_int($left) || is_float($left)) && (is_int($right) || is_float($right))) {
            return $left == $right;
        }
        if (is_array($left) && is_array($right)) {
            return count($left) === count($right) && self::sameMembers($left, $right);
        }
        if (is_object($left) && is_object($right) && ! $left instanceof Nothing && ! $right instanceof Nothing) {
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
        if ((is_int($left) || is_float($left)) && (is_int($right) || is_float($right))) {
            return $left < $right;
        }

        return is_string($left) && is_string($right) && strcmp($left, $right) < 0;
    }
}
