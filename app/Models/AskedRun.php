<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * A run that a consumer asked for.
 *
 * @property int $id
 * @property int $consumer_id
 * @property int $run_id
 * @property string $mark SHA-256 of the idempotency key, or of something random where none was sent
 * @property string $asked_for environment and table
 * @property Carbon $at
 * @property Run $run
 */
final class AskedRun extends Record
{
    public $timestamps = false;

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @var array<string, string> */
    protected $casts = ['at' => 'datetime'];

    /**
     * @return BelongsTo<Run, $this>
     */
    public function run(): BelongsTo
    {
        return $this->belongsTo(Run::class);
    }
}
