<?php

declare(strict_types=1);

namespace App\Policies;

use App\Models\SavedQuery;
use App\Models\User;

/**
 * Everybody reads the queries that are shared; only their owner changes them.
 */
final class SavedQueryPolicy
{
    public function view(User $user, SavedQuery $query): bool
    {
        return ! $query->is_private || $query->user_id === $user->id;
    }

    public function update(User $user, SavedQuery $query): bool
    {
        return $query->user_id === $user->id;
    }
}
