<?php

declare(strict_types=1);

namespace App\Transport;

use GuzzleHttp\Exception\TransferException;

final class UnknownName extends TransferException
{
    public static function of(string $host): self
    {
        return new self("No address is known for $host.");
    }
}
