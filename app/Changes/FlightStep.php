<?php

declare(strict_types=1);

namespace App\Changes;

enum FlightStep: string
{
    /** What the record is now, before it is changed. */
    case Look = 'look';
    case Write = 'write';
    /** Whether a change without an answer was done. */
    case Settle = 'settle';
    /** What the record is after it. */
    case After = 'after';
}
