<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Carbon;

/**
 * @property int $id
 * @property int $user_id its owner
 * @property string $name
 * @property string $sql of the version in hand
 * @property string|null $description
 * @property list<string> $labels
 * @property int $version
 * @property bool $is_private only its owner sees it
 * @property string $name_key what no other query has
 * @property Carbon $created_at
 * @property Carbon $updated_at
 * @property User $user
 * @property \Illuminate\Database\Eloquent\Collection<int, QueryKeep> $keeps
 */
final class SavedQuery extends Model
{
    protected $table = 'queries';

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['labels' => 'array', 'is_private' => 'boolean'];

    /**
     * @return BelongsTo<User, $this>
     */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }

    /**
     * @return HasMany<QueryVersion, $this>
     */
    public function versions(): HasMany
    {
        return $this->hasMany(QueryVersion::class, 'query_id');
    }

    /**
     * @return HasMany<QueryKeep, $this>
     */
    public function keeps(): HasMany
    {
        return $this->hasMany(QueryKeep::class, 'query_id');
    }
}
