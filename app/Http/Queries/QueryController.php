<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Models\KeptTable;
use App\Models\QueryDraft;
use App\Models\QueryRun;
use App\Models\SavedQuery;
use App\Queries\CannotSave;
use App\Queries\ExportList;
use App\Queries\Keeping\CannotKeep;
use App\Queries\Keeping\ColumnLosses;
use App\Queries\Keeping\ReadingOrder;
use App\Queries\Live\LiveTables;
use App\Queries\QueryBook;
use App\Queries\QueryDrafts;
use App\Queries\QueryRunner;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Validation\ValidationException;

final class QueryController extends Controller
{
    private const PAGE = 25;

    private const SORTS = ['name' => 'asc', 'updated_at' => 'desc'];

    public function __construct(private readonly QueryRunner $runner, private readonly LiveTables $live, private readonly QueryBook $book, private readonly QueryDrafts $drafts, private readonly ExportList $files)
    {
    }

    public function index(): View
    {
        [$search, $label] = [$this->text('q'), $this->text('label')];
        $sort = isset(self::SORTS[$this->text('sort')]) ? $this->text('sort') : 'name';
        $queries = SavedQuery::seenBy($this->person())->with(['user', 'keeps.environment'])
            ->when($search !== '', fn ($query) => $query->whereRaw('(name collate utf8mb4_general_ci like ? or description collate utf8mb4_general_ci like ? or `sql` collate utf8mb4_general_ci like ? or user_id in (select id from users where name collate utf8mb4_general_ci like ?))', array_fill(0, 4, '%'.addcslashes($search, '%_\\').'%')))
            ->when($label !== '', fn ($query) => $query->whereJsonContains('labels', $label))
            ->orderBy($sort, self::SORTS[$sort])->paginate(self::PAGE)->withQueryString();
        $history = QueryRun::query()->where('user_id', $this->person()->id)->latest('id')->paginate(15, pageName: 'history')->withQueryString();

        return view('queries.index', ['queries' => $queries, 'history' => $history, 'search' => $search, 'label' => $label, 'sort' => $sort,
            'labels' => SavedQuery::seenBy($this->person())->pluck('labels')->flatten()->unique()->sort(SORT_NATURAL | SORT_FLAG_CASE)->values(),
            'files' => $this->files->of($this->person()),
            'drafts' => QueryDraft::query()->with('savedQuery')->where('user_id', $this->person()->id)->latest('updated_at')->limit(10)->get()]);
    }

    public function create(): View
    {
        $run = QueryRun::query()->where('user_id', $this->person()->id)->find($this->text('again'));
        $table = $this->text('table');
        $draft = $this->drafts->find($this->person(), (int) $this->text('draft'));

        // A table that is there is looked into at once; any other text is only written down.
        $isThere = $draft === null && $run === null && KeptTable::query()->where(['environment_id' => $this->environment()->id, 'name' => $table])->exists();
        $sql = $draft->sql ?? $run->sql ?? ($table !== '' ? "select *\nfrom $table\nlimit 100" : '');

        return $this->editor(null, $sql, $draft, $isThere);
    }

    public function show(SavedQuery $query): View
    {
        $this->authorize('view', $query);
        $draft = $this->text('draft') === '' ? $this->drafts->of($this->person(), $query) : $this->drafts->find($this->person(), (int) $this->text('draft'));

        return $this->editor($query, $draft->sql ?? $query->sql, $draft);
    }

    public function store(): RedirectResponse
    {
        try {
            $query = $this->book->add($this->given(), $this->person());
        } catch (CannotSave $cannot) {
            throw ValidationException::withMessages([$cannot->field => $cannot->getMessage()]);
        }
        $this->drafts->discard($this->person(), (int) $this->text('draft'));

        return redirect()->route('queries.show', $query)->with('notice', "\"$query->name\" is saved.");
    }

    public function update(SavedQuery $query, ColumnLosses $losses): RedirectResponse
    {
        $this->authorize('update', $query);
        $before = $query->version;
        $given = $this->given();
        $lost = $this->text('lose') === '1' ? [] : $losses->of($query, $given['sql'], $given['parameters'], $this->person());
        if ($lost !== []) {
            session()->flash('losing', true);

            throw ValidationException::withMessages(['sql' => implode(' ', $lost).' Nothing is saved yet.']);
        }
        try {
            $faults = $this->book->change($query, $given, $this->person(), (int) $this->text('seen') ?: null);
        } catch (CannotSave $cannot) {
            session()->flash('standing', $cannot->standing);

            throw ValidationException::withMessages([$cannot->field => $cannot->getMessage()]);
        }
        $this->drafts->discard($this->person(), (int) $this->text('draft'));
        $said = $query->version === $before ? "\"$query->name\" is saved." : "Saved as version $query->version.";

        return $faults === [] ? redirect()->route('queries.show', $query)->with('notice', $said) : redirect()->route('queries.show', $query)->withErrors(['keep' => implode(' ', $faults)]);
    }

    public function destroy(SavedQuery $query): RedirectResponse
    {
        $this->authorize('update', $query);
        $names = $query->keeps()->pluck('name')->map(strval(...))->all();
        $readers = $names === [] ? collect() : ReadingOrder::queriesThatRead($names)->whereNotIn('id', [$query->id]);
        if ($readers->isNotEmpty() && $this->text('anyway') !== '1') {
            throw ValidationException::withMessages(['delete' => implode(', ', $names).' is read by '.$readers->map(fn (SavedQuery $one): string => $one->nameFor($this->person()))->unique()->implode(', ').', which would fail. Delete it all the same, or change these first.']);
        }
        try {
            $this->book->delete($query, $this->person());
        } catch (CannotKeep $cannot) {
            throw ValidationException::withMessages(['delete' => $cannot->getMessage()]);
        }

        return redirect()->route('queries.index')->with('notice', "\"$query->name\" is deleted.");
    }

    private function editor(?SavedQuery $query, string $sql, ?QueryDraft $draft, bool $runs = false): View
    {
        $mayChange = $query === null || $this->person()->can('update', $query);
        $asked = new AskedValues($sql, $draft->parameters ?? $query->parameters ?? [], request()->all());
        $choices = [];
        foreach (array_keys($asked->parameters) as $name) {
            $choices[$name] = $asked->choices($name, $this->runner, $this->person(), $this->environment());
        }
        $sheet = new QuerySheet($query, $sql, $this->environment(), $this->live->of($this->environment()), $mayChange, $asked, $choices, $draft, $runs || $this->text('run') === '1');

        return view('queries.show', ['sheet' => $sheet, 'query' => $query, 'mayChange' => $mayChange]);
    }

    /**
     * @return array{name: string, sql: string, description: string|null, labels: list<string>, parameters: array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>, is_private: bool}
     */
    private function given(): array
    {
        $name = $this->text('name');
        $sql = request()->input('sql');
        $sql = is_string($sql) ? trim($sql) : '';

        return $name === '' || $sql === '' ? throw ValidationException::withMessages(['name' => $sql === '' ? 'There is no query to save yet.' : 'Give the query a name to save it.']) : [
            'name' => mb_substr($name, 0, QueryBook::LONGEST_NAME), 'sql' => $sql, 'description' => $this->text('description') === '' ? null : mb_substr($this->text('description'), 0, 4000),
            'labels' => QueryBook::labels($this->text('labels')), 'parameters' => (new AskedValues($sql, [], request()->all()))->settings(), 'is_private' => $this->text('private') === '1',
        ];
    }
}
