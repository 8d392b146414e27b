<?php

declare(strict_types=1);

namespace App\Models;

/**
 * What came of a check in a run. The value is the word for it.
 */
enum CheckOutcome: string
{
    case Held = 'held';

    case Broken = 'broken';

    /** It could not be looked at. */
    case Unknown = 'unknown';
}
