<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/**
 * What a person, or everybody of a role, may change in the table of an endpoint.
 *
 * @property int $id
 * @property int $endpoint_id
 * @property int $environment_id
 * @property int|null $user_id
 * @property Role|null $role
 * @property list<string>|null $kinds create, update, delete, call; null for all
 * @property list<string>|null $columns null for all
 * @property list<string>|null $actions slugs of endpoints; null for all
 * @property User|null $user
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

    public function who(): string
    {
        return $this->user->name ?? "every {$this->role?->value}";
    }
}
