<?php

declare(strict_types=1);

namespace App\Http\Tables;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableHistory;
use App\Runs\StatesOfTable;
use App\Runs\TableStates;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;

/**
 * Earlier states of a kept table, and how two of them differ.
 */
final class HistoryController extends Controller
{
    use FindsTable;

    /** Rows of each sort that are shown. */
    private const SHOWN = 30;

    /** Seconds of a statement. */
    private const LONGEST = 60;

    public function show(string $name, TableHistory $history): View
    {
        $table = $this->table($name);
        $states = new StatesOfTable($table, $history);
        $usual = $states->usual();
        [$from, $to] = [$this->text('from') ?: $usual[0] ?? '', $this->text('to') ?: $usual[1] ?? ''];
        [$before, $after] = [$states->pick($from), $states->pick($to)];
        $fault = $from !== '' && ($before === null || $after === null) ? 'There is no such state of the table any more. Choose others.' : null;
        $comparison = null;
        try {
            $comparison = $before === null || $after === null ? null : $history->compare($table->environment, $before, $after, self::SHOWN, self::LONGEST);
        } catch (KeepFailed $failed) {
            $fault = $failed->getMessage();
        }

        return view('tables.states', ['table' => $table, 'states' => $states, 'from' => $from, 'to' => $to, 'comparison' => $comparison, 'fault' => $fault, 'shown' => self::SHOWN]);
    }

    public function destroy(string $name, TableStates $states, AuditLog $log): RedirectResponse
    {
        $table = $this->table($name);
        $this->authorize('update', $table->endpoint->source);
        $gone = $states->forgetAll($table->endpoint, $table->environment, $table->name);
        $log->note(Action::TablesForgotten, "{$table->endpoint->source->slug}: {$table->endpoint->slug}", implode(', ', $gone)." in {$table->environment->name}");

        return redirect()->route('tables.history', $table->name)->with('notice', 'The earlier states of '.$table->name.' are gone.');
    }
}
