<?php

declare(strict_types=1);

namespace App\Runs;

use App\Evidence\EvidenceWriter;
use App\Models\AnswerPart;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\Source;
use App\Models\Tryout;
use App\Models\User;
use App\Pace\Pacer;
use App\Pace\RateLimitStore;
use App\Pipeline\InputPages;
use App\Pipeline\LookupSettings;
use App\Pipeline\PageLimit;
use App\Pipeline\Pipeline;
use App\Pipeline\Preview;
use App\Pipeline\ReadingFailed;
use App\Pipeline\ReadingStopped;
use App\Pipeline\RowMaker;
use App\Pipeline\SourceConnections;
use App\Secrets\Vault;
use App\Transport\Limits;
use DeepSpring\Ask\InputSets;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Flatten\Mask\Concealing;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Onward\PagingFinding;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Facades\DB;

/**
 * Tries an endpoint: the pipeline with a limit and a recorder. Every exchange is kept as evidence.
 */
final class Tries
{
    /** Pages of one try: enough to see that the second differs from the first. */
    private const PAGES = 3;

    /** Rows that are shown of a lookup that was tried. */
    private const ROWS = 20;

    /** Metadata of large services has some thirty megabytes. */
    private const DOCUMENT_BYTES = 64 << 20;

    /** Tries kept for each endpoint. */
    private const KEPT = 50;

    public function __construct(private readonly SourceConnections $connections, private readonly Vault $vault, private readonly EvidenceWriter $evidence, private readonly RateLimitStore $rates)
    {
    }

    /**
     * @param  array<string, list<string>>|null  $inputs  the values to try with, when null
     * @param  int|null  $pages  to read at most
     * @param  array<string, string>  $instead  values of secrets to be used in place of the stored ones
     */
    public function endpoint(Endpoint $row, SourceFile $file, EndpointDefinition $endpoint, Environment $environment, ?User $by, ?array $inputs = null, #[\SensitiveParameter] array $instead = [], bool $crossOrigin = false, ?\Closure $stopped = null, ?int $pages = null): Tryout
    {
        $definition = $file->source();
        $limits = new Limits(min(60, $definition->pace->timeout), 1, (int) config('spring.limits.answer_bytes'), $crossOrigin, detailed: true, stopped: $stopped);
        $attempt = new Attempt($row->source, $row, $endpoint->endpoint, $definition, $environment, $by, $stopped);
        $endpoint = new EndpointDefinition($endpoint->endpoint, (new RefutedPaging($row, $environment, $endpoint->endpoint, $definition->base($environment->slug) ?? ''))->has(...));
        try {
            $reading = $this->connections->open($row->source, $definition, $environment, $by, $instead);
            $attempt->watch($reading);
            $most = $pages ?? self::PAGES;
            $sets = InputSets::ofOne($endpoint->ask(), $inputs ?? $endpoint->ask()->tryValues());
            $input = new InputPages($reading, $endpoint, $sets, $limits, $attempt, fn (): Pacer => new Pacer($this->rates, $row->source_id, $environment->id, $definition->pace->forTries(), true));
            $read = $input->read(null, [], $most);
            $pipeline = new Pipeline(null, new Preview(0), new PageLimit($most), $attempt->tally);
            // After the last page of all there is something to be said yet: how it ended.
            $isWhole = $pipeline->run($read);
            $total = $input->total();
            $attempt->ended = $isWhole
                ? $input->proof($read->getReturn())
                : 'Stopped after '.Phrase::count($most, 'page').', which is enough for a try'.($total === null ? '.' : ': '.Phrase::number($attempt->tally->records).' of '.Phrase::count($total, 'record').'.');
            $attempt->notes = [...$input->notes(), ...array_map(static fn (PagingFinding $finding): Diagnosis => new Diagnosis($finding->code, $finding->sentence, '', 'onward'), $input->findings())];
            if ($crossOrigin && $attempt->first()?->timing->hops !== [] && $attempt->first() !== null) {
                $attempt->diagnosis = $reading->explain($attempt->first(), $endpoint->answer()->ok, $limits->timeout, $endpoint);
            }
        } catch (ReadingFailed $failed) {
            $attempt->diagnosis = $failed->diagnosis;
        } catch (ReadingStopped) {
            $attempt->diagnosis = new Diagnosis('stopped', 'It was stopped by hand'.($attempt->waited === null ? '' : ", while it waited for {$attempt->waited}").'.', 'Nothing more is sent.', 'ask');
        }

        return $this->store($attempt);
    }

    /**
     * Some rows of a lookup: each is sent, and what came of it is kept under its number.
     *
     * @param  iterable<array{array<string, string|null>, array<string, string|null>, list<string>}>  $rows  what is bound, as it is sent; what is carried; the key
     * @return array{Tryout, RowBatch|null} with rows of its tables, where it has columns
     */
    public function rows(Endpoint $row, SourceFile $file, EndpointDefinition $endpoint, LookupSettings $settings, iterable $rows, Environment $environment, ?User $by): array
    {
        $definition = $file->source();
        $limits = new Limits(min(60, $definition->pace->timeout), 1, (int) config('spring.limits.answer_bytes'), detailed: true, isPatient: false);
        $attempt = new Attempt($row->source, $row, $endpoint->endpoint, $definition, $environment, $by, null);
        $plan = $endpoint->plan(now()->toDateTimeImmutable());
        $preview = new Preview(self::ROWS);
        try {
            $reading = $this->connections->open($row->source, $definition, $environment, $by);
            $attempt->watch($reading);
            $pages = $reading->lookup($endpoint, $settings, $rows, $limits, $attempt, new Pacer($this->rates, $row->source_id, $environment->id, $definition->pace->forTries(), true), null);
            (new Pipeline($plan === null ? null : new RowMaker($plan, [], $this->vault->masks()), $preview, null, $attempt->tally))->run($pages->read());
            $attempt->ended = $pages->sentence();
            if ($pages->counts->failed > 0 && $pages->counts->failed === $pages->counts->asked) {
                $attempt->diagnosis = new Diagnosis('rows', 'Every row that was asked for failed.', 'What came for each stands below.', 'answer');
            }
        } catch (ReadingFailed $failed) {
            $attempt->diagnosis = $failed->diagnosis;
        } catch (ReadingStopped) {
            $attempt->diagnosis = new Diagnosis('stopped', 'It was stopped by hand.', 'Nothing more is sent.', 'ask');
        }

        return [$this->store($attempt), $plan === null ? null : $preview->batch()];
    }

    /**
     * Tests a source: its test endpoint, or a GET of the base address. Redirects are followed to
     * another origin, without credentials, to see where they end.
     *
     * @param  array<string, string>  $instead
     */
    public function source(Source $source, SourceFile $file, Environment $environment, ?User $by, #[\SensitiveParameter] array $instead = []): Tryout
    {
        $definition = $file->source();
        $slug = $definition->testEndpoint();
        $row = $slug === null ? null : $source->endpoints()->where('slug', $slug)->first();
        $endpoint = $slug === null ? null : $file->endpoint($slug);
        if ($row !== null && $endpoint !== null) {
            return $this->endpoint($row, $file, $endpoint, $environment, $by, null, $instead, true);
        }
        $attempt = new Attempt($source, null, [], $definition, $environment, $by);
        try {
            $limits = new Limits(min(30, $definition->pace->timeout), 1, (int) config('spring.limits.answer_bytes'), true, detailed: true);
            $reading = $this->connections->open($source, $definition, $environment, $by, $instead);
            $attempt->watch($reading);
            $sent = $reading->base($limits);
            $attempt->answered($sent, 1, null);
            $attempt->diagnosis = $reading->explain($sent, range(200, 299), $limits->timeout);
        } catch (ReadingFailed $failed) {
            $attempt->diagnosis = $failed->diagnosis;
        }

        return $this->store($attempt);
    }

    /**
     * Gets a document of the service itself, like its metadata, as a test of the source; the body is
     * handed over before it is cut down to evidence.
     *
     * @param  string  $path  below the base address, or a whole address of the same origin
     * @param  \Closure(string): void  $take  what reads it; it can fail with a sentence (ReadingFailed)
     */
    public function document(Source $source, SourceFile $file, Environment $environment, ?User $by, string $path, string $accept, \Closure $take): Tryout
    {
        $definition = $file->source();
        $attempt = new Attempt($source, null, [], $definition, $environment, $by);
        try {
            $limits = new Limits(max(30, $definition->pace->timeout), 2, self::DOCUMENT_BYTES, detailed: true);
            $reading = $this->connections->open($source, $definition, $environment, $by);
            $attempt->watch($reading);
            $sent = $reading->document($path, $accept, $limits);
            $attempt->answered($sent, 1, null);
            $attempt->diagnosis = $reading->explain($sent, range(200, 299), $limits->timeout);
            if ($attempt->diagnosis === null) {
                $take($reading->clean($sent)->body);
            }
        } catch (ReadingFailed $failed) {
            $attempt->diagnosis = $failed->diagnosis;
        }

        return $this->store($attempt);
    }

    private function store(Attempt $attempt): Tryout
    {
        $try = DB::transaction(function () use ($attempt): Tryout {
            $try = Tryout::query()->create($attempt->row());
            $mask = $attempt->mask();
            $conceal = $this->conceal($attempt);
            foreach ($attempt->sent as [$one, $number, $count, $purpose]) {
                $this->evidence->write($one, $mask, $number, $count, tryId: $try->id, purpose: $purpose, conceal: $conceal);
            }

            return $try;
        }, 3);
        $this->thinOut($attempt->endpoint, $attempt->environment);

        return $try;
    }

    /**
     * @return (\Closure(string, string): ?string)|null
     */
    private function conceal(Attempt $attempt): ?\Closure
    {
        $definition = $attempt->endpoint === null ? null : new EndpointDefinition($attempt->definition);
        $plan = $definition?->plan(now()->toDateTimeImmutable());

        return $plan?->isMasked() === true ? (new Concealing($plan, $definition->answer(), $this->vault->masks()))->body(...) : null;
    }

    /**
     * Apart from keeping the try, and row by row, so that many who try at once do not wait for each other.
     */
    private function thinOut(?Endpoint $row, Environment $environment): void
    {
        if ($row === null) {
            return;
        }
        $ids = Tryout::query()->where('endpoint_id', $row->id)->where('environment_id', $environment->id)->latest('id')->pluck('id');
        foreach ($ids->slice(self::KEPT) as $old) {
            Tryout::query()->whereKey($old)->delete();
        }
        // Bodies of the older ones are let go earlier: they are what takes the room.
        $large = Exchange::query()->whereIn('try_id', $ids->slice(5, self::KEPT))->where('bytes', '>', config('spring.limits.evidence_bytes'))->whereNotNull('body')->pluck('id');
        foreach ($large as $id) {
            Exchange::query()->whereKey($id)->update(['body' => null, 'digest' => null]);
            AnswerPart::query()->where('exchange_id', $id)->delete();
        }
    }
}
