<?php

declare(strict_types=1);

namespace App\Http\Changes;

use App\Changes\CannotChange;
use App\Changes\ChangeRights;
use App\Changes\ChangeSets;
use App\Changes\ChangeTable;
use App\Changes\PendingChanges;
use App\Http\Controller;
use App\Http\Tables\FindsTable;
use App\Models\Change;
use App\Models\ChangeSet;
use App\Models\ChangeSetState;
use App\Models\KeptTable;
use App\Pipeline\SourceConnections;
use App\Reservoir\KeepFailed;
use App\Reservoir\Order;
use App\Reservoir\TableReader;
use App\Reservoir\TableRows;
use DeepSpring\Change\RecordAct;
use Illuminate\Contracts\View\View;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Validation\ValidationException;

/**
 * The grid in which records are changed, and what is done with what is pending in it.
 */
final class ChangeController extends Controller
{
    use FindsTable;

    /** Cells of one paste. */
    private const CELLS = 100_000;

    /** Values that are offered for a column. */
    private const OFFERED = 500;

    public function __construct(private readonly PendingChanges $pending, private readonly ChangeSets $sets, private readonly TableReader $reader)
    {
    }

    public function show(string $name, Request $request): View
    {
        $table = $this->changed($name);
        $set = $this->set($table, $request);
        $grid = new ChangeGrid($table, $set, $this->person());
        $order = new Order($this->text('sort') ?: null, $this->text('dir') === 'desc');
        $fault = null;
        try {
            $page = $this->reader->page($table->table, $order, $this->text('from') ?: null, $this->text('q'));
        } catch (KeepFailed $failed) {
            [$page, $fault] = [null, $failed->getMessage()];
        }
        $others = ChangeSet::query()->with('user')->where(['environment_id' => $table->table->environment_id, 'table' => $name, 'is_shared' => true])->where('user_id', '!=', $this->person()->id)->whereIn('state', [ChangeSetState::Open, ChangeSetState::Waiting])->latest('updated_at')->limit(20)->get();

        return view('changes.show', ['table' => $table, 'kept' => $table->table, 'grid' => $grid, 'rows' => $grid->rows($page), 'page' => $page, 'fault' => $fault, 'order' => $order, 'search' => $this->text('q'), 'set' => $set, 'isMine' => $set === null || $set->user_id === $this->person()->id, 'others' => $others, 'mayApprove' => $set !== null && $this->sets->mayApprove($set, $this->person())]);
    }

    /**
     * Cells that were typed or pasted; what the rows are then.
     */
    public function cells(string $name, Request $request): JsonResponse
    {
        $table = $this->changed($name);
        $edits = json_decode($this->text('edits'), true);
        if (! is_array($edits) || count($edits) > self::CELLS) {
            return new JsonResponse(['fault' => 'That is more than '.self::CELLS.' cells at once. Change them in bulk.'], 422);
        }
        $wanted = [];
        foreach ($edits as $edit) {
            if (is_array($edit) && is_string($edit['row'] ?? null) && is_string($edit['column'] ?? null) && is_string($edit['text'] ?? null)) {
                $wanted[] = ['row' => $edit['row'], 'column' => $edit['column'], 'text' => mb_scrub($edit['text'], 'UTF-8')];
            }
        }
        $zone = new \DateTimeZone($this->person()->zone);
        $set = $this->pending->open($table, $this->person());
        try {
            $made = [];
            foreach (array_values(array_unique(array_filter(array_column($wanted, 'row'), static fn (string $row): bool => str_starts_with($row, 'fresh-')))) as $fresh) {
                $made[$fresh] = 'new-'.$this->pending->add($table, $set, [], $zone)->id;
            }
            $wanted = array_map(static fn (array $edit): array => ['row' => $made[$edit['row']] ?? $edit['row']] + $edit, $wanted);
            $this->pending->edit($table, $set, $wanted, $zone);
        } catch (CannotChange $cannot) {
            return new JsonResponse(['fault' => $cannot->getMessage()], 422);
        }

        return new JsonResponse($this->drawn($table, $set, array_values(array_unique(array_column($wanted, 'row')))) + ['made' => (object) $made]);
    }

    /**
     * New rows, rows to be deleted, actions, and what is taken back.
     */
    public function rows(string $name, Request $request): RedirectResponse|JsonResponse
    {
        $table = $this->changed($name);
        // A change in bulk was looked at as it is: it may become less, and never more.
        $set = $this->text('do') === 'drop' ? $this->mine($table) : $this->pending->open($table, $this->person());
        $rows = array_values(array_filter(explode(',', $this->text('rows'))));
        try {
            match ($this->text('do')) {
                'add' => $this->pending->add($table, $set, []),
                'delete' => array_map(fn (string $row): mixed => str_starts_with($row, 'new-') ? $this->pending->drop($set, [(int) substr($row, 4)]) : $this->pending->call($table, $set, $row, RecordAct::Delete), $rows),
                'call' => array_map(fn (string $row): Change => $this->pending->call($table, $set, $row, RecordAct::Call, (int) $this->text('action'), array_filter(array_map(strval(...), (array) $request->input('given', [])), static fn (string $one): bool => $one !== '')), $rows),
                'drop' => $this->pending->drop($set, $this->text('change') === '' ? null : [(int) $this->text('change')]),
                'clear' => $this->pending->clear($set),
                default => abort(404),
            };
        } catch (CannotChange $cannot) {
            throw ValidationException::withMessages(['change' => $cannot->getMessage()]);
        }

        return $request->expectsJson() ? new JsonResponse($this->drawn($table, $set, $rows)) : $this->back($name);
    }

    public function look(string $name, Request $request, SourceConnections $connections): View|Response
    {
        $table = $this->changed($name);
        $set = $this->set($table, $request) ?? $this->pending->open($table, $this->person());

        if ($this->text('under-way') === '1' && ! $set->refresh()->state->isUnderWay()) {
            // What was under way is over: buttons and rows of the page are others then.
            return response('', 200, ['HX-Refresh' => 'true']);
        }

        return view('changes.look', ['table' => $table, 'set' => $set->refresh(), 'look' => new LookPage(new ChangeGrid($table, $set, $this->person()), $set, $connections, $this->reader), 'isMine' => $set->user_id === $this->person()->id, 'mayApprove' => $this->sets->mayApprove($set, $this->person())]);
    }

    public function send(string $name): RedirectResponse
    {
        return $this->with($name, function (ChangeTable $table, ChangeSet $set): void {
            if ($table->table->environment->slug === 'production' && $this->text('sure') !== '1') {
                throw CannotChange::because('This changes Production. Say that you are sure.');
            }
            $this->sets->send($set, $table, $this->person());
        });
    }

    public function stop(string $name): RedirectResponse
    {
        return $this->with($name, fn (ChangeTable $table, ChangeSet $set) => $set->state === ChangeSetState::Waiting ? $this->sets->giveBack($set, $this->person()) : $this->sets->stop($set));
    }

    public function share(string $name): RedirectResponse
    {
        return $this->with($name, static fn (ChangeTable $table, ChangeSet $set) => $set->update(['is_shared' => ! $set->is_shared]));
    }

    public function settle(string $name): RedirectResponse
    {
        return $this->with($name, fn (ChangeTable $table, ChangeSet $set) => $this->sets->settle($set->changes()->with('set.user')->findOrFail((int) $this->text('change')), $table, $this->text('how')));
    }

    /**
     * By a second person.
     */
    public function approve(string $name, Request $request): RedirectResponse
    {
        $set = ChangeSet::query()->with('user', 'endpoint.source', 'environment')->where(['environment_id' => $this->environment()->id, 'table' => $name])->findOrFail((int) $request->route('changes'));
        try {
            if ($this->text('no') === '1') {
                abort_unless($this->sets->mayApprove($set, $this->person()), 403);
                $this->sets->giveBack($set, $this->person());
            } else {
                $this->sets->approve($set, $this->person());
            }
        } catch (CannotChange $cannot) {
            throw ValidationException::withMessages(['change' => $cannot->getMessage()]);
        }

        return redirect()->route('changes.show', ['name' => $name, 'set' => $set->id])->with('notice', $this->text('no') === '1' ? 'Given back, not sent.' : 'Approved. It is being sent.');
    }

    /**
     * Values that are offered for a column.
     */
    public function offered(string $name, TableRows $rows): JsonResponse
    {
        $one = $this->changed($name)->changeable[$this->text('column')] ?? abort(404);
        $other = $one->offeredBy === null ? null : KeptTable::query()->with('environment')->where(['environment_id' => $this->environment()->id, 'name' => $one->offeredBy['table']])->first();

        return new JsonResponse(['values' => $one->choices !== [] ? $one->choices : ($other === null ? [] : $rows->values($other, $one->offeredBy['column'], self::OFFERED))]);
    }

    /**
     * @param  \Closure(ChangeTable, ChangeSet): mixed  $do
     */
    private function with(string $name, \Closure $do): RedirectResponse
    {
        $table = $this->changed($name);
        try {
            $do($table, $this->mine($table));
        } catch (CannotChange $cannot) {
            throw ValidationException::withMessages(['change' => $cannot->getMessage()]);
        }

        return $this->back($name);
    }

    /**
     * What is pending in the grid, or a change in bulk of one's own.
     */
    private function mine(ChangeTable $table): ChangeSet
    {
        return $this->text('set') === '' ? $this->pending->open($table, $this->person()) : ChangeSet::query()->with('user', 'endpoint.source', 'environment')->where(['user_id' => $this->person()->id, 'environment_id' => $table->table->environment_id, 'table' => $table->table->name])->findOrFail((int) $this->text('set'));
    }

    private function back(string $name): RedirectResponse
    {
        return redirect()->to(url()->previous(route('changes.show', $name)));
    }

    /**
     * @param  list<string>  $rows
     * @return array<string, mixed>
     */
    private function drawn(ChangeTable $table, ChangeSet $set, array $rows): array
    {
        $grid = new ChangeGrid($table, $set, $this->person());
        $html = [];
        foreach (array_slice($rows, 0, 300) as $id) {
            $change = str_starts_with($id, 'new-') ? $set->changes()->find((int) substr($id, 4)) : null;
            $found = $change === null && ! str_starts_with($id, 'new-') ? $this->reader->row($table->table, $id) : null;
            $row = $found === null ? [] : $table->given($found);
            $change ??= $found === null ? null : $set->changes()->where('key_hash', Change::hash($table->key($row)))->where('state', '!=', 'done')->first();
            $html[$id] = $found === null && $change === null ? '' : view('changes.row', ['one' => $grid->row($id, $row, $change), 'columns' => $table->columns()])->render();
        }

        return ['rows' => (object) $html, 'pending' => $set->changes()->whereIn('state', ['pending', 'sending'])->count()];
    }

    /**
     * The set that is looked at: one's own, or one that somebody shares.
     */
    private function set(ChangeTable $table, Request $request): ?ChangeSet
    {
        if ($this->text('set') === '') {
            return $this->pending->find($table, $this->person());
        }
        $set = ChangeSet::query()->with('user')->where(['environment_id' => $table->table->environment_id, 'table' => $table->table->name])->findOrFail((int) $this->text('set'));
        abort_unless($set->user_id === $this->person()->id || $set->is_shared, 404);

        return $set;
    }

    private function changed(string $name): ChangeTable
    {
        $table = ChangeTable::of($this->table($name)) ?? abort(404, "Nothing says yet how records of $name are changed. A builder says so on the sheet of its endpoint.");
        abort_if(ChangeRights::of($this->person(), $table->table->endpoint, $table->table->environment)->isNone(), 403, "You may not change records of $name in {$this->environment()->name}. Whoever builds {$table->table->endpoint->source->name} can give you that right.");

        return $table;
    }
}
