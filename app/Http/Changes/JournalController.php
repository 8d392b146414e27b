<?php

declare(strict_types=1);

namespace App\Http\Changes;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Changes\CannotChange;
use App\Changes\JournalReader;
use App\Changes\TakingBack;
use App\Http\Controller;
use App\Models\JournalEntry;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Validation\ValidationException;
use Symfony\Component\HttpFoundation\StreamedResponse;

/**
 * What was changed at services, by record, person, table and time.
 */
final class JournalController extends Controller
{
    private const PAGE = 50;

    public function index(JournalReader $journal): View
    {
        return view('changes.journal', ['entries' => $journal->found($this->person(), $this->environment(), $this->wanted())->simplePaginate(self::PAGE)->withQueryString(), 'wanted' => $this->wanted()]);
    }

    public function show(JournalReader $journal, int $entry): View
    {
        $found = $this->entry($journal, $entry);

        return view('changes.entry', ['entry' => $found, 'table' => $journal->table($found), 'takenBack' => JournalEntry::query()->where('undoes', $found->id)->where('outcome', 'done')->latest('id')->first(), 'others' => JournalEntry::query()->where(['environment' => $found->environment, 'table' => $found->table, 'record' => $found->record])->where('id', '!=', $found->id)->latest('id')->limit(20)->get()]);
    }

    public function export(JournalReader $journal, AuditLog $log): StreamedResponse
    {
        $log->note(Action::JournalExported, $this->environment()->slug, http_build_query($this->wanted()));

        return response()->streamDownload(function () use ($journal): void {
            $out = fopen('php://output', 'w') ?: throw new \LogicException('There is no output.');
            foreach ($journal->lines($this->person(), $this->environment(), $this->wanted()) as $line) {
                fputcsv($out, $line, ',', '"', '');
            }
        }, 'journal.csv', ['Content-Type' => 'text/csv; charset=utf-8']);
    }

    /**
     * The opposite change, pending.
     */
    public function back(JournalReader $journal, TakingBack $taking, int $entry): RedirectResponse
    {
        $found = $this->entry($journal, $entry);
        try {
            $lost = $taking->pend($found, $this->person());
        } catch (CannotChange $cannot) {
            throw ValidationException::withMessages(['back' => $cannot->getMessage()]);
        }

        return redirect()->to(route('changes.show', $found->table).'#look')->with('notice', trim('The opposite change is pending; nothing is sent yet. '.implode(' ', $lost)));
    }

    private function entry(JournalReader $journal, int $id): JournalEntry
    {
        return $journal->found($this->person(), $this->environment(), [])->whereKey($id)->first() ?? abort(404, 'There is no such entry in this environment.');
    }

    /**
     * @return array<string, string>
     */
    private function wanted(): array
    {
        return array_filter(['q' => $this->text('q'), 'table' => $this->text('table'), 'record' => $this->text('record'), 'person' => $this->text('person'), 'outcome' => $this->text('outcome'), 'since' => $this->text('since')], static fn (string $one): bool => $one !== '');
    }
}
