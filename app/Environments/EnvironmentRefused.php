<?php

declare(strict_types=1);

namespace App\Environments;

final class EnvironmentRefused extends \RuntimeException
{
    public static function because(string $reason): self
    {
        return new self($reason);
    }
}
