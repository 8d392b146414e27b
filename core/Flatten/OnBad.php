<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

/**
 * What becomes of a value that does not fit.
 */
enum OnBad: string
{
    case RejectValue = 'reject-value';
    case RejectRecord = 'reject-record';
    case Fail = 'fail';
}
