<?php

declare(strict_types=1);

namespace App\Models;

enum Role: string
{
    case Administrator = 'administrator';
    case Builder = 'builder';
    case Analyst = 'analyst';

    public function mayBuild(): bool
    {
        return $this !== self::Analyst;
    }
}
