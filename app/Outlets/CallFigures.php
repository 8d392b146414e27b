<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use App\Models\FeedCall;
use Illuminate\Support\Carbon;

/**
 * How often a feed was asked for in the last days.
 */
final readonly class CallFigures
{
    public const DAYS = 7;

    /**
     * @param  int|null  $slowest  milliseconds from which on the slowest 1 % took; null without requests
     * @param  list<array{day: Carbon, answered: int, refused: int}>  $days  the oldest first
     */
    private function __construct(public int $requests, public int $refused, public ?int $slowest, public array $days)
    {
    }

    public static function of(Feed $feed): self
    {
        $since = Carbon::now()->startOfDay()->subDays(self::DAYS - 1);
        $calls = static fn () => FeedCall::query()->where('feed_id', $feed->id)->where('at', '>=', $since);
        $by = $calls()->toBase()->selectRaw('date(`at`) as day, sum(`status` < 400) as answered, sum(`status` >= 400) as refused')->groupBy('day')->get()->keyBy('day');
        $days = [];
        for ($day = $since->copy(), $number = 0; $number < self::DAYS; $number++, $day = $day->copy()->addDay()) {
            $one = $by->get($day->format('Y-m-d'));
            $days[] = ['day' => $day, 'answered' => (int) ($one->answered ?? 0), 'refused' => (int) ($one->refused ?? 0)];
        }
        $requests = array_sum(array_column($days, 'answered')) + array_sum(array_column($days, 'refused'));
        $slowest = $requests === 0 ? null : (int) $calls()->orderByDesc('milliseconds')->skip(intdiv($requests, 100))->value('milliseconds');

        return new self($requests, array_sum(array_column($days, 'refused')), $slowest, $days);
    }
}
