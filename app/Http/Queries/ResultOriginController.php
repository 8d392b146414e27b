<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Http\Tables\OriginSheet;
use App\Models\KeptTable;
use App\Queries\IndexAdvisor;
use App\Queries\KnownTables;
use App\Queries\Live\LiveTables;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Queries\SqlGuard;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableReader;
use App\Runs\RowOrigins;
use App\View\ResultGrid;
use DeepSpring\Sql\Build\CannotBuild;
use DeepSpring\Sql\Build\ReadTable;
use DeepSpring\Sql\Build\SelectText;
use DeepSpring\Sql\Build\ShownColumns;
use Illuminate\Contracts\View\View;

/**
 * Where a value of a result comes from: the row of a kept table, and for one value of many rows these rows.
 */
final class ResultOriginController extends Controller
{
    /** Rows of a table that are looked for. */
    private const MOST = 100;

    public function __construct(private readonly LiveTables $live, private readonly IndexAdvisor $advisor, private readonly TableReader $reader, private readonly RowOrigins $origins, private readonly QueryRunner $runner)
    {
    }

    public function __invoke(): View
    {
        $row = json_decode($this->text('row'), true);
        $row = is_array($row) ? array_map(static fn (mixed $one): ?string => is_scalar($one) ? (string) $one : null, array_values($row)) : [];
        $cut = array_map(intval(...), array_filter(explode(',', $this->text('cut')), ctype_digit(...)));
        try {
            return $this->of(SqlGuard::checked($this->text('sql')), $row, (int) $this->text('place'), $cut);
        } catch (CannotBuild|QueryRefused|KeepFailed $cannot) {
            return view('queries.origin', ['said' => $cannot instanceof CannotBuild ? "{$cannot->getMessage()} Where a value comes from is known for one plain SELECT." : $cannot->getMessage()]);
        }
    }

    /**
     * @param  list<string|null>  $row
     * @param  list<int>  $cut  places of values that are not all here
     *
     * @throws CannotBuild
     * @throws QueryRefused
     * @throws KeepFailed
     */
    private function of(string $sql, array $row, int $place, array $cut): View
    {
        $known = new KnownTables($this->environment(), $this->live, $this->advisor);
        $select = SelectText::of($sql);
        $tables = BuildController::tables($sql, $known);
        $shown = new ShownColumns($select, $tables);
        $said = $shown->all[$place] ?? null;
        if ($said === null || count($shown->all) !== count($row)) {
            throw CannotBuild::because('Its columns cannot all be told from the text.');
        }
        if ($shown->areGrouped()) {
            [$beneath, $hidden] = $shown->beneath($row, self::MOST);
            $result = $this->runner->run($this->person(), $this->environment(), $beneath);

            return view('queries.origin', ['said' => null, 'beneath' => $beneath, 'hidden' => $hidden, 'rows' => count($result->rows), 'most' => self::MOST, 'grid' => new ResultGrid($result->columns, $result->rows), 'column' => $said[0]->name()]);
        }

        return $this->ofRow($sql, $shown, $said, $row, $cut);
    }

    /**
     * @param  array{\DeepSpring\Sql\Build\PickedColumn, ReadTable|null, string|null}  $said
     * @param  list<string|null>  $row
     * @param  list<int>  $cut
     *
     * @throws CannotBuild
     * @throws QueryRefused
     * @throws KeepFailed
     */
    private function ofRow(string $sql, ShownColumns $shown, array $said, array $row, array $cut): View
    {
        [$column, $table, $name] = $said;
        // Something that is made of columns: the first of them says whose row it is.
        $table ??= array_values(array_filter(array_column($shown->all, 1)))[0] ?? null;
        $kept = $table === null ? null : KeptTable::query()->with(['endpoint.source', 'environment'])->where(['environment_id' => $this->environment()->id, 'name' => $table->name])->first();
        if ($table === null || $kept === null) {
            throw CannotBuild::because($table === null ? "No column of a table stands beside \"$column->expression\" unchanged, so its row cannot be found." : "$table->name is not kept: its rows were read from the service for this query alone.");
        }
        if ($kept->is_view) {
            return view('queries.origin', ['said' => null, 'view' => $kept, 'column' => $column->name()]);
        }
        $values = [];
        foreach ($shown->all as $place => [$one, $owner, $of]) {
            if ($owner?->alias === $table->alias && $of !== null && ! in_array($place, $cut, true)) {
                $values[$of] = $row[$place];
            }
        }
        if ($values !== [] && array_filter($values, static fn (?string $value): bool => $value !== null) === []) {
            return view('queries.origin', ['said' => "No row of $table->name stands behind this: every column of it is empty here, as where a join found no match."]);
        }
        // What somebody may not read is found nowhere.
        $this->runner->run($this->person(), $this->environment(), "select 1 from $table->name limit 1");
        $marks = $this->reader->marksOf($kept, $values, self::MOST + 1);
        $sheet = count($marks) !== 1 ? null : $this->sheet($kept, $marks[0], $name ?? '');

        return view('queries.origin', ['said' => null, 'table' => $kept, 'marks' => $marks, 'most' => self::MOST, 'sheet' => $sheet, 'values' => $values, 'column' => $name, 'expression' => $name === null ? $column->expression : null]);
    }

    /**
     * @throws KeepFailed
     */
    private function sheet(KeptTable $table, string $mark, string $column): ?OriginSheet
    {
        $row = $this->reader->row($table, $mark);

        return $row === null ? null : new OriginSheet($table, $this->origins->find($table, $row), $row, $column, $mark, $this->person()->can('view', $table->endpoint->source));
    }
}
