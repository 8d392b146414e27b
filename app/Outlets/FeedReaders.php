<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Consumer;
use App\Models\Feed;
use App\Models\FeedCall;
use App\Models\User;
use Illuminate\Support\Carbon;

/**
 * Who asked for a feed lately, and who answers for each of them.
 */
final readonly class FeedReaders
{
    private const DAYS = 30;

    private const MOST = 20;

    /**
     * @return list<array{name: string, owner: string, requests: int, last: Carbon}> the one that asked last first
     */
    public static function of(Feed $feed): array
    {
        $found = FeedCall::query()->where('feed_id', $feed->id)->where('at', '>=', Carbon::now()->subDays(self::DAYS))->where('status', '<', 400)->toBase()
            ->selectRaw('consumer_id, user_id, count(*) as requests, max(at) as last')->groupBy('consumer_id', 'user_id')->orderByDesc('last')->limit(self::MOST)->get();
        $consumers = Consumer::query()->with('user')->whereKey($found->pluck('consumer_id')->filter())->get()->keyBy('id');
        $people = User::query()->whereKey($found->pluck('user_id')->filter())->pluck('name', 'id');
        $readers = [];
        foreach ($found as $one) {
            $consumer = $consumers->get((int) $one->consumer_id);
            $person = $people->get((int) $one->user_id);
            $readers[] = ['name' => $consumer->name ?? $person ?? 'somebody who is gone', 'owner' => $consumer->user->name ?? $person ?? '', 'requests' => (int) $one->requests, 'last' => Carbon::parse((string) $one->last, 'UTC')];
        }

        return $readers;
    }

    /**
     * In a sentence, for whoever is about to take something from them; empty where nobody asked.
     */
    public static function said(Feed $feed): string
    {
        $readers = self::of($feed);
        if ($readers === []) {
            return '';
        }

        return ' In the last '.self::DAYS.' days it was read by '.implode(', ', array_map(static fn (array $one): string => $one['owner'] === '' || $one['owner'] === $one['name'] ? $one['name'] : "{$one['name']} ({$one['owner']} answers for it)", array_slice($readers, 0, 5))).(count($readers) > 5 ? ' and '.(count($readers) - 5).' more' : '').'.';
    }
}
