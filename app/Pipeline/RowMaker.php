<?php

declare(strict_types=1);

namespace App\Pipeline;

use DeepSpring\Access\SecretMask;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Mask\Masks;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Reject;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\Onward\Walk;

/**
 * Pages → rows of a plan's tables, with what does not fit, and the keys that come again on the page after.
 */
final class RowMaker
{
    private Flattener $flattener;

    /** Which of the sets of values the flattener is for. */
    private int $set = 0;

    private readonly string $main;

    /** @var list<TablePlan> */
    private readonly array $tables;

    /** @var list<int> places of the key in a row of the main table */
    private readonly array $key;

    /** @var array<array-key, int> keys of the page before → the number of their row */
    private array $before = [];

    /** Rows up to which a page is kept to be compared with the next one. */
    private const COMPARED = 5000;

    /**
     * The rows of the page before in one piece. Were their texts kept, what is decoded next would lie
     * scattered between them, and be half as quick to make and to read.
     */
    private string $rowsBefore = '';

    /** @var array<int, int> places in a row of what stands in the record itself */
    private readonly array $own;

    /**
     * @param  list<array<string, string>>  $inputs  what is sent in each reading, by name
     * @param  (\Closure(): ?Walk)|null  $walk  the list that is being read, which is told of keys that come again; null where nobody asks for them
     */
    public function __construct(private readonly Plan $plan, private readonly array $inputs = [], private readonly ?Masks $masks = null, private readonly ?\Closure $walk = null)
    {
        $this->flattener = new Flattener($plan, $inputs[0] ?? [], $masks);
        $this->main = $plan->table->name;
        $this->tables = $plan->tables();
        $names = array_map(static fn ($column): string => $column->name, $plan->table->columns);
        $this->key = array_map(static fn (string $name): int => (int) array_search($name, $names, true), $plan->table->key);
        $this->own = array_flip(array_keys(array_filter($plan->table->columns, static fn (Column $column): bool => $column->source === ColumnSource::From)));
    }

    /**
     * @param  int  $before  records of the same reading that came before
     */
    public function of(ReadPage $page, int $before = 0): RowBatch
    {
        if ($page->set !== $this->set) {
            $this->set = $page->set;
            [$this->before, $this->rowsBefore] = [[], ''];
            if ($page->inputs === null) {
                $this->flattener = new Flattener($this->plan, $this->inputs[$page->set] ?? [], $this->masks);
            }
        }
        if ($page->inputs !== null) {
            $this->flattener->sentWith($page->inputs);
        }
        $batch = $this->flattener->flatten($page->page ?? $page->records, $before);
        foreach ($page->bad as $one) {
            $batch->rejects[] = new Reject($this->main, '', -1, $one->place, $one->text, $one->reason, true);
            $batch->rejected++;
        }
        if ($page->heldSecret) {
            $this->tellMasked($batch);
        }
        $this->compareKeys($batch, $page->number);

        return $batch;
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

    private function compareKeys(RowBatch $batch, int $page): void
    {
        if ($this->key === [] || $this->walk === null) {
            return;
        }
        $keys = count($this->key) === 1
            ? array_flip(array_column($batch->rows[0], $this->key[0]))
            : array_flip(array_map(fn (array $row): string => implode("\0", array_map(static fn (int $place): string => (string) $row[$place], $this->key)), $batch->rows[0]));
        $again = array_intersect_key($keys, $this->before);
        if ($again !== []) {
            $rows = $this->rowsBefore === '' ? [] : (array) unserialize($this->rowsBefore, ['allowed_classes' => false]);
            $other = $rows === [] ? [] : array_filter(array_keys($again), fn (string|int $key): bool => $this->own($rows[$this->before[$key]]) !== $this->own($batch->rows[0][$keys[$key]]));
            ($this->walk)()?->overlap($page, count($again), count($other));
        }
        $this->before = $keys;
        $this->rowsBefore = count($keys) <= self::COMPARED ? serialize($batch->rows[0]) : '';
    }

    /**
     * What stands in the record itself.
     *
     * @param  list<string|null>  $row
     * @return array<int, string|null>
     */
    private function own(array $row): array
    {
        return array_intersect_key($row, $this->own);
    }
}
