<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * A key of a consumer, of which only the beginning and a hash are kept.
 *
 * @property int $id
 * @property int $consumer_id
 * @property string $beginning the ten characters with which it begins
 * @property string $hash SHA-256 of all of it
 * @property Carbon|null $ends_at
 * @property Carbon|null $used_at
 * @property Carbon $created_at
 * @property Consumer $consumer
 */
final class ConsumerKey extends Record
{
    public const UPDATED_AT = null;

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @var array<string, string> */
    protected $casts = ['ends_at' => 'datetime', 'used_at' => 'datetime'];

    /**
     * @return BelongsTo<Consumer, $this>
     */
    public function consumer(): BelongsTo
    {
        return $this->belongsTo(Consumer::class);
    }

    public function isOver(): bool
    {
        return $this->ends_at !== null && $this->ends_at->isPast();
    }
}
