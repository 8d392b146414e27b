<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Collection;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\BelongsToMany;
use Illuminate\Foundation\Auth\User as Authenticatable;
use Illuminate\Support\Carbon;

/**
 * @property int $id
 * @property string $name
 * @property string $email
 * @property string $password
 * @property Role $role
 * @property int|null $environment_id
 * @property Environment|null $environment
 * @property Carbon|null $off_at since when this person may not sign in
 * @property Carbon|null $seen_at
 * @property array<string, string> $values what my('house') gives for this person, by name
 * @property string $zone name of a time zone
 * @property string $dates iso, day-first or month-name
 * @property string $numbers space, comma, dot or plain: what stands between groups of three digits
 * @property string|null $totp_secret sealed
 * @property Carbon|null $totp_confirmed_at since when a second factor is asked for
 * @property int $totp_step of the last code that was taken
 * @property list<string>|null $recovery_codes hashes
 * @property string|null $provider_subject who this is at the OpenID provider
 * @property Carbon $created_at
 * @property Collection<int, PeopleGroup> $groups
 */
final class User extends Authenticatable implements Principal
{
    use BootsByName;

    /** Connections: some tabs, a query that is stopped, an export. */
    private const AT_ONCE = 6;

    protected $guarded = [];

    protected $hidden = ['password', 'remember_token', 'totp_secret', 'recovery_codes'];

    /** @var array<string, string> */
    protected $casts = [
        'role' => Role::class, 'values' => 'array', 'password' => 'hashed', 'off_at' => 'datetime', 'seen_at' => 'datetime',
        'totp_confirmed_at' => 'datetime', 'recovery_codes' => 'array',
    ];

    /** @var array<string, string> */
    protected $attributes = ['values' => '{}', 'zone' => 'UTC', 'dates' => 'iso', 'numbers' => 'space'];

    /**
     * The environment this person works in.
     *
     * @return BelongsTo<Environment, $this>
     */
    public function environment(): BelongsTo
    {
        return $this->belongsTo(Environment::class);
    }

    /**
     * @return BelongsToMany<PeopleGroup, $this>
     */
    public function groups(): BelongsToMany
    {
        return $this->belongsToMany(PeopleGroup::class, 'people_group_members');
    }

    public function hasSecondFactor(): bool
    {
        return $this->totp_confirmed_at !== null;
    }

    public function isOff(): bool
    {
        return $this->off_at !== null;
    }

    public function account(): string
    {
        return (string) $this->id;
    }

    public function person(): self
    {
        return $this;
    }

    public function tables(Environment $environment): null
    {
        return null;
    }

    public function values(): array
    {
        return $this->values;
    }

    public function atOnce(): int
    {
        return self::AT_ONCE;
    }
}
