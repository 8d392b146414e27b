<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * One request for a feed, and what came of it.
 *
 * @property int $id
 * @property int $feed_id
 * @property int|null $consumer_id
 * @property int|null $user_id
 * @property Carbon $at
 * @property string $form of the answer: json, csv, …
 * @property string $asked the part of the address behind the question mark
 * @property int $rows
 * @property int $bytes
 * @property int $milliseconds
 * @property int $status
 * @property string|null $reason why it was refused
 * @property Feed $feed
 * @property Consumer|null $consumer
 * @property User|null $user
 */
final class FeedCall extends Record
{
    public $timestamps = false;

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @var array<string, string> */
    protected $casts = ['at' => 'datetime'];

    /**
     * @return BelongsTo<Feed, $this>
     */
    public function feed(): BelongsTo
    {
        return $this->belongsTo(Feed::class);
    }

    /**
     * @return BelongsTo<Consumer, $this>
     */
    public function consumer(): BelongsTo
    {
        return $this->belongsTo(Consumer::class);
    }

    /**
     * @return BelongsTo<User, $this>
     */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }
}
