<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Environment;
use App\Models\JournalEntry;
use App\Models\KeptTable;
use App\Models\User;
use App\Pipeline\ReadingFailed;
use App\Pipeline\SourceConnections;
use App\Reservoir\TableReader;
use App\Secrets\Vault;
use App\Transport\Limits;
use App\Transport\Sent;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Change\CellText;
use DeepSpring\Change\ChangePlan;
use DeepSpring\Change\RecordAct;
use DeepSpring\Change\RecordChange;
use DeepSpring\SourceFile\SourceFile;
use Psr\Http\Message\RequestInterface;

/**
 * Proves how a table is changed on one of its records: it is got and compared with the row that is kept, and then its
 * own values are sent back, so that a change that changes nothing is done.
 */
final readonly class ChangeProof
{
    public function __construct(private SourceConnections $connections, private TableReader $reader, private Vault $vault)
    {
    }

    /**
     * @return list<array{what: string, ok: bool, says: string}>
     */
    public function prove(KeptTable $kept, SourceFile $file, ChangePlan $plan, string $mark, Environment $environment, User $by): array
    {
        $table = ChangeTable::drafted($kept, $file, $plan);
        $found = $this->reader->row($kept, $mark);
        if ($found === null) {
            return [['what' => 'the row', 'ok' => false, 'says' => 'It is no longer in the table.']];
        }
        $row = $table->given($found);
        $steps = [];
        try {
            $connection = $this->connections->open($kept->endpoint->source, $file->source(), $environment, $by);
            $limits = new Limits(min(60, $file->source()->pace->timeout), 1, (int) config('spring.limits.answer_bytes'));
            $etag = null;
            $get = $plan->get();
            if ($get !== null) {
                $sent = $connection->send(fn (): RequestInterface => $connection->request($get->endpoint, $plan->getting($row) ?? [], new PageRequest), $limits);
                $isGood = in_array($sent->status, $get->endpoint->answer()->ok, true);
                $seen = $isGood ? (new RecordReader($table, $this->vault))->read($connection->clean($sent), $get, $row) : null;
                $differs = $seen === null ? [] : array_keys(array_filter($table->changeable, static fn ($one, string $name): bool => $one->inUpdate && ! CellText::isSame($seen->row[$name] ?? null, $row[$name] ?? null, $one->column->type->name()), ARRAY_FILTER_USE_BOTH));
                $etag = $seen?->etag;
                $steps[] = ['what' => $get->name, 'ok' => $seen !== null, 'says' => match (true) {
                    ! $isGood => $this->answered($sent),
                    $seen === null => 'The answer holds no record of this table: look at where its records are, under Answer of that endpoint.',
                    $table->key($seen->row) !== $table->key($row) => 'It gave another record: '.implode(' · ', $table->key($seen->row)).'.',
                    default => ($seen->isWhole ? 'It has all that the table reads of a record' : 'It has only some of what the table reads, so rows follow as far as they are sent').($differs === [] ? '' : '; it differs from the kept row in '.implode(', ', $differs)).($etag === null ? '; there is no ETag, so the record is compared before it is changed.' : "; its ETag is $etag, and goes into If-Match."),
                }];
            }
            if ($plan->endpoint(RecordAct::Update) !== null) {
                $steps[] = $this->sentBack($table, $plan, $row, $environment, $by, function (RequestInterface $request) use ($connection, $limits): Sent {
                    return $connection->send(static fn (): RequestInterface => $request, $limits);
                }, static fn ($asked): RequestInterface => $connection->request($asked->bound->endpoint, $asked->values, new PageRequest(headers: $etag === null ? [] : ['if-match' => $etag])), static fn (string $text): string => $connection->mask()->apply($text));
            }
        } catch (ReadingFailed $failed) {
            $steps[] = ['what' => 'the request', 'ok' => false, 'says' => $failed->diagnosis->what];
        }

        return $steps;
    }

    /**
     * @param  array<string, string|null>  $row
     * @param  \Closure(RequestInterface): Sent  $send
     * @param  \Closure(\DeepSpring\Change\AskedChange): RequestInterface  $make
     * @param  \Closure(string): string  $mask
     * @return array{what: string, ok: bool, says: string}
     *
     * @throws ReadingFailed
     */
    private function sentBack(ChangeTable $table, ChangePlan $plan, array $row, Environment $environment, User $by, \Closure $send, \Closure $make, \Closure $mask): array
    {
        $own = array_intersect_key($row, array_filter($table->changeable, static fn ($one): bool => $one->inUpdate));
        $own = array_filter($own, static fn (?string $value): bool => $value !== null);
        $asked = $plan->asked(new RecordChange(RecordAct::Update, $row, $own, mark: PendingChanges::mark()));
        $what = $asked->bound->name;
        if ($own === [] || $asked->faults !== []) {
            return ['what' => $what, 'ok' => false, 'says' => $own === [] ? 'This record has no value that could be sent back. Take another one.' : implode(' ', array_map(static fn (string $column, string $fault): string => trim("$column: $fault", ': '), array_keys($asked->faults), $asked->faults))];
        }
        $request = $make($asked);
        $sent = $send($request);
        $isDone = in_array($sent->status, $asked->bound->endpoint->answer()->ok, true);
        JournalEntry::query()->insert(['at' => now()->format('Y-m-d H:i:s.u'), 'person' => $by->id, 'person_name' => mb_substr($by->name, 0, 190), 'via' => 'sheet', 'environment' => $environment->slug, 'source' => $table->file->slug(), 'endpoint' => $asked->bound->endpoint->slug, 'table' => $table->table->name, 'kind' => 'update', 'record' => mb_substr(implode(' · ', $table->key($row)), 0, 300), 'before_' => json_encode((object) $row), 'after_' => json_encode((object) $own), 'request' => mb_strcut(mb_scrub($mask($request->getMethod().' '.$request->getRequestTarget()."\n".$request->getBody())), 0, 20_000), 'answer' => mb_strcut(mb_scrub((string) $sent->status), 0, 100), 'status' => $sent->status, 'milliseconds' => (int) $sent->timing->total, 'outcome' => $isDone ? 'done' : 'refused', 'reason' => 'A proof: its own values were sent back.']);

        return ['what' => $what, 'ok' => $isDone, 'says' => $isDone ? 'Its own values ('.implode(', ', array_keys($own)).") were sent back, and taken ($sent->status)." : $this->answered($sent)];
    }

    private function answered(Sent $sent): string
    {
        return $sent->status === null ? rtrim($sent->detail, '.').'.' : "The service answered $sent->status $sent->reason.";
    }
}
