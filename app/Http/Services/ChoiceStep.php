<?php

declare(strict_types=1);

namespace App\Http\Services;

/**
 * What a button asks for beyond the fields of a choice, as the page calls it in `do`.
 */
enum ChoiceStep: string
{
    /** Whatever was changed by hand on the sheet follows from the choice again. */
    case Follow = 'follow';
}
