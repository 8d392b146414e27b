<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\Schedule\RefreshTimes;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * When an endpoint is read again in an environment without anybody asking: `keep.refresh` of what is published.
 *
 * @property int $id
 * @property int $endpoint_id
 * @property int $environment_id
 * @property array<string, mixed> $refresh of the source file
 * @property Carbon|null $next_at UTC; null where no time says so
 * @property Carbon|null $sweep_at UTC; when all of it is read
 * @property Carbon|null $paused_at
 * @property Carbon $updated_at
 * @property Endpoint $endpoint
 * @property Environment $environment
 * @property User|null $pausedBy
 */
final class Schedule extends Record
{
    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['refresh' => 'array', 'next_at' => 'datetime', 'sweep_at' => 'datetime', 'paused_at' => 'datetime'];

    public function times(): RefreshTimes
    {
        return RefreshTimes::of($this->refresh);
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

    /**
     * @return BelongsTo<User, $this>
     */
    public function pausedBy(): BelongsTo
    {
        return $this->belongsTo(User::class, 'paused_by');
    }
}
