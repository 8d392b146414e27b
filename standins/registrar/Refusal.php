<?php

declare(strict_types=1);

namespace StandIns\Registrar;

/**
 * The service says no.
 */
final class Refusal extends \RuntimeException
{
    public function __construct(public readonly int $status, public readonly string $errorCode, string $message, public readonly ?string $target = null)
    {
        parent::__construct($message);
    }
}
