<?php

declare(strict_types=1);

namespace DeepSpring\Value\Moment;

use DeepSpring\Value\NearestName;

/**
 * A pattern of days and times that says nothing, or too little.
 */
final class UnusablePattern extends \InvalidArgumentException
{
    /**
     * @param  list<string>  $known
     */
    public static function field(string $pattern, string $field, array $known): self
    {
        $near = NearestName::to($field, array_values(array_filter($known, static fn (string $one): bool => strcasecmp($one[0], $field[0]) === 0)), 1.0);

        return new self("\"$pattern\" has \"$field\", which stands for nothing".($near === null ? '; text stands between apostrophes.' : "; \"$near\" was probably meant."));
    }

    public static function open(string $pattern): self
    {
        return new self("\"$pattern\" has an apostrophe without its second one.");
    }

    public static function lacks(string $pattern, string $word): self
    {
        return new self("\"$pattern\" says nothing of the $word. A day is written like dd.MM.yyyy, a time like HH:mm.");
    }

    public static function twice(string $pattern): self
    {
        return new self("\"$pattern\" has the same field twice, or none.");
    }
}
