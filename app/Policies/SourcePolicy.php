<?php

declare(strict_types=1);

namespace App\Policies;

use App\Models\Source;
use App\Models\User;

/**
 * Who may see and change how a source is reached. Analysts use what was made from it, and never
 * see its settings. What stands for the rows of a query is its owner's, and has no settings to be seen.
 */
final class SourcePolicy
{
    public function viewAny(User $user): bool
    {
        return $user->role->mayBuild();
    }

    public function view(User $user, Source $source): bool
    {
        return ! $source->of_query && $user->role->mayBuild();
    }

    public function create(User $user): bool
    {
        return $user->role->mayBuild();
    }

    public function update(User $user, Source $source): bool
    {
        return $user->role->mayBuild() || $source->of_query && $source->owner_id === $user->id;
    }

    public function delete(User $user, Source $source): bool
    {
        return $this->update($user, $source);
    }
}
