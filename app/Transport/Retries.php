<?php

declare(strict_types=1);

namespace App\Transport;

use DeepSpring\Diagnose\Failing;

/**
 * When to send a request again that may be repeated (RFC 9110 §9.2.2), and how long to wait before it: as Retry-After says
 * (RFC 9110 §10.2.3), otherwise exponentially with full jitter.
 */
final readonly class Retries
{
    private const LONGEST_WAIT = 60;

    /**
     * @param  bool  $repeatable  whether one that is not GET or HEAD may be, because it only reads or carries an idempotency key
     * @return int|null milliseconds to wait; null when it is not to be sent again
     */
    public static function wait(Sent $sent, int $attempt, int $tries, int $now, bool $repeatable = false): ?int
    {
        if ($attempt >= $tries || ! $repeatable && ! in_array($sent->request->getMethod(), ['GET', 'HEAD'], true)) {
            return null;
        }
        $again = in_array($sent->status, [429, 502, 503, 504], true)
            || in_array($sent->failing, [Failing::Refused, Failing::ConnectTimeout, Failing::AnswerTimeout, Failing::Cut], true);
        if (! $again) {
            return null;
        }
        $asked = self::asked($sent->headers['retry-after'] ?? '', $now);
        if ($asked !== null) {
            return $asked <= self::LONGEST_WAIT ? $asked * 1000 : null;
        }

        return random_int(100, min(self::LONGEST_WAIT * 1000, 500 * 2 ** $attempt));
    }

    private static function asked(string $header, int $now): ?int
    {
        if (ctype_digit($header)) {
            return (int) $header;
        }
        $date = $header === '' ? false : strtotime($header);

        return $date === false ? null : max(0, $date - $now);
    }
}
