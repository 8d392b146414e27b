<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * Indexes of a table cannot be changed at the moment.
 */
final class IndexMustWait extends \RuntimeException
{
}
