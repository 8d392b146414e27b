<?php

declare(strict_types=1);

namespace App\Http\Runs;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Models\RejectedValue;
use App\Models\Run;
use App\Reservoir\TableStore;
use DeepSpring\Export\CsvWriter;
use Illuminate\Contracts\View\View;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Facades\DB;
use Symfony\Component\HttpFoundation\StreamedResponse;

/**
 * What did not fit in a run: as groups, one by one, and as a file.
 */
final class RejectController extends Controller
{
    private const PAGE = 50;

    private const SORTS = ['id', 'table', 'record_key', 'reason', 'value'];

    public function __construct(private readonly AuditLog $log, private readonly TableStore $tables)
    {
    }

    public function index(Run $run): View
    {
        $this->authorize('view', $run);
        $sort = in_array($this->text('sort'), self::SORTS, true) ? $this->text('sort') : 'id';
        $groups = RejectedValue::query()->toBase()->where('run_id', $run->id)->groupBy('table', 'column', 'reason', 'whole_record')
            ->select(['table', 'column', 'reason', 'whole_record', DB::raw('count(*) as times'), DB::raw('min(value) as example')])->orderByDesc('times')->limit(100)->get();

        return view('runs.rejects', [
            'run' => $run, 'groups' => $groups, 'sort' => $sort, 'search' => $this->text('q'), 'group' => ['table' => $this->text('table'), 'column' => $this->text('column'), 'reason' => $this->text('reason')],
            'rejects' => $this->chosen($run)->orderBy($sort)->orderBy('id')->paginate(self::PAGE)->withQueryString(),
            'draft' => $run->endpoint->source->published_version === null ? null : $run->endpoint->source->draft(),
            'kept' => $run->isTry() ? null : $this->tables->pages($run->environment, $run->owner())->about(),
        ]);
    }

    public function export(Run $run): StreamedResponse
    {
        $this->authorize('view', $run);
        $this->log->note(Action::Exported, "rejects of run $run->id");
        $csv = new CsvWriter(true);
        $chosen = $this->chosen($run);

        return response()->streamDownload(static function () use ($chosen, $csv): void {
            echo $csv->line(['table', 'column', 'record', 'where', 'value', 'why', 'left out']);
            foreach ($chosen->orderBy('id')->lazyById(1000) as $reject) {
                echo $csv->line([$reject->table, $reject->column, $reject->record_key, $reject->path, $reject->value, $reject->reason, $reject->whole_record ? 'the record' : 'the value']);
            }
        }, "rejects-of-run-{$run->id}.csv", ['Content-Type' => 'text/csv; charset=utf-8']);
    }

    /**
     * @return Builder<RejectedValue>
     */
    private function chosen(Run $run): Builder
    {
        $search = $this->text('q');
        $like = '%'.addcslashes($search, '%_\\').'%';
        $query = RejectedValue::query()->where('run_id', $run->id);
        foreach (['table', 'column', 'reason'] as $name) {
            if (request()->has($name) && ($name !== 'column' || $this->text('table') !== '')) {
                $query->where($name, $this->text($name));
            }
        }

        return $query->when($search !== '', static fn (Builder $found) => $found->where(static fn (Builder $any) => $any->whereRaw('value collate utf8mb4_general_ci like ?', [$like])->orWhereRaw('record_key collate utf8mb4_general_ci like ?', [$like])->orWhereRaw('path collate utf8mb4_general_ci like ?', [$like])));
    }
}
