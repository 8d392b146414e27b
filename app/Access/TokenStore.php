<?php

declare(strict_types=1);

namespace App\Access;

use App\Models\Environment;
use App\Models\Source;
use App\Models\StoredToken;
use App\Models\User;
use App\Secrets\NamedLock;
use App\Secrets\Vault;
use App\Transport\Limits;
use App\Transport\Transport;
use DeepSpring\Access\AccessToken;
use DeepSpring\Access\ConsentMissing;
use DeepSpring\Access\MissingSecret;
use DeepSpring\Access\OAuth\AuthorizationCode;
use DeepSpring\Access\TokenAnswer;
use DeepSpring\Access\TokenScheme;
use DeepSpring\SourceFile\SourceDefinition;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use Psr\Http\Message\RequestInterface;

/**
 * Keeps tokens sealed in the database, for each environment and, where consent is personal, each
 * person. Whoever needs a new one asks under a lock of the database, so that of many workers on
 * many machines one asks; a worker that dies gives the lock up.
 */
final readonly class TokenStore
{
    private const WAIT = 45;

    public function __construct(private Vault $vault, private Transport $transport)
    {
    }

    /**
     * @param  string|null  $refused  a token that the service would not take any more
     *
     * @throws ConsentMissing
     * @throws TokenUnavailable
     */
    public function get(Source $source, Environment $environment, ?User $person, TokenScheme $scheme, StoredSecrets $secrets, #[\SensitiveParameter] ?string $refused = null): AccessToken
    {
        $key = $this->key($source, $environment, $person, $scheme);
        $origins = $secrets->origins();
        $usable = static fn (?AccessToken $token): bool => $token !== null && $token->value !== $refused && $token->isFresh(Carbon::now()->getTimestamp());
        $token = $this->stored($key, $origins, $scheme);
        if ($usable($token)) {
            return $token;
        }
        $lock = $this->lock($key, $secrets);
        try {
            $token = $this->stored($key, $origins, $scheme);

            return $usable($token) ? $token : $this->ask($key, $scheme, $secrets, $token);
        } finally {
            $lock->release();
        }
    }

    public function peek(Source $source, Environment $environment, ?User $person, TokenScheme $scheme): ?StoredToken
    {
        try {
            return StoredToken::query()->where($this->key($source, $environment, $person, $scheme))->first();
        } catch (ConsentMissing) {
            return null;
        }
    }

    /**
     * @param  list<string>|null  $origins  it is wanted for; null when it is sent nowhere
     */
    public function token(StoredToken $row, ?array $origins = null): ?AccessToken
    {
        if ($origins !== null && array_diff($origins, $row->origins ?? []) !== []) {
            return null;
        }
        $json = $this->vault->unseal($row->sealed);

        return $json === null ? null : AccessToken::fromArray((array) json_decode($json, true));
    }

    /**
     * Sends a request for a token and keeps what came: access and refresh token in one statement.
     */
    public function keep(Source $source, Environment $environment, ?User $person, TokenScheme $scheme, RequestInterface $request, StoredSecrets $secrets): AccessToken
    {
        return $this->send($this->key($source, $environment, $person, $scheme), $scheme, $request, $secrets, null);
    }

    /**
     * Lets a token go; where the service has an address for it, tells it first (RFC 7009).
     *
     * @return string|null what the service said against it
     */
    public function forget(StoredToken $row, TokenScheme $scheme, StoredSecrets $secrets): ?string
    {
        $token = $this->token($row);
        $complaint = null;
        try {
            // It is not told to an address that the token was not given for.
            $isAtHome = array_diff($secrets->origins(), $row->origins ?? []) === [];
            $request = $token === null || ! $isAtHome || ! $scheme instanceof AuthorizationCode ? null : $scheme->revocation($token, $secrets);
        } catch (MissingSecret $missing) {
            $request = null;
            $complaint = $missing->getMessage();
        }
        if ($request !== null) {
            $secrets->noteToken($token);
            $sent = $this->transport->send($request, self::limits(), $secrets->mask($scheme->sensitive($secrets)));
            $complaint = $sent->status !== null && $sent->status < 400 ? null : ($sent->status === null ? $sent->detail : "It answered $sent->status.");
        }
        $row->delete();

        return $complaint;
    }

    /**
     * The secrets and tokens of a source for one connection to it.
     *
     * @param  SourceDefinition  $definition  by which it is read: a secret is handed out for its addresses alone
     * @param  array<string, string>  $instead  values used in place of those that are stored
     */
    public function secretsOf(Source $source, SourceDefinition $definition, Environment $environment, ?User $person = null, #[\SensitiveParameter] array $instead = []): StoredSecrets
    {
        return new StoredSecrets($this->vault, $this, $source, $definition, $environment, $person, $instead);
    }

    /**
     * @param  array<string, int|string>  $key
     */
    private function ask(array $key, TokenScheme $scheme, StoredSecrets $secrets, ?AccessToken $old): AccessToken
    {
        return $this->send($key, $scheme, $scheme->tokenRequest($secrets, $old, Carbon::now()->getTimestamp()), $secrets, $old);
    }

    /**
     * @param  array<string, int|string>  $key
     */
    private function send(array $key, TokenScheme $scheme, RequestInterface $request, StoredSecrets $secrets, ?AccessToken $old): AccessToken
    {
        $mask = $secrets->mask([...$scheme->sensitive($secrets), ...($old?->sensitive() ?? [])]);
        $sent = $this->transport->send($request, self::limits($secrets->isStopped(...)), $mask);
        if ($sent->status === null) {
            $secrets->record($sent);

            throw TokenUnavailable::unreached($scheme, $sent);
        }
        $answer = new TokenAnswer($sent->status, $sent->headers, $sent->body);
        try {
            $token = $scheme->read($answer, $old, Carbon::now()->getTimestamp());
        } catch (\DeepSpring\Access\TokenRefused $refused) {
            $secrets->record($sent);

            throw TokenUnavailable::refused($scheme, $refused, $sent);
        }
        $secrets->noteToken($token);
        $secrets->record($sent);
        $row = StoredToken::query()->where($key)->first();
        StoredToken::query()->updateOrCreate($key, [
            'sealed' => $this->vault->seal(json_encode($token->toArray(), JSON_THROW_ON_ERROR)),
            'expires_at' => $token->expiresAt === null ? null : Carbon::createFromTimestamp($token->expiresAt),
            'origins' => $secrets->origins(),
            'renewable' => $token->refresh !== null, 'scope' => $token->scope === null ? null : mb_substr($token->scope, 0, 1000), 'asked' => ($row->asked ?? 0) + 1,
        ]);

        return $token;
    }

    /**
     * @param  array<string, int|string>  $key
     * @param  list<string>  $origins  it would be sent to
     *
     * @throws ConsentMissing when a person agreed to other addresses
     */
    private function stored(array $key, array $origins, TokenScheme $scheme): ?AccessToken
    {
        $row = StoredToken::query()->where($key)->first();
        if ($row === null) {
            return null;
        }
        $token = $this->token($row, $origins);
        if ($token === null && $scheme->isPersonal()) {
            $new = array_values(array_diff($origins, $row->origins ?? []));
            if ($new !== []) {
                throw ConsentMissing::elsewhere($row->origins ?? [], $new);
            }
        }

        return $row->expires_at?->getTimestamp() === 1 ? $token?->spent() : $token;
    }

    /**
     * @return array<string, int|string>
     *
     * @throws ConsentMissing
     */
    private function key(Source $source, Environment $environment, ?User $person, TokenScheme $scheme): array
    {
        if ($scheme->isPersonal() && $person === null) {
            throw ConsentMissing::unattended();
        }

        return ['source_id' => $source->id, 'environment_id' => $environment->id, 'person' => $scheme->isPersonal() && $person !== null ? $person->id : 0, 'scheme' => $scheme->id()];
    }

    /**
     * @param  array<string, int|string>  $key
     */
    private function lock(array $key, StoredSecrets $secrets): NamedLock
    {
        $lock = NamedLock::of(DB::connection(), 'token', (string) config('database.connections.app.database'), serialize($key));
        for ($second = 0; $second < self::WAIT; $second++) {
            if ($lock->take(1)) {
                return $lock;
            }
            if ($secrets->isStopped()) {
                throw TokenUnavailable::stopped();
            }
        }

        throw TokenUnavailable::busy(self::WAIT);
    }

    /**
     * @param  (\Closure(): bool)|null  $stopped
     */
    private static function limits(?\Closure $stopped = null): Limits
    {
        return new Limits(20, 1, 1024 * 1024, stopped: $stopped);
    }
}
