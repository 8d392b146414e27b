<?php

declare(strict_types=1);

namespace App\Http\Tables;

use App\Changes\ChangeRights;
use App\Changes\ChangeTable;
use App\Http\Controller;
use App\Models\Drift;
use App\Models\Feed;
use App\Models\IncrementMark;
use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Models\Note;
use App\Models\NoteKind;
use App\Models\TableIndex;
use App\Models\TableState;
use App\Queries\StatementLog;
use App\Reservoir\KeepFailed;
use App\Reservoir\Order;
use App\Reservoir\TablePage;
use App\Reservoir\TableReader;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Runs\TableRemoval;
use App\Schedules\AskedRefreshes;
use App\Secrets\Vault;
use App\View\CheckHistory;
use App\View\FieldHistory;
use App\View\Show;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Validation\ValidationException;

final class TableController extends Controller
{
    use FindsTable;

    private const PAGE = 25;

    private const SORTS = ['name' => 'asc', 'rows' => 'desc', 'refreshed_at' => 'desc'];

    public function __construct(private readonly Vault $vault, private readonly StatementLog $statements)
    {
    }

    public function index(): View
    {
        $search = $this->text('q');
        $sort = isset(self::SORTS[$this->text('sort')]) ? $this->text('sort') : 'name';
        $tables = KeptTable::query()->with('endpoint.source')->where('environment_id', $this->environment()->id)
            ->when($search !== '', fn ($query) => $query->where('name', 'like', '%'.addcslashes(mb_strtolower($search), '%_\\').'%'))
            ->orderBy($sort, self::SORTS[$sort])->paginate(self::PAGE)->withQueryString();

        return view('tables.index', ['tables' => $tables, 'search' => $search, 'sort' => $sort]);
    }

    public function show(string $name, TableReader $reader, TableRemoval $removal, AskedRefreshes $refreshes): View|RedirectResponse
    {
        $table = $this->table($name);
        if ($table->is_view) {
            return redirect(Show::sheet($table->endpoint));
        }
        $asked = $refreshes->of($this->environment(), [$table->name], 0);
        $together = $removal->tables($table->endpoint, $this->environment());
        $order = new Order($this->text('sort') ?: null, $this->text('dir') === 'desc');
        try {
            $begun = hrtime(true);
            $page = $reader->page($table, $order, $this->text('from') ?: null, $this->text('q'));
            $this->statements->note($this->environment(), $page->plan, (int) round((hrtime(true) - $begun) / 1e6));
            $fault = null;
        } catch (KeepFailed $failed) {
            $page = null;
            $fault = $failed->getMessage();
        }
        $siblings = $together->whereNotIn('id', [$table->id])->values();

        return view('tables.show', ['table' => $table, 'mayChange' => ! ChangeRights::of($this->person(), $table->endpoint, $this->environment())->isNone() && ChangeTable::of($table) !== null, 'page' => $page, 'fault' => $fault, 'order' => $order, 'search' => $this->text('q'), 'siblings' => $siblings, 'readers' => $removal->readers($together), 'feeds' => Feed::of($table->environment_id, array_values($together->pluck('name')->map(strval(...))->all())), 'run' => $table->endpoint->lastRun($this->environment()),
            'drifts' => Drift::open($this->environment(), $table->endpoint)->get(), 'history' => FieldHistory::of($table, $this->environment(), $this->text('fields') === 'all'), 'revealed' => $this->revealed($table, $page), 'showsIndexes' => $this->text('indexes') === '1',
            'readsChanges' => IncrementMark::query()->where(['endpoint_id' => $table->endpoint_id, 'environment_id' => $table->environment_id])->exists(),
            'found' => $this->text('q') === '' || $page === null ? null : $reader->found($table, $this->text('q')), 'asked' => $asked, 'notes' => Note::open($this->environment(), $this->person()->role)->where('endpoint_id', $table->endpoint_id)->whereIn('kind', [NoteKind::Refresh, NoteKind::Paused])->get(), 'checks' => CheckHistory::of($table), 'states' => TableState::query()->where(['environment_id' => $table->environment_id, 'table' => $table->name, 'ready' => true])->count(), 'unused' => TableIndex::of($table)->get()->filter(static fn (TableIndex $index): bool => $index->isUnused())->count()]);
    }

    public function refresh(string $name, Runs $runs): RedirectResponse
    {
        $table = $this->table($name);
        $this->authorize('update', $table->endpoint->source);

        $run = $runs->queue($table->endpoint, $this->environment(), $this->person(), new RunWish(whole: $this->text('whole') === '1'));

        return $this->person()->can('view', $run) ? redirect()->route('runs.show', $run) : redirect(Show::sheet($table->endpoint))->with('notice', "$table->name is being refreshed.");
    }

    /**
     * Given up, with the tables of the same endpoint.
     */
    public function destroy(string $name, TableRemoval $removal): RedirectResponse
    {
        $table = $this->table($name);
        $this->authorize('update', $table->endpoint->source);
        abort_if($table->endpoint->source->of_query, 404);
        try {
            $names = $removal->remove($table->endpoint, $this->environment());
        } catch (KeepFailed $failed) {
            throw ValidationException::withMessages(['table' => $failed->getMessage()]);
        }

        return redirect()->route('endpoints.show', [$table->endpoint->source, $table->endpoint])->with('notice', implode(', ', $names).(count($names) === 1 ? ' is' : ' are').' no longer kept. This endpoint stays, and can be kept again.');
    }

    /**
     * What is kept encrypted, for those who may read it and ask for it.
     *
     * @return array<string, string> as kept → as it was
     */
    private function revealed(KeptTable $table, ?TablePage $page): array
    {
        $sealed = array_keys(array_filter($table->keptColumns(), static fn (KeptColumn $column): bool => $column->mask === 'encrypt'));
        if ($sealed === [] || $this->text('reveal') !== '1' || $page === null || ! $this->person()->can('update', $table->endpoint->source)) {
            return [];
        }
        $masks = $this->vault->masks();
        $opened = [];
        foreach ($page->rows as $row) {
            foreach ($sealed as $place) {
                if ($row[$place] !== null) {
                    $opened[$row[$place]] = $masks->opened($row[$place]);
                }
            }
        }

        return $opened;
    }
}
