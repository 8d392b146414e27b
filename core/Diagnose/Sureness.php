<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

/**
 * How sure a diagnosis is of its cause.
 */
enum Sureness: int
{
    /** The evidence allows no other cause. */
    case Certain = 3;
    case Likely = 2;
    case Possible = 1;
    /** Only what the status itself says. */
    case General = 0;

    public function label(): string
    {
        return match ($this) {
            self::Certain => 'certain',
            self::Likely => 'likely',
            self::Possible => 'possible',
            self::General => 'general',
        };
    }
}
