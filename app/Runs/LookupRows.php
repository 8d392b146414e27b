<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Environment;
use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Pipeline\LookupSettings;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableRows;
use DeepSpring\Ask\RowInputs;
use DeepSpring\Value\NearestName;
use DeepSpring\Value\SafeNames;

/**
 * The rows that a lookup is asked for.
 */
final readonly class LookupRows
{
    /** @var list<KeptColumn> that are needed, in the order of their names in the settings */
    private array $columns;

    /**
     * @throws KeepFailed where the table or a column is not there
     */
    private function __construct(private TableRows $rows, public KeptTable $table, private LookupSettings $settings)
    {
        $known = [];
        foreach ($table->keptColumns() as $column) {
            $known[$column->given] = $known[$column->name] ??= $column;
        }
        $columns = [];
        foreach ($settings->columns() as $name) {
            $near = NearestName::to($name, array_map(strval(...), array_keys($known)));
            $column = $known[$name] ?? throw KeepFailed::because("The table $table->name has no column \"$name\"".($near === null ? '.' : "; \"$near\" was probably meant."));
            if (in_array($name, $settings->rows->columns(), true) && $column->mask !== 'none') {
                throw KeepFailed::because("$table->name.$name is masked, so nothing can be asked for with its values.");
            }
            $columns[] = $column;
        }
        $this->columns = $columns;
    }

    /**
     * @throws KeepFailed where the table or a column is not there
     */
    public static function of(TableRows $rows, LookupSettings $settings, Environment $environment): self
    {
        $table = KeptTable::query()->where('environment_id', $environment->id)->where('name', SafeNames::clean($settings->rows->table))->first();

        if ($table?->is_view === true) {
            throw KeepFailed::because("$table->name is a view, whose rows have no place that a reading could go on from. Keep its query as a table.");
        }

        return new self($rows, $table ?? throw KeepFailed::because("The table {$settings->rows->table}, whose rows are asked for, is not kept in $environment->name. Keep it first."), $settings);
    }

    /**
     * @param  list<string>|null  $after  key of the last row that is not wanted again
     * @return \Generator<int, array{array<string, string|null>, array<string, string|null>, list<string>}> what is bound, as it is sent; what is carried; the key
     */
    public function read(?array $after = null, ?int $most = null): \Generator
    {
        $names = $this->settings->columns();
        $types = array_map(static fn (KeptColumn $column): string => $column->type, $this->columns);
        $bound = array_flip($this->settings->rows->columns());
        $carried = array_flip($this->settings->carried);
        foreach ($this->rows->read($this->table, array_map(static fn (KeptColumn $column): string => $column->name, $this->columns), $after) as $number => [$values, $key]) {
            if ($most !== null && $number >= $most) {
                return;
            }
            $written = array_combine($names, array_map(RowInputs::written(...), $values, $types));
            yield $number => [array_intersect_key($written, $bound), array_intersect_key($written, $carried), $key];
        }
    }

    /**
     * Different requests, and rows that have something to ask with.
     *
     * @return array{int, int}
     */
    public function different(): array
    {
        $columns = array_column($this->columns, 'name', 'given') + array_column($this->columns, 'name', 'name');

        return $this->rows->distinct($this->table, array_map(static fn (string $name): string => $columns[$name], $this->settings->rows->columns()));
    }

    /**
     * A column that values come from.
     */
    public function type(string $column): string
    {
        return $this->columns[(int) array_search($column, $this->settings->columns(), true)]->type;
    }
}
