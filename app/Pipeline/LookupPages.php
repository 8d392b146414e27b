<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Evidence\KnownAnswer;
use App\Evidence\LookupAnswers;
use App\Pace\Pacer;
use App\Transport\Limits;
use App\Transport\Sent;
use App\Transport\Transport;
use DeepSpring\Answer\Format\BadRecord;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Onward\End;
use DeepSpring\Onward\EndReason;
use DeepSpring\Onward\OnwardFailure;
use DeepSpring\Onward\Walk;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\Value\Phrase;

/**
 * Rows of a table × pages: an endpoint is asked for each row, several rows at once, and what came is handed out in the
 * order of the rows. What was asked with the same values before is not asked again. A row that fails is a bad record,
 * and the others go on.
 *
 * In one piece, since queue, requests and what is known are looked at together for every row.
 */
final class LookupPages
{
    /** Rows that are looked at ahead of the one whose turn it is. */
    private const AHEAD = 64;

    /** Failures that are remembered. */
    private const REMEMBERED = 10_000;

    /** Rows that fail in the same way from the first one on, after which none is asked any more. */
    private const HOPELESS = 20;

    /** What concerns the source, and not the row. */
    private const OF_SOURCE = '/^(no-base|variable|consent|breaker|secret.*|token.*)$/D';

    private readonly PageFetcher $fetcher;

    /** @var \SplQueue<AskedRow> */
    private \SplQueue $queue;

    /** @var array<string, int> rows in the queue with a mark, where the first of them is asked for */
    private array $wanted = [];

    /** @var array<string, array<int, KnownAnswer>> by mark and page, as long as some row in the queue needs them */
    private array $got = [];

    /** @var array<string, ReadingFailed> by mark: the same is not asked again to fail again */
    private array $failures = [];

    private int $requests = 0;

    /** Rows that were put into the queue. */
    private int $numbered = 0;

    private int $hopeless = 0;

    private ?string $fault = null;

    private readonly string $same;

    public readonly LookupCounts $counts;

    private readonly \DateTimeImmutable $now;

    /**
     * @param  iterable<array{array<string, string|null>, array<string, string|null>, list<string>}>  $rows  what is bound, as it is sent; what is carried; the key
     * @param  (\Closure(string, string): ?string)|null  $conceal  takes what is masked out of a body, given its media type; null for one that must not be kept
     */
    public function __construct(
        private readonly SourceConnection $connection, private readonly EndpointDefinition $endpoint, private readonly LookupSettings $settings, private readonly iterable $rows,
        private readonly Limits $limits, private readonly FetchObserver $watch, private readonly Pacer $pacer, private readonly ?LookupAnswers $answers, Transport $transport,
        private readonly ?\Closure $conceal = null,
    ) {
        $this->fetcher = new PageFetcher($connection, $transport, $pacer, $limits, $watch, fn (PageRequest $step, array $inputs) => $connection->request($endpoint, $inputs, $step));
        $this->queue = new \SplQueue;
        $this->counts = new LookupCounts;
        $this->same = self::sameness($endpoint);
        $this->now = now()->toDateTimeImmutable();
    }

    /**
     * What two requests have in common that ask the same but for their values.
     */
    public static function sameness(EndpointDefinition $endpoint): string
    {
        return hash('xxh128', serialize([array_diff_key($endpoint->endpoint['ask'] ?? [], ['about' => 1]), $endpoint->endpoint['onward'] ?? []]));
    }

    /**
     * @param  array<string, list<string>>  $inputs
     */
    public static function mark(string $sameness, array $inputs): string
    {
        ksort($inputs);

        return hash('xxh128', $sameness.serialize($inputs), true);
    }

    /**
     * @return \Generator<int, ReadPage, void, End>
     *
     * @throws ReadingFailed where it is the source that fails, and not a row
     * @throws ReadingStopped
     */
    public function read(): \Generator
    {
        $this->numbered = $this->counts->rows;
        $this->connection->stopWith(fn (): bool => ! $this->watch->goesOn());
        $rows = (static function (iterable $rows): \Generator {
            yield from $rows;
        })($this->rows);
        try {
            for ($this->fill($rows); ! $this->queue->isEmpty(); $this->fill($rows)) {
                if (! $this->watch->goesOn()) {
                    throw new ReadingStopped;
                }
                yield from $this->pagesOf($this->queue->dequeue());
            }
        } finally {
            $this->answers?->write();
            $this->fetcher->drop();
            $this->pacer->release();
        }

        return new End(EndReason::Total, $this->sentence());
    }

    private function fill(\Generator $rows): void
    {
        if (count($this->queue) > self::AHEAD / 2 || ! $rows->valid()) {
            return;
        }
        $more = [];
        for (; count($this->queue) + count($more) < self::AHEAD && $rows->valid(); $rows->next()) {
            [$bound, $carried, $key] = $rows->current();
            $number = ++$this->numbered;
            $values = $this->settings->rows->values($bound);
            $inputs = $values === null ? null : $values + $this->settings->constants;
            $more[] = new AskedRow($number, $carried, $key, $inputs, $inputs === null ? '' : self::mark($this->same, $inputs));
        }
        $marks = array_values(array_unique(array_filter(array_map(static fn (AskedRow $row): string => $row->mark, $more))));
        $known = $this->answers?->find($marks) ?? [];
        foreach ($more as $row) {
            $this->enqueue($row, $known);
        }
        $this->fetcher->advance();
    }

    /**
     * @param  array<string, array<int, KnownAnswer>>  $known
     */
    private function enqueue(AskedRow $row, array $known): void
    {
        if ($row->inputs !== null && isset($known[$row->mark][1])) {
            $row->known = $known[$row->mark];
        } elseif ($row->inputs !== null && isset($this->wanted[$row->mark])) {
            $this->wanted[$row->mark]++;
        } elseif ($row->inputs !== null && ! isset($this->failures[$row->mark])) {
            $this->wanted[$row->mark] = 1;
            $row->request = ++$this->requests;
            $this->fetcher->ask($row->request, $this->walk()->first(), $row->inputs);
        }
        $this->queue->enqueue($row);
    }

    private function walk(): Walk
    {
        return $this->endpoint->onward()->walk($this->now, $this->endpoint->isRefuted);
    }

    /**
     * @return \Generator<int, ReadPage>
     *
     * @throws ReadingFailed
     * @throws ReadingStopped
     */
    private function pagesOf(AskedRow $row): \Generator
    {
        $inputs = $this->columnsOf($row);
        $this->counts->rows++;
        if ($row->inputs === null) {
            $this->counts->without++;
            yield $this->last($row, $inputs, null, [], true);

            return;
        }
        if ($row->request === null && $row->known === []) {
            $row->known = $this->got[$row->mark] ?? [];
        }
        $failure = $row->request === null && $row->known === [] ? $this->failures[$row->mark] ?? null : null;
        $row->known === [] && $failure === null ? $this->counts->asked++ : $this->counts->known++;
        try {
            yield from $failure === null ? $this->answered($row, $inputs) : throw $failure;
            $this->fault = '';
        } catch (ReadingFailed $failed) {
            $this->counts->failed++;
            $this->giveUp($failed);
            if (count($this->failures) < self::REMEMBERED) {
                $this->failures[$row->mark] = $failed;
            }
            yield $this->last($row, $inputs, null, [$this->badRecord($row, $failed)], true);
        } finally {
            $this->letGo($row);
        }
    }

    /**
     * @param  array<string, string|null>  $inputs
     * @return \Generator<int, ReadPage>
     *
     * @throws ReadingFailed
     * @throws ReadingStopped
     */
    private function answered(AskedRow $row, array $inputs): \Generator
    {
        $walk = $this->walk();
        $ends = $this->settings->emptyWhereNotFound ? [404, 410, ...$walk->statuses()] : $walk->statuses();
        $step = $walk->first();
        $total = 0;
        for ($page = 1; $step instanceof PageRequest; $page++) {
            $known = $row->known[$page] ?? null;
            $sent = $known === null ? $this->fetched($row, $page, $step) : Sent::known($known->status, $known->headers, $known->body);
            $reader = new AnswerReader($this->connection, $this->endpoint, $ends, $this->limits, $known === null ? new ShiftedObserver($this->watch, $row->number - 1) : new Unwatched($this->watch));
            $answer = $reader->whole($reader->accepted($sent, $page), $page, $total);
            if ($known === null) {
                $this->keep($row, $page, $sent, $answer);
            }
            $total = $answer->seen->recordsSoFar;
            $step = in_array($sent->status, [404, 410], true) ? new End(EndReason::EmptyPage, '') : $this->next($walk, $answer, $page);
            $read = $answer->page($row->number, null);
            $isLast = $step instanceof End;
            if ($isLast && $total === 0) {
                $this->counts->empty++;
                yield $this->last($row, $inputs, $sent, [], true);
            } elseif ($isLast) {
                yield $this->of($row, $inputs, $read, $this->position($row));
            } else {
                yield $this->of($row, $inputs, $read, null);
            }
            unset($read, $answer, $sent);
        }
    }

    /**
     * @throws ReadingFailed
     * @throws ReadingStopped
     */
    private function fetched(AskedRow $row, int $page, PageRequest $step): Sent
    {
        $number = $page === 1 && $row->request !== null ? $row->request : ++$this->requests;
        if ($page > 1 || $row->request === null) {
            $this->fetcher->ask($number, $step, $row->inputs ?? []);
        }

        $sent = $this->fetcher->answer($number);
        // What may leave now is on its way while this one is worked on.
        $this->fetcher->advance();

        return $sent;
    }

    /**
     * @throws ReadingFailed
     */
    private function next(Walk $walk, UnderstoodAnswer $answer, int $page): PageRequest|End
    {
        try {
            return $walk->next($answer->seen);
        } catch (OnwardFailure $failure) {
            throw ReadingFailed::because(new Diagnosis('onward', $this->connection->mask()->apply($failure->getMessage()), $failure->hint ?? '', 'onward'), $page);
        }
    }

    /**
     * For those that ask the same, now and later. What held a secret is not kept.
     */
    private function keep(AskedRow $row, int $page, Sent $sent, UnderstoodAnswer $answer): void
    {
        if ($answer->heldSecret || $this->connection->mask()->touches(implode("\n", $sent->headers))) {
            return;
        }
        $body = $this->conceal !== null ? ($this->conceal)($sent->body, $sent->contentType()) : $sent->body;
        if ($body === null) {
            return;
        }
        $known = new KnownAnswer((int) $sent->status, $sent->headers, $body);
        $this->answers?->keep($row->mark, $page, $known);
        if (($this->wanted[$row->mark] ?? 0) > 1) {
            $this->got[$row->mark][$page] = $known;
        }
    }

    private function letGo(AskedRow $row): void
    {
        if (isset($this->wanted[$row->mark]) && --$this->wanted[$row->mark] <= 0) {
            unset($this->wanted[$row->mark], $this->got[$row->mark]);
        }
    }

    /**
     * @throws ReadingFailed where the others would fail as this one did
     */
    private function giveUp(ReadingFailed $failed): void
    {
        $code = $failed->diagnosis->code;
        $this->hopeless = $this->fault === null || $this->fault === $code ? $this->hopeless + 1 : 0;
        $this->fault = $this->fault === null || $this->fault === $code ? $code : '';
        if (preg_match(self::OF_SOURCE, $code) === 1) {
            throw $failed;
        }
        if ($this->fault === $code && $this->hopeless >= self::HOPELESS) {
            throw ReadingFailed::because(new Diagnosis($code, 'The first '.self::HOPELESS." rows all failed in the same way. {$failed->diagnosis->what}", $failed->diagnosis->advice, $failed->diagnosis->where, evidence: $failed->diagnosis->evidence), $failed->page);
        }
    }

    private function badRecord(AskedRow $row, ReadingFailed $failed): BadRecord
    {
        return BadRecord::of("row $row->number, {$row->words()}".($failed->page > 1 ? ", page $failed->page" : ''), (string) json_encode(array_map(static fn (array $values): string => implode(',', $values), $row->inputs ?? []), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE), $failed->diagnosis->what);
    }

    /**
     * @return array<string, string|null> what columns can hold of it
     */
    private function columnsOf(AskedRow $row): array
    {
        $columns = array_map(static fn (array $values): string => implode(',', $values), $row->inputs ?? []);
        foreach ($row->carried as $name => $value) {
            $columns[Flattener::ROW.$name] = $value;
        }

        return $columns;
    }

    /**
     * The only page of a row for which nothing came.
     *
     * @param  array<string, string|null>  $inputs
     * @param  list<BadRecord>  $bad
     */
    private function last(AskedRow $row, array $inputs, ?Sent $sent, array $bad, bool $isEmpty): ReadPage
    {
        $records = $isEmpty && $this->settings->everyRow ? [(object) []] : [];

        return new ReadPage($row->number, null, $records, $sent ?? Sent::kept('', ''), $this->position($row), new RecordPage($records), $bad, false, false, null, $row->number, $inputs);
    }

    /**
     * @param  array<string, string|null>  $inputs
     */
    private function of(AskedRow $row, array $inputs, ReadPage $page, ?Position $position): ReadPage
    {
        return new ReadPage($row->number, $page->document, $page->records, $page->sent, $position, $page->page, $page->bad, $position === null, $page->heldSecret, null, $row->number, $inputs);
    }

    private function position(AskedRow $row): Position
    {
        return new Position($row->number + 1, null, 0, ['after' => $row->key, 'lookup' => $this->counts->toArray()], $this->now, $row->number);
    }

    /**
     * What became of the rows.
     */
    public function sentence(): string
    {
        $counts = $this->counts;

        return Phrase::count($counts->rows, 'row').': '.Phrase::number($counts->asked).' asked, '.Phrase::number($counts->known).' known already'
            .($counts->empty > 0 ? ', '.Phrase::number($counts->empty).' of them with nothing' : '')
            .($counts->failed > 0 ? ', '.Phrase::number($counts->failed).' failed' : '')
            .($counts->without > 0 ? '; '.Phrase::count($counts->without, 'row has', 'rows have').' nothing to ask with' : '').'.';
    }
}
