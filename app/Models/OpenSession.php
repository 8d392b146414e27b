<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * A browser in which somebody is signed in. Where the row is gone, the session has ended.
 *
 * @property int $id
 * @property int $user_id
 * @property string $mark hash of what the browser's session holds
 * @property string|null $ip
 * @property string $agent
 * @property Carbon $begun_at
 * @property Carbon $seen_at
 * @property User $user
 */
final class OpenSession extends Record
{
    public $timestamps = false;

    protected $guarded = [];

    protected $hidden = ['mark'];

    /** @var array<string, string> */
    protected $casts = ['begun_at' => 'datetime', 'seen_at' => 'datetime'];

    /**
     * @return BelongsTo<User, $this>
     */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }

    /**
     * Browser and system in a few words.
     */
    public function device(): string
    {
        $find = static function (array $names, string $agent): string {
            foreach ($names as $sign => $name) {
                if (str_contains($agent, $sign)) {
                    return $name;
                }
            }

            return '';
        };
        $browser = $find(['Edg/' => 'Edge', 'OPR/' => 'Opera', 'Firefox/' => 'Firefox', 'HeadlessChrome' => 'Chromium', 'Chrome/' => 'Chrome', 'Safari/' => 'Safari', 'curl/' => 'curl'], $this->agent);
        $system = $find(['Windows' => 'Windows', 'iPhone' => 'iPhone', 'iPad' => 'iPad', 'Android' => 'Android', 'Mac OS X' => 'macOS', 'Linux' => 'Linux'], $this->agent);

        return implode(' on ', array_filter([$browser, $system])) ?: 'A browser that does not say which';
    }
}
