<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Consumer;
use App\Models\ConsumerKey;
use App\Models\Joined;
use App\Models\User;
use Illuminate\Support\Carbon;

/**
 * Keys of consumers: 32 random characters behind a beginning by which they are found and recognised, shown once and
 * kept as SHA-256. That is enough for what nobody could guess: no list of likely keys can be tried.
 */
final readonly class KeyRing
{
    private const LETTERS = '23456789abcdefghjkmnpqrstuvwxyzABCDEFGHJKLMNPQRSTUVWXYZ';

    public const BEGINNING = 10;

    private const LENGTH = 42;

    /** Keys that are valid at the same time, so that one can be put in the place of another. */
    public const MOST = 2;

    /** Seconds between two notes that a key was used. */
    private const NOTED = 60;

    public function __construct(private AuditLog $log, private ShortTokens $tokens)
    {
    }

    /**
     * A new key, which nobody can see again.
     *
     * @throws CannotPublish where there are two already
     */
    public function give(Consumer $consumer, ?Carbon $endsAt, User $by): string
    {
        if ($consumer->keys()->get()->filter(static fn (ConsumerKey $key): bool => ! $key->isOver())->count() >= self::MOST) {
            throw CannotPublish::because("$consumer->name has two keys that are valid. Withdraw the one that is no longer used first.", 'key');
        }
        if ($endsAt !== null && $endsAt->isPast()) {
            throw CannotPublish::because('A key that ends before now opens nothing. Give a later day, or none.', 'ends_on');
        }
        $plain = 'ds_';
        while (strlen($plain) < self::LENGTH) {
            $plain .= self::LETTERS[random_int(0, strlen(self::LETTERS) - 1)];
        }
        ConsumerKey::query()->create(['consumer_id' => $consumer->id, 'beginning' => substr($plain, 0, self::BEGINNING), 'hash' => hash('sha256', $plain), 'ends_at' => $endsAt, 'created_at' => Carbon::now()]);
        $this->log->note(Action::KeyGiven, $consumer->name, substr($plain, 0, self::BEGINNING).'…', $by);

        return $plain;
    }

    public function withdraw(ConsumerKey $key, User $by): void
    {
        $key->delete();
        $this->log->note(Action::KeyWithdrawn, $key->consumer->name, "{$key->beginning}…", $by);
    }

    /**
     * Who has that key; null where nobody has it or it is over. Takes as long whether there is a key that begins like it
     * or not: what is compared are hashes.
     */
    public function find(#[\SensitiveParameter] string $plain): ?Consumer
    {
        return $this->key($plain)?->consumer;
    }

    /**
     * Whose key it is, or was as long as it was not withdrawn, whether it opens anything or not.
     */
    public function owner(#[\SensitiveParameter] string $plain): ?Consumer
    {
        $key = strlen($plain) === self::LENGTH ? Joined::first(ConsumerKey::query()->where('beginning', substr($plain, 0, self::BEGINNING)), 'consumer') : null;

        return hash_equals($key->hash ?? str_repeat('0', 64), hash('sha256', $plain)) ? $key?->consumer : null;
    }

    /**
     * The key that it is, or that a short-lived token stands for; null where that opens nothing.
     */
    public function key(#[\SensitiveParameter] string $plain): ?ConsumerKey
    {
        $isToken = str_starts_with($plain, ShortTokens::BEGINNING);
        $key = $isToken ? $this->tokens->key($plain) : (strlen($plain) === self::LENGTH ? Joined::first(ConsumerKey::query()->where('beginning', substr($plain, 0, self::BEGINNING)), 'consumer') : null);
        $isIt = $isToken || hash_equals($key->hash ?? str_repeat('0', 64), hash('sha256', $plain));
        if ($key === null || ! $isIt || $key->isOver() || $key->consumer->off_at !== null) {
            return null;
        }
        if ($key->used_at === null || $key->used_at->diffInSeconds(Carbon::now(), true) > self::NOTED) {
            ConsumerKey::query()->whereKey($key->id)->update(['used_at' => Carbon::now()->format('Y-m-d H:i:s.u')]);
        }

        return $key;
    }
}
