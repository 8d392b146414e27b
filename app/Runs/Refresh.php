<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\RejectedValue;
use App\Models\Run;
use App\Models\RunState;
use App\Reservoir\KeepFailed;
use App\Reservoir\Staging;
use App\Secrets\Vault;
use App\Transport\Limits;
use App\Transport\Sent;
use App\Transport\Transport;
use DeepSpring\Access\Mask;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\FlattenFailure;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Reject;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Database\QueryException;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * The whole pipeline: an endpoint's records into its tables. Whatever stops it leaves the tables
 * as they were.
 */
final class Refresh
{
    /** Pages whose bars the ladder keeps. */
    private const LADDER = 400;

    public function __construct(private readonly Transport $transport, private readonly Vault $vault, private readonly EvidenceWriter $evidence)
    {
    }

    /**
     * @param  (\Closure(Run): void)|null  $progress  told after every page
     */
    public function run(Run $run, ?\Closure $progress = null): Run
    {
        $endpoint = $run->endpoint;
        $environment = $run->environment;
        $staging = null;
        try {
            $file = $endpoint->source->documents()->where('version', $run->version)->firstOrFail()->file();
            $definition = $file->endpoint($endpoint->slug) ?? throw KeepFailed::because("The published version has no endpoint {$endpoint->slug}.");
            if ($definition->does()->writes()) {
                throw KeepFailed::because("{$definition->name} writes. A table is read again and again, so it is kept only from what reads; if this only reads, say so under Ask: it lists, or gets one.");
            }
            $plan = $definition->plan() ?? throw KeepFailed::because('No columns are chosen yet. Choose them under Flatten, then publish.');
            $staging = new Staging(DB::connection('keeper'), $environment->schema(), "e{$endpoint->id}", $plan, base_path(config('spring.var').'/tmp'));
            $this->refuseForeignTables($staging, $endpoint, $environment);
            $staging->begin();
            $run->fill(['state' => RunState::Running, 'started_at' => Carbon::now()])->save();
            $ended = $this->read($run, $file, $definition, $plan, $staging, $progress);
            if ($ended === null) {
                $run->fill(['state' => RunState::Stopped, 'ended' => 'Stopped by hand. The tables are as they were.']);
            } else {
                $this->keep($run, $staging, $ended);
            }
        } catch (ReadingFailed $failed) {
            $this->fail($run, $failed->diagnosis);
        } catch (KeepFailed $failed) {
            $this->fail($run, new Diagnosis('keep', $failed->getMessage(), 'The tables are as they were.', 'keep'));
        } catch (FlattenFailure $failed) {
            $this->fail($run, new Diagnosis('flatten', $failed->getMessage(), 'The tables are as they were.', 'flatten'));
        } catch (QueryException|\PDOException $failed) {
            report($failed);
            $this->fail($run, new Diagnosis('database', 'The database did not take the rows: '.mb_strimwidth($failed->getPrevious()?->getMessage() ?? $failed->getMessage(), 0, 300, '…'), 'The tables are as they were.', 'keep'));
        } catch (\Throwable $failed) {
            report($failed);
            $this->fail($run, new Diagnosis('unexpected', 'The run ended by a fault of this application.', 'The tables are as they were. The log has the details.', 'keep'));
        } finally {
            $staging?->end();
            $run->fill(['ended_at' => Carbon::now()])->save();
        }
        if ($progress !== null) {
            $progress($run);
        }

        return $run;
    }

    /**
     * @return string|null why the list was over; null when it was stopped by hand
     */
    private function read(Run $run, SourceFile $file, EndpointDefinition $endpoint, Plan $plan, Staging $staging, ?\Closure $progress): ?string
    {
        $definition = $file->source();
        $reading = new Reading($this->transport, $this->vault, $run->endpoint->source, $definition, $run->environment);
        $inputs = $endpoint->ask()->tryValues();
        $flattener = new Flattener($plan, array_map(static fn (array $values): string => implode(',', $values), $inputs) + $this->fixed($endpoint));
        $limits = new Limits($definition->timeout, $definition->tries, (int) config('spring.limits.answer_bytes'));
        $begun = microtime(true);
        $ladder = [];
        $last = null;
        $record = static function (Sent $sent, int $number, ?int $count) use (&$last, &$ladder, $run, $begun): void {
            if ($number === 0) {
                return;
            }
            $last = [$sent, $number, $count];
            $run->bytes += strlen($sent->body);
            if (count($ladder) < self::LADDER) {
                $ms = (int) round($sent->timing->total);
                $ladder[] = ['start' => max(0, (int) round(1000 * (microtime(true) - $begun)) - $ms), 'ms' => $ms, 'records' => $count, 'waited' => $sent->timing->waited];
            }
        };
        $pause = function (int $milliseconds) use ($run): bool {
            for ($until = microtime(true) + $milliseconds / 1000; microtime(true) < $until; usleep(200_000)) {
                if ($this->stopAsked($run)) {
                    return false;
                }
            }

            return true;
        };
        $reading->recordTokens(function (Sent $sent, Mask $mask) use ($run): void {
            if ($sent->status === null || $sent->status >= 400) {
                $this->evidence->write($sent, $mask, 0, null, runId: $run->id, purpose: EvidenceWriter::TOKEN);
            }
        });
        // Documents hold no cycles; looking for some after every few thousand values costs a tenth.
        gc_disable();
        $pages = $reading->pages($endpoint, $inputs, $limits, $record, $pause);
        $rejectsLeft = (int) config('spring.limits.rejects_kept');
        $saved = 0.0;
        try {
            foreach ($pages as $page) {
                $batch = $flattener->flatten($page->records);
                $this->keepRejects($run, $endpoint, $page, $batch->rejects, $rejectsLeft);
                $staging->add($batch);
                $run->pages = $page->number;
                $run->records += count($page->records);
                $run->rejects += $batch->rejected;
                if (microtime(true) - $saved > 0.5) {
                    $saved = microtime(true);
                    $run->fill(['rows' => $staging->rows, 'ladder' => $ladder])->save();
                    if ($this->stopAsked($run)) {
                        return null;
                    }
                }
                if ($progress !== null) {
                    $progress($run);
                }
                unset($page, $batch);
            }
        } catch (ReadingFailed $failed) {
            if ($last !== null) {
                $this->evidence->write($last[0], $reading->mask(), $last[1], $last[2], runId: $run->id);
            }
            if ($this->stopAsked($run)) {
                return null;
            }

            throw $failed;
        } finally {
            gc_enable();
            $run->ladder = $ladder;
        }

        return $pages->getReturn()->sentence;
    }

    private function keep(Run $run, Staging $staging, string $ended): void
    {
        $staging->finish();
        $staging->swap();
        $now = Carbon::now();
        DB::transaction(function () use ($run, $staging, $ended, $now): void {
            foreach ($staging->shapes as $number => $shape) {
                KeptTable::query()->updateOrCreate(
                    ['environment_id' => $run->environment_id, 'name' => $shape->name],
                    [
                        'endpoint_id' => $run->endpoint_id, 'run_id' => $run->id, 'is_branch' => $number > 0,
                        'given_name' => $shape->given(), 'columns' => array_map(static fn ($column): array => $column->toArray(), $shape->columns),
                        'key' => $shape->key, 'rows' => $staging->rowsOf[$number], 'refreshed_at' => $now,
                    ],
                );
            }
            $run->fill(['state' => RunState::Done, 'rows' => $staging->rows, 'duplicates' => $staging->duplicates, 'ended' => mb_substr($ended, 0, 500)])->save();
        });
    }

    private function fail(Run $run, Diagnosis $diagnosis): void
    {
        $run->fill(['state' => RunState::Failed, 'diagnosis' => $diagnosis->toArray(), 'rows' => 0]);
    }

    /**
     * @param  list<Reject>  $rejects
     */
    private function keepRejects(Run $run, EndpointDefinition $endpoint, ReadPage $page, array $rejects, int &$left): void
    {
        $rows = [];
        foreach (array_slice($rejects, 0, $left) as $reject) {
            $rows[] = [
                'run_id' => $run->id, 'table' => $reject->table, 'column' => $reject->column,
                'path' => mb_substr("page {$page->number}: ".$endpoint->answer()->locate($page->document, $reject->record).substr($reject->path, str_starts_with($reject->path, '$') ? 1 : 0), 0, 1000),
                'value' => $reject->value, 'reason' => mb_substr($reject->reason, 0, 300), 'whole_record' => $reject->wholeRecord,
            ];
        }
        $left -= count($rows);
        if ($rows !== []) {
            RejectedValue::query()->insert($rows);
        }
    }

    /**
     * A table belongs to the endpoint that made it; another one does not write over it.
     */
    private function refuseForeignTables(Staging $staging, Endpoint $endpoint, Environment $environment): void
    {
        foreach ($staging->shapes as $shape) {
            $there = KeptTable::query()->with('endpoint.source')->where('environment_id', $environment->id)->where('name', $shape->name)->first();
            if ($there !== null && $there->endpoint_id !== $endpoint->id) {
                throw KeepFailed::because("A table {$shape->name} is kept in {$environment->name} already, by {$there->endpoint->source->name} › {$there->endpoint->name}. Give this one another name under Flatten.");
            }
        }
    }

    /**
     * @return array<string, string>
     */
    private function fixed(EndpointDefinition $endpoint): array
    {
        $fixed = [];
        foreach ($endpoint->ask()->inputs as $input) {
            $values = $input->fixed ?? $input->default;
            if ($values !== null) {
                $fixed[$input->name] = implode(',', $values);
            }
        }

        return $fixed;
    }

    private function stopAsked(Run $run): bool
    {
        return (bool) Run::query()->whereKey($run->id)->value('stop_asked');
    }
}
