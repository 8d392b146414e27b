<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Reservoir\TableShape;
use DeepSpring\Change\ChangeableColumn;
use DeepSpring\Change\ChangePlan;
use DeepSpring\Change\RecordAct;
use DeepSpring\SourceFile\SourceFile;

/**
 * A kept table whose records can be changed, as its source is published.
 */
final readonly class ChangeTable
{
    /** @var array<string, string> as the source file calls a column → as the database does */
    public array $names;

    /** @var array<string, ChangeableColumn> as the source file calls them */
    public array $changeable;

    private function __construct(public KeptTable $table, public SourceFile $file, public ChangePlan $plan)
    {
        $this->names = array_column(array_map(static fn (KeptColumn $column): array => [$column->given, $column->name], $table->keptColumns()), 1, 0);
        $this->changeable = $plan->changeable();
    }

    /**
     * @return self|null null where nothing of it can be changed
     */
    public static function of(KeptTable $table): ?self
    {
        $file = $table->is_branch || $table->is_view ? null : $table->endpoint->source->published();
        $plan = $file === null ? null : ChangePlan::of($file, $table->endpoint->slug);

        return $file === null || $plan === null ? null : new self($table, $file, $plan);
    }

    /**
     * As a draft says it.
     */
    public static function drafted(KeptTable $table, SourceFile $file, ChangePlan $plan): self
    {
        return new self($table, $file, $plan);
    }

    public static function named(Endpoint $endpoint, Environment $environment, string $name): ?self
    {
        $table = KeptTable::query()->with('endpoint.source', 'environment')->where(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id, 'name' => $name])->first();

        return $table === null ? null : self::of($table);
    }

    /**
     * The key, then what can be changed, then the rest.
     *
     * @return list<KeptColumn>
     */
    public function columns(): array
    {
        $rank = fn (KeptColumn $column): int => in_array($column->given, $this->plan->table->key, true) ? 0 : (($one = $this->changeable[$column->given] ?? null) !== null && ($one->inUpdate || $one->inCreate) ? 1 : 2);
        $columns = $this->table->keptColumns();
        // Sorting is stable, so each kind keeps its order.
        usort($columns, static fn (KeptColumn $one, KeptColumn $other): int => $rank($one) <=> $rank($other));

        return $columns;
    }

    /**
     * @return list<TableShape> of the main table and its branches
     */
    public function shapes(): array
    {
        return array_map(static fn ($plan): TableShape => new TableShape($plan), $this->plan->table->all());
    }

    /**
     * A row of the database, by names of the source file.
     *
     * @param  array<string, string|null>  $row  by names of the database
     * @return array<string, string|null>
     */
    public function given(array $row): array
    {
        $given = [];
        foreach ($this->names as $name => $kept) {
            array_key_exists($kept, $row) && $given[$name] = $row[$kept];
        }

        return $given;
    }

    /**
     * @param  array<string, string|null>  $row  by names of the source file
     * @return array<string, string>
     */
    public function key(array $row): array
    {
        $key = [];
        foreach ($this->plan->table->key as $name) {
            $key[$name] = (string) ($row[$name] ?? '');
        }

        return $key;
    }

    /**
     * Whether a look at the record tells what came of a change.
     */
    public function canLookUp(RecordAct $act): bool
    {
        return $this->plan->get() !== null && in_array($act, [RecordAct::Update, RecordAct::Delete], true);
    }

    /**
     * Whether a change that may have been sent can be settled without a person: by its mark, or by a look.
     */
    public function canSettle(RecordAct $act, int $action): bool
    {
        return $this->plan->endpoint($act, $action)?->isRepeatable() === true || $this->canLookUp($act);
    }
}
