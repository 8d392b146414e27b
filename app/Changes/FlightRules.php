<?php

declare(strict_types=1);

namespace App\Changes;

use App\Pace\Ticks;
use App\Pipeline\SourceConnection;
use App\Transport\Sent;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Change\AnswerCells;
use DeepSpring\Change\CellText;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\FieldErrors;
use DeepSpring\Change\RecordAct;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Pace\Allowance;
use DeepSpring\Pace\Backoff;

/**
 * What an answer means for a change, and what comes next. A change is never sent twice on suspicion: only where the
 * service knows repetitions by a mark, or a look at the record showed that it was not done.
 */
final readonly class FlightRules
{
    /** How often a service may say that there were too many requests, for one change. */
    private const PATIENCE = 12;

    public function __construct(private ChangeTable $table, private SourceConnection $connection, private RecordReader $reader, private int $tries)
    {
    }

    /**
     * Where a change begins.
     *
     * @param  bool  $isUnknown  whether it was sent before, and nobody knows what came of it
     */
    public function begin(Flight $flight, bool $isUnknown): void
    {
        $canLook = $this->table->plan->get() !== null && $flight->change->key !== null;
        if ($isUnknown && ! $flight->mayRepeat) {
            $canLook && $flight->change->kind !== RecordAct::Call ? $flight->goesOn(FlightStep::Settle) : $flight->ends(ChangeState::Unknown, 'It was about to be sent or had been, and no answer came. Nothing here can tell whether it was done; look at the service, then say which.');

            return;
        }
        $looks = $canLook && in_array($flight->change->kind, [RecordAct::Update, RecordAct::Delete], true) && ! $isUnknown;
        $flight->goesOn($looks ? FlightStep::Look : FlightStep::Write);
    }

    public function answered(Flight $flight, Sent $sent): void
    {
        $flight->tries++;
        if ($flight->step === FlightStep::Write) {
            $this->written($flight, $sent);

            return;
        }
        $wait = Backoff::wait($sent->status, $sent->failing, $flight->tries, $this->tries, true, $this->askedWait($sent), random_int(0, 1_000_000) / 1_000_000);
        if ($wait !== null) {
            $flight->goesOn($flight->step, Ticks::now() + $wait / 1000);

            return;
        }
        match ($flight->step) {
            FlightStep::Look => $this->looked($flight, $sent),
            FlightStep::Settle => $this->settled($flight, $sent),
            default => $this->after($flight, $sent),
        };
    }

    /**
     * Nothing was done to it, because of others in the same request.
     */
    public function untouched(Flight $flight): void
    {
        $flight->tries = 0;
        $flight->goesOn($flight->step);
    }

    private function looked(Flight $flight, Sent $sent): void
    {
        $change = $flight->change;
        $isGone = in_array($sent->status, [404, 410], true);
        if ($isGone) {
            $change->kind === RecordAct::Delete ? $flight->ends(ChangeState::Done, 'It was gone already.') : $flight->ends(ChangeState::Refused, 'The record is no longer there.');

            return;
        }
        $seen = $this->seen($flight, $sent);
        if ($seen === null) {
            $flight->ends(ChangeState::Refused, 'It was not sent, since the record could not be looked at first: '.$this->reason($sent));

            return;
        }
        [$flight->seen, $flight->etag] = [$seen, $seen->etag];
        $differs = $this->differing($flight, $seen->row);
        if ($differs !== [] && $change->kind === RecordAct::Update && $this->isSo($flight, $seen->row)) {
            $flight->ends(ChangeState::Done, 'It was so already: somebody else had changed it to the same.');
        } elseif ($differs !== []) {
            $flight->theirs = array_intersect_key($seen->row, array_flip($differs));
            $flight->ends(ChangeState::Conflict, 'Changed meanwhile: '.implode(', ', $differs).'.');
        } else {
            if ($change->kind === RecordAct::Update && $this->table->plan->sendsAll()) {
                // What is sent along is as it is now, and not as it was when somebody looked.
                $change->before = array_intersect_key($change->before, $change->after) + $seen->row;
                $flight->asked = $this->table->plan->asked($change->wanted());
            }
            $flight->goesOn(FlightStep::Write);
        }
    }

    private function written(Flight $flight, Sent $sent): void
    {
        $flight->writes++;
        $flight->written = $sent;
        $verdict = ChangeState::after($sent->status, $sent->failing, $flight->asked->bound->endpoint->answer()->ok, $flight->change->kind);
        match ($verdict) {
            ChangeState::Done => $this->done($flight, $sent),
            ChangeState::Pending => $this->again($flight, $sent),
            ChangeState::Unknown => $this->unknown($flight, $sent),
            ChangeState::Conflict => $this->conflict($flight),
            default => $this->refused($flight, $sent),
        };
    }

    private function done(Flight $flight, Sent $sent): void
    {
        $flight->ends(ChangeState::Done, $sent->status === 404 || $sent->status === 410 ? 'It was gone already.' : '', $sent->status !== 404 && $sent->status !== 410);
        $flight->seen = null;
        $this->fill($flight, $sent);
        if ($flight->change->kind === RecordAct::Delete || $this->table->plan->after() === 'nothing') {
            return;
        }
        $seen = $this->table->plan->after() === 'answer' ? $this->seen($flight, $sent, false) : null;
        $isIt = $seen !== null && $seen->isWhole && ($flight->change->key === null || $this->table->key($seen->row) === $flight->change->key);
        if ($isIt) {
            $flight->seen = $seen;
        } elseif ($this->table->plan->get() !== null && ($flight->change->key !== null || $seen !== null)) {
            $flight->change->key ??= $this->table->key($seen->row ?? []);
            $flight->outcome = null;
            $flight->goesOn(FlightStep::After);
        }
    }

    /**
     * Cells that the answer of an action is put into.
     */
    private function fill(Flight $flight, Sent $sent): void
    {
        $bound = $flight->asked->bound;
        $cells = new AnswerCells($flight->change->kind === RecordAct::Call ? $bound->puts : [], $this->table->plan->columns);
        if ($cells->isNone()) {
            return;
        }
        $clean = $this->connection->clean($sent);
        try {
            [$flight->puts, $why] = $cells->read($bound->endpoint->answer()->read($clean->body, $clean->contentType())->document);
        } catch (UnreadableAnswer $unreadable) {
            $why = ["Nothing of the answer could be put into the row: {$unreadable->getMessage()}."];
        }
        $flight->reason = trim("$flight->reason ".implode(' ', $why));
    }

    private function after(Flight $flight, Sent $sent): void
    {
        $flight->seen = $this->seen($flight, $sent);
        $flight->ends(ChangeState::Done, $flight->seen === null ? 'It was done; what the record is now could not be read.' : $flight->reason, true);
    }

    /**
     * It was not done: the service was too busy, or could not be reached.
     */
    private function again(Flight $flight, Sent $sent): void
    {
        $isBusy = in_array($sent->status, [429, 425], true);
        $asked = $this->askedWait($sent);
        if ($flight->tries >= ($isBusy ? self::PATIENCE : $this->tries)) {
            $flight->ends($isBusy ? ChangeState::Refused : ChangeState::Pending, $isBusy ? 'The service kept saying that there were too many requests.' : 'Nothing was sent: '.rtrim($sent->detail, '.').'.');

            return;
        }
        $flight->goesOn(FlightStep::Write, Ticks::now() + ($asked ?? min(20, 0.25 * 2 ** min(6, $flight->tries))) + random_int(0, 250) / 1000);
    }

    private function unknown(Flight $flight, Sent $sent): void
    {
        if ($flight->mayRepeat && ! $flight->travelled && $flight->tries < $this->tries) {
            $flight->goesOn(FlightStep::Write, Ticks::now() + ($this->askedWait($sent) ?? 0.1 * 2 ** $flight->tries));
        } elseif ($this->table->plan->get() !== null && $flight->change->key !== null && $flight->change->kind !== RecordAct::Call) {
            $flight->goesOn(FlightStep::Settle);
        } else {
            $flight->ends(ChangeState::Unknown, 'It was sent, and '.($sent->status === null ? 'no answer came' : "the service failed ($sent->status)").'. Whether it was done is not known.');
        }
    }

    private function settled(Flight $flight, Sent $sent): void
    {
        $change = $flight->change;
        $isGone = in_array($sent->status, [404, 410], true);
        $seen = $isGone ? null : $this->seen($flight, $sent);
        if ($isGone || $seen === null) {
            $isGone && $change->kind === RecordAct::Delete ? $flight->ends(ChangeState::Done, 'No answer came; a look at the record showed that it is gone.', true) : $flight->ends(ChangeState::Unknown, $isGone ? 'No answer came, and the record is no longer there.' : 'No answer came, and the record could not be looked at: '.$this->reason($sent));

            return;
        }
        $flight->seen = $seen;
        $differs = $this->differing($flight, $seen->row);
        if ($change->kind === RecordAct::Update && $this->isSo($flight, $seen->row)) {
            $flight->ends(ChangeState::Done, 'No answer came; a look at the record showed that it was done.', true);
        } elseif ($differs === [] && $flight->writes < $this->tries) {
            // It is as it was, so it was not done.
            $flight->etag = $seen->etag;
            $flight->goesOn(FlightStep::Write, Ticks::now() + 0.1 * 2 ** $flight->writes);
        } elseif ($differs === []) {
            $flight->ends(ChangeState::Refused, "It was sent {$flight->writes} times without an answer; a look at the record showed each time that it was not done.");
        } else {
            $flight->theirs = array_intersect_key($seen->row, array_flip($differs));
            $flight->ends($change->kind === RecordAct::Update ? ChangeState::Conflict : ChangeState::Unknown, 'No answer came, and the record is neither as it was nor as it should be: '.implode(', ', $differs).'.');
        }
    }

    private function conflict(Flight $flight): void
    {
        // It was changed between the look and the change; what it is now is seen by looking again.
        if ($this->table->plan->get() !== null && $flight->change->key !== null && $flight->writes < 3) {
            $flight->goesOn(FlightStep::Look);

            return;
        }
        $flight->ends(ChangeState::Conflict, 'The service says that the record was changed meanwhile (412).');
    }

    private function refused(Flight $flight, Sent $sent): void
    {
        $clean = $this->connection->clean($sent);
        $flight->faults = array_diff_key(FieldErrors::read($clean->body)->byColumn($flight->asked->bound), ['' => 1]);
        $flight->ends(ChangeState::Refused, ($flight->inOneSet > 1 ? "None of the {$flight->inOneSet} changes of its change set was done: " : '').match ($sent->status) {
            428 => 'The service changes a record only for who says which state is meant (428): bind an endpoint that gets one, so that its ETag is known.',
            404, 410 => 'The record is no longer there.',
            default => $this->reason($sent),
        });
    }

    /**
     * Columns in which the record is no longer what the person saw: those that change, or all where it is deleted.
     *
     * @param  array<string, string|null>  $row
     * @return list<string>
     */
    private function differing(Flight $flight, array $row): array
    {
        $change = $flight->change;
        $of = $change->kind === RecordAct::Delete ? array_filter($this->table->plan->columns, static fn ($column): bool => $column->source === ColumnSource::From) : array_intersect_key($this->table->plan->columns, $change->after);
        $differs = [];
        foreach ($of as $name => $column) {
            CellText::isSame($row[$name] ?? null, $change->before[$name] ?? null, $column->type->name()) || $differs[] = (string) $name;
        }

        return $differs;
    }

    /**
     * Whether the record is as it should be.
     *
     * @param  array<string, string|null>  $row
     */
    private function isSo(Flight $flight, array $row): bool
    {
        foreach ($flight->change->after as $name => $value) {
            $column = $this->table->plan->columns[$name] ?? null;
            if ($column === null || ! CellText::isSame($row[$name] ?? null, $value, $column->type->name())) {
                return false;
            }
        }

        return true;
    }

    private function seen(Flight $flight, Sent $sent, bool $isGot = true): ?SeenRecord
    {
        $bound = $isGot ? $this->table->plan->get() : $flight->asked->bound;
        $isGood = $bound !== null && $sent->failing === null && in_array($sent->status, $bound->endpoint->answer()->ok, true);

        return $isGood ? $this->reader->read($this->connection->clean($sent), $bound, $flight->change->before) : null;
    }

    private function reason(Sent $sent): string
    {
        $clean = $this->connection->clean($sent);
        $said = FieldErrors::read($clean->body)->text;

        return $sent->status === null ? rtrim($this->connection->mask()->apply($sent->detail), '.').'.' : ($said === '' ? "The service answered $sent->status $sent->reason." : "$said ($sent->status)");
    }

    private function askedWait(Sent $sent): ?float
    {
        return Allowance::read($sent->headers, microtime(true))->retryAfter;
    }
}
