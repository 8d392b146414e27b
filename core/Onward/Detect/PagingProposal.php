<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

/**
 * A way to get the rest, with why it is thought and what would prove it.
 */
final readonly class PagingProposal
{
    /**
     * @param  array<string, mixed>  $onward  of a source file
     * @param  int  $weight  0 to 100: how surely the sign means this
     */
    public function __construct(public array $onward, public string $reason, public string $proof, public int $weight)
    {
    }
}
