<?php

declare(strict_types=1);

namespace App\Secrets;

final class UnreadableSecret extends \RuntimeException
{
}
