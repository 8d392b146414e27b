<?php

declare(strict_types=1);

namespace App\Runs;

use App\Access\TokenDiagnosis;
use App\Access\TokenUnavailable;
use App\Models\Environment;
use App\Models\Source;
use App\Models\User;
use App\Secrets\StoredSecrets;
use App\Secrets\UnreadableSecret;
use App\Secrets\Vault;
use App\Transport\Limits;
use App\Transport\Sent;
use App\Transport\Transport;
use DeepSpring\Access\Certificate;
use DeepSpring\Access\ConsentMissing;
use DeepSpring\Access\Mask;
use DeepSpring\Access\MissingSecret;
use DeepSpring\Access\MissingVariable;
use DeepSpring\Access\Scheme;
use DeepSpring\Access\SecuresConnection;
use DeepSpring\Access\UnusableSecret;
use DeepSpring\Answer\JsonBody;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Diagnose\Diagnose;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Notes;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Onward\End;
use DeepSpring\Onward\EndReason;
use DeepSpring\Onward\OnwardFailure;
use DeepSpring\Onward\Page;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceDefinition;
use Psr\Http\Message\RequestInterface;

/**
 * The first half of the pipeline: definition + inputs + access → request → transport → answer →
 * records, page by page. A try and a refresh both read through here. It throws `ReadingFailed`
 * with a diagnosis, and whatever was sent is reported before.
 */
final class Reading
{
    private readonly Diagnose $diagnose;

    private readonly StoredSecrets $secrets;

    /** @var array<int, Scheme> by their place in the source file */
    private readonly array $access;

    private readonly ?Certificate $certificate;

    /** @var list<string> */
    private readonly array $sensitive;

    /** @var list<Diagnosis> what is worth saying of the first answer */
    public array $notes = [];

    /**
     * @param  array<string, string>  $instead  values of secrets to be used in place of the stored ones
     *
     * @throws ReadingFailed when there is no usable secret or variable
     */
    public function __construct(
        private readonly Transport $transport,
        private readonly Vault $vault,
        private readonly Source $source,
        private readonly SourceDefinition $definition,
        private readonly Environment $environment,
        ?User $person = null,
        #[\SensitiveParameter] array $instead = [],
    ) {
        $this->diagnose = new Diagnose;
        $this->secrets = $vault->of($source, $environment, $person, $instead);
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
            throw ReadingFailed::because(new Diagnosis('secret', $missing->getMessage(), 'Nothing was sent.', 'access'));
        } catch (MissingVariable $missing) {
            throw ReadingFailed::because(new Diagnosis('variable', $missing->getMessage(), 'Nothing was sent.', 'address'));
        }
    }

    /**
     * Takes out of a text whatever was secret so far.
     */
    public function mask(): Mask
    {
        return $this->secrets->mask($this->sensitive);
    }

    /**
     * @param  \Closure(Sent, Mask): void  $recorder  told of every request for a token
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
        if ($this->definition->base($this->environment->slug) === null) {
            throw ReadingFailed::because(new Diagnosis('no-base', "{$this->definition->name} has no address in {$this->environment->name}.", 'Set one under Address, or work in another environment: it has '.implode(', ', $this->definition->environments()).'.', 'address'));
        }
        try {
            return $this->definition->requests($this->environment->slug)->build($endpoint->ask(), $inputs, $secrets ?? $this->secrets, $page);
        } catch (InvalidInput $invalid) {
            throw ReadingFailed::because(new Diagnosis('input', $invalid->getMessage(), 'Nothing was sent.', 'ask'));
        } catch (UnusableSecret|MissingSecret|UnreadableSecret $unusable) {
            throw ReadingFailed::because(new Diagnosis('secret', $unusable->getMessage(), 'Nothing was sent.', 'access'));
        } catch (MissingVariable $missing) {
            throw ReadingFailed::because(new Diagnosis('variable', $missing->getMessage(), 'Nothing was sent.', 'address'));
        } catch (ConsentMissing $missing) {
            throw ReadingFailed::because(new Diagnosis('consent', $missing->getMessage(), 'Sign in at the service under Who is asking. Nothing was sent.', 'access'));
        } catch (TokenUnavailable $unavailable) {
            throw ReadingFailed::because($this->tokenTrouble($unavailable));
        } catch (\InvalidArgumentException $invalid) {
            throw ReadingFailed::because(new Diagnosis('request', 'No request can be made from this: '.($secrets ?? $this->secrets)->mask($this->sensitive)->apply($invalid->getMessage()), 'Nothing was sent.', 'ask'));
        }
    }

    /**
     * @param  array<string, list<string>>  $inputs
     * @param  \Closure(Sent, int, int|null): void  $record  told of every answer: page from 1, or 0 for one that is asked for again with a new token; records on it
     * @param  (\Closure(int): bool)|null  $pause
     * @return \Generator<int, ReadPage, void, End>
     *
     * @throws ReadingFailed
     */
    public function pages(EndpointDefinition $endpoint, array $inputs, Limits $limits, \Closure $record, ?\Closure $pause = null): \Generator
    {
        $answer = $endpoint->answer();
        $writes = $endpoint->does()->writes();
        $limits = $limits->repeatable(! $writes || $endpoint->ask()->hasIdempotencyKey($inputs));
        $pager = $endpoint->onward()->pager();
        $step = $pager->first();
        $total = 0;
        for ($number = 1; ; $number++) {
            $sent = $this->send(fn (): RequestInterface => $this->request($endpoint, $inputs, $step), $limits, $pause, static fn (Sent $refused) => $record($refused, 0, null));
            $this->refuse($sent, $answer->ok, $limits, $number, $record, $endpoint);
            try {
                $document = $this->isEmpty($sent, $writes) ? null : JsonBody::decode($sent->body);
            } catch (UnreadableAnswer $unreadable) {
                $record($sent, $number, null);

                throw ReadingFailed::because($this->explain($sent, $answer->ok, $limits->timeout, $endpoint, $unreadable) ?? new Diagnosis('unreadable', $unreadable->getMessage(), 'See the raw answer.', 'answer'), $number);
            }
            $records = $this->isEmpty($sent, $writes) ? [] : $answer->records($document);
            $total += count($records);
            $record($sent, $number, count($records));
            if ($this->isEmpty($sent, $writes)) {
                return new End(EndReason::Single, $sent->status === 204 ? 'Done; the service has nothing to add.' : 'Done; the answer is empty.');
            }
            $this->refuseHiddenErrors($sent, $answer->ok, $limits, $endpoint, $records, $answer->records !== null, $number);
            if ($number === 1 && $records === [] && $answer->records !== null && $answer->records->isSingular()) {
                throw ReadingFailed::because(new Diagnosis('no-records', "The answer has nothing at {$answer->records}.", 'Choose where the records are from the answer at the right.', 'answer'), $number);
            }
            $page = new Page($number, $document, count($records), $total, (string) $sent->request->getUri(), self::fingerprint($records), $sent->headers);
            $read = new ReadPage($number, $document, $records, $sent);
            // Only the page itself is held while it is worked on, so that two are never in memory.
            unset($document, $records, $sent);
            yield $read;
            unset($read);
            try {
                $step = $pager->next($page);
                unset($page);
            } catch (OnwardFailure $failure) {
                throw ReadingFailed::because(new Diagnosis('onward', $this->mask()->apply($failure->getMessage()), $failure->hint ?? 'Compare the settings with the documentation.', 'onward'), $number);
            }
            if ($step instanceof End) {
                return new End($step->reason, $this->mask()->apply($step->sentence));
            }
        }
    }

    /**
     * Whether an answer has no body and needs none: to a write, or to a request for the head alone.
     */
    private function isEmpty(Sent $sent, bool $writes): bool
    {
        return trim($sent->body) === '' && ($writes || $sent->status === 204 || $sent->request->getMethod() === 'HEAD');
    }

    /**
     * Sends one request; after a 401 with a token that was kept, gets a new one and sends it once more.
     *
     * @param  \Closure(): RequestInterface  $make
     * @param  (\Closure(int): bool)|null  $pause
     * @param  (\Closure(Sent): void)|null  $refused  told of the first answer when there is a second
     *
     * @throws ReadingFailed
     */
    public function send(\Closure $make, Limits $limits, ?\Closure $pause = null, ?\Closure $refused = null): Sent
    {
        $sent = $this->transport->send($make(), $limits, $this->mask(), $pause, $this->certificate);
        $wantsCsrf = $sent->status === 403 && strcasecmp($sent->headers['x-csrf-token'] ?? '', 'required') === 0;
        if ($sent->status !== 401 && ! $wantsCsrf) {
            $this->secrets->proven();

            return $sent;
        }
        if (! $this->secrets->isRenewable()) {
            return $sent;
        }
        if ($refused !== null) {
            $refused($sent);
        }
        try {
            $this->secrets->renew();
        } catch (ConsentMissing $missing) {
            throw ReadingFailed::because(new Diagnosis('consent', $missing->getMessage(), 'Sign in at the service again under Who is asking.', 'access'));
        } catch (TokenUnavailable $unavailable) {
            throw ReadingFailed::because($this->tokenTrouble($unavailable));
        }

        return $this->transport->send($make(), $limits, $this->mask(), $pause, $this->certificate);
    }

    /**
     * Sends one GET to the base address.
     */
    public function knock(Limits $limits): Sent
    {
        return $this->send(fn (): RequestInterface => $this->request(new EndpointDefinition(['slug' => 'base', 'name' => 'base', 'ask' => ['path' => '']]), [], new PageRequest), $limits);
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
            $sent->timing->hops, array_map(strtolower(...), array_map(strval(...), array_keys($sent->request->getHeaders()))), $unreadable, $records,
            $sent->status === 404 ? array_values(array_filter(array_map(static fn (EndpointDefinition $one): string => $one->slug === $endpoint?->slug ? '' : (string) ($one->endpoint['ask']['path'] ?? ''), $this->source->inHand()->endpoints()))) : [],
        );
    }

    private function tokenTrouble(TokenUnavailable $unavailable): Diagnosis
    {
        return TokenDiagnosis::of($unavailable, $this->definition, $this->access, $this->secrets, fn (Sent $sent): ?Diagnosis => $this->explain($sent, range(200, 299), 20));
    }

    /**
     * @param  list<int>  $ok
     * @param  \Closure(Sent, int, int|null): void  $record
     *
     * @throws ReadingFailed
     */
    private function refuse(Sent $sent, array $ok, Limits $limits, int $number, \Closure $record, EndpointDefinition $endpoint): void
    {
        if ($sent->failing === null && in_array($sent->status, $ok, true)) {
            return;
        }
        $record($sent, $number, null);
        $diagnosis = $this->explain($sent, $ok, $limits->timeout, $endpoint) ?? new Diagnosis('unexplained', "The service answered {$sent->status}.", 'See the raw answer.', 'answer');

        throw ReadingFailed::because($diagnosis, $number);
    }

    /**
     * An error inside a success must not pass for the end of a list.
     *
     * @param  list<int>  $ok
     * @param  list<mixed>  $records
     *
     * @throws ReadingFailed
     */
    private function refuseHiddenErrors(Sent $sent, array $ok, Limits $limits, EndpointDefinition $endpoint, array $records, bool $chosen, int $number): void
    {
        $isEmpty = $records === [] || ! $chosen && count($records) === 1;
        if ($isEmpty) {
            $diagnosis = $this->explain($sent, $ok, $limits->timeout, $endpoint, records: count($records));
            if ($diagnosis !== null) {
                throw ReadingFailed::because($diagnosis, $number);
            }
        }
        if ($number === 1 && (count($records) === 0 || str_starts_with($sent->body, "\xEF\xBB\xBF") || preg_match('/^\s*[)fw]/', $sent->body) === 1)) {
            $this->notes = Notes::of($this->situation($sent, $ok, $limits->timeout, $endpoint, null, count($records)));
        }
    }

    /**
     * @param  list<mixed>  $records
     */
    private static function fingerprint(array $records): string
    {
        return $records === [] ? '' : hash('xxh128', count($records).serialize($records[0]).serialize($records[count($records) - 1]).serialize($records[intdiv(count($records), 2)]));
    }
}
