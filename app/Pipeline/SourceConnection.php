<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Access\StoredSecrets;
use App\Access\TokenDiagnosis;
use App\Access\TokenUnavailable;
use App\Evidence\EvidenceWriter;
use App\Evidence\LookupAnswers;
use App\Models\Environment;
use App\Models\Source;
use App\Pace\Pacer;
use App\Secrets\UnreadableSecret;
use App\Secrets\Vault;
use App\Transport\Limits;
use App\Transport\Sent;
use App\Transport\Transfer;
use App\Transport\Transport;
use DeepSpring\Access\Certificate;
use DeepSpring\Access\ConsentMissing;
use DeepSpring\Access\MaskedText;
use DeepSpring\Access\MissingSecret;
use DeepSpring\Access\MissingVariable;
use DeepSpring\Access\Origin;
use DeepSpring\Access\Scheme;
use DeepSpring\Access\SecretMask;
use DeepSpring\Access\SecuresConnection;
use DeepSpring\Access\UnusableSecret;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Diagnose\Diagnose;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Notes;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Pace\PaceState;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceDefinition;
use Psr\Http\Message\RequestInterface;

/**
 * Definition + inputs + access → request → transport, and why something failed. It hands out
 * secrets and tokens to one reading and takes them out of whatever is shown.
 *
 * In one piece, since nobody else may hold what is secret of a reading.
 */
final class SourceConnection
{
    /** Bytes of a file that are looked at together, and of those before them that may belong to the same secret. */
    private const PART = 1 << 20;

    private const OVERLAP = 1 << 15;

    private readonly Diagnose $diagnose;

    /** @var array<int, Scheme> by their place in the source file */
    private readonly array $access;

    public readonly ?Certificate $certificate;

    /** @var list<string> */
    private readonly array $sensitive;

    /** Of the tokens in use; counts up when they are renewed. */
    public int $generation = 0;

    /**
     * @throws ReadingFailed when there is no usable secret or variable
     */
    public function __construct(
        private readonly Transport $transport,
        private readonly Vault $vault,
        private readonly StoredSecrets $secrets,
        private readonly Source $source,
        private readonly SourceDefinition $definition,
        private readonly Environment $environment,
    ) {
        $this->diagnose = new Diagnose;
        try {
            $this->access = $definition->access($environment->slug);
            $sensitive = [];
            $certificate = null;
            foreach ($this->access as $scheme) {
                array_push($sensitive, ...$scheme->sensitive($this->secrets));
                $certificate = $scheme instanceof SecuresConnection ? $scheme->certificate($this->secrets) : $certificate;
            }
            $this->sensitive = $sensitive;
            $this->certificate = $certificate;
        } catch (MissingSecret|UnusableSecret|UnreadableSecret $missing) {
            throw ReadingFailed::because(self::withoutSecret($missing));
        } catch (MissingVariable $missing) {
            throw ReadingFailed::because(new Diagnosis('variable', $missing->getMessage(), 'Nothing was sent.', 'address'));
        }
    }

    private static function withoutSecret(MissingSecret|UnusableSecret|UnreadableSecret $why): Diagnosis
    {
        $moved = $why instanceof MissingSecret && $why->elsewhere !== [];

        return new Diagnosis($moved ? 'secret-elsewhere' : 'secret', $why->getMessage(), 'Nothing was sent.', 'access');
    }

    /**
     * Reads lists through this connection.
     */
    public function pages(): PageReader
    {
        return new PageReader($this, $this->transport);
    }

    /**
     * One request for each row of a table.
     *
     * @param  iterable<array{array<string, string|null>, array<string, string|null>, list<string>}>  $rows  what is bound, as it is sent; what is carried; the key
     * @param  LookupAnswers|null  $answers  those that are known; null where each row is asked for anew
     * @param  (\Closure(string, string): ?string)|null  $conceal  takes what is masked out of a body, given its media type
     */
    public function lookup(EndpointDefinition $endpoint, LookupSettings $settings, iterable $rows, Limits $limits, FetchObserver $watch, Pacer $pacer, ?LookupAnswers $answers, ?\Closure $conceal = null): LookupPages
    {
        return new LookupPages($this, $endpoint, $settings, $rows, $limits, $watch, $pacer, $answers, $this->transport, $conceal);
    }

    /**
     * Takes out of a text whatever was secret so far.
     */
    public function mask(): SecretMask
    {
        return $this->secrets->mask($this->sensitive);
    }

    /**
     * @param  \Closure(): bool  $stopped  asked while a token is waited for
     */
    public function stopWith(\Closure $stopped): void
    {
        $this->secrets->stopWith($stopped);
    }

    /**
     * An answer without what was secret so far; the same one when nothing of it was.
     */
    public function clean(Sent $sent): Sent
    {
        return $this->mask()->touches($sent->body) ? $sent->with((new MaskedText($this->mask()))->of($sent->body)) : $sent;
    }

    /**
     * Whether an answer that lies on the disk holds anything secret.
     */
    public function touchesFile(Sent $sent): bool
    {
        $mask = $this->mask();
        $sent->stream?->rewind();
        for ($before = ''; $sent->stream?->eof() === false; $before = substr($part, -self::OVERLAP)) {
            $part = $before.$sent->stream->read(self::PART);
            if ($mask->touches($part)) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param  \Closure(Sent, SecretMask): void  $recorder  told of every request for a token
     */
    public function recordTokens(\Closure $recorder): void
    {
        $this->secrets->recordWith(fn (Sent $sent) => $recorder($sent, $this->mask()));
    }

    /**
     * The request as it would leave, masked, without sending anything.
     *
     * @param  array<string, list<string>>  $inputs
     *
     * @throws ReadingFailed
     */
    public function preview(EndpointDefinition $endpoint, array $inputs, PageRequest $page): string
    {
        $quiet = $this->secrets->withoutAsking();
        $request = Transport::completed($this->request($endpoint, $inputs, $page, $quiet));
        // What it handed out is known to it alone.
        $mask = $quiet->mask($this->sensitive);
        $body = (string) $request->getBody();

        return EvidenceWriter::head($request, $mask).($body === '' ? '' : "\n".EvidenceWriter::readable($mask->apply($body)));
    }

    /**
     * @param  array<string, list<string>>  $inputs
     *
     * @throws ReadingFailed
     */
    public function request(EndpointDefinition $endpoint, array $inputs, PageRequest $page, ?StoredSecrets $secrets = null): RequestInterface
    {
        $ask = $endpoint->ask();
        if ($this->definition->base($this->environment->slug) === null && ! isset($ask->bases[$this->environment->slug])) {
            throw ReadingFailed::because(new Diagnosis('no-base', "{$this->definition->name} has no address in {$this->environment->name}.", 'Set one under Address, or work in another environment: it has '.implode(', ', $this->definition->environments()).'.', 'address'));
        }
        try {
            $requests = $this->definition->requests($this->environment->slug);

            return $requests->build($ask, $inputs, ($secrets ?? $this->secrets)->sentTo($requests->elsewhere($ask)), $page);
        } catch (InvalidInput $invalid) {
            throw ReadingFailed::because(new Diagnosis('input', $invalid->getMessage(), 'Nothing was sent.', 'ask'));
        } catch (UnusableSecret|MissingSecret|UnreadableSecret $unusable) {
            throw ReadingFailed::because(self::withoutSecret($unusable));
        } catch (MissingVariable $missing) {
            throw ReadingFailed::because(new Diagnosis('variable', $missing->getMessage(), 'Nothing was sent.', 'address'));
        } catch (ConsentMissing $missing) {
            throw ReadingFailed::because(new Diagnosis('consent', $missing->getMessage(), 'Sign in at the service under Authentication. Nothing was sent.', 'access'));
        } catch (TokenUnavailable $unavailable) {
            throw ReadingFailed::because($this->tokenTrouble($unavailable));
        } catch (\InvalidArgumentException $invalid) {
            throw ReadingFailed::because(new Diagnosis('request', 'No request can be made from this: '.($secrets ?? $this->secrets)->mask($this->sensitive)->apply($invalid->getMessage()), 'Nothing was sent.', 'ask'));
        }
    }

    /**
     * Sends one request; after a 401 with a token that was kept, gets a new one and sends it once more.
     *
     * @param  \Closure(): RequestInterface  $make
     *
     * @throws ReadingFailed
     */
    public function send(\Closure $make, Limits $limits): Sent
    {
        $send = fn (RequestInterface $request): Sent => $this->transport->send($request, $limits, $this->mask(), $this->certificateFor($request));
        $sent = $send($make());

        return $this->renewAfter($sent, $this->generation) ? $send($make()) : $sent;
    }

    /**
     * Sends a request on its way, beside those that are under way already.
     */
    public function begin(RequestInterface $request, Limits $limits): Transfer
    {
        return $this->transport->begin($request, $limits, $this->mask(), $this->certificateFor($request));
    }

    /**
     * Lets what was just begun leave.
     */
    public function advance(): void
    {
        $this->transport->advance();
    }

    /**
     * Lets what is under way go on, until something happens or for a moment.
     */
    public function tick(): void
    {
        $this->transport->tick();
    }

    /**
     * The client certificate, for a request to the source's own server; it is shown to no other.
     */
    public function certificateFor(RequestInterface $request): ?Certificate
    {
        return Origin::of((string) $request->getUri()) === Origin::of((string) $this->definition->base($this->environment->slug)) ? $this->certificate : null;
    }

    /**
     * After a 401 with a token that was kept, gets a new one. Of several requests that left with the
     * same token, the first does.
     *
     * @param  int  $generation  of the tokens that the request left with
     * @return bool whether it is worth sending once more
     *
     * @throws ReadingFailed
     */
    public function renewAfter(Sent $sent, int $generation, ?FetchObserver $watch = null): bool
    {
        $wantsCsrf = $sent->status === 403 && strcasecmp($sent->headers['x-csrf-token'] ?? '', 'required') === 0;
        if ($sent->status !== 401 && ! $wantsCsrf) {
            $this->secrets->proven();

            return false;
        }
        $isRenewed = $generation < $this->generation;
        if (! $isRenewed && ! $this->secrets->isRenewable()) {
            return false;
        }
        $watch?->answered($sent, 0, null);
        if ($isRenewed) {
            return true;
        }
        try {
            $this->secrets->renew();
            $this->generation++;
        } catch (ConsentMissing $missing) {
            throw ReadingFailed::because(new Diagnosis('consent', $missing->getMessage(), 'Sign in at the service again under Authentication.', 'access'));
        } catch (TokenUnavailable $unavailable) {
            throw ReadingFailed::because($this->tokenTrouble($unavailable));
        }

        return true;
    }

    /**
     * Why nothing was sent while the breaker of the source is open.
     */
    public function breaker(PaceState $state): Diagnosis
    {
        $since = $state->failingSince === null ? '' : ' since '.gmdate('H:i:s', (int) $state->failingSince).' UTC';

        return new Diagnosis('breaker', "{$this->definition->name} has failed$since, so it gets no requests for now. ".($state->lastFailure ?? ''), 'It is looked at again by itself'.($state->openUntil === null ? '' : ' at '.gmdate('H:i:s', (int) $state->openUntil).' UTC').'. A try goes through at any time, and one that succeeds opens the way again.', 'address');
    }

    /**
     * Sends one GET to the base address.
     */
    public function base(Limits $limits): Sent
    {
        return $this->send(fn (): RequestInterface => $this->request(new EndpointDefinition(['slug' => 'base', 'name' => 'base', 'ask' => ['path' => '']]), [], new PageRequest), $limits);
    }

    /**
     * Sends one GET for a document of the service.
     *
     * @param  string  $path  below the base address, or a whole address of the same origin
     */
    public function document(string $path, string $accept, Limits $limits): Sent
    {
        $isWhole = preg_match('~^https?://~i', $path) === 1;
        $endpoint = new EndpointDefinition(['slug' => 'document', 'name' => 'document', 'ask' => ['path' => $isWhole ? '' : $path, 'headers' => ['accept' => $accept]]]);

        return $this->send(fn (): RequestInterface => $this->request($endpoint, [], $isWhole ? new PageRequest(uri: $path) : new PageRequest), $limits);
    }

    /**
     * @param  list<int>  $ok
     */
    public function explain(Sent $sent, array $ok, int $timeout, ?EndpointDefinition $endpoint = null, ?UnreadableAnswer $unreadable = null, ?int $records = null): ?Diagnosis
    {
        return $this->diagnose->exchange($this->situation($sent, $ok, $timeout, $endpoint, $unreadable, $records));
    }

    /**
     * @param  list<int>  $ok
     */
    private function situation(Sent $sent, array $ok, int $timeout, ?EndpointDefinition $endpoint, ?UnreadableAnswer $unreadable, ?int $records): Situation
    {
        $mask = $this->mask();
        $bases = [];
        foreach ($this->definition->environments() as $slug) {
            $bases[$slug] = (string) $this->definition->base($slug);
        }

        return new Situation(
            $sent->request->getMethod(), $mask->apply((string) $sent->request->getUri()),
            array_values(array_filter(array_map(static fn (Scheme $scheme): ?string => $scheme->header(), $this->access))),
            $this->access !== [], $sent->failing, $sent->detail, $sent->status, array_map($mask->apply(...), $sent->headers), $mask->apply($sent->body), $ok, $timeout,
            $this->definition->accessEntries(), $endpoint->endpoint['ask'] ?? [], $this->environment->slug, $bases,
            in_array($sent->status, [400, 401, 403], true) ? SecretFacts::of($this->vault, $this->source, $this->environment, $this->definition, $this->secrets) : [],
            array_map(static fn (array $hop): array => ['to' => $mask->apply($hop['to'])] + $hop, $sent->timing->hops), array_map(strtolower(...), array_map(strval(...), array_keys($sent->request->getHeaders()))), $unreadable, $records,
            $sent->status === 404 ? array_values(array_filter(array_map(static fn (EndpointDefinition $one): string => $one->slug === $endpoint?->slug ? '' : (string) ($one->endpoint['ask']['path'] ?? ''), $this->source->current()->endpoints()))) : [],
        );
    }

    /**
     * What is worth saying of an answer that is a success.
     *
     * @param  list<int>  $ok
     * @return list<Diagnosis>
     */
    public function notes(Sent $sent, array $ok, int $timeout, ?EndpointDefinition $endpoint, int $records): array
    {
        return Notes::of($this->situation($sent, $ok, $timeout, $endpoint, null, $records));
    }

    private function tokenTrouble(TokenUnavailable $unavailable): Diagnosis
    {
        return TokenDiagnosis::of($this->transport, $unavailable, $this->definition, $this->access, $this->secrets, fn (Sent $sent): ?Diagnosis => $this->explain($sent, range(200, 299), 20));
    }
}
