<?php

declare(strict_types=1);

namespace App\Models;

enum RunState: string
{
    case Queued = 'queued';
    case Running = 'running';
    case Done = 'done';
    case Failed = 'failed';
    case Stopped = 'stopped';

    public function isOver(): bool
    {
        return $this !== self::Queued && $this !== self::Running;
    }

    public function label(): string
    {
        return match ($this) {
            self::Queued => 'waiting',
            self::Running => 'reading',
            default => $this->value,
        };
    }
}
