<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * A message to somebody who follows, and what became of it.
 *
 * @property int $id
 * @property int $follow_id
 * @property string $message the same at every attempt
 * @property string $kind notes.changed, notes.daily or test
 * @property string $subject
 * @property string $body as it is sent
 * @property string $state waiting, sent or lost
 * @property int $attempts
 * @property Carbon|null $next_at
 * @property int|null $status of the last answer
 * @property string|null $answer what came of the last attempt
 * @property Carbon $created_at
 * @property Carbon|null $ended_at
 * @property Follow $follow
 */
final class Delivery extends Record
{
    public const WAITING = 'waiting';

    public const SENT = 'sent';

    public const LOST = 'lost';

    public $timestamps = false;

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['next_at' => 'datetime', 'created_at' => 'datetime', 'ended_at' => 'datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /**
     * @return BelongsTo<Follow, $this>
     */
    public function follow(): BelongsTo
    {
        return $this->belongsTo(Follow::class);
    }
}
