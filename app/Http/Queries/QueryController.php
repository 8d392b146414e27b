<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Models\KeptTable;
use App\Models\QueryRun;
use App\Models\SavedQuery;
use App\Queries\Live\LiveTables;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Queries\QuerySlot;
use App\Queries\QuerySlots;
use App\Queries\ResultColumn;
use App\Queries\SqlGuard;
use App\Queries\Waiting;
use DeepSpring\Export\CsvWriter;
use DeepSpring\Value\Phrase;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Validation\ValidationException;
use Symfony\Component\HttpFoundation\Response;

final class QueryController extends Controller
{
    private const PAGE = 25;

    /** Seconds that an export waits for its turn before it says so. */
    private const PATIENCE = 15;

    public function __construct(private readonly QueryRunner $runner, private readonly LiveTables $live, private readonly QuerySlots $turns, private readonly AuditLog $log)
    {
    }

    public function index(): View
    {
        $search = $this->text('q');
        $queries = SavedQuery::query()->with('user')
            ->when($search !== '', fn ($query) => $query->whereRaw('(name collate utf8mb4_general_ci like ? or `sql` collate utf8mb4_general_ci like ? or user_id in (select id from users where name collate utf8mb4_general_ci like ?))', array_fill(0, 3, '%'.addcslashes($search, '%_\\').'%')))
            ->orderBy('name')->paginate(self::PAGE)->withQueryString();
        $history = QueryRun::query()->where('user_id', $this->person()->id)->latest('id')->paginate(15, pageName: 'history')->withQueryString();

        return view('queries.index', ['queries' => $queries, 'history' => $history, 'search' => $search]);
    }

    public function create(): View
    {
        $run = QueryRun::query()->where('user_id', $this->person()->id)->find($this->text('again'));
        $table = $this->text('table');

        // A table that is there is looked into at once; any other text is only written down.
        $isThere = $run === null && KeptTable::query()->where(['environment_id' => $this->environment()->id, 'name' => $table])->exists();

        return $this->editor(null, $run !== null ? $run->sql : ($table !== '' ? "select *\nfrom $table\nlimit 100" : ''))->with('runs', $isThere);
    }

    public function show(SavedQuery $query): View
    {
        $this->authorize('view', $query);

        return $this->editor($query, $query->sql);
    }

    public function store(): RedirectResponse
    {
        $query = SavedQuery::query()->create($this->given() + ['user_id' => $this->person()->id]);

        return redirect()->route('queries.show', $query);
    }

    public function update(SavedQuery $query): RedirectResponse
    {
        $this->authorize('update', $query);
        $query->fill($this->given())->save();

        return redirect()->route('queries.show', $query);
    }

    public function destroy(SavedQuery $query): RedirectResponse
    {
        $this->authorize('update', $query);
        $query->delete();

        return redirect()->route('queries.index');
    }

    public function run(): View
    {
        $sql = $this->sql();
        try {
            SqlGuard::checked($sql);
            $turn = $this->turns->take($this->person(), $this->text('ticket') ?: null);
            if ($turn instanceof Waiting) {
                return view('queries.waiting', ['waiting' => $turn, 'sql' => $sql]);
            }

            return view('queries.result', ['result' => $this->runner->run($this->person(), $this->environment(), $sql), 'fault' => null, 'sql' => $sql]);
        } catch (QueryRefused $refused) {
            return view('queries.result', ['result' => null, 'fault' => $refused->getMessage(), 'sql' => $sql]);
        } finally {
            if (($turn ?? null) instanceof QuerySlot) {
                $turn->giveBack();
            }
        }
    }

    /**
     * All rows as CSV, written as the database gives them.
     */
    public function export(): Response
    {
        $most = (int) config('spring.query.export_rows');
        try {
            SqlGuard::checked($this->sql());
            $turn = $this->turns->await($this->person(), self::PATIENCE);
            $open = $this->runner->stream($this->person(), $this->environment(), $this->sql(), 10 * (int) config('spring.query.seconds'));
        } catch (QueryRefused $refused) {
            return response($refused->getMessage()."\n", 422, ['Content-Type' => 'text/plain; charset=utf-8']);
        }
        $csv = new CsvWriter($this->text('exact') !== '1');
        $this->log->note(Action::Exported, mb_strimwidth((string) preg_replace('/\s+/', ' ', $this->sql()), 0, 280, '…', 'UTF-8'), $this->environment()->name);

        return response()->streamDownload(static function () use ($open, $csv, $most, $turn): void {
            $isText = array_map(static fn (ResultColumn $column): bool => $column->isText, $open->columns);
            echo $csv->line(array_map(static fn (ResultColumn $column): string => $column->name, $open->columns));
            $count = 0;
            try {
                foreach ($open->rows as $row) {
                    if ($count++ === $most) {
                        echo $csv->line(['The export ends here, after '.Phrase::count($most, 'row').'; there are more.']);

                        break;
                    }
                    echo $csv->line($row, $isText);
                    if ($count % 2000 === 0) {
                        flush();
                    }
                }
            } catch (QueryRefused $refused) {
                echo $csv->line(['The export broke off after '.Phrase::count($count, 'row').": {$refused->getMessage()}"]);
            } finally {
                $turn->giveBack();
            }
        }, 'query-'.now()->format('Y-m-d-His').'.csv', ['Content-Type' => 'text/csv; charset=utf-8', 'X-Accel-Buffering' => 'no']);
    }

    private function editor(?SavedQuery $query, string $sql): View
    {
        $tables = KeptTable::query()->with('endpoint.source')->where('environment_id', $this->environment()->id)->orderBy('name')->get();

        return view('queries.show', ['query' => $query, 'sql' => $sql, 'tables' => $tables, 'live' => $this->live->of($this->environment()), 'runs' => false, 'mayChange' => $query === null || $this->person()->can('update', $query)]);
    }

    /**
     * @return array{name: string, sql: string}
     */
    private function given(): array
    {
        $name = $this->text('name');
        $sql = $this->sql();

        return $name === '' || $sql === '' ? throw ValidationException::withMessages(['name' => $sql === '' ? 'There is no query to keep yet.' : 'Give the query a name to keep it.']) : ['name' => mb_substr($name, 0, 190), 'sql' => $sql];
    }

    private function sql(): string
    {
        $sql = request()->input('sql');

        return is_string($sql) ? trim($sql) : '';
    }
}
