<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Exchange;
use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\View\Show;
use DeepSpring\Export\CsvWriter;
use Illuminate\Support\Carbon;

final class RunsCommand extends SpringCommand
{
    protected $signature = 'spring:runs {run? : Number of one run, to see it and its log} {--table= : Only runs of a table} {--source= : Only runs of a source} {--state= : queued, running, done, failed or stopped} {--hours= : Only those begun in so many hours} {--log=2 : How much of the log: 1 outcome, 2 steps, 3 pages and waits, 4 exchanges} {--stop : Stop it after its page} {--now : With --stop, at once} {--rejects : What did not fit in it, as CSV} {--go-on : Continue it from where it broke or was stopped}';

    protected $description = 'Lists runs, shows the log of one, stops it, continues it';

    private function rejects(Run $run): int
    {
        $csv = new CsvWriter(false);
        $this->give($csv->line(['table', 'column', 'record', 'where', 'value', 'why', 'left_out']));
        foreach ($run->rejectedValues()->orderBy('id')->lazyById(1000) as $reject) {
            $this->give($csv->line([$reject->table, $reject->column, $reject->record_key, $reject->path, $reject->value, $reject->reason, $reject->whole_record ? 'record' : 'value']));
        }

        return self::DONE;
    }

    public function work(Runs $runs, Refresh $refresh): int
    {
        $runs->rescue();
        $number = $this->argument('run');
        if ($number === null) {
            return $this->list();
        }
        $run = Run::query()->with('endpoint.source')->find((int) $number) ?? throw new WrongUse("There is no run $number.");
        if ($this->option('stop')) {
            $runs->stop($run, (bool) $this->option('now'));
            $this->say($run->state->isOver() ? "Run $run->id is over already." : "Run $run->id is told to stop.");

            return $run->state->isOver() ? self::REFUSED : self::DONE;
        }
        if ($this->option('rejects')) {
            return $this->rejects($run);
        }
        if ($this->option('go-on')) {
            if (! $runs->goOn($run, false)) {
                $this->say("Run $run->id cannot be continued: ".($run->continuable ? 'a newer run of the same tables has begun.' : 'nothing of it is kept to continue from.').' Refresh the table instead.');

                return self::REFUSED;
            }
            $run = $refresh->run($run->refresh());
        }
        $this->show($run);

        return $run->state === RunState::Failed && $this->option('go-on') ? self::REFUSED : self::DONE;
    }

    private function list(): int
    {
        $state = $this->option('state');
        if ($state !== null && RunState::tryFrom((string) $state) === null) {
            throw new WrongUse('A state is queued, running, done, failed or stopped.');
        }
        $rows = Run::query()->with(['endpoint.source', 'environment'])
            ->when($state !== null, fn ($query) => $query->where('state', $state))
            ->when($this->option('source') !== null, fn ($query) => $query->whereHas('endpoint.source', fn ($of) => $of->where('slug', $this->option('source'))))
            ->when($this->option('table') !== null, fn ($query) => $query->whereRaw("find_in_set(?, replace(tables, ' ', ','))", [$this->option('table')]))
            ->when($this->option('hours') !== null, fn ($query) => $query->where('created_at', '>', Carbon::now()->subHours((int) $this->option('hours'))))
            ->latest('id')->limit(100)->get();
        foreach ($rows as $run) {
            $this->giveLine(implode("\t", [$run->id, $run->state->value, "{$run->endpoint->source->slug}/{$run->endpoint->slug}", $run->environment->slug, "$run->pages pages", "$run->records records", "$run->rows rows", $run->created_at->format('Y-m-d H:i:s'), $run->diagnosis['what'] ?? $run->ended ?? $run->waits_for ?? '']));
        }
        if ($rows->isEmpty()) {
            $this->say('No run matches.');
        }

        return self::DONE;
    }

    private function show(Run $run): void
    {
        $level = (int) $this->option('log');
        if (! isset(RunEvent::LEVELS[$level])) {
            throw new WrongUse('The log has the levels 1 to 4.');
        }
        $this->say("Run $run->id, {$run->endpoint->source->name} › {$run->endpoint->name}, {$run->state->label()}".($run->isInDoubt() ? ', in doubt' : '').': '.Show::count($run->pages, 'page').', '.Show::count($run->records, 'record').', '.Show::count($run->rows, 'row').', '.Show::count($run->rejects, 'value').' that did not fit, sent again '.Show::count($run->retries, 'time').', waited '.Show::duration($run->waited).'.');
        foreach (RunEvent::query()->where('run_id', $run->id)->where('level', '<=', $level)->orderBy('at')->orderBy('id')->cursor() as $event) {
            $this->giveLine(gmdate('Y-m-d\TH:i:s', (int) $event->at).sprintf('.%03dZ', (int) (1000 * ($event->at - floor($event->at))))."\t$event->kind\t".($event->level === 4 ? $this->whole($event) : $event->text));
        }
    }

    private function whole(RunEvent $event): string
    {
        $exchange = preg_match('/^#(\d+) /', $event->text, $part) === 1 ? Exchange::query()->find((int) $part[1]) : null;

        return $exchange === null ? $event->text : "$event->text\n".trim($exchange->request)."\n\n{$exchange->status}\n".trim($exchange->headers)."\n\n".mb_strimwidth(mb_scrub((string) $exchange->text(), 'UTF-8'), 0, 4000, '…', 'UTF-8');
    }
}
