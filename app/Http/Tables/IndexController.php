<?php

declare(strict_types=1);

namespace App\Http\Tables;

use App\Http\Controller;
use App\Models\KeptTable;
use App\Models\TableIndex;
use App\Queries\IndexAdvisor;
use App\Reservoir\IndexThere;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableIndexes;
use App\Runs\TableIndexing;
use DeepSpring\Indexing\IndexAdvice;
use DeepSpring\Indexing\IndexProposal;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Validation\ValidationException;

/**
 * Indexes of a kept table: those it has, and those that would help.
 */
final class IndexController extends Controller
{
    use FindsTable;

    public function __construct(private readonly TableIndexes $indexes, private readonly IndexAdvisor $advisor, private readonly TableIndexing $indexing)
    {
    }

    public function show(string $name): View
    {
        $table = $this->table($name);
        $bytes = [];
        foreach ($this->indexes->there($table->environment, $table->name) as $there) {
            $bytes[TableIndex::markOf($there->columns)] = $there;
        }
        $taken = TableIndex::of($table)->get();
        $proposals = array_values(array_filter($this->advisor->proposals($table), static fn (IndexProposal $one): bool => ! $taken->contains('columns', $one->columns)));

        return view('tables.indexes', [
            'table' => $table, 'taken' => $taken, 'there' => $bytes, 'proposals' => $proposals, 'isSmall' => $table->rows < IndexAdvice::ROWS, 'columns' => $this->text('columns'), 'isFaulty' => $this->text('fault') === '1',
            'mayChange' => $this->person()->can('update', $table->endpoint->source),
            'isWorking' => $taken->contains(static fn (TableIndex $index): bool => $index->fault === null && ! isset($bytes[$index->mark])) || array_filter($bytes, static fn (IndexThere $there): bool => ! $taken->contains('columns', $there->columns)) !== [],
        ]);
    }

    /**
     * What one would cost, measured while the page waits.
     */
    public function cost(string $name): View
    {
        $table = $this->table($name);
        $columns = $this->columns();
        $known = array_column($table->columns, 'type', 'name');
        $cannot = array_filter($columns, static fn (string $column): bool => ! isset($known[$column]) || $known[$column] === 'json');

        return view('tables.index-cost', ['cost' => $columns === [] || $cannot !== [] ? abort(404) : $this->advisor->cost($table, $columns)]);
    }

    public function store(string $name): RedirectResponse
    {
        $table = $this->table($name);
        $this->authorize('update', $table->endpoint->source);
        try {
            $index = $this->indexing->want($table, $this->columns(), $this->person());
        } catch (KeepFailed $failed) {
            throw ValidationException::withMessages(['index' => $failed->getMessage()])->redirectTo($this->back($table));
        }

        return redirect($this->back($table))->with('notice', 'The index over '.implode(', ', $index->columns).' is built while the table can be read, and again with the rows of each refresh.');
    }

    public function destroy(string $name, TableIndex $index): RedirectResponse
    {
        $table = $this->table($name);
        $this->authorize('update', $table->endpoint->source);
        if ($index->environment_id !== $table->environment_id || $index->table !== $table->name) {
            abort(404);
        }
        $this->indexing->drop($index, $table);

        return redirect($this->back($table))->with('notice', 'The index over '.implode(', ', $index->columns).' is dropped.');
    }

    private function back(KeptTable $table): string
    {
        return route('tables.show', ['name' => $table->name, 'indexes' => 1]).'#indexes';
    }

    /**
     * Names with commas between them, in the order of the index.
     *
     * @return list<string>
     */
    private function columns(): array
    {
        return array_values(array_filter(array_map(trim(...), explode(',', $this->text('columns'))), static fn (string $one): bool => $one !== ''));
    }
}
