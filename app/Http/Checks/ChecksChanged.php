<?php

declare(strict_types=1);

namespace App\Http\Checks;

/**
 * Somebody else, or another tab, changed the checks while they were being changed here.
 */
final class ChecksChanged extends \RuntimeException
{
    public function __construct()
    {
        parent::__construct('These checks were changed elsewhere since this page was opened. What you typed stands below. Keep it in their place, or open the page anew.');
    }
}
