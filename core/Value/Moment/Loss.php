<?php

declare(strict_types=1);

namespace DeepSpring\Value\Moment;

/**
 * What a moment had that the database has no place for.
 */
enum Loss: string
{
    case Fraction = 'digits finer than a microsecond, which are cut';
    case LeapSecond = 'a leap second, kept as the second after it';
}
