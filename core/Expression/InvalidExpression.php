<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

use DeepSpring\Value\NearestName;

/**
 * A text that is no expression, and where it stops being one.
 */
final class InvalidExpression extends \InvalidArgumentException
{
    private function __construct(
        string $message,
        /** Characters before the place, from 0. */
        public readonly int $position,
    ) {
        parent::__construct('At character '.($position + 1).": $message");
    }

    public static function at(int $position, string $message): self
    {
        return new self($message, $position);
    }

    /**
     * @param  list<string>  $known
     */
    public static function unknown(int $position, string $what, string $name, array $known): self
    {
        $near = NearestName::to($name, $known, 0.5);

        return new self("there is no $what \"$name\"".($near === null ? '.' : "; \"$near\" was probably meant."), $position);
    }

    public static function kind(int $position, string $where, ValueKind $wanted, ValueKind $given): self
    {
        $hint = match (true) {
            $wanted === ValueKind::Number && $given === ValueKind::Text => '; number(…) makes one of a text',
            $wanted->isMoment() && $given === ValueKind::Text => '; date(…) or datetime(…) makes one of a text',
            default => '',
        };

        return new self("$where wants {$wanted->value}, and this is {$given->value}$hint.", $position);
    }
}
