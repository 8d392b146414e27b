<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\RejectedValue;
use App\Models\Run;
use App\Reservoir\Staging;
use DeepSpring\Access\SecretMask;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Mask\Masks;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Reject;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\Onward\Walk;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * Pages into the rows of a staging, with the counts of the run, its rejects, and the keys that come
 * again on the page after.
 */
final class PagesToRows
{
    private readonly Flattener $flattener;

    private int $rejectsLeft;

    private readonly string $main;

    /** @var list<TablePlan> */
    private readonly array $tables;

    /** @var (\Closure(string): ?string)|null seals a position that holds a secret */
    public ?\Closure $seal = null;

    /** @var list<int> places of the key in a row of the main table */
    private readonly array $key;

    /** @var array<array-key, mixed> keys of the page before */
    private array $before = [];

    public function __construct(private readonly Run $run, private readonly EndpointDefinition $endpoint, Plan $plan, private readonly Staging $staging, Masks $masks, private readonly ?DriftWatch $drift = null)
    {
        $inputs = $endpoint->ask()->tryValues();
        $this->flattener = new Flattener($plan, array_map(static fn (array $values): string => implode(',', $values), $inputs) + $this->fixed(), $masks);
        $this->main = $plan->table->name;
        $this->tables = $plan->tables();
        $this->rejectsLeft = (int) config('spring.limits.rejects_kept');
        $names = array_map(static fn ($column): string => $column->name, $plan->table->columns);
        $this->key = array_map(static fn (string $name): int => (int) array_search($name, $names, true), $plan->table->key);
    }

    public function begin(): void
    {
        RejectedValue::query()->where('run_id', $this->run->id)->delete();
    }

    /**
     * The counts as they were at the last commit; what came after it comes again.
     *
     * @param  array<string, mixed>  $left
     */
    public function goOn(array $left): void
    {
        $this->run->fill($left['counts'] + ['rows' => $this->staging->rows, 'diagnosis' => null, 'ended' => null, 'ended_at' => null]);
        RejectedValue::query()->where('run_id', $this->run->id)->where('page', '>', $left['counts']['pages'])->delete();
        $this->rejectsLeft -= RejectedValue::query()->where('run_id', $this->run->id)->count();
    }

    public function take(ReadPage $page, ?Walk $walk): void
    {
        $batch = $this->flattener->flatten($page->page ?? $page->records);
        $this->drift?->see($page, $batch);
        foreach ($page->bad as $one) {
            $batch->rejects[] = new Reject($this->main, '', -1, $one->place, $one->text, $one->reason, true);
            $batch->rejected++;
        }
        if ($page->heldSecret) {
            $this->tellMasked($batch);
        }
        $this->keepRejects($page, $batch->rejects);
        $this->compareKeys($batch, $page->number, $walk);
        $this->staging->add($batch);
        $this->run->pages = $page->number;
        $this->run->records += count($page->records);
        $this->run->rejects += $batch->rejected;
        $this->run->filtered += $batch->filtered;
        $this->run->rows += array_sum(array_map(count(...), $batch->rows));
    }

    /**
     * @return array<string, mixed>
     */
    public function state(?Position $position): array
    {
        return ['position' => $this->safe($position?->toArray()), 'counts' => ['pages' => $this->run->pages, 'records' => $this->run->records, 'rejects' => $this->run->rejects, 'filtered' => $this->run->filtered, 'bytes' => $this->run->bytes]];
    }

    /**
     * @param  array<string, mixed>|null  $position
     * @return array<string, mixed>|null
     */
    private function safe(?array $position): ?array
    {
        if ($position === null || $this->seal === null) {
            return $position;
        }
        $sealed = ($this->seal)((string) json_encode($position, JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE));

        // The page is said in the log.
        return $sealed === null ? $position : ['sealed' => $sealed, 'page' => $position['page']];
    }

    /**
     * A cell out of which a secret of the source was taken is named among the rejects.
     */
    private function tellMasked(RowBatch $batch): void
    {
        foreach ($this->tables as $number => $table) {
            foreach ($batch->rows[$number] ?? [] as $row) {
                foreach ($row as $place => $cell) {
                    if ($cell !== null && str_contains($cell, SecretMask::DOTS)) {
                        $column = $table->columns[$place]->name;
                        $batch->rejects[] = new Reject($table->name, $column, -1, "column $column", 'masked', 'It held a secret of this source, which the service sent back. What is kept is a mask.', false, $this->keyOf($table, $row));
                        $batch->rejected++;
                    }
                }
            }
        }
    }

    /**
     * @param  list<string|null>  $row
     */
    private function keyOf(TablePlan $table, array $row): string
    {
        $names = array_map(static fn ($column): string => $column->name, $table->columns);
        $parts = array_map(static fn (string $name): string => "$name=".$row[(int) array_search($name, $names, true)], $table->key);

        return mb_substr(implode(', ', $parts), 0, 190);
    }

    private function compareKeys(RowBatch $batch, int $page, ?Walk $walk): void
    {
        if ($this->key === []) {
            return;
        }
        $keys = count($this->key) === 1
            ? array_flip(array_column($batch->rows[0], $this->key[0]))
            : array_flip(array_map(fn (array $row): string => implode("\0", array_map(static fn (int $place): string => (string) $row[$place], $this->key)), $batch->rows[0]));
        $again = count(array_intersect_key($keys, $this->before));
        if ($again > 0) {
            $walk?->overlap($page, $again);
        }
        $this->before = $keys;
    }

    /**
     * @param  list<Reject>  $rejects
     */
    private function keepRejects(ReadPage $page, array $rejects): void
    {
        $rows = [];
        foreach (array_slice($rejects, 0, max(0, $this->rejectsLeft)) as $reject) {
            $rows[] = [
                'run_id' => $this->run->id, 'page' => $page->number, 'table' => $reject->table, 'column' => $reject->column,
                'path' => mb_substr("page {$page->number}: ".$this->place($page, $reject), 0, 1000), 'record_key' => $reject->key,
                'value' => $reject->value, 'reason' => mb_substr($reject->reason, 0, 300), 'whole_record' => $reject->wholeRecord,
            ];
        }
        $this->rejectsLeft -= count($rows);
        if ($rows !== []) {
            RejectedValue::query()->insert($rows);
        }
    }

    private function place(ReadPage $page, Reject $reject): string
    {
        if ($reject->record < 0) {
            return $reject->path;
        }
        $record = $this->endpoint->answer()->locate($page->document, $reject->record);

        return str_starts_with($reject->path, '$') ? $record.substr($reject->path, 1) : "$record, {$reject->path}";
    }

    /**
     * @return array<string, string>
     */
    private function fixed(): array
    {
        $fixed = [];
        foreach ($this->endpoint->ask()->inputs as $input) {
            $values = $input->fixed ?? $input->default;
            if ($values !== null) {
                $fixed[$input->name] = implode(',', $values);
            }
        }

        return $fixed;
    }
}
