<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Consumer;
use App\Models\Feed;
use App\Models\Principal;
use App\Models\User;
use Illuminate\Database\Eloquent\Builder;

/**
 * Whether somebody may read a feed: people those that are for people, consumers those that were given to them.
 */
final class FeedRight
{
    /**
     * All that somebody may read, on or off.
     *
     * @return Builder<Feed>
     */
    public static function readable(Principal $reader): Builder
    {
        return match (true) {
            $reader instanceof Consumer => $reader->feeds()->getQuery(),
            $reader instanceof User => Feed::query()->where('for_people', true),
            default => Feed::query()->whereKey(0),
        };
    }

    public static function mayRead(Principal $reader, Feed $feed): bool
    {
        return $reader instanceof User ? $feed->for_people : $reader instanceof Consumer && $reader->feeds()->whereKey($feed->id)->exists();
    }
}
