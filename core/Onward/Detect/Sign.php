<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

/**
 * Looks for one kind of sign that there are more pages, and says what it would mean.
 */
interface Sign
{
    /**
     * @return list<PagingProposal>
     */
    public function propose(FirstAnswer $answer): array;
}
