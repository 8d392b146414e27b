<?php

declare(strict_types=1);

namespace App\Queries\Live;

/**
 * Some of the rows that a service was asked for did not fit, so that too few are left.
 */
final class CutTooShort extends \RuntimeException
{
}
