<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Drift;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\SeenProfile;
use App\Pipeline\ReadingFailed;
use App\Pipeline\ReadPage;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Flatten\Drift\Changes;
use DeepSpring\Flatten\Drift\DataProfile;
use DeepSpring\Flatten\Drift\FieldChange;
use DeepSpring\Flatten\Drift\Watcher;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\RecordsFinder;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\Value\Phrase;

/**
 * Compares what a run sees with what the one before it saw: stops it before the tables are replaced
 * where they would lose everything, and notes what else is different.
 */
final class DriftWatch
{
    /** Pictures that are kept of an endpoint in an environment. */
    private const KEPT = 60;

    private readonly Watcher $watcher;

    private readonly bool $hadRows;

    /** Records that were left out because their key is empty. */
    private int $keyless = 0;

    /** Whether all pages were seen; not after a run was gone on with. */
    public bool $isWhole = true;

    public function __construct(private readonly Run $run, private readonly EndpointDefinition $endpoint, private readonly Plan $plan)
    {
        $this->watcher = new Watcher($plan);
        $this->hadRows = KeptTable::query()->where('endpoint_id', $run->endpoint_id)->where('environment_id', $run->environment_id)->where('is_branch', false)->where('rows', '>', 0)->exists();
    }

    /**
     * @throws ReadingFailed when nothing is where the records were
     */
    public function see(ReadPage $page, RowBatch $batch): void
    {
        if ($page->number === 1 && $page->records === [] && $this->hadRows) {
            $this->refuseVanished($page->document);
        }
        $this->watcher->see($page->records, $batch);
        $main = $this->plan->table->name;
        foreach ($batch->rejects as $reject) {
            $this->keyless += $reject->wholeRecord && $reject->table === $main && $reject->value === 'null' ? 1 : 0;
        }
    }

    /**
     * Why the tables must not be replaced, when they would lose their rows.
     */
    public function refusal(): ?Diagnosis
    {
        if (! $this->hadRows || $this->run->records === 0 || $this->plan->table->key === []) {
            return null;
        }
        $key = implode(' + ', $this->plan->table->key);
        if ($this->keyless >= max(1, 0.5 * min($this->run->records, 2000))) {
            return new Diagnosis('key-gone', "The key $key is empty in ".Phrase::number($this->keyless).' of '.Phrase::count($this->run->records, 'record').', which was not so before.', 'The tables are as they were. Compare the answer with the columns under Flatten: the field was probably renamed or moved.', 'flatten');
        }

        return null;
    }

    /**
     * After the tables were replaced.
     *
     * @return list<FieldChange>
     */
    public function remember(): array
    {
        if (! $this->isWhole) {
            return [];
        }
        $now = $this->watcher->picture();
        $where = ['endpoint_id' => $this->run->endpoint_id, 'environment_id' => $this->run->environment_id];
        $before = SeenProfile::query()->where($where)->latest('id')->first()?->read();
        $changes = $before === null ? [] : (new Changes($this->plan, array_values($this->endpoint->endpoint['flatten']['leave_out'] ?? [])))->between($before, $now);
        foreach ($changes as $change) {
            $known = Drift::query()->where($where)->whereNull('answer')->where('kind', $change->kind)->where('table', $change->table)->where('path', mb_substr($change->path, 0, 2000))->first();
            ($known ?? new Drift($where + ['kind' => $change->kind, 'table' => $change->table, 'path' => mb_substr($change->path, 0, 2000)]))->fill([
                'run_id' => $this->run->id, 'sentence' => mb_substr($change->sentence, 0, 1000), 'examples' => array_map(static fn (string $one): string => mb_substr($one, 0, 200), $change->examples),
            ])->save();
        }
        $this->keep($now, $where);

        return $changes;
    }

    /**
     * @param  array<string, int>  $where
     */
    private function keep(DataProfile $now, array $where): void
    {
        $json = json_encode($now->toArray(), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE | JSON_THROW_ON_ERROR);
        SeenProfile::query()->create($where + ['run_id' => $this->run->id, 'picture' => gzdeflate($json, 6)]);
        $old = SeenProfile::query()->where($where)->latest('id')->skip(self::KEPT)->take(100)->pluck('id');
        SeenProfile::query()->whereIn('id', $old)->delete();
    }

    private function refuseVanished(mixed $document): void
    {
        $path = $this->endpoint->answer()->records;
        $holder = $path !== null && (str_ends_with($path->text, '[*]') || str_ends_with($path->text, '.*')) ? substr($path->text, 0, str_ends_with($path->text, '[*]') ? -3 : -2) : null;
        if ($holder === null || JsonPath::parse($holder)->values($document) !== []) {
            return;
        }
        $found = (new RecordsFinder)->find($document)[0] ?? null;
        $other = $found === null || ($found->answer['records'] ?? '') === '' ? '' : " There is {$found->why}, at {$found->answer['records']}.";

        throw ReadingFailed::because(new Diagnosis('records-gone', "The answer has nothing at {$path->text}, where the records were.$other", 'The tables are as they were. Choose where the records are under Answer.', 'answer'), 1);
    }
}
