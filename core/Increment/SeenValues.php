<?php

declare(strict_types=1);

namespace DeepSpring\Increment;

/**
 * What one reading saw that says from where the next one begins. All values are as the database keeps them.
 */
final readonly class SeenValues
{
    /**
     * @param  string|null  $largest  value of the column in all records; null where none had one
     * @param  string|null  $first  the largest among the records of the first answer, which were there when the reading began
     * @param  \DateTimeImmutable|null  $began  when that was, by the clock of the service (its Date header, RFC 9110 §6.6.1)
     * @param  string|null  $marker  what the last answer handed out
     */
    public function __construct(public ?string $largest = null, public ?string $first = null, public ?\DateTimeImmutable $began = null, public ?string $marker = null)
    {
    }
}
