<?php

declare(strict_types=1);

namespace DeepSpring\Value\Moment;

use DeepSpring\Value\Unfit;

/**
 * One way in which days and times are written. Structures never come here.
 */
interface MomentReader
{
    public function read(string|int|float|bool $value): Moment|Unfit;
}
