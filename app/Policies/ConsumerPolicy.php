<?php

declare(strict_types=1);

namespace App\Policies;

use App\Models\Consumer;
use App\Models\Role;
use App\Models\User;

/**
 * Whoever answers for a reader of feeds gives it keys and takes them away.
 */
final class ConsumerPolicy
{
    public function update(User $user, Consumer $consumer): bool
    {
        return $consumer->user_id === $user->id || $user->role === Role::Administrator;
    }
}
