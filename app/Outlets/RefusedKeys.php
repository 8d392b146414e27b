<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use Illuminate\Cache\RateLimiter;

/**
 * Keys that open nothing: answered with 401 and written down with the feed that was asked for. An address that has sent
 * many of them waits, and its keys that are right are taken all the same. A request without a key is how a browser or a
 * spreadsheet begins, and is neither counted nor written down.
 */
final readonly class RefusedKeys
{
    public const A_MINUTE = 30;

    private const MINUTE = 60;

    private const WHO = ['WWW-Authenticate' => 'Bearer realm="feeds", Basic realm="feeds", charset="UTF-8"'];

    public function __construct(private RateLimiter $limiter, private KeyRing $keys)
    {
    }

    /**
     * @param  string|null  $key  as it was sent
     * @param  Feed|null  $feed  that was asked for, where there is such a one
     * @param  string  $asked  the part of the address behind the question mark
     */
    public function problem(#[\SensitiveParameter] ?string $key, string $address, ?Feed $feed = null, string $form = '', string $asked = ''): FeedProblem
    {
        if ($key === null) {
            return new FeedProblem(401, 'A key is needed: as "Authorization: Bearer", as "X-Api-Key", or as the password of basic authentication.', self::WHO);
        }
        $wait = $this->wait($address);
        if ($wait !== null) {
            return new FeedProblem(429, 'More than '.self::A_MINUTE." keys a minute that open nothing came from this address. The next is looked at in $wait s; a key that is right is taken at once.", ['Retry-After' => (string) $wait]);
        }
        $ended = $this->keys->owner($key);
        if ($feed !== null) {
            CallLog::afterwards($feed, $ended, $form, $asked, 0, 0, 0, 401, match (true) {
                $ended === null => 'A key that is none of ours, or that was withdrawn.',
                $ended->off_at !== null => 'The key of a reader that is turned off.',
                $ended->mayComeFrom($address) => 'A key that has ended.',
                default => "The key of a reader that may not come from $address.",
            });
        }

        return new FeedProblem(401, 'This key opens nothing: it is none, it has ended, or it may not come from here.', self::WHO);
    }

    /**
     * Counts a key that opened nothing.
     *
     * @return int|null seconds to wait, where there were too many
     */
    public function wait(string $address): ?int
    {
        $name = "refused keys $address";
        if ($this->limiter->tooManyAttempts($name, self::A_MINUTE)) {
            return max(1, $this->limiter->availableIn($name));
        }
        $this->limiter->hit($name, self::MINUTE);

        return null;
    }
}
