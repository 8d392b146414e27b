<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * A link by which somebody chooses a password: once, and until it expires.
 *
 * @property int $id
 * @property string $token hash of what stands in the link
 * @property string $purpose first: the first administrator; invite: somebody new; reset: somebody who is there
 * @property Role|null $role
 * @property string|null $name
 * @property string|null $email
 * @property int|null $user_id
 * @property int|null $made_by
 * @property Carbon $expires_at
 * @property Carbon|null $used_at
 * @property User|null $user
 * @property User|null $madeBy
 */
final class Invitation extends Record
{
    protected $guarded = [];

    protected $hidden = ['token'];

    /** @var array<string, string> */
    protected $casts = ['role' => Role::class, 'expires_at' => 'datetime', 'used_at' => 'datetime'];

    /**
     * @return BelongsTo<User, $this>
     */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }

    /**
     * @return BelongsTo<User, $this>
     */
    public function madeBy(): BelongsTo
    {
        return $this->belongsTo(User::class, 'made_by');
    }
}
