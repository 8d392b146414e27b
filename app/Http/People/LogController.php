<?php

declare(strict_types=1);

namespace App\Http\People;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Models\LogEntry;
use DeepSpring\Export\CsvWriter;
use Illuminate\Contracts\View\View;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Facades\Gate;
use Symfony\Component\HttpFoundation\StreamedResponse;

/**
 * Who did what. For administrators.
 */
final class LogController extends Controller
{
    private const PAGE = 50;

    public function index(): View
    {
        Gate::authorize('administer');

        return view('people.log', [
            'entries' => $this->found()->latest('id')->simplePaginate(self::PAGE)->withQueryString(),
            'search' => $this->text('q'), 'action' => $this->text('action'), 'actions' => Action::cases(), 'days' => config('spring.log_days'),
        ]);
    }

    public function export(AuditLog $log): StreamedResponse
    {
        Gate::authorize('administer');
        $log->note(Action::LogExported, $this->text('q') === '' ? 'all of it' : $this->text('q'));
        $entries = $this->found()->orderBy('id')->lazyById(1000);

        return response()->streamDownload(static function () use ($entries): void {
            $csv = new CsvWriter(true);
            echo $csv->line(['at', 'who', 'did', 'to', 'detail', 'from']);
            foreach ($entries as $entry) {
                echo $csv->line([$entry->at->format('Y-m-d\TH:i:s.u\Z'), $entry->person_name, $entry->action, $entry->subject, $entry->detail, $entry->ip]);
            }
        }, 'deep-spring-log.csv', ['Content-Type' => 'text/csv; charset=utf-8']);
    }

    /**
     * @return Builder<LogEntry>
     */
    private function found(): Builder
    {
        $search = $this->text('q');
        $like = '%'.addcslashes($search, '%_\\').'%';

        return LogEntry::query()
            ->when($this->text('action') !== '', fn ($query) => $query->where('action', $this->text('action')))
            ->when($search !== '', static fn ($query) => $query->whereRaw('(person_name collate utf8mb4_general_ci like ? or subject collate utf8mb4_general_ci like ? or detail collate utf8mb4_general_ci like ? or ip like ?)', [$like, $like, $like, $like]));
    }
}
