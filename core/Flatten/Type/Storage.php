<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

/**
 * What a store has to hold to give back the values of a column as they were.
 */
enum Storage
{
    /** Text of any length, or of at most a number of characters. */
    case Text;

    /** Text of exactly a number of characters, ASCII. */
    case FixedText;

    /** From -2^63 to 2^63-1. */
    case Integer;

    /** As many digits as the type says, of which a number stand behind the point. */
    case Decimal;

    /** IEEE 754 binary64. */
    case Float;

    case Boolean;

    case Date;

    /** To the microsecond. */
    case Time;

    /** In UTC, to the microsecond. */
    case DateTime;

    /** Text that is a JSON document; never part of a key. */
    case Json;
}
