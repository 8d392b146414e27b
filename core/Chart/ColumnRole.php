<?php

declare(strict_types=1);

namespace DeepSpring\Chart;

/**
 * What a column can be in a picture.
 */
enum ColumnRole
{
    case Moment;
    case Amount;

    /** A text, or a number that names something. */
    case Name;
}
