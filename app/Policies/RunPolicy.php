<?php

declare(strict_types=1);

namespace App\Policies;

use App\Models\Run;
use App\Models\User;

/**
 * A run shows what was asked of a source, so it is for those who may see the source.
 */
final class RunPolicy
{
    public function viewAny(User $user): bool
    {
        return $user->role->mayBuild();
    }

    public function view(User $user, Run $run): bool
    {
        return $user->role->mayBuild();
    }

    public function update(User $user, Run $run): bool
    {
        return $user->role->mayBuild();
    }
}
