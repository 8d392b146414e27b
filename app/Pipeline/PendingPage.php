<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Transport\Sent;
use App\Transport\Transfer;
use DeepSpring\Ask\PageRequest;

/**
 * The request for one page, from the moment it is wanted to the answer that counts.
 */
final class PendingPage
{
    public ?Transfer $transfer = null;

    public ?Sent $answer = null;

    public ?ReadingFailed $error = null;

    /** Attempts since the source was last known to be there. */
    public int $attempt = 0;

    /** All of them. */
    public int $attempts = 0;

    /** Milliseconds waited between attempts. */
    public int $waited = 0;

    /** When it may leave, in seconds since 1970. */
    public float $at = 0.0;

    public bool $isReserved = false;

    public bool $isRenewed = false;

    /** Which tokens it left with. */
    public int $generation = 0;

    /** When it first failed, in seconds since 1970. */
    public ?float $failingSince = null;

    public ?Sent $lastFailure = null;

    /**
     * @param  array<string, list<string>>  $inputs  values, where they are not the same for all pages
     */
    public function __construct(public readonly int $page, public readonly PageRequest $step, public readonly array $inputs = [])
    {
    }
}
