<?php

declare(strict_types=1);

namespace App\Access;

use App\Models\Environment;
use App\Models\Secret;
use App\Models\Source;
use App\Models\User;
use App\Secrets\Vault;
use App\Transport\Sent;
use DeepSpring\Access\AccessToken;
use DeepSpring\Access\MissingSecret;
use DeepSpring\Access\SecretMask;
use DeepSpring\Access\Secrets;
use DeepSpring\Access\TokenScheme;
use DeepSpring\SourceFile\SourceDefinition;
use Illuminate\Support\Carbon;

/**
 * The secrets and tokens of one source in one environment, opened when they are needed. It
 * remembers all it handed out, so that this can be taken out of whatever is shown.
 */
final class StoredSecrets implements Secrets
{
    /** @var array<string, string> */
    private array $opened;

    /** @var array<string, array{scheme: TokenScheme, token: AccessToken, proven: bool}> by id of the scheme */
    private array $tokens = [];

    /** @var array<string, true> */
    private array $seen = [];

    /** @var (\Closure(Sent): void)|null */
    private ?\Closure $recorder = null;

    /** @var (\Closure(): bool)|null */
    private ?\Closure $stopped = null;

    private bool $asks = true;

    private ?SecretMask $mask = null;

    /** @var list<string> what the mask was made for */
    private array $masked = [];

    /**
     * @param  array<string, string>  $instead
     */
    public function __construct(
        private readonly Vault $vault,
        private readonly TokenStore $store,
        private readonly Source $source,
        private readonly SourceDefinition $definition,
        private readonly Environment $environment,
        private readonly ?User $person,
        #[\SensitiveParameter] array $instead = [],
    ) {
        $this->opened = $instead;
    }

    /**
     * The same, but no request is sent for a token: what is kept is used, or six dots.
     */
    public function withoutAsking(): self
    {
        $quiet = clone $this;
        $quiet->asks = false;

        return $quiet;
    }

    /**
     * Where it is about to be sent: the base address and those of the access schemes.
     *
     * @return list<string>
     */
    public function origins(): array
    {
        return $this->definition->origins($this->environment->slug);
    }

    public function get(string $name): string
    {
        if (! isset($this->opened[$name])) {
            $secret = Secret::query()->where(['source_id' => $this->source->id, 'environment_id' => $this->environment->id, 'name' => $name])->first();
            if ($secret === null) {
                throw MissingSecret::named($name, $this->environment->name);
            }
            $new = array_values(array_diff($this->origins(), $secret->origins ?? []));
            if ($new !== []) {
                throw MissingSecret::elsewhere($name, $secret->origins ?? [], $new);
            }
            $this->opened[$name] = $this->vault->open($secret);
        }

        return $this->opened[$name];
    }

    /**
     * These, or for requests to another server than the source's only what was given for that one as well.
     *
     * @param  string|null  $origin  of the other server
     */
    public function sentTo(?string $origin): Secrets
    {
        return $origin === null ? $this : new SecretsElsewhere($this, $origin);
    }

    /**
     * @throws MissingSecret when it was given for other addresses only
     */
    public function requireFor(string $name, string $origin): void
    {
        $secret = Secret::query()->where(['source_id' => $this->source->id, 'environment_id' => $this->environment->id, 'name' => $name])->first();
        if ($secret !== null && ! in_array($origin, $secret->origins ?? [], true)) {
            throw MissingSecret::elsewhere($name, $secret->origins ?? [], [$origin]);
        }
    }

    public function token(TokenScheme $scheme): AccessToken
    {
        $id = $scheme->id();
        $had = $this->tokens[$id]['token'] ?? null;
        if ($had !== null && $had->isFresh(Carbon::now()->getTimestamp())) {
            return $had;
        }
        if (! $this->asks) {
            $row = $this->store->peek($this->source, $this->environment, $this->person, $scheme);

            $kept = $row === null ? null : $this->store->token($row, $this->origins());
            if ($kept !== null) {
                $this->noteToken($kept);
            }

            return $kept ?? new AccessToken('••••••', 0);
        }
        $before = count($this->seen);
        $token = $this->store->get($this->source, $this->environment, $this->person, $scheme, $this);
        $this->tokens[$id] = ['scheme' => $scheme, 'token' => $token, 'proven' => count($this->seen) === $before];
        $this->noteToken($token);

        return $token;
    }

    /**
     * The service took a request with the tokens in use.
     */
    public function proven(): void
    {
        foreach ($this->tokens as $id => $one) {
            $this->tokens[$id]['proven'] = true;
        }
    }

    /**
     * After a 401: new tokens in the place of kept ones. One that was just handed out is not asked
     * for again, so that a request is repeated once.
     */
    public function renew(): void
    {
        foreach ($this->tokens as $id => ['scheme' => $scheme, 'token' => $token, 'proven' => $proven]) {
            if ($proven) {
                $new = $this->store->get($this->source, $this->environment, $this->person, $scheme, $this, $token->value);
                $this->tokens[$id] = ['scheme' => $scheme, 'token' => $new, 'proven' => false];
                $this->noteToken($new);
            }
        }
    }

    /**
     * Whether a token is in use that had worked before.
     */
    public function isRenewable(): bool
    {
        return array_filter($this->tokens, static fn (array $one): bool => $one['proven']) !== [];
    }

    public function noteToken(AccessToken $token): void
    {
        foreach ($token->sensitive() as $value) {
            $this->seen[$value] = true;
        }
    }

    /**
     * @param  list<string>  $more
     */
    public function mask(#[\SensitiveParameter] array $more = []): SecretMask
    {
        $all = array_values(array_unique([...array_values($this->opened), ...array_map(strval(...), array_keys($this->seen)), ...$more]));
        if ($this->mask === null || $all !== $this->masked) {
            // It is asked for with every page, and knows its forms once it was used.
            [$this->masked, $this->mask] = [$all, new SecretMask($all)];
        }

        return $this->mask;
    }

    /**
     * @param  \Closure(Sent): void  $recorder  told of every request for a token
     */
    public function recordWith(\Closure $recorder): void
    {
        $this->recorder = $recorder;
    }

    /**
     * @param  \Closure(): bool  $stopped  asked while a token is waited for
     */
    public function stopWith(\Closure $stopped): void
    {
        $this->stopped = $stopped;
    }

    public function isStopped(): bool
    {
        return $this->stopped !== null && ($this->stopped)();
    }

    public function record(Sent $sent): void
    {
        if ($this->recorder !== null) {
            ($this->recorder)($sent);
        }
    }
}
