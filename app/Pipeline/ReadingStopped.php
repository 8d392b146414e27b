<?php

declare(strict_types=1);

namespace App\Pipeline;

/**
 * Somebody stopped it, or it has to give way; what is under way was given up.
 */
final class ReadingStopped extends \RuntimeException
{
}
