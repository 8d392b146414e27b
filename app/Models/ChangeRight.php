<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/**
 * What a person, or everybody of a role or in a group, may change in the table of an endpoint.
 *
 * @property int $id
 * @property int $endpoint_id
 * @property int $environment_id
 * @property int|null $user_id
 * @property Role|null $role
 * @property int|null $people_group_id
 * @property list<string>|null $kinds create, update, delete, call; null for all
 * @property list<string>|null $columns null for all
 * @property list<string>|null $actions slugs of endpoints; null for all
 * @property User|null $user
 * @property PeopleGroup|null $group
 * @property Endpoint $endpoint
 * @property Environment $environment
 */
final class ChangeRight extends Record
{
    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @var array<string, string> */
    protected $casts = ['role' => Role::class, 'kinds' => 'array', 'columns' => 'array', 'actions' => 'array'];

    /**
     * @return BelongsTo<User, $this>
     */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }

    /**
     * @return BelongsTo<PeopleGroup, $this>
     */
    public function group(): BelongsTo
    {
        return $this->belongsTo(PeopleGroup::class, 'people_group_id');
    }

    /**
     * @return BelongsTo<Endpoint, $this>
     */
    public function endpoint(): BelongsTo
    {
        return $this->belongsTo(Endpoint::class);
    }

    /**
     * @return BelongsTo<Environment, $this>
     */
    public function environment(): BelongsTo
    {
        return $this->belongsTo(Environment::class);
    }

    public function who(): string
    {
        return $this->user->name ?? ($this->group === null ? "every {$this->role?->value}" : "the group {$this->group->name}");
    }
}
