<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

/**
 * A type for a column, and why it is that one.
 */
final readonly class TypeProposal
{
    /**
     * @param  array<string, mixed>  $column  type, and what goes with it in a source file
     * @param  string|null  $note  what a person should know of it
     * @param  bool  $asks  whether a person has to say something
     */
    public function __construct(public array $column, public ?string $note = null, public bool $asks = false)
    {
    }

    public static function text(?string $note = null, bool $asks = false): self
    {
        return new self(['type' => 'text'], $note, $asks);
    }
}
