<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * An account of the database with which the tools of a person, or of a consumer, read one environment.
 *
 * @property int $id
 * @property int $environment_id
 * @property int|null $user_id
 * @property int|null $consumer_id
 * @property string $name of the account, as the database knows it
 * @property int $at_once connections
 * @property int $seconds of a statement
 * @property Carbon $created_at
 * @property Environment $environment
 * @property User|null $user
 * @property Consumer|null $consumer
 */
final class DoorAccount extends Record implements Principal
{
    public const UPDATED_AT = null;

    /** Rows that an account is sent within a day, where its reader has no limit of its own. */
    public const ROWS_A_DAY = 20_000_000;

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @var array<string, mixed> */
    protected $attributes = ['at_once' => 4, 'seconds' => 60];

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
     * @return BelongsTo<Consumer, $this>
     */
    public function consumer(): BelongsTo
    {
        return $this->belongsTo(Consumer::class);
    }

    public function owner(): User|Consumer
    {
        return $this->user ?? $this->consumer ?? throw new \LogicException('An account is somebody\'s.');
    }

    /**
     * Whether whoever it is for may still read.
     */
    public function isOpen(): bool
    {
        return $this->user !== null ? ! $this->user->isOff() : $this->consumer?->off_at === null;
    }

    public function rowsADay(): int
    {
        return $this->consumer->rows_a_day ?? self::ROWS_A_DAY;
    }

    public function account(): string
    {
        return "d$this->id";
    }

    public function person(): ?User
    {
        return $this->user;
    }

    public function tables(Environment $environment): ?array
    {
        return $this->owner()->tables($environment);
    }

    public function values(): array
    {
        return $this->owner()->values();
    }

    public function atOnce(): int
    {
        return $this->at_once;
    }
}
