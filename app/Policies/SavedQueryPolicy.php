<?php

declare(strict_types=1);

namespace App\Policies;

use App\Models\SavedQuery;
use App\Models\User;

/**
 * Everybody reads everybody's queries; only their author changes them.
 */
final class SavedQueryPolicy
{
    public function view(User $user, SavedQuery $query): bool
    {
        return true;
    }

    public function update(User $user, SavedQuery $query): bool
    {
        return $query->user_id === $user->id;
    }
}
