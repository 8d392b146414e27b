<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Carbon;

/**
 * One reading of an endpoint into its tables.
 *
 * @property int $id
 * @property int $endpoint_id
 * @property int $environment_id
 * @property int $version
 * @property RunState $state
 * @property int $pages
 * @property int $records
 * @property int $rows
 * @property int $rejects
 * @property int $duplicates
 * @property int $bytes
 * @property bool $stop_asked
 * @property string|null $ended
 * @property array{code: string, what: string, advice: string, where: string}|null $diagnosis
 * @property list<array{start: int, ms: int, records: int|null, waited: int}>|null $ladder milliseconds
 * @property Carbon|null $started_at
 * @property Carbon|null $ended_at
 * @property Carbon $created_at
 * @property Endpoint $endpoint
 * @property Environment $environment
 * @property User|null $user
 */
final class Run extends Model
{
    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['state' => RunState::class, 'diagnosis' => 'array', 'ladder' => 'array', 'stop_asked' => 'boolean', 'started_at' => 'datetime', 'ended_at' => 'datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.u';

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
     * @return HasMany<RejectedValue, $this>
     */
    public function rejectedValues(): HasMany
    {
        return $this->hasMany(RejectedValue::class);
    }
}
