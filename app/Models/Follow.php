<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Carbon;

/**
 * Somebody who is told of notes, and how.
 *
 * @property int $id
 * @property int $user_id
 * @property int $environment_id
 * @property int|null $source_id null for all sources
 * @property int|null $endpoint_id null for all endpoints
 * @property bool $failures_only
 * @property string $by mail or post
 * @property string|null $address that it is posted to
 * @property string|null $secret sealed
 * @property string|null $daily_at HH:MM in the time zone of the person; null for at once
 * @property Carbon|null $next_at when it is told the next time
 * @property Carbon|null $told_until up to when it was told
 * @property string|null $ended why nothing is sent any more
 * @property Carbon $created_at
 * @property User $user
 * @property Environment $environment
 * @property Source|null $source
 * @property Endpoint|null $endpoint
 */
final class Follow extends Record
{
    public const MAIL = 'mail';

    public const POST = 'post';

    protected $guarded = [];

    protected $hidden = ['secret'];

    /** @var array<string, string> */
    protected $casts = ['failures_only' => 'boolean', 'next_at' => 'datetime', 'told_until' => 'datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /**
     * @return BelongsTo<User, $this>
     */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }

    /**
     * @return BelongsTo<Environment, $this>
     */
    public function environment(): BelongsTo
    {
        return $this->belongsTo(Environment::class);
    }

    /**
     * @return BelongsTo<Source, $this>
     */
    public function source(): BelongsTo
    {
        return $this->belongsTo(Source::class);
    }

    /**
     * @return BelongsTo<Endpoint, $this>
     */
    public function endpoint(): BelongsTo
    {
        return $this->belongsTo(Endpoint::class);
    }

    /**
     * @return HasMany<Delivery, $this>
     */
    public function deliveries(): HasMany
    {
        return $this->hasMany(Delivery::class);
    }

    /**
     * What is followed, in words.
     */
    public function thing(): string
    {
        return match (true) {
            $this->endpoint !== null => "{$this->endpoint->source->name} › {$this->endpoint->name}",
            $this->source !== null => $this->source->name,
            default => 'everything',
        };
    }

    /**
     * Whether it is told of a note.
     */
    public function concerns(Note $note): bool
    {
        return $note->environment_id === $this->environment_id
            && ($this->source_id === null || $note->source_id === $this->source_id)
            && ($this->endpoint_id === null || $note->endpoint_id === $this->endpoint_id)
            && ($note->is_failure || ! $this->failures_only)
            && $note->sentenceFor($this->user->role) !== null;
    }
}
