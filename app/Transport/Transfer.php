<?php

declare(strict_types=1);

namespace App\Transport;

use GuzzleHttp\Promise\PromiseInterface;

/**
 * A request under way. Once it is settled, `sent` says what came of it.
 */
final class Transfer
{
    /** @var (\Closure(int, int): Sent)|null */
    private ?\Closure $sent = null;

    private ?PromiseInterface $promise = null;

    /**
     * @param  PromiseInterface  $promise  which settles this before it is fulfilled
     */
    public function of(PromiseInterface $promise): void
    {
        $this->promise = $promise;
    }

    /**
     * @param  \Closure(int, int): Sent  $sent  given the milliseconds waited before it, and the number of the attempt
     */
    public function complete(\Closure $sent): void
    {
        $this->sent = $sent;
    }

    public function isComplete(): bool
    {
        return $this->sent !== null;
    }

    public function sent(int $waited = 0, int $attempt = 1): Sent
    {
        return ($this->sent ?? throw new \LogicException('It is still under way.'))($waited, $attempt);
    }

    public function wait(): void
    {
        $this->promise?->wait(false);
    }

    public function cancel(): void
    {
        $this->promise?->cancel();
    }
}
