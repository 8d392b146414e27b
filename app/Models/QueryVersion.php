<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * What a saved query said; never changed.
 *
 * @property int $id
 * @property int $query_id
 * @property int $number counts from 1
 * @property string $sql
 * @property array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>|null $parameters
 * @property int|null $user_id who wrote it
 * @property Carbon $created_at
 * @property User|null $user
 */
final class QueryVersion extends Record
{
    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['parameters' => 'array'];

    /**
     * @return BelongsTo<User, $this>
     */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }
}
