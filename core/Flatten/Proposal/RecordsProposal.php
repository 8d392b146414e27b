<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

/**
 * Where the records of an answer may be, as the `answer` of a source file says it, and why.
 */
final readonly class RecordsProposal
{
    /**
     * @param  array{records?: string, rows?: array{names: string, data: string}}  $answer  empty: the whole answer is one record
     */
    public function __construct(public array $answer, public int $count, public string $why, public int $score)
    {
    }
}
