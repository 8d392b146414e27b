<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Models\User;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Reservoir\TableRows;

/**
 * The rows of a table that somebody chose: all, those that a query names, those with given keys.
 */
final readonly class ChosenRows
{
    /** Rows looked up, or written, with one statement. */
    public const AT_ONCE = 500;

    public function __construct(private TableRows $rows, private QueryRunner $queries)
    {
    }

    /**
     * All rows of the table.
     *
     * @return \Generator<int, array{array<string, string|null>, array<string, string>}> each with an empty key, which only a query gives
     */
    public function all(ChangeTable $table): \Generator
    {
        $names = array_values($table->names);
        foreach ($this->rows->read($table->table, $names) as [$values]) {
            yield [array_combine(array_keys($table->names), $values), []];
        }
    }

    /**
     * Rows that a query names, each once however often it does; without a row where the table has none.
     *
     * @return \Generator<int, array{array<string, string|null>|null, array<string, string>}>
     *
     * @throws CannotChange
     */
    public function queried(ChangeTable $table, string $sql, User $person): \Generator
    {
        try {
            $result = $this->queries->stream($person, $table->table->environment, $sql);
            $places = array_flip(array_map(static fn ($column): string => strtolower($column->name), $result->columns));
            $wanted = [];
            foreach ($table->plan->table->key as $name) {
                $wanted[$name] = $places[strtolower($table->names[$name] ?? $name)] ?? throw CannotChange::because("The query does not give $name, by which records of {$table->table->name} are found.");
            }
            $keys = $seen = [];
            foreach ($result->rows as $row) {
                $key = array_map(static fn (int $place): string => (string) $row[$place], $wanted);
                $hash = Change::hash($key);
                isset($seen[$hash]) || $keys[$hash] = $key;
                $seen[$hash] = true;
                if (count($keys) === self::AT_ONCE) {
                    yield from $this->matched($table, $keys);
                    $keys = [];
                }
            }
            yield from $this->matched($table, $keys);
        } catch (QueryRefused $refused) {
            throw CannotChange::because($refused->getMessage());
        }
    }

    /**
     * @param  array<string, array<string, string>>  $keys  by their hashes
     * @return list<array{array<string, string|null>|null, array<string, string>}>
     */
    private function matched(ChangeTable $table, array $keys): array
    {
        $there = $this->there($table, array_values($keys));

        return array_map(static fn (string $hash, array $key): array => [$there[$hash] ?? null, $key], array_keys($keys), $keys);
    }

    /**
     * Rows with these keys.
     *
     * @param  list<array<string, string>>  $keys
     * @return array<string, array<string, string|null>> hash of the key → row
     */
    public function there(ChangeTable $table, array $keys): array
    {
        $found = [];
        foreach ($this->rows->withKeys($table->table, array_values($table->names), array_map(static fn (array $key): array => array_values($key), $keys)) as $values) {
            $row = array_combine(array_keys($table->names), $values);
            $found[Change::hash($table->key($row))] = $row;
        }

        return $found;
    }
}
