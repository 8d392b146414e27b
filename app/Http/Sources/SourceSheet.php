<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Access\Consents;
use App\Access\TokenStore;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\KeptTable;
use App\Models\Secret;
use App\Models\Source;
use App\Models\StoredToken;
use App\Models\Tryout;
use App\Models\User;
use App\Pace\RateLimitStore;
use App\Sources\AddressEndpoint;
use App\View\PaceView;
use App\View\SourceState;
use App\View\SourceStates;
use App\View\Stages;
use DeepSpring\Access\Additions;
use DeepSpring\Access\MissingVariable;
use DeepSpring\Access\Origin;
use DeepSpring\Access\Scheme;
use DeepSpring\Access\TokenScheme;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Database\Eloquent\Collection;

/**
 * Everything that the sheet of a source shows: address and access as they are set, and what
 * happened when the source was tested in the current environment.
 */
final class SourceSheet
{
    /** @var array<string, mixed> the source as it is shown: as saved, or as it was just sent */
    public readonly array $definition;

    /** @var Collection<string, Secret> by name */
    public readonly Collection $secrets;

    public readonly ?Tryout $try;

    public readonly ?Exchange $exchange;

    /** @var Collection<int, Exchange> */
    public readonly Collection $tokenExchanges;

    /** @var Collection<int, Environment> */
    public readonly Collection $workspace;

    /** @var array<int, SourceState> by environment */
    public readonly array $states;

    /** @var array<int, list<string>> what each scheme adds to a request */
    public readonly array $adds;

    /** @var array<int, StoredToken|null> by place of the scheme */
    public readonly array $tokens;

    public readonly PaceView $pace;

    /** @var \Illuminate\Database\Eloquent\Collection<int, KeptTable> tables that are kept of it here */
    public readonly \Illuminate\Database\Eloquent\Collection $kept;

    /** Whether the breaker is open. */
    private readonly bool $isLeftAlone;

    public readonly string $redirectAddress;

    /** Whether settings or secrets are others than those of the last test. */
    public readonly bool $changed;

    /**
     * @param  list<Fault>  $faults
     * @param  array<string, mixed>|null  $form  what was sent and could not be saved
     */
    public function __construct(RateLimitStore $rates, TokenStore $tokens, Source $source, public readonly SourceFile $file, public readonly Environment $environment, User $person, public readonly array $faults, ?array $form)
    {
        $this->isLeftAlone = $rates->state($source->id, $environment->id)->openUntil !== null;
        $saved = $file->document['source'];
        $this->definition = $form === null ? $saved : (new SourceForm($saved))->apply($form);
        $this->secrets = Secret::query()->with('setBy')->where('source_id', $source->id)->where('environment_id', $environment->id)->get()->keyBy('name');
        $this->try = Tryout::query()->where('source_id', $source->id)->where('environment_id', $environment->id)->latest('id')->first();
        $exchanges = $this->try?->exchanges;
        $this->exchange = $this->try?->succeeded === true ? $exchanges?->first() : $exchanges?->last();
        $this->tokenExchanges = $this->try?->tokenExchanges()->get() ?? new Collection;
        $this->workspace = Environment::query()->orderBy('position')->get();
        $this->states = SourceStates::of([$source->id])[$source->id] ?? [];
        $this->redirectAddress = Consents::redirectAddress();
        $this->changed = $this->try !== null && (($this->try->strata['source'] ?? null) !== $file->source()->fingerprint($environment->slug)
            || $this->secrets->contains(fn (Secret $secret): bool => $secret->pending === null && $secret->updated_at->greaterThan($this->try->created_at)));
        try {
            $schemes = $file->source()->access($environment->slug);
        } catch (MissingVariable) {
            $schemes = [];
        }
        $this->pace = new PaceView($rates, $source->id, $environment->id, $this->definition['pace'] ?? [], microtime(true));
        $this->kept = KeptTable::query()->whereIn('endpoint_id', $source->endpoints->pluck('id'))->where('environment_id', $environment->id)->orderBy('name')->get();
        $this->adds = Additions::of($schemes, (string) $file->source()->base($environment->slug));
        $this->tokens = array_map(static fn (Scheme $scheme): ?StoredToken => $scheme instanceof TokenScheme ? $tokens->peek($source, $environment, $person, $scheme) : null, $schemes);
    }

    /**
     * Scopes that were asked for and are not in the token.
     *
     * @return list<string>
     */
    public function notGranted(int $number): array
    {
        $granted = ($this->tokens[$number] ?? null)?->scope;
        $asked = $this->definition['access'][$number]['scope'] ?? '';

        return $granted === null || ! is_string($asked) ? [] : array_values(array_diff(array_filter(explode(' ', $asked)), explode(' ', $granted)));
    }

    public function where(): ?string
    {
        return $this->try?->diagnosis['where'] ?? null;
    }

    /**
     * ok: proven; bad: failed here; no: not come so far.
     */
    public function node(string $stratum): string
    {
        if ($stratum === 'pace' && $this->isLeftAlone) {
            return 'bad';
        }
        if ($this->try === null || $this->changed) {
            return 'no';
        }
        if ($this->try->succeeded) {
            return 'ok';
        }
        $where = $this->where();

        return match ($stratum) {
            'address' => $where === 'address' ? 'bad' : ($this->exchange?->status === null && $where !== 'access' ? 'bad' : ($this->exchange === null ? 'no' : 'ok')),
            'access' => $where === 'access' ? 'bad' : ($where === 'address' ? 'no' : 'ok'),
            default => in_array($where, ['address', 'access'], true) ? 'no' : 'bad',
        };
    }

    /**
     * Whether the base address itself answers with something that could be an endpoint.
     */
    public function answersWithData(): bool
    {
        return AddressEndpoint::isOne($this->file, $this->try);
    }

    public function stages(): ?Stages
    {
        return $this->try === null ? null : new Stages($this->try, $this->exchange, ($this->definition['access'] ?? []) !== []);
    }

    /**
     * Names of secrets that the document asks for.
     *
     * @return list<string>
     */
    public function wanted(): array
    {
        return $this->file->secretNames();
    }

    /**
     * Names of variables that the document asks for.
     *
     * @return list<string>
     */
    public function wantedVariables(): array
    {
        return array_values(array_unique([...\DeepSpring\Access\Variables::names($this->definition['access'] ?? []), ...\DeepSpring\Access\Variables::names($this->definition['headers'] ?? []), ...\DeepSpring\Access\Variables::names($this->definition['query'] ?? [])]));
    }

    /**
     * Another environment that has an address, to copy from where this one has none.
     */
    public function copyFrom(): ?Environment
    {
        if (isset($this->definition['environments'][$this->environment->slug])) {
            return null;
        }

        return $this->workspace->first(fn (Environment $one): bool => isset($this->definition['environments'][$one->slug]));
    }

    /**
     * Origins that a secret would be sent to now and was not given for.
     *
     * @return list<string>
     */
    public function awayFrom(Secret $secret): array
    {
        try {
            $now = [...$this->file->source()->origins($this->environment->slug), ...$this->file->source()->furtherOrigins($this->environment->slug)];

            return array_values(array_diff($now, $secret->origins ?? []));
        } catch (MissingVariable) {
            return [];
        }
    }

    /**
     * @param  list<string>  $origins
     */
    public function shown(array $origins): string
    {
        return $origins === [] ? 'no address yet' : implode(' and ', array_map(Origin::shown(...), $origins));
    }
}
