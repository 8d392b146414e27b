<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\BelongsToMany;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Carbon;
use Symfony\Component\HttpFoundation\IpUtils;

/**
 * Who reads feeds with a key: another application, a spreadsheet, a script.
 *
 * @property int $id
 * @property int $user_id who answers for it
 * @property string $name
 * @property string $purpose
 * @property list<string> $addresses from which it may come, as addresses or networks; empty for all
 * @property array<string, string> $values what my('house') gives for it, by name
 * @property list<string> $refreshes tables that it may have refreshed, as environment/table
 * @property int $a_minute requests
 * @property int $a_day requests
 * @property int|null $rows_a_day
 * @property int $at_once requests that are answered at the same time
 * @property Carbon|null $off_at since when it may read nothing
 * @property Carbon $created_at
 * @property User $user
 */
final class Consumer extends Record implements Principal
{
    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @var array<string, string> */
    protected $casts = ['addresses' => 'array', 'values' => 'array', 'refreshes' => 'array', 'off_at' => 'datetime'];

    /** @var array<string, mixed> */
    protected $attributes = ['purpose' => '', 'addresses' => '[]', 'values' => '{}', 'refreshes' => '[]', 'a_minute' => 60, 'a_day' => 10_000, 'at_once' => 4];

    /**
     * @return BelongsTo<User, $this>
     */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }

    /**
     * @return BelongsToMany<Feed, $this>
     */
    public function feeds(): BelongsToMany
    {
        return $this->belongsToMany(Feed::class, 'consumer_feeds');
    }

    /**
     * @return HasMany<ConsumerKey, $this>
     */
    public function keys(): HasMany
    {
        return $this->hasMany(ConsumerKey::class);
    }

    public function mayComeFrom(string $address): bool
    {
        return $this->addresses === [] || IpUtils::checkIp($address, $this->addresses);
    }

    public function account(): string
    {
        return "k$this->id";
    }

    public function person(): ?User
    {
        return null;
    }

    public function tables(Environment $environment): array
    {
        return $this->off_at !== null ? [] : Feed::views($this->feeds()->getQuery()->where(['environment_id' => $environment->id, 'is_on' => true]));
    }

    public function values(): array
    {
        return $this->values;
    }

    public function atOnce(): int
    {
        return $this->at_once;
    }
}
