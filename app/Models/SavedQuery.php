<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Builder;
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
 * @property array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>|null $parameters by name
 * @property int $version
 * @property bool $is_private only its owner sees it
 * @property string $name_key what no other query has
 * @property Carbon $created_at
 * @property Carbon $updated_at
 * @property User $user
 * @property \Illuminate\Database\Eloquent\Collection<int, QueryKeep> $keeps
 */
final class SavedQuery extends Record
{
    protected $table = 'queries';

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['labels' => 'array', 'parameters' => 'array', 'is_private' => 'boolean'];

    protected static function booted(): void
    {
        self::creating(static function (self $query): void {
            $query->labels ??= [];
            $query->version ??= 1;
            $query->name_key ??= self::keyOf($query->name, $query->is_private ?? false, $query->user_id);
        });
        self::created(static fn (self $query) => QueryVersion::query()->create(['query_id' => $query->id, 'number' => $query->version, 'sql' => $query->sql, 'parameters' => $query->parameters, 'user_id' => $query->user_id]));
    }

    /**
     * Names of shared queries are there once, and so are those that a person keeps to themselves.
     */
    public static function keyOf(string $name, bool $isPrivate, int $owner): string
    {
        return ($isPrivate ? "$owner:" : '').mb_strtolower($name);
    }

    /**
     * Its name, to those who may see it.
     */
    public function nameFor(?User $person): string
    {
        return $this->is_private && $person?->id !== $this->user_id ? 'a query that only its owner sees' : $this->name;
    }

    /**
     * Those that a person may see.
     *
     * @return Builder<self>
     */
    public static function seenBy(User $user): Builder
    {
        return self::query()->where(static fn (Builder $either) => $either->where('is_private', false)->orWhere('user_id', $user->id));
    }

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
