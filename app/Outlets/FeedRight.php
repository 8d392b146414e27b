<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Consumer;
use App\Models\Feed;
use App\Models\Principal;
use App\Models\User;

/**
 * Whether somebody may read a feed: people those that are for people, consumers those that were given to them.
 */
final class FeedRight
{
    public static function mayRead(Principal $reader, Feed $feed): bool
    {
        return $reader instanceof User ? $feed->for_people : $reader instanceof Consumer && $reader->feeds()->whereKey($feed->id)->exists();
    }
}
