<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\SourceFile\SourceFile;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Carbon;

/**
 * @property int $id
 * @property string $slug
 * @property string $name
 * @property int|null $owner_id
 * @property bool $of_query whether it stands for the rows of a saved query, and has no sheets
 * @property int|null $published_version
 * @property int|null $scheduled_version whose times are followed
 * @property Carbon $updated_at
 * @property User|null $owner
 * @property \Illuminate\Database\Eloquent\Collection<int, Endpoint> $endpoints
 */
final class Source extends Record
{
    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['of_query' => 'boolean'];

    public function getRouteKeyName(): string
    {
        return 'slug';
    }

    /**
     * Those that somebody described, without what stands for the rows of queries.
     *
     * @return Builder<self>
     */
    public static function described(): Builder
    {
        return self::query()->where('of_query', false);
    }

    /**
     * @param  mixed  $value
     * @param  string|null  $field
     */
    public function resolveRouteBinding($value, $field = null): ?self
    {
        return self::described()->where($field ?? 'slug', $value)->first();
    }

    /**
     * @return BelongsTo<User, $this>
     */
    public function owner(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }

    /**
     * @return HasMany<Endpoint, $this>
     */
    public function endpoints(): HasMany
    {
        return $this->hasMany(Endpoint::class);
    }

    /**
     * @return HasMany<SourceDocument, $this>
     */
    public function documents(): HasMany
    {
        return $this->hasMany(SourceDocument::class);
    }

    public function draft(): ?SourceDocument
    {
        return $this->documents()->where('version', null)->first();
    }

    /**
     * What its builders see: the draft, or what is published when there is none.
     */
    public function current(): SourceFile
    {
        return $this->draft()?->file() ?? $this->published() ?? throw new \LogicException("The source {$this->slug} has no document.");
    }

    /**
     * What everybody else uses.
     */
    public function published(): ?SourceFile
    {
        return $this->published_version === null ? null : $this->documents()->where('version', $this->published_version)->first()?->file();
    }
}
