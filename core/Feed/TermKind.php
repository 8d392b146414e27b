<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * What a part of a condition gives.
 */
enum TermKind: string
{
    case Text = 'a text';
    case Number = 'a number';
    case Float = 'a floating-point number';
    case Boolean = 'true or false';
    case Date = 'a date';
    case Moment = 'a date with time';
    case Time = 'a time of day';
    case Guid = 'a GUID';
    case Json = 'JSON';
    case Nothing = 'null';

    public function isNumber(): bool
    {
        return $this === self::Number || $this === self::Float;
    }
}
