<?php

declare(strict_types=1);

namespace App\Transport;

use GuzzleHttp\Exception\TransferException;

/**
 * A request that was not sent, since its address is none that requests may go to.
 */
final class OutboundRefused extends TransferException
{
    public static function because(string $reason): self
    {
        return new self($reason);
    }
}
