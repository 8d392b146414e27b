<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Queries\Live\LiveTables;
use App\Reservoir\TableShape;
use DeepSpring\Indexing\TableTie;
use DeepSpring\Indexing\TableTies;
use DeepSpring\Sql\JoinTie;
use DeepSpring\Sql\KnownNames;
use DeepSpring\Value\Phrase;

/**
 * The tables of an environment as the editor completes them. Columns are only read of tables that a statement
 * names.
 */
final class KnownTables implements KnownNames
{
    private const BY_NAME = 'named like its key';

    /** @var array<string, string>|null */
    private ?array $tables = null;

    /** @var array<string, array<string, string>> */
    private array $columns = [];

    public function __construct(private readonly Environment $environment, private readonly LiveTables $live, private readonly IndexAdvisor $advisor)
    {
    }

    public function tables(): array
    {
        if ($this->tables === null) {
            $this->tables = [];
            foreach (KeptTable::query()->toBase()->where('environment_id', $this->environment->id)->orderBy('name')->get(['name', 'rows', 'is_view']) as $one) {
                $this->tables[(string) $one->name] = $one->is_view ? 'view' : Phrase::count((int) $one->rows, 'row');
            }
            foreach ($this->live->of($this->environment) as $one) {
                $this->tables += [$one->name => "not kept, from {$one->source->name}"];
            }
        }

        return $this->tables;
    }

    public function columns(string $table): array
    {
        return $this->columns[strtolower($table)] ??= $this->read($table);
    }

    /**
     * @return array<string, string>
     */
    private function read(string $table): array
    {
        $kept = KeptTable::query()->where(['environment_id' => $this->environment->id, 'name' => $table])->value('columns');
        if (is_array($kept)) {
            return array_column($kept, 'label', 'name');
        }
        foreach ($this->live->of($this->environment) as $one) {
            foreach ($one->plan->tables() as $plan) {
                $shape = new TableShape($plan);
                if (strcasecmp($shape->name, $table) === 0) {
                    return array_column(array_map(static fn ($column): array => $column->toArray(), $shape->columns), 'label', 'name');
                }
            }
        }

        return [];
    }

    public function ties(string $table): array
    {
        $kept = KeptTable::query()->with('endpoint.source')->where(['environment_id' => $this->environment->id, 'name' => $table])->first();
        if ($kept === null) {
            return [];
        }
        $ties = [];
        foreach ($this->advisor->ties($kept) as $tie) {
            $ties[] = $this->tie($tie, $tie->other, false);
        }
        $type = count($kept->key) === 1 ? array_column($kept->columns, 'type', 'name')[$kept->key[0]] ?? null : null;
        foreach (KeptTable::query()->where('environment_id', $this->environment->id)->whereNot('id', $kept->id)->orderBy('name')->get() as $other) {
            $back = $other->endpoint_id === $kept->endpoint_id ? array_filter($this->advisor->ties($other), static fn (TableTie $tie): bool => $tie->other === $kept->name) : [];
            if ($back === [] && $type !== null) {
                $back = TableTies::toKeys(array_column($other->columns, 'type', 'name'), [$kept->name => ['key' => $kept->key[0], 'type' => $type]]);
            }
            array_push($ties, ...array_map(fn (TableTie $tie): ?JoinTie => $this->tie($tie, $other->name, true), array_values($back)));
        }

        $ties = array_values(array_filter($ties));
        // What is made of the same records is surer than an equal name.
        usort($ties, static fn (JoinTie $a, JoinTie $b): int => ($a->why === self::BY_NAME ? 1 : 0) <=> ($b->why === self::BY_NAME ? 1 : 0));

        return $ties;
    }

    private function tie(TableTie $tie, string $other, bool $isTurned): ?JoinTie
    {
        $key = KeptTable::query()->where(['environment_id' => $this->environment->id, 'name' => $tie->other])->value('key');
        if (! is_array($key) || count($key) !== count($tie->columns)) {
            return null;
        }
        $pairs = array_map(static fn (string $here, string $there): array => $isTurned ? [$there, $here] : [$here, $there], $tie->columns, $key);

        return new JoinTie($other, $pairs, $tie->isParent ? ($isTurned ? 'rows inside its records' : 'the record it is from') : self::BY_NAME);
    }
}
