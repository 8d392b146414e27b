<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * A file that somebody handed in, to be read like an answer of a service.
 *
 * @property int $id
 * @property int $environment_id
 * @property string $slug
 * @property string $file_name
 * @property string|null $sheet that was read of a file with several
 * @property int $bytes as CSV
 * @property string $mark another one whenever the content is another
 * @property string $body deflated CSV
 * @property int|null $user_id
 * @property Carbon $created_at
 * @property Carbon $updated_at
 * @property Environment $environment
 * @property User|null $user
 */
final class Upload extends Record
{
    /** A name that no other host can have (RFC 6761 §6.4): what is asked of it never leaves. */
    public const HOST = 'uploads.invalid';

    protected $guarded = [];

    protected $hidden = ['body'];

    protected $dateFormat = 'Y-m-d H:i:s.u';

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

    public function address(): string
    {
        return 'http://'.self::HOST."/{$this->environment->slug}/{$this->slug}";
    }

    /**
     * The file that an address of a source leads to.
     *
     * @param  string  $address  with or without the file
     */
    public static function at(string $address): ?self
    {
        if (preg_match('~^http://'.preg_quote(self::HOST, '~').'/([a-z0-9-]+)/([a-z0-9-]+)$~D', $address, $part) !== 1) {
            return null;
        }

        return self::query()->where('slug', $part[2])->whereHas('environment', static fn ($environment) => $environment->where('slug', $part[1]))->first();
    }
}
