<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Collection;
use Illuminate\Database\Eloquent\Relations\BelongsToMany;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Carbon;

/**
 * People who are given rights together.
 *
 * @property int $id
 * @property string $name
 * @property Carbon $created_at
 * @property Collection<int, User> $members
 */
final class PeopleGroup extends Record
{
    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /**
     * @return BelongsToMany<User, $this>
     */
    public function members(): BelongsToMany
    {
        return $this->belongsToMany(User::class, 'people_group_members');
    }

    /**
     * @return HasMany<ChangeRight, $this>
     */
    public function rights(): HasMany
    {
        return $this->hasMany(ChangeRight::class);
    }
}
