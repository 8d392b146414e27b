<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Consumer;
use Illuminate\Cache\RateLimiter;

/**
 * How much a consumer may ask: requests a minute and a day, rows a day. Counted where all web servers see it.
 */
final readonly class CallLimits
{
    private const MINUTE = 60;

    private const DAY = 86_400;

    public function __construct(private RateLimiter $limiter)
    {
    }

    /**
     * Counts a request.
     *
     * @return array<string, string> headers that say what is left (draft-ietf-httpapi-ratelimit-headers-03 §3)
     *
     * @throws FeedProblem where there were too many
     */
    public function take(Consumer $consumer): array
    {
        $this->within("feed-rows:$consumer->id", $consumer->rows_a_day, 'rows', 'a day');
        $this->within("feed-day:$consumer->id", $consumer->a_day, 'requests', 'a day');
        $this->within("feed-minute:$consumer->id", $consumer->a_minute, 'requests', 'a minute');
        $this->limiter->hit("feed-day:$consumer->id", self::DAY);
        $this->limiter->hit("feed-minute:$consumer->id", self::MINUTE);

        return [
            'RateLimit-Limit' => (string) $consumer->a_minute,
            'RateLimit-Remaining' => (string) max(0, $this->limiter->remaining("feed-minute:$consumer->id", $consumer->a_minute)),
            'RateLimit-Reset' => (string) $this->limiter->availableIn("feed-minute:$consumer->id"),
        ];
    }

    public function countRows(Consumer $consumer, int $rows): void
    {
        if ($consumer->rows_a_day !== null && $rows > 0) {
            $this->limiter->increment("feed-rows:$consumer->id", self::DAY, $rows);
        }
    }

    /**
     * @throws FeedProblem
     */
    private function within(string $key, ?int $most, string $what, string $period): void
    {
        if ($most !== null && $this->limiter->tooManyAttempts($key, $most)) {
            $wait = max(1, $this->limiter->availableIn($key));
            throw new FeedProblem(429, "More than $most $what $period. There is room again in $wait s.", ['Retry-After' => (string) $wait, 'RateLimit-Limit' => (string) $most, 'RateLimit-Remaining' => '0', 'RateLimit-Reset' => (string) $wait]);
        }
    }
}
