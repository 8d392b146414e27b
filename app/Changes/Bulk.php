<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Models\ChangeSet;
use App\Models\ChangeSetState;
use App\Models\User;
use App\Reservoir\KeepFailed;
use DeepSpring\Change\CellText;
use DeepSpring\Change\RecordAct;
use DeepSpring\Change\RecordChange;
use DeepSpring\Expression\CannotEvaluate;
use DeepSpring\Expression\Expression;
use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Flatten\Column;
use DeepSpring\Value\Unfit;

/**
 * Many records changed at once: what would become of each is said first, and kept as pending changes then.
 */
final readonly class Bulk
{
    /** Rows of each kind that a dry run shows. */
    public const SHOWN = 10;

    public function __construct(private ChosenRows $chosen)
    {
    }

    /**
     * What would become of the rows, counted, with some of each kind.
     *
     * @return array{counts: array<string, int>, shown: array<string, list<BulkStep>>, unmatched: list<string>}
     *
     * @throws CannotChange
     */
    public function dryRun(ChangeTable $table, BulkWish $wish, User $person): array
    {
        $counts = array_fill_keys(['create', 'update', 'delete', 'call', 'same', 'refused'], 0);
        $shown = [];
        foreach ($this->steps($table, $wish, $person) as $step) {
            $counts[$step->kind()]++;
            $counts[$step->kind()] <= self::SHOWN && $shown[$step->kind()][] = $step;
        }

        return ['counts' => $counts, 'shown' => $shown, 'unmatched' => $wish->from === 'block' ? array_values(array_filter($wish->block[0] ?? [], fn (string $heading): bool => $this->column($heading, $table) === null)) : []];
    }

    /**
     * The same as pending changes; refused rows are among them, to be mended.
     *
     * @throws CannotChange
     */
    public function keep(ChangeTable $table, BulkWish $wish, User $person, string $kind = 'bulk'): ChangeSet
    {
        $kept = $table->table;
        $set = ChangeSet::query()->create(['endpoint_id' => $kept->endpoint_id, 'environment_id' => $kept->environment_id, 'user_id' => $person->id, 'table' => $kept->name, 'kind' => $kind, 'state' => ChangeSetState::Stopped, 'about' => mb_substr($this->about($wish), 0, 300)]);
        try {
            $rows = [];
            $number = 0;
            foreach ($this->steps($table, $wish, $person) as $step) {
                if ($step->change === null) {
                    continue;
                }
                if (++$number > PendingChanges::MOST) {
                    throw CannotChange::because('That is more than '.PendingChanges::MOST.' changes at once. Choose fewer rows.');
                }
                $rows[] = $this->row($set, $step, $step->change, $number);
                if (count($rows) === ChosenRows::AT_ONCE) {
                    Change::query()->insert($rows);
                    $rows = [];
                }
            }
            $rows === [] || Change::query()->insert($rows);
        } catch (CannotChange $cannot) {
            $set->delete();

            throw $cannot;
        }

        return $set;
    }

    /**
     * @return array<string, mixed>
     */
    private function row(ChangeSet $set, BulkStep $step, RecordChange $change, int $number): array
    {
        $json = static fn (array $of): string => (string) json_encode((object) $of, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE);

        return ['change_set_id' => $set->id, 'number' => $number, 'kind' => $change->kind->value, 'action' => $change->action, 'state' => 'pending', 'key' => $step->key === [] ? null : $json($step->key), 'key_hash' => $step->key === [] ? null : Change::hash($step->key), 'before' => $json($change->before), 'after' => $json($change->after), 'given' => $json($change->given), 'faults' => $json($step->faults), 'mark' => PendingChanges::mark()];
    }

    private function about(BulkWish $wish): string
    {
        $from = match ($wish->from) {
            'block' => (count($wish->block) - 1).' rows of a block', 'query' => 'rows of a query', default => $wish->where === '' ? 'all rows' : "rows where $wish->where",
        };

        return "$wish->do: $from".($wish->sets === [] ? '' : ', '.implode(', ', array_map(static fn (string $column, string $text): string => "$column $text", array_keys($wish->sets), $wish->sets)));
    }

    /**
     * @return \Generator<int, BulkStep>
     *
     * @throws CannotChange
     */
    private function steps(ChangeTable $table, BulkWish $wish, User $person): \Generator
    {
        if (! in_array($wish->do, ['put'], true) && ! $table->plan->can($wish->act())) {
            throw CannotChange::because("Nothing {$wish->act()->value}s records of this table.");
        }
        $rights = ChangeRights::of($person, $table->table->endpoint, $table->table->environment);
        $make = $wish->from === 'block' ? $this->ofBlock($table, $wish, $person) : $this->ofRows($table, $wish, $person);
        try {
            foreach ($make as [$change, $key, $faults]) {
                if ($change instanceof RecordChange) {
                    $bound = $table->plan->endpoint($change->kind, $change->action);
                    $faults += $bound === null ? ['' => "Nothing {$change->kind->value}s records of this table."] : $rights->against($change, $bound->endpoint->slug) + $table->plan->asked($change)->faults;
                }
                yield new BulkStep($change, $key, $faults);
            }
        } catch (KeepFailed $failed) {
            throw CannotChange::because($failed->getMessage());
        }
    }

    /**
     * Rows of the table, or those that a query names.
     *
     * @return \Generator<int, array{RecordChange|null, array<string, string>, array<string, string>}>
     *
     * @throws CannotChange
     */
    private function ofRows(ChangeTable $table, BulkWish $wish, User $person): \Generator
    {
        $columns = array_values($table->plan->columns);
        $scope = Column::scope($columns);
        $now = now()->toDateTimeImmutable();
        try {
            $where = $wish->where === '' ? null : Expression::condition($wish->where, $scope, $now);
            $computed = array_map(static fn (string $text): ?Expression => str_starts_with($text, '=') ? Expression::of(substr($text, 1), $scope, $now) : null, $wish->sets);
        } catch (InvalidExpression $invalid) {
            throw CannotChange::because($invalid->getMessage());
        }
        foreach (array_keys($wish->sets) as $column) {
            isset($table->changeable[$column]) || throw CannotChange::because("The table has no column \"$column\".");
        }
        $names = array_map(static fn (Column $column): string => $column->name, $columns);
        $zone = new \DateTimeZone($person->zone);
        foreach ($wish->from === 'query' ? $this->chosen->queried($table, $wish->sql, $person) : $this->chosen->all($table) as $row) {
            if (! isset($row[0])) {
                yield [new RecordChange($wish->act(), $row[1], [], $wish->given, $wish->action), $row[1], ['' => 'There is no such record in the table.']];

                continue;
            }
            $row = $row[0];
            $values = array_map(static fn (string $name): ?string => $row[$name] ?? null, $names);
            try {
                if ($where !== null && ! $where->holds($values)) {
                    continue;
                }
                $after = $faults = [];
                foreach ($wish->sets as $column => $text) {
                    $value = $computed[$column] === null ? $text : self::written($computed[$column]->value($values));
                    $read = CellText::read($value, $table->plan->columns[$column], $computed[$column] === null ? $zone : null);
                    if ($read instanceof Unfit) {
                        $faults[$column] = ucfirst($read->reason).'.';
                        $after[$column] = $value;
                    } elseif (! CellText::isSame($read, $row[$column] ?? null, $table->plan->columns[$column]->type->name())) {
                        $after[$column] = $read;
                    }
                }
            } catch (CannotEvaluate $cannot) {
                [$after, $faults] = [[], ['' => $cannot->getMessage()]];
            }
            $change = $wish->do === 'set' && $after === [] && $faults === [] ? null : new RecordChange($wish->act(), $row, $after, $wish->given, $wish->action);
            yield [$change, $table->key($row), $faults];
        }
    }

    /**
     * Rows of a block, matched to columns by their headings and to records by their key.
     *
     * @return \Generator<int, array{RecordChange|null, array<string, string>, array<string, string>}>
     *
     * @throws CannotChange
     */
    private function ofBlock(ChangeTable $table, BulkWish $wish, User $person): \Generator
    {
        $columns = array_map(fn (string $heading): ?string => $this->column($heading, $table), $wish->block[0] ?? []);
        $found = array_filter($columns, static fn (?string $one): bool => $one !== null);
        if ($found === []) {
            throw CannotChange::because('The first line holds no name of a column. It has to say which column is which.');
        }
        if (count($found) !== count(array_unique($found))) {
            throw CannotChange::because('Two columns of the block have the same name: '.implode(', ', array_keys(array_filter(array_count_values($found), static fn (int $n): bool => $n > 1))).'.');
        }
        $key = $table->plan->table->key;
        $hasKey = array_diff($key, $found) === [];
        if (! $hasKey && $wish->do !== 'create') {
            throw CannotChange::because('The block does not carry '.implode(', ', array_diff($key, $found)).', by which records are found. Without it rows can only be created.');
        }
        $zone = new \DateTimeZone($person->zone);
        $seen = [];
        foreach (array_chunk(array_slice($wish->block, 1), ChosenRows::AT_ONCE) as $lines) {
            $read = array_map(fn (array $line): array => $this->line($table, $columns, $line, $zone), $lines);
            $there = $hasKey && $wish->do !== 'create' ? $this->chosen->there($table, array_map(static fn (array $one): array => $table->key($one[0]), $read)) : [];
            foreach ($read as [$cells, $faults]) {
                $of = $table->key($cells);
                $row = $there[Change::hash($of)] ?? null;
                $faults += $row !== null && isset($seen[Change::hash($of)]) ? ['' => 'This record stands twice in the block.'] : [];
                $seen[Change::hash($of)] = true;
                if ($row === null && in_array($wish->do, ['create', 'put'], true)) {
                    yield [new RecordChange(RecordAct::Create, [], array_filter($cells, static fn (?string $value): bool => $value !== null)), [], $faults];

                    continue;
                }
                if ($row === null) {
                    yield [new RecordChange($wish->act(), $of, array_diff_key($cells, array_flip($key)), $wish->given, $wish->action), $of, $faults + ['' => 'There is no such record in the table.']];

                    continue;
                }
                $after = $wish->do === 'delete' || $wish->do === 'call' ? [] : array_filter(array_diff_key($cells, array_flip($key)), static fn (?string $value, string $name): bool => isset($faults[$name]) || ! CellText::isSame($value, $row[$name] ?? null, $table->plan->columns[$name]->type->name()), ARRAY_FILTER_USE_BOTH);
                yield [$after === [] && $faults === [] && in_array($wish->do, ['set', 'put'], true) ? null : new RecordChange($wish->act(), $row, $after, $wish->given, $wish->action), $of, $faults];
            }
        }
    }

    /**
     * @param  list<string|null>  $columns
     * @param  list<string>  $line
     * @return array{array<string, string|null>, array<string, string>} values and faults by column
     */
    private function line(ChangeTable $table, array $columns, array $line, \DateTimeZone $zone): array
    {
        $cells = $faults = [];
        foreach ($columns as $place => $name) {
            if ($name === null) {
                continue;
            }
            $text = $line[$place] ?? '';
            $read = CellText::read($text, $table->plan->columns[$name], $zone);
            $read instanceof Unfit && $faults[$name] = ucfirst($read->reason).'.';
            $cells[$name] = $read instanceof Unfit ? $text : $read;
        }

        return [$cells, $faults];
    }

    private function column(string $heading, ChangeTable $table): ?string
    {
        $letters = static fn (string $name): string => (string) preg_replace('/[^\p{L}\p{N}]/u', '', mb_strtolower($name, 'UTF-8'));
        foreach ($table->plan->columns as $name => $column) {
            if ($letters($heading) !== '' && in_array($letters($heading), [$letters($name), $letters($column->title)], true)) {
                return $name;
            }
        }

        return null;
    }

    private static function written(mixed $value): string
    {
        return match (true) {
            $value === null => '', is_bool($value) => $value ? '1' : '0', default => (string) $value,
        };
    }
}
