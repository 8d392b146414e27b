<?php

declare(strict_types=1);

namespace App\Console\Commands;

final class WrongUse extends \RuntimeException
{
}
