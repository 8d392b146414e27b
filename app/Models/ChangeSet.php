<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Carbon;

/**
 * Changes of a table that belong together: what somebody has pending, or one change in bulk.
 *
 * @property int $id
 * @property int $endpoint_id that lists the records
 * @property int $environment_id
 * @property int $user_id
 * @property string $table
 * @property string $kind grid, bulk, command or back
 * @property ChangeSetState $state
 * @property string|null $open by which the pending changes of a person and table are found; null where there may be several
 * @property string $about
 * @property bool $is_shared whether others may look at it
 * @property int|null $approved_by
 * @property Carbon|null $approved_at
 * @property int|null $first how many are sent before it stops by itself
 * @property string|null $stop_how
 * @property string|null $ended
 * @property string|null $waits_for
 * @property int $attempt
 * @property Carbon|null $heartbeat_at
 * @property Carbon|null $started_at
 * @property Carbon|null $ended_at
 * @property Carbon $created_at
 * @property Carbon $updated_at
 * @property Endpoint $endpoint
 * @property Environment $environment
 * @property User $user
 */
final class ChangeSet extends Record
{
    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @var array<string, string> */
    protected $casts = ['state' => ChangeSetState::class, 'is_shared' => 'boolean', 'approved_at' => 'datetime', 'heartbeat_at' => 'datetime', 'started_at' => 'datetime', 'ended_at' => 'datetime'];

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

    /**
     * @return BelongsTo<User, $this>
     */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }

    /**
     * @return HasMany<Change, $this>
     */
    public function changes(): HasMany
    {
        return $this->hasMany(Change::class);
    }

    /**
     * How many changes are in which state.
     *
     * @return array<string, int>
     */
    public function counts(): array
    {
        return $this->changes()->toBase()->selectRaw('state, count(*) as n')->groupBy('state')->pluck('n', 'state')->map(static fn (mixed $n): int => (int) $n)->all();
    }
}
