<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\Source;
use App\Models\Tryout;
use App\Models\User;
use App\Secrets\Vault;
use App\Transport\Limits;
use App\Transport\Sent;
use App\Transport\Transport;
use DeepSpring\Access\Mask;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\Facades\DB;

/**
 * Tries an endpoint: the pipeline with a limit and a recorder. Every exchange is kept as evidence.
 */
final class Tries
{
    /** Pages of one try: enough to see that the second differs from the first. */
    private const PAGES = 3;

    /** Tries kept for each endpoint. */
    private const KEPT = 50;

    public function __construct(private readonly Transport $transport, private readonly Vault $vault, private readonly EvidenceWriter $evidence)
    {
    }

    /**
     * @param  array<string, list<string>>|null  $inputs  the values to try with, when null
     */
    public function endpoint(Endpoint $row, SourceFile $file, EndpointDefinition $endpoint, Environment $environment, ?User $by, ?array $inputs = null): Tryout
    {
        $definition = $file->source();
        $limits = new Limits(min(60, $definition->timeout), 1, (int) config('spring.limits.answer_bytes'));
        $begun = microtime(true);
        /** @var list<array{Sent, int, int|null}> $sent */
        $sent = [];
        $diagnosis = null;
        $ended = null;
        $records = 0;
        $reading = null;
        try {
            $reading = new Reading($this->transport, $this->vault, $row->source, $definition, $environment);
            $pages = $reading->pages($endpoint, $inputs ?? $endpoint->ask()->tryValues(), $limits, static function (Sent $one, int $number, ?int $count) use (&$sent): void {
                $sent[] = [$one, $number, $count];
            });
            foreach ($pages as $page) {
                $records += count($page->records);
                if ($page->number >= self::PAGES) {
                    break;
                }
            }
            $ended = $pages->valid() ? 'Stopped after '.self::PAGES.' pages, which is enough for a try.' : $pages->getReturn()->sentence;
        } catch (ReadingFailed $failed) {
            $diagnosis = $failed->diagnosis;
        }

        return $this->store($row->source, $row, $endpoint->endpoint, $definition->base($environment->slug) ?? '', $environment, $by, $sent, $diagnosis, $ended, $records, $begun, $reading->mask ?? new Mask([]));
    }

    /**
     * Tests a source: its test endpoint, or a GET of the base address.
     */
    public function source(Source $source, SourceFile $file, Environment $environment, ?User $by): Tryout
    {
        $definition = $file->source();
        $slug = $definition->testEndpoint();
        $row = $slug === null ? null : $source->endpoints()->where('slug', $slug)->first();
        $endpoint = $slug === null ? null : $file->endpoint($slug);
        if ($row !== null && $endpoint !== null) {
            return $this->endpoint($row, $file, $endpoint, $environment, $by);
        }
        $begun = microtime(true);
        $sent = [];
        $diagnosis = null;
        $reading = null;
        try {
            $limits = new Limits(min(30, $definition->timeout), 1, (int) config('spring.limits.answer_bytes'));
            $reading = new Reading($this->transport, $this->vault, $source, $definition, $environment);
            $one = $reading->knock($limits);
            $sent[] = [$one, 1, null];
            $diagnosis = $reading->explain($one, range(200, 299), $limits->timeout);
        } catch (ReadingFailed $failed) {
            $diagnosis = $failed->diagnosis;
        }

        return $this->store($source, null, [], $definition->base($environment->slug) ?? '', $environment, $by, $sent, $diagnosis, null, 0, $begun, $reading->mask ?? new Mask([]));
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @param  list<array{Sent, int, int|null}>  $sent
     */
    private function store(Source $source, ?Endpoint $row, array $endpoint, string $base, Environment $environment, ?User $by, array $sent, ?Diagnosis $diagnosis, ?string $ended, int $records, float $begun, Mask $mask): Tryout
    {
        $milliseconds = (int) round(1000 * (microtime(true) - $begun));

        return DB::transaction(function () use ($source, $row, $endpoint, $base, $environment, $by, $sent, $diagnosis, $ended, $records, $milliseconds, $mask): Tryout {
            $try = Tryout::query()->create([
                'source_id' => $source->id, 'endpoint_id' => $row?->id, 'environment_id' => $environment->id, 'user_id' => $by?->id,
                'succeeded' => $diagnosis === null, 'milliseconds' => $milliseconds, 'records' => $records,
                'ended' => $ended === null ? null : mb_substr($ended, 0, 500), 'diagnosis' => $diagnosis?->toArray(),
                'strata' => Strata::hashes($endpoint, $base),
            ]);
            foreach ($sent as [$one, $number, $count]) {
                $this->evidence->write($one, $mask, $number, $count, tryId: $try->id);
            }
            $this->thinOut($row, $environment);

            return $try;
        });
    }

    private function thinOut(?Endpoint $row, Environment $environment): void
    {
        if ($row === null) {
            return;
        }
        $oldest = Tryout::query()->where('endpoint_id', $row->id)->where('environment_id', $environment->id)->latest('id')->skip(self::KEPT)->take(1)->value('id');
        if ($oldest !== null) {
            Tryout::query()->where('endpoint_id', $row->id)->where('environment_id', $environment->id)->where('id', '<=', $oldest)->delete();
        }
        // Bodies of the older ones are let go earlier: they are what takes the room.
        $recent = Tryout::query()->where('endpoint_id', $row->id)->where('environment_id', $environment->id)->latest('id')->take(5)->pluck('id');
        Exchange::query()->whereIn('try_id', Tryout::query()->where('endpoint_id', $row->id)->where('environment_id', $environment->id)->select('id'))
            ->whereNotIn('try_id', $recent)->where('bytes', '>', config('spring.limits.evidence_bytes'))->update(['body' => null]);
    }
}
