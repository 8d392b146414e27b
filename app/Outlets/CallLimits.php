<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Consumer;
use Illuminate\Database\Connection;
use Illuminate\Support\Carbon;
use Illuminate\Support\Collection;

/**
 * How much a consumer may ask: requests a minute and a day, rows a day. Counted in the database, in one statement, so
 * that all web servers count together and none asks more than it has to.
 */
final readonly class CallLimits
{
    private const MINUTE = 60;

    private const DAY = 86_400;

    public function __construct(private Connection $database)
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
        $now = Carbon::now()->getTimestamp();
        // Each span begins anew with its first request.
        $found = (new Collection($this->database->select(
            'insert into consumer_counts (consumer_id, span, starts, requests, `rows`) values (?, ?, ?, 1, 0), (?, ?, ?, 1, 0) on duplicate key update requests = if(values(starts) >= starts + span, 1, requests + 1), `rows` = if(values(starts) >= starts + span, 0, `rows`), starts = if(values(starts) >= starts + span, values(starts), starts) returning span, starts, requests, `rows`',
            [$consumer->id, self::MINUTE, $now, $consumer->id, self::DAY, $now],
        )))->keyBy('span');
        $left = static fn (int $span): int => max(1, (int) ($found->get($span)->starts ?? $now) + $span - $now);
        $of = static fn (int $span, string $what): int => (int) ($found->get($span)->{$what} ?? 0);
        if ($consumer->rows_a_day !== null && $of(self::DAY, 'rows') >= $consumer->rows_a_day) {
            throw self::tooMany($consumer->rows_a_day, 'rows a day', $left(self::DAY));
        }
        if ($of(self::DAY, 'requests') > $consumer->a_day) {
            throw self::tooMany($consumer->a_day, 'requests a day', $left(self::DAY));
        }
        if ($of(self::MINUTE, 'requests') > $consumer->a_minute) {
            throw self::tooMany($consumer->a_minute, 'requests a minute', $left(self::MINUTE));
        }

        return ['RateLimit-Limit' => (string) $consumer->a_minute, 'RateLimit-Remaining' => (string) ($consumer->a_minute - $of(self::MINUTE, 'requests')), 'RateLimit-Reset' => (string) $left(self::MINUTE)];
    }

    public function countRows(Consumer $consumer, int $rows): void
    {
        if ($consumer->rows_a_day !== null && $rows > 0) {
            $this->database->table('consumer_counts')->where(['consumer_id' => $consumer->id, 'span' => self::DAY])->increment('rows', $rows);
        }
    }

    private static function tooMany(int $most, string $what, int $wait): FeedProblem
    {
        return new FeedProblem(429, "More than $most $what. There is room again in $wait s.", ['Retry-After' => (string) $wait, 'RateLimit-Limit' => (string) $most, 'RateLimit-Remaining' => '0', 'RateLimit-Reset' => (string) $wait]);
    }
}
