<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;
use DeepSpring\Answer\JsonPath\IRegexp;

/**
 * match() on the whole of a string, search() on any part of it (RFC 9535 §2.4.6 and §2.4.7).
 */
final readonly class MatchFunction implements Logical
{
    public function __construct(private Comparable $text, private Comparable $pattern, private bool $whole)
    {
    }

    public function holds(mixed $current, Evaluation $in): bool
    {
        $text = $this->text->value($current, $in);
        $pattern = $this->pattern->value($current, $in);

        return is_string($text) && is_string($pattern)
            && IRegexp::compile($pattern)?->matches($text, $this->whole) === true;
    }
}
