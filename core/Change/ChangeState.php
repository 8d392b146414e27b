<?php

declare(strict_types=1);

namespace DeepSpring\Change;

use DeepSpring\Ask\SendFailure;

/**
 * What has become of a change.
 */
enum ChangeState: string
{
    case Pending = 'pending';
    /** Taken by a process that sends it. What a process left so when it died is unknown. */
    case Sending = 'sending';
    case Done = 'done';
    case Refused = 'refused';
    /** Somebody else changed the same meanwhile. */
    case Conflict = 'conflict';
    /** Sent, and no answer says whether it was done. */
    case Unknown = 'unknown';

    public function isOver(): bool
    {
        return in_array($this, [self::Done, self::Refused], true);
    }

    /**
     * What an answer to a write says (RFC 9110 §15, RFC 6585). A service that fails in the middle says nothing about
     * whether it had done it before, so only an answer that refuses is taken for "not done".
     *
     * @param  list<int>  $ok  statuses that are a success
     */
    public static function after(?int $status, ?SendFailure $failing, array $ok, RecordAct $kind): self
    {
        if ($failing !== null && $status === null) {
            // What never left has done nothing.
            return in_array($failing, [SendFailure::Forbidden, SendFailure::Name, SendFailure::Refused, SendFailure::ConnectTimeout, SendFailure::Tls], true) ? self::Pending : self::Unknown;
        }

        return match (true) {
            in_array($status, $ok, true) => self::Done,
            $status === 429, $status === 425 => self::Pending,
            $status === 412 => self::Conflict,
            $kind === RecordAct::Delete && in_array($status, [404, 410], true) => self::Done,
            $status === 408, $status === null, $status >= 500 => self::Unknown,
            default => self::Refused,
        };
    }
}
