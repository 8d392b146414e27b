<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

/**
 * From a first answer, the ways in which the rest may come, the likeliest first. None where there
 * is no sign of more.
 */
final readonly class Detector
{
    /** @var list<Sign> */
    private array $signs;

    public function __construct()
    {
        $this->signs = [new LinkHeaderSign, new RangeSign, new NextLinkSign, new CursorSign, new PageSign, new OffsetSign, new PartitionSign, new RemainderSign];
    }

    /**
     * @return list<PagingProposal>
     */
    public function propose(FirstAnswer $answer): array
    {
        $found = [];
        foreach ($this->signs as $sign) {
            foreach ($sign->propose($answer) as $proposal) {
                $known = $found[$proposal->onward['style']] ?? null;
                if ($known === null || $known->weight < $proposal->weight) {
                    $found[$proposal->onward['style']] = $proposal;
                }
            }
        }
        usort($found, static fn (PagingProposal $a, PagingProposal $b): int => $b->weight <=> $a->weight);

        return $found;
    }
}
