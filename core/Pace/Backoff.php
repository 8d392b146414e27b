<?php

declare(strict_types=1);

namespace DeepSpring\Pace;

use DeepSpring\Ask\SendFailure;

/**
 * Whether a request that failed is sent again (RFC 9110 §9.2.2), and when: as the service asks,
 * otherwise exponentially with full jitter.
 */
final readonly class Backoff
{
    /** Milliseconds: the widest wait, and the widest wait after the first failure. */
    private const MOST = 60_000;

    private const BASE = 1_000;

    /**
     * Whether what happened may pass by itself.
     */
    public static function isPassing(?int $status, ?SendFailure $failing): bool
    {
        return in_array($status, [408, 425, 429, 502, 503, 504], true) || in_array($failing, [SendFailure::Refused, SendFailure::ConnectTimeout, SendFailure::AnswerTimeout, SendFailure::Cut], true);
    }

    /**
     * @param  int  $attempt  that has just failed, from 1
     * @param  bool  $safe  whether the request may be repeated: it only reads, or carries an idempotency key
     * @param  float|null  $asked  seconds that the service asked to wait
     * @param  float  $chance  from 0 to 1
     * @return int|null milliseconds to wait; null when it is not to be sent again
     */
    public static function wait(?int $status, ?SendFailure $failing, int $attempt, int $tries, bool $safe, ?float $asked, float $chance): ?int
    {
        if ($attempt >= $tries || ! $safe || ! self::isPassing($status, $failing)) {
            return null;
        }
        $wide = min(self::MOST, self::BASE * 2 ** ($attempt - 1));
        if ($asked !== null) {
            // A little later than asked, so that those who were asked the same do not come at once.
            return $asked * 1000 > self::MOST ? null : (int) ($asked * 1000 + $chance * min(1000, $wide));
        }

        return max(50, (int) ($chance * $wide));
    }
}
