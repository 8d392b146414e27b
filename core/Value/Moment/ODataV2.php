<?php

declare(strict_types=1);

namespace DeepSpring\Value\Moment;

use DeepSpring\Value\Unfit;

/**
 * `/Date(ms)/` and `/Date(ms+minutes)/`, as OData 2 writes Edm.DateTime and Edm.DateTimeOffset in
 * JSON: milliseconds in UTC, and the minutes that the place was ahead of it.
 */
final readonly class ODataV2 implements MomentReader
{
    public function read(string|int|float|bool $value): Moment|Unfit
    {
        if (! is_string($value) || preg_match('~^/Date\((-?\d{1,17})(?:[+-]\d{1,4})?\)/$~D', $value, $part) !== 1) {
            return new Unfit($value === '' ? 'an empty string where a time was expected' : 'not written like /Date(1893456000000)/');
        }

        return (new Epoch(true))->read((int) $part[1]);
    }
}
