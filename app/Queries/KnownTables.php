<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\OData\ServiceModels;
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

    private const ENOUGH = 10;

    /** Tables that are proposed for the key of one. */
    private const MOST = 40;

    /** @var array<string, string>|null */
    private ?array $tables = null;

    /** @var array<string, array<string, string>> */
    private array $columns = [];

    /** @var array<array-key, object>|null */
    private ?array $all = null;

    public function __construct(private readonly Environment $environment, private readonly LiveTables $live, private readonly IndexAdvisor $advisor)
    {
    }

    public function tables(): array
    {
        if ($this->tables === null) {
            $this->tables = [];
            foreach (KeptTable::query()->toBase()->where('environment_id', $this->environment->id)->orderBy('name')->get(['name', 'rows', 'is_view', 'texts']) as $one) {
                $title = is_string($one->texts) ? (string) (json_decode($one->texts, true)['title'] ?? '') : '';
                $this->tables[(string) $one->name] = ($one->is_view ? 'view' : Phrase::count((int) $one->rows, 'row')).($title === '' ? '' : " · $title");
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
     * What the columns of a table hold.
     *
     * @return array<string, string> name → type of a source file
     */
    public function types(string $table): array
    {
        return $this->read($table, 'type');
    }

    /**
     * @param  'label'|'type'  $what
     * @return array<string, string>
     */
    private function read(string $table, string $what = 'label'): array
    {
        $kept = KeptTable::query()->where(['environment_id' => $this->environment->id, 'name' => $table])->value('columns');
        if (is_array($kept)) {
            return $what === 'type' ? array_column($kept, 'type', 'name') : array_column(array_map(static function (array $one): array {
                $about = KeptColumn::fromArray($one)->about();

                return ['name' => $one['name'], 'says' => $about === '' ? $one['label'] : mb_strimwidth("{$one['label']} · $about", 0, 90, '…')];
            }, $kept), 'says', 'name');
        }
        foreach ($this->live->of($this->environment) as $one) {
            foreach ($one->plan->tables() as $plan) {
                $shape = new TableShape($plan);
                if (strcasecmp($shape->name, $table) === 0) {
                    return array_column(array_map(static fn ($column): array => $column->toArray(), $shape->columns), $what, 'name');
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
        $types = array_column($kept->columns, 'type', 'name');
        $ties = array_map(fn (TableTie $tie): ?JoinTie => $this->tie($tie, $tie->other, false), $this->advisor->toParent($kept));
        foreach ($this->all() as $other) {
            if ($other->name !== $kept->name && $other->endpoint_id === $kept->endpoint_id && $other->is_branch) {
                $branch = KeptTable::query()->with('endpoint.source')->find($other->id);
                $back = $branch === null ? [] : array_filter($this->advisor->toParent($branch), static fn (TableTie $tie): bool => $tie->other === $kept->name);
                array_push($ties, ...array_map(fn (TableTie $tie): ?JoinTie => $this->tie($tie, $other->name, true), array_values($back)));
            }
        }
        $further = new FurtherTies($this->environment, new ServiceModels);
        array_push($ties, ...$further->navigation($kept), ...$this->toKeys($kept, $types), ...$this->toKey($kept, $types));
        $ties = array_values(array_filter($ties));
        // Where keys say enough, names alone would only make the list longer.
        array_push($ties, ...(count($ties) < self::ENOUGH ? $further->sameName($kept) : []));
        // What is made of the same records is surer than an equal name.
        $rank = static fn (JoinTie $tie): int => [self::BY_NAME => 1, FurtherTies::SAME_NAME => 2][$tie->why] ?? 0;
        usort($ties, static fn (JoinTie $a, JoinTie $b): int => $rank($a) <=> $rank($b));

        $once = [];
        foreach ($ties as $tie) {
            $once[json_encode([$tie->other, $tie->pairs])] ??= $tie;
        }

        return array_values($once);
    }

    /**
     * Tables with a key that a column of this one is named like.
     *
     * @param  array<string, string>  $types  of the table's columns
     * @return list<JoinTie|null>
     */
    private function toKeys(KeptTable $kept, array $types): array
    {
        $keys = [];
        foreach ($this->all() as $other) {
            $key = (array) json_decode($other->key, true);
            if ($other->name !== $kept->name && count($key) === 1 && array_intersect_key($types, array_flip(TableTies::namesOf($other->name, (string) $key[0]))) !== []) {
                $keys[$other->name] = (string) $key[0];
            }
        }
        $others = [];
        foreach ($keys === [] ? [] : KeptTable::query()->where('environment_id', $this->environment->id)->whereIn('name', array_keys($keys))->pluck('columns', 'name') as $name => $columns) {
            $others[(string) $name] = ['key' => $keys[$name], 'type' => (string) (array_column($columns, 'type', 'name')[$keys[$name]] ?? '')];
        }

        return array_map(fn (TableTie $tie): ?JoinTie => $this->tie($tie, $tie->other, false), TableTies::toKeys($types, $others));
    }

    /**
     * Tables with a column that is named like the key of this one; the database looks which they are.
     *
     * @param  array<string, string>  $types  of the table's columns
     * @return list<JoinTie|null>
     */
    private function toKey(KeptTable $kept, array $types): array
    {
        $own = count($kept->key) === 1 ? $kept->key[0] : null;
        $names = $own === null ? [] : TableTies::namesOf($kept->name, $own);
        $holding = KeptTable::query()->toBase()->where('environment_id', $this->environment->id)->whereNot('name', $kept->name)
            ->where(static function ($any) use ($names): void {
                foreach ($names as $name) {
                    $any->orWhereRaw('instr(cast(columns as binary), cast(? as binary)) > 0', ["\"name\":\"$name\""]);
                }
            })->orderBy('name')->limit(self::MOST)->pluck('columns', 'name');
        $ties = [];
        foreach ($names === [] ? [] : $holding as $name => $columns) {
            foreach (TableTies::toKeys(array_column((array) json_decode((string) $columns, true), 'type', 'name'), [$kept->name => ['key' => (string) $own, 'type' => $types[$own] ?? '']]) as $tie) {
                $ties[] = $this->tie($tie, (string) $name, true);
            }
        }

        return $ties;
    }

    /**
     * @return list<object{id: int, name: string, key: string, is_branch: int, endpoint_id: int}>
     */
    private function all(): array
    {
        /** @var list<object{id: int, name: string, key: string, is_branch: int, endpoint_id: int}> $all */
        $all = $this->all ??= KeptTable::query()->toBase()->where('environment_id', $this->environment->id)->orderBy('name')->get(['id', 'name', 'key', 'is_branch', 'endpoint_id'])->all();

        return $all;
    }

    private function tie(TableTie $tie, string $other, bool $isTurned): ?JoinTie
    {
        $key = null;
        foreach ($this->all() as $one) {
            $key = $one->name === $tie->other ? json_decode($one->key, true) : $key;
        }
        if (! is_array($key) || count($key) !== count($tie->columns)) {
            return null;
        }
        $pairs = array_map(static fn (string $here, string $there): array => $isTurned ? [$there, $here] : [$here, $there], $tie->columns, $key);

        return new JoinTie($other, $pairs, $tie->isParent ? ($isTurned ? 'rows inside its records' : 'the record it is from') : self::BY_NAME);
    }
}
