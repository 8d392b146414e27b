<?php

declare(strict_types=1);

namespace App\Notes;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\AllowedHost;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Follow;
use App\Models\Source;
use App\Models\User;
use App\Secrets\Vault;
use App\Transport\OutboundGuard;
use DeepSpring\Note\WebhookSigner;
use DeepSpring\Outbound\HostName;
use DeepSpring\Outbound\UnusableHost;
use GuzzleHttp\Psr7\Uri;
use Illuminate\Support\Carbon;

/**
 * Who is told of what.
 */
final readonly class Follows
{
    /** Things that one person follows. */
    private const MOST = 200;

    /** Said of an address that an administrator allowed. */
    public const ONLY_BUILDERS = 'This address is open to sources by an exception, so only builders have notes posted there.';

    /** Bytes of a new secret. */
    private const SECRET = 32;

    public function __construct(private Vault $vault, private AuditLog $log)
    {
    }

    /**
     * @param  string|null  $address  that it is posted to; null for mail
     * @param  string|null  $dailyAt  HH:MM in the time zone of the person; null for at once
     * @return array{Follow, string|null} with the secret that what is posted is signed with, which is not shown again
     *
     * @throws FollowRefused
     */
    public function add(User $person, Environment $environment, ?Source $source, ?Endpoint $endpoint, ?string $address, ?string $dailyAt, bool $failuresOnly): array
    {
        if ($dailyAt !== null && preg_match('/^([01]\d|2[0-3]):[0-5]\d$/D', $dailyAt) !== 1) {
            throw FollowRefused::of('daily_at', 'A time of day is written like 07:30.');
        }
        $address = $address === null ? null : self::address($address);
        if ($address !== null && ! self::mayBePostedTo($address, $person)) {
            throw FollowRefused::of('address', self::ONLY_BUILDERS);
        }
        $what = ['user_id' => $person->id, 'environment_id' => $environment->id, 'source_id' => $source->id ?? $endpoint?->source_id, 'endpoint_id' => $endpoint?->id, 'by' => $address === null ? Follow::MAIL : Follow::POST, 'address' => $address, 'daily_at' => $dailyAt];
        if (Follow::query()->where($what)->whereNull('ended')->exists()) {
            throw FollowRefused::of('thing', 'You follow that in this way already.');
        }
        if (Follow::query()->where('user_id', $person->id)->count() >= self::MOST) {
            throw FollowRefused::of('thing', 'You follow '.self::MOST.' things, which is as many as can be.');
        }
        $secret = $address === null ? null : WebhookSigner::secret(random_bytes(self::SECRET));
        $follow = new Follow($what + ['failures_only' => $failuresOnly, 'secret' => $secret === null ? null : $this->vault->seal($secret)]);
        $follow->setRelation('user', $person);
        $follow->next_at = Announcer::next($follow, Carbon::now());
        $follow->save();
        if ($address !== null) {
            $this->log->note(Action::FollowedByPost, $address, "{$follow->thing()} in {$environment->name}", $person);
        }

        return [$follow, $secret];
    }

    /**
     * Exceptions are made for sources: who may not build has no use of them.
     */
    public static function mayBePostedTo(string $address, User $person): bool
    {
        $uri = new Uri($address);
        try {
            $host = HostName::of($uri->getHost());
        } catch (UnusableHost) {
            // It is not posted to in any case.
            return true;
        }

        return $person->role->mayBuild() || ! AllowedHost::holds($host, OutboundGuard::port($uri));
    }

    /**
     * @return string the new secret, which is not shown again
     */
    public function renewSecret(Follow $follow): string
    {
        $secret = WebhookSigner::secret(random_bytes(self::SECRET));
        $follow->update(['secret' => $this->vault->seal($secret)]);

        return $secret;
    }

    /**
     * @throws FollowRefused
     */
    private static function address(string $address): string
    {
        $address = trim($address);
        $parts = parse_url($address);
        $isAddress = is_array($parts) && in_array(strtolower($parts['scheme'] ?? ''), ['http', 'https'], true) && ($parts['host'] ?? '') !== '' && preg_match('/[\s\x00-\x1F]/', $address) === 0 && filter_var($address, FILTER_VALIDATE_URL) !== false;
        if (! $isAddress || strlen($address) > 500) {
            throw FollowRefused::of('address', 'An address begins with https:// or http:// and names a host.');
        }
        if (isset($parts['user']) || isset($parts['pass'])) {
            throw FollowRefused::of('address', 'Leave a name and password out of the address: what is posted is signed, by which it is known to come from here.');
        }

        return $address;
    }
}
