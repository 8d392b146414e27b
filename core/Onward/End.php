<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

/**
 * Why a list is over, in a sentence that can be shown.
 */
final readonly class End
{
    public function __construct(public EndReason $reason, public string $sentence)
    {
    }

    /**
     * Whether more may exist: the run was told to stop before the API said it was done.
     */
    public function isCutShort(): bool
    {
        return $this->reason === EndReason::MaxPages || $this->reason === EndReason::MaxRecords;
    }
}
