<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\KeptTable;
use App\Reservoir\KeepFailed;
use App\Reservoir\RowPatches;
use App\Reservoir\TableShape;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Increment\InvalidIncrement;
use DeepSpring\Increment\RecordKey;

/**
 * The kept rows of records that were changed follow at once, with their branch rows and whatever reads them.
 */
final class KeptRows
{
    /** @var list<TableShape> */
    private readonly array $shapes;

    /** @var list<list<int>>|null null where branch rows do not carry the key of their record */
    private readonly ?array $key;

    public function __construct(private readonly ChangeTable $table, private readonly RowPatches $patches)
    {
        $this->shapes = $table->shapes();
        try {
            $key = RecordKey::of($table->plan->table)->places;
        } catch (InvalidIncrement) {
            $key = null;
        }
        $this->key = $key;
    }

    /**
     * @param  list<SeenRecord>  $records
     *
     * @throws KeepFailed where they stay as they were until the next refresh
     */
    public function put(array $records): void
    {
        $groups = [];
        foreach ($records as $record) {
            $groups[implode(' ', $this->tables($record))][] = $record;
        }
        foreach ($groups as $numbers => $some) {
            $numbers = array_map(intval(...), explode(' ', (string) $numbers));
            $rows = array_map(static fn (int $number): array => array_merge(...array_map(static fn (SeenRecord $one): array => $one->batch->rows[$number] ?? [], $some)), $numbers);
            $more = $this->patches->put($this->table->table->environment, array_map(fn (int $number): TableShape => $this->shapes[$number], $numbers), array_map($this->places(...), $numbers), new RowBatch($rows, [], 0));
            $this->count(array_combine($numbers, $more));
        }
    }

    /**
     * @param  list<array<string, string>>  $keys
     *
     * @throws KeepFailed
     */
    public function remove(array $keys): void
    {
        $numbers = $this->key === null ? [0] : array_keys($this->shapes);
        $more = $keys === [] ? [] : $this->patches->remove($this->table->table->environment, array_map(fn (int $number): TableShape => $this->shapes[$number], $numbers), array_map($this->places(...), $numbers), array_map(static fn (array $key): array => array_values($key), $keys));
        $more === [] || $this->count(array_combine($numbers, $more));
    }

    /**
     * What was sent, where the service answered with no record.
     *
     * @param  array<string, string>  $key
     * @param  array<string, string|null>  $after
     *
     * @throws KeepFailed
     */
    public function set(array $key, array $after): void
    {
        $named = fn (array $of): array => array_combine(array_map(fn (string $name): string => $this->table->names[$name] ?? $name, array_map(strval(...), array_keys($of))), array_values($of));
        $this->patches->set($this->table->table->environment, $this->table->table->name, $named($key), $named($after));
        $this->count([0 => 0]);
    }

    /**
     * @return list<int>
     */
    private function tables(SeenRecord $record): array
    {
        return $this->key === null ? [0] : $record->tables;
    }

    /**
     * @return list<int>
     */
    private function places(int $number): array
    {
        $names = array_map(static fn ($column): string => $column->name, $this->table->plan->table->columns);

        return $this->key[$number] ?? array_map(static fn (string $name): int => (int) array_search($name, $names, true), $this->table->plan->table->key);
    }

    /**
     * @param  array<int, int>  $more  rows of each table
     */
    private function count(array $more): void
    {
        foreach ($more as $number => $rows) {
            KeptTable::query()->where(['environment_id' => $this->table->table->environment_id, 'name' => $this->shapes[$number]->name])
                ->toBase()->update(['rows' => \Illuminate\Support\Facades\DB::raw('greatest(0, cast(`rows` as signed) + '.$rows.')'), 'patches' => \Illuminate\Support\Facades\DB::raw('patches + 1')]);
        }
    }
}
