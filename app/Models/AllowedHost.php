<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * A host and port that requests may go to although it is not open to everybody.
 *
 * @property int $id
 * @property string $host as it stands in addresses, in lower case
 * @property int $port
 * @property string|null $note
 * @property Carbon $created_at
 * @property User|null $by
 */
final class AllowedHost extends Record
{
    protected $guarded = [];

    public static function holds(string $host, int $port): bool
    {
        return self::query()->where('host', strtolower($host))->where('port', $port)->exists();
    }

    /**
     * `host:port`, with an IPv6 address in brackets; null when it is not that.
     *
     * @return array{string, int}|null
     */
    public static function parse(string $text): ?array
    {
        $text = (string) preg_replace('~^https?://~i', '', trim($text));
        $right = preg_match('~^(\[[0-9a-f:.]+\]|[a-z0-9]([a-z0-9.-]*[a-z0-9])?):(\d{1,5})/?$~iD', $text, $part) === 1 && (int) $part[3] >= 1 && (int) $part[3] <= 65535;

        return $right ? [strtolower($part[1]), (int) $part[3]] : null;
    }

    /**
     * @return BelongsTo<User, $this>
     */
    public function by(): BelongsTo
    {
        return $this->belongsTo(User::class, 'added_by');
    }
}
