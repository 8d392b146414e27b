<?php

declare(strict_types=1);

namespace App\Http\Changes;

use App\Changes\Bulk;
use App\Changes\BulkWish;
use App\Changes\CannotChange;
use App\Changes\ChangeRights;
use App\Changes\ChangeSets;
use App\Changes\ChangeTable;
use App\Changes\Refusals;
use App\Http\Controller;
use App\Http\Tables\FindsTable;
use App\Models\ChangeSet;
use App\Models\SavedQuery;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Spreadsheet\XlsxSheet;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Http\UploadedFile;
use Illuminate\Validation\ValidationException;
use Symfony\Component\HttpFoundation\StreamedResponse;

/**
 * Many records changed at once: wished for, tried dry, three of them for real, then all.
 */
final class BulkController extends Controller
{
    use FindsTable;

    private const ROWS = 200_000;

    public function __construct(private readonly Bulk $bulk, private readonly ChangeSets $sets)
    {
    }

    public function show(string $name): View
    {
        return $this->page($this->changed($name), null);
    }

    public function store(string $name, Request $request): View|RedirectResponse
    {
        $table = $this->changed($name);
        $wish = $this->wish($request);
        try {
            if ($this->text('do_') === 'keep') {
                $set = $this->bulk->keep($table, $wish, $this->person());

                return redirect()->route('changes.bulk.set', ['name' => $name, 'changes' => $set->id])->with('notice', 'They are pending. Nothing is sent yet.');
            }

            return $this->page($table, $wish, $this->bulk->dryRun($table, $wish, $this->person()));
        } catch (CannotChange $cannot) {
            throw ValidationException::withMessages(['bulk' => $cannot->getMessage()])->redirectTo(route('changes.bulk', $name));
        }
    }

    public function set(string $name, Request $request): View|Response
    {
        $table = $this->changed($name);
        $set = $this->mine($table, $request);

        if ($request->headers->has('HX-Request') && ! $set->state->isUnderWay()) {
            // What was under way is over: the buttons are others then.
            return response('', 200, ['HX-Refresh' => 'true']);
        }

        return view('changes.bulk-set', ['table' => $table, 'kept' => $table->table, 'set' => $set, 'counts' => $set->counts(), 'unfit' => $set->changes()->where('state', 'pending')->where('faults', '!=', '{}')->where('faults', '!=', '[]')->count()]);
    }

    public function update(string $name, Request $request): RedirectResponse
    {
        $table = $this->changed($name);
        $set = $this->mine($table, $request);
        try {
            if ($this->text('do') === 'stop') {
                $this->sets->stop($set);
            } elseif ($this->text('do') === 'drop') {
                abort_if($set->state->isUnderWay(), 409);
                $set->changes()->whereNotIn('state', ['done', 'sending'])->delete();
            } else {
                if ($table->table->environment->slug === 'production' && $this->text('sure') !== '1') {
                    throw CannotChange::because('This changes Production. Say that you are sure.');
                }
                $this->sets->send($set, $table, $this->person(), $this->text('do') === 'three' ? 3 : null);
            }
        } catch (CannotChange $cannot) {
            throw ValidationException::withMessages(['bulk' => $cannot->getMessage()]);
        }

        return redirect()->route('changes.bulk.set', ['name' => $name, 'changes' => $set->id]);
    }

    /**
     * What was refused, with reasons, to be mended and sent again.
     */
    public function refusals(string $name, Request $request): StreamedResponse
    {
        $table = $this->changed($name);
        $set = $this->mine($table, $request);

        return response()->streamDownload(static function () use ($table, $set): void {
            $out = fopen('php://output', 'w') ?: throw new \LogicException('There is no output.');
            foreach (Refusals::lines($table, $set) as $line) {
                fputcsv($out, $line, ',', '"', '');
            }
        }, "$name-refused.csv", ['Content-Type' => 'text/csv; charset=utf-8']);
    }

    /**
     * @param  array<string, mixed>|null  $dry
     */
    private function page(ChangeTable $table, ?BulkWish $wish, ?array $dry = null): View
    {
        return view('changes.bulk', ['table' => $table, 'kept' => $table->table, 'wish' => $wish ?? new BulkWish('rows'), 'dry' => $dry, 'block' => $wish === null ? '' : implode("\n", array_map(static fn (array $line): string => implode("\t", $line), $wish->block)),
            'queries' => SavedQuery::query()->orderBy('name')->limit(200)->get()->filter(fn (SavedQuery $query): bool => $this->person()->can('view', $query)),
            'recent' => ChangeSet::query()->where(['user_id' => $this->person()->id, 'environment_id' => $table->table->environment_id, 'table' => $table->table->name, 'kind' => 'bulk'])->latest('id')->limit(20)->get(), ]);
    }

    private function wish(Request $request): BulkWish
    {
        $sets = [];
        foreach ((array) $request->input('sets', []) as $one) {
            $column = is_array($one) ? trim((string) ($one['column'] ?? '')) : '';
            $column === '' || $sets[$column] = (string) ($one['text'] ?? '');
        }
        $sql = $this->text('sql');
        if ($this->text('from') === 'query' && ctype_digit($this->text('query'))) {
            $query = SavedQuery::query()->findOrFail((int) $this->text('query'));
            $this->authorize('view', $query);
            $sql = $query->sql;
        }
        $given = array_filter(array_map(strval(...), array_filter((array) $request->input('given', []), is_scalar(...))), static fn (string $one): bool => $one !== '');

        return new BulkWish(in_array($this->text('from'), ['rows', 'query', 'block'], true) ? $this->text('from') : 'rows', $this->text('where'), $sql, $this->block($request), in_array($this->text('act'), ['set', 'delete', 'call', 'put', 'create'], true) ? $this->text('act') : 'set', $sets, (int) $this->text('action'), $given);
    }

    /**
     * @return list<list<string>>
     */
    private function block(Request $request): array
    {
        $file = $request->file('file');
        try {
            if ($file instanceof UploadedFile && strtolower($file->getClientOriginalExtension()) === 'xlsx') {
                $rows = [];
                foreach ((new XlsxSheet((string) $file->getRealPath()))->rows() as $row) {
                    $rows[] = array_map(strval(...), $row);
                    count($rows) <= self::ROWS || throw ValidationException::withMessages(['bulk' => 'That is more than '.self::ROWS.' rows.']);
                }

                return $rows;
            }
        } catch (CannotDescribe $cannot) {
            throw ValidationException::withMessages(['bulk' => $cannot->getMessage()]);
        }
        $text = $file instanceof UploadedFile ? (string) file_get_contents((string) $file->getRealPath()) : (is_string($request->input('block')) ? $request->input('block') : '');
        if (! mb_check_encoding($text, 'UTF-8')) {
            throw ValidationException::withMessages(['bulk' => 'The file is not in UTF-8. Save it as CSV UTF-8, or as XLSX.']);
        }

        return self::lines(preg_replace('/^\x{FEFF}/u', '', $text) ?? $text);
    }

    /**
     * A block as spreadsheets copy it, or CSV: what stands most often in its first line is between the cells.
     *
     * @return list<list<string>>
     */
    private static function lines(string $text): array
    {
        $first = (string) strtok($text, "\n");
        $counts = ["\t" => substr_count($first, "\t"), ';' => substr_count($first, ';'), ',' => substr_count($first, ',')];
        arsort($counts);
        $handle = fopen('php://temp', 'w+') ?: throw new \LogicException('There is no memory.');
        fwrite($handle, $text);
        rewind($handle);
        $rows = [];
        while (is_array($row = fgetcsv($handle, null, (string) array_key_first($counts), '"', ''))) {
            $row === [null] || $rows[] = array_map(strval(...), $row);
            count($rows) <= self::ROWS || throw ValidationException::withMessages(['bulk' => 'That is more than '.self::ROWS.' rows.']);
        }

        return $rows;
    }

    private function mine(ChangeTable $table, Request $request): ChangeSet
    {
        return ChangeSet::query()->with('user', 'endpoint.source', 'environment')->where(['user_id' => $this->person()->id, 'environment_id' => $table->table->environment_id, 'table' => $table->table->name])->findOrFail((int) $request->route('changes'));
    }

    private function changed(string $name): ChangeTable
    {
        $table = ChangeTable::of($this->table($name)) ?? abort(404, "Nothing says yet how records of $name are changed.");
        abort_if(ChangeRights::of($this->person(), $table->table->endpoint, $table->table->environment)->isNone(), 403, "You may not change records of $name in {$this->environment()->name}.");

        return $table;
    }
}
