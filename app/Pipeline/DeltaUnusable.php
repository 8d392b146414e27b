<?php

declare(strict_types=1);

namespace App\Pipeline;

/**
 * Changes cannot be applied, so everything is read; the message says why, as the rest of a sentence.
 */
final class DeltaUnusable extends \RuntimeException
{
}
