<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Queries\Charts;
use App\Queries\ColumnTexts;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Queries\QuerySlots;
use App\Queries\ResultColumn;
use App\Queries\SqlGuard;
use App\View\ChartDrawing;
use App\View\ResultGrid;
use DeepSpring\Chart\ChartShape;
use Illuminate\Contracts\View\View;

/**
 * A chart of the rows of a statement that was run.
 */
final class ChartController extends Controller
{
    private const PATIENCE = 15;

    public function __construct(private readonly Charts $charts, private readonly QueryRunner $runner, private readonly QuerySlots $turns)
    {
    }

    public function __invoke(): View
    {
        $sql = $this->text('sql');
        try {
            $sql = SqlGuard::checked($sql);
            $turn = $this->turns->await($this->person(), self::PATIENCE);
            [$columns, $amounts] = $this->columns($sql);
            $shapes = Charts::shapes($columns, $amounts);
            $chosen = $shapes[max(0, min(count($shapes) - 1, (int) $this->text('shape')))] ?? throw QueryRefused::because('A chart needs a column of amounts. This result has none.');
            $names = array_map(static fn (ResultColumn $column): string => $column->name, $columns);
            $titles = ColumnTexts::headings($this->environment(), $sql);
            $headings = array_combine($names, array_map(static fn (string $name, int $place): string => $titles[$place] ?? $name, $names, array_keys($names)));
            $data = $this->charts->draw($this->person(), $this->environment(), $sql, $chosen, $names);

            return view('queries.chart', ['fault' => null, 'sql' => $sql, 'shapes' => $shapes, 'chosen' => $chosen, 'names' => $names, 'data' => $data, 'svg' => (new ChartDrawing($data, $headings))->svg()]);
        } catch (QueryRefused $refused) {
            return view('queries.chart', ['fault' => $refused->getMessage(), 'sql' => $sql]);
        } finally {
            ($turn ?? null)?->giveBack();
        }
    }

    /**
     * The columns, and which of them hold amounts, by the first rows.
     *
     * @return array{list<ResultColumn>, list<bool>}
     */
    private function columns(string $sql): array
    {
        $open = $this->runner->stream($this->person(), $this->environment(), $sql);
        $rows = [];
        foreach ($open->rows as $row) {
            $rows[] = $row;
            if (count($rows) === 200) {
                break;
            }
        }

        return [$open->columns, array_map(static fn (ResultColumn $column, int $place): bool => $column->isNumber && ResultGrid::isAmount($column->name, $column->isKey, array_column($rows, $place)), $open->columns, array_keys($open->columns))];
    }

    /**
     * What a shape is called in the list.
     *
     * @param  list<string>  $names
     */
    public static function label(ChartShape $shape, array $names): string
    {
        $measured = implode(', ', array_map(static fn (int $place): string => $names[$place], $shape->measured));

        return "{$shape->kind->label()}: $measured".($shape->along === null ? '' : " by {$names[$shape->along]}").($shape->series === null ? '' : " and {$names[$shape->series]}");
    }
}
