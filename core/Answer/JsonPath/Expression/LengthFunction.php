<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;

/**
 * length(): characters of a string, elements of an array, members of an object (RFC 9535 §2.4.4).
 */
final readonly class LengthFunction implements Comparable
{
    public function __construct(private Comparable $of)
    {
    }

    public function value(mixed $current, Evaluation $in): int|Nothing
    {
        $value = $this->of->value($current, $in);

        return match (true) {
            is_string($value) => mb_strlen($value, 'UTF-8'),
            is_array($value) => count($value),
            $value instanceof \stdClass => count(get_object_vars($value)),
            default => Nothing::Here,
        };
    }
}
