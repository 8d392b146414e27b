<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use App\Models\FeedCall;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\Cache;
use Illuminate\Support\Facades\DB;

/**
 * How often a feed was asked for in the last days.
 */
final readonly class CallFigures
{
    public const DAYS = 7;

    /** Of which the slowest are found. */
    private const LAST = 10_000;

    /**
     * @param  int|null  $slowest  milliseconds from which on the slowest 1 % of the last ten thousand took; null without requests
     * @param  list<array{day: Carbon, answered: int, refused: int}>  $days  the oldest first
     */
    private function __construct(public int $requests, public int $refused, public ?int $slowest, public array $days)
    {
    }

    public static function of(Feed $feed): self
    {
        $days = self::days($feed);
        $requests = array_sum(array_column($days, 'answered')) + array_sum(array_column($days, 'refused'));
        $last = FeedCall::query()->where('feed_id', $feed->id)->where('at', '>=', $days[0]['day'])->toBase()->select('milliseconds')->orderByDesc('at')->limit(self::LAST);
        $slowest = $requests === 0 ? null : (int) DB::query()->fromSub($last, 'last')->orderByDesc('milliseconds')->skip(intdiv(min($requests, self::LAST), 100))->value('milliseconds');

        return new self($requests, array_sum(array_column($days, 'refused')), $slowest, $days);
    }

    /**
     * Days that are over are counted once.
     *
     * @return non-empty-list<array{day: Carbon, answered: int, refused: int}> the oldest first
     */
    public static function days(Feed $feed): array
    {
        $today = Carbon::now()->startOfDay();
        $name = static fn (Carbon $day): string => "feed-day:$feed->id:{$day->format('Y-m-d')}";
        $days = array_map(static fn (int $back): Carbon => $today->copy()->subDays($back), range(self::DAYS - 1, 0));
        $known = Cache::many(array_map($name, array_slice($days, 0, -1)));
        $counted = [];
        foreach ($days as $day) {
            $found = $known[$name($day)] ?? null;
            if (! is_array($found)) {
                $row = FeedCall::query()->where('feed_id', $feed->id)->where('at', '>=', $day)->where('at', '<', $day->copy()->addDay())->toBase()->selectRaw('coalesce(sum(status < 400), 0) as answered, coalesce(sum(status >= 400), 0) as refused')->first();
                $found = [(int) ($row->answered ?? 0), (int) ($row->refused ?? 0)];
                $day->equalTo($today) || Cache::put($name($day), $found, self::DAYS * 86_400);
            }
            $counted[] = ['day' => $day, 'answered' => (int) $found[0], 'refused' => (int) $found[1]];
        }

        return $counted;
    }
}
