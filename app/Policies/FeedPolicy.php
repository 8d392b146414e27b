<?php

declare(strict_types=1);

namespace App\Policies;

use App\Models\Feed;
use App\Models\Role;
use App\Models\User;

/**
 * Everybody sees which feeds there are; whoever answers for one changes it.
 */
final class FeedPolicy
{
    public function update(User $user, Feed $feed): bool
    {
        return $feed->user_id === $user->id || $user->role === Role::Administrator;
    }
}
