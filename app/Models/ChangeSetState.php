<?php

declare(strict_types=1);

namespace App\Models;

enum ChangeSetState: string
{
    case Open = 'open';
    /** Nothing is sent until a second person has looked at it. */
    case Waiting = 'waiting';
    case Queued = 'queued';
    case Sending = 'sending';
    case Stopped = 'stopped';
    case Done = 'done';

    public function isUnderWay(): bool
    {
        return $this === self::Queued || $this === self::Sending;
    }

    public function words(): string
    {
        return match ($this) {
            self::Open => 'not sent',
            self::Waiting => 'waits for approval',
            self::Queued => 'waits for a worker',
            self::Sending => 'being sent',
            self::Stopped => 'stopped',
            self::Done => 'done',
        };
    }
}
