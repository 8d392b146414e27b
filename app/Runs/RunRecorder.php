<?php

declare(strict_types=1);

namespace App\Runs;

use App\Evidence\EvidenceWriter;
use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Pace\Ticks;
use App\Pipeline\FetchObserver;
use App\Transport\Sent;
use DeepSpring\Access\SecretMask;
use DeepSpring\Value\Phrase;
use Illuminate\Database\QueryException;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Writes down how a run goes: its counts, its ladder, its log; and learns whether somebody wants it
 * stopped, or another process has taken it over.
 */
final class RunRecorder implements FetchObserver
{
    /** Seconds between two saves. */
    private const SAVE = 0.5;

    /** The database's error for a row that belongs to one that is gone. */
    private const NO_SUCH_RUN = 1452;

    /** Exchanges that are kept whole for one run. */
    private const EXCHANGES = 300;

    /** Between two signs of life. */
    private readonly float $beatSeconds;

    private readonly LadderRecord $ladder;

    /** @var list<array<string, mixed>> */
    private array $events = [];

    private float $beaten = 0.0;

    private float $saved = 0.0;

    private bool $stopsNow = false;

    public bool $stopsAfterPage = false;

    public bool $isOvertaken = false;

    /** Whether the run itself was deleted meanwhile. */
    public bool $isGone = false;

    private int $exchanges = 0;

    /** @var (\Closure(string, string): ?string)|null takes what is masked out of a body, given its media type */
    public ?\Closure $conceal = null;

    /** What stands in the line of a page before its request. */
    public const ASKED = '; ';

    /** Characters of a request. */
    private const LINE = 400;

    /** The last answer, for the evidence of a failure. */
    public ?Sent $last = null;

    private int $lastPage = 0;

    private readonly float $began;

    private readonly int $attempt;

    private ?float $waitsSince = null;

    /** What was last said to be waited for, so that the same is not said with every page. */
    private ?string $toldWait = null;

    /** Milliseconds before the next page. */
    private int $waitedForPace = 0;

    /**
     * @param  (\Closure(): SecretMask)|null  $mask
     */
    public function __construct(private readonly Run $run, private readonly EvidenceWriter $evidence, public ?\Closure $mask = null)
    {
        $this->attempt = $run->attempt;
        $this->began = ($run->started_at ?? Carbon::now())->getPreciseTimestamp(3) / 1000;
        $this->beatSeconds = (float) config('spring.limits.beat_seconds');
        $this->ladder = new LadderRecord($run->ladder ?? []);
        $this->beaten = Ticks::now();
    }

    public function answered(Sent $sent, int $page, ?int $records): void
    {
        $took = (int) round($sent->timing->total);
        $this->last = $sent;
        $this->lastPage = $page;
        if ($page === 0) {
            $this->log(2, null, 'token', 'The token was refused, and a new one was asked for.');
            $this->keep($sent, 0, null, EvidenceWriter::REFUSED);

            return;
        }
        $this->run->waits_for = null;
        if ($records === null) {
            // What was read is counted as it is taken.
            $this->run->bytes += $sent->size();
        }
        $this->ladder->add($page, max(0, (int) round(1000 * (microtime(true) - $this->began)) - $took), $took, $records, $sent->timing->waited + $this->waitedForPace, $sent->timing->attempts);
        $this->waitedForPace = 0;
        // Rows that came as they should are too many for lines of their own.
        if ($this->run->lookup === null || $records === null || $sent->timing->attempts > 1) {
            $this->log(3, $page, $records === null ? 'failed' : 'page', "{$this->unit()} $page: ".($records === null ? 'failed' : Phrase::count($records, 'record')).', '.($sent->status ?? 'no answer').', '.Phrase::bytes($sent->size()).', '.Phrase::duration($took).($sent->timing->attempts > 1 ? ", at try {$sent->timing->attempts}" : '').($this->run->lookup === null ? self::ASKED.$this->line($sent) : ''));
        }
        if ($this->run->every_exchange || $records === null) {
            $this->keep($sent, $page, $records, EvidenceWriter::REQUEST);
        }
    }

    public function again(Sent $sent, int $page, float $wait): void
    {
        $this->run->retries++;
        $this->run->waited += (int) round(1000 * $wait);
        $this->log(3, $page, 'again', "{$this->unit()} $page: ".($sent->status === null ? $this->mask()->apply($sent->detail) : "answered {$sent->status}").'; sent again in '.Phrase::duration((int) round(1000 * $wait)).'.');
        if ($wait > 0.5) {
            $this->run->waits_for = lcfirst($this->unit())." $page to be sent again: ".($sent->status === null ? 'no answer came' : "it answered {$sent->status}");
        }
        if ($this->run->every_exchange) {
            $this->keep($sent, $page, null, EvidenceWriter::REQUEST);
        }
    }

    public function waits(?string $for, float $until): void
    {
        $now = Ticks::now();
        if ($for === null) {
            $waited = $this->waitsSince === null ? 0 : (int) round(1000 * ($now - $this->waitsSince));
            $this->run->waited += $waited;
            $this->waitedForPace += $waited;
            $this->waitsSince = null;
            $this->run->waits_for = null;

            return;
        }
        $this->waitsSince ??= $now;
        if ($until - $now > 0.5) {
            $this->run->waits_for = mb_substr($for, 0, 500);
            if ($this->toldWait !== $for || $until - $now > 3) {
                $this->toldWait = $for;
                $this->log(3, null, 'waits', 'Waits '.Phrase::duration((int) round(1000 * ($until - $now)))." for $for");
            }
        }
    }

    public function goesOn(): bool
    {
        // While nothing comes, those who look on see at least what is waited for.
        if (Ticks::now() - $this->saved > 2 * self::SAVE && ($this->events !== [] || $this->run->isDirty())) {
            $this->save(true);
        }
        if (Ticks::now() - $this->beaten > $this->beatSeconds) {
            $this->beat();
        }

        return ! $this->stopsNow && ! $this->isOvertaken;
    }

    /**
     * A sign of life, and a look at what is wanted.
     *
     * @param  int  $seconds  that may pass until the next one
     */
    public function beat(int $seconds = 0): void
    {
        $this->beaten = Ticks::now();
        $mine = DB::table('runs')->where('id', $this->run->id)->where('attempt', $this->attempt)->where('state', RunState::Running->value);
        $mine->update(['heartbeat_at' => Carbon::now()->addSeconds($seconds)->format('Y-m-d H:i:s.u')]);
        $row = $mine->first(['stop_how']);
        $this->isOvertaken = $row === null;
        $this->stopsNow = ($row->stop_how ?? null) === 'now';
        $this->stopsAfterPage = ($row->stop_how ?? null) !== null;
    }

    /**
     * @param  1|2|3|4  $level  outcome, step, page, exchange
     */
    public function log(int $level, ?int $page, string $kind, string $text): void
    {
        $this->events[] = ['run_id' => $this->run->id, 'level' => $level, 'at' => microtime(true), 'page' => $page, 'kind' => $kind, 'text' => mb_substr(mb_scrub($text, 'UTF-8'), 0, 1000)];
    }

    /**
     * Counts and log, when it is time.
     */
    public function save(bool $now = false): void
    {
        if (! $now && Ticks::now() - $this->saved < self::SAVE) {
            return;
        }
        $this->saved = Ticks::now();
        $this->run->ladder = $this->ladder->rungs();
        $this->run->save();
        $events = $this->events;
        $this->events = [];
        try {
            foreach (array_chunk($events, 500) as $some) {
                RunEvent::query()->insert($some);
            }
        } catch (QueryException $refused) {
            if ((int) ($refused->errorInfo[1] ?? 0) !== self::NO_SUCH_RUN) {
                throw $refused;
            }
            // Somebody deleted the endpoint, and the run with it.
            $this->isOvertaken = $this->isGone = true;

            return;
        }
        if (Ticks::now() - $this->beaten > $this->beatSeconds) {
            $this->beat();
        }
    }

    /**
     * The answer that ended it, unless it is kept already.
     */
    public function keepLast(): void
    {
        if ($this->last !== null && $this->exchanges === 0) {
            $this->keep($this->last, $this->lastPage, null, EvidenceWriter::REQUEST);
        }
    }

    /**
     * Method and target of a request, without secrets.
     */
    private function line(Sent $sent): string
    {
        return mb_strimwidth($this->mask()->apply($sent->request->getMethod().' '.$sent->request->getRequestTarget()), 0, self::LINE, '…', 'UTF-8');
    }

    private function keep(Sent $sent, int $page, ?int $records, string $purpose): void
    {
        if ($this->exchanges++ < self::EXCHANGES) {
            $exchange = $this->evidence->write($sent, $this->mask(), $page, $records, runId: $this->run->id, purpose: $purpose, conceal: $this->conceal);
            $this->log(4, $page === 0 ? null : $page, 'exchange', "#{$exchange->id} ".strtok($exchange->request, "\n").' → '.($sent->status ?? $this->mask()->apply($sent->detail)));
        }
    }

    /**
     * What is numbered.
     */
    private function unit(): string
    {
        return $this->run->lookup === null ? 'Page' : 'Row';
    }

    private function mask(): SecretMask
    {
        return $this->mask === null ? new SecretMask([]) : ($this->mask)();
    }
}
