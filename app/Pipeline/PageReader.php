<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Models\ChangeLink;
use App\Pace\Pacer;
use App\Transport\Limits;
use App\Transport\Sent;
use App\Transport\Transport;
use DeepSpring\Access\MaskedText;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Answer\Stream\JsonRecords;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Onward\End;
use DeepSpring\Onward\EndReason;
use DeepSpring\Onward\OnwardFailure;
use DeepSpring\Onward\Page;
use DeepSpring\Onward\Walk;
use DeepSpring\SourceFile\EndpointDefinition;
use Psr\Http\Message\RequestInterface;

/**
 * The first half of the pipeline: an endpoint's answers → records, page by page. A try and a
 * refresh both read through here. It throws `ReadingFailed` with a diagnosis, and whatever was sent
 * is reported before.
 */
final class PageReader
{
    /** Pages that are asked for ahead at most. */
    private const TOGETHER = 64;

    /** A list whose page so far on is known not to exist has a known end. */
    private const FAR = 100_000;

    /** The list that is being read. */
    public ?Walk $walk = null;

    /** @var list<Diagnosis> what is worth saying of the first answer */
    public array $notes = [];

    private readonly \DateTimeImmutable $begun;

    public function __construct(private readonly SourceConnection $reading, private readonly Transport $transport)
    {
        $this->begun = new \DateTimeImmutable('now', new \DateTimeZone('UTC'));
    }

    /**
     * All pages of a list, or those up to a number. The next ones are on their way while one is
     * worked on.
     *
     * @param  array<string, list<string>>  $inputs
     * @param  int|null  $most  pages that are wanted
     * @param  Position|null  $from  where an earlier reading got to
     * @param  array<string, string>  $validators  headers that ask whether anything has changed (RFC 9110 §13)
     * @return \Generator<int, ReadPage, void, End>
     *
     * @throws ReadingFailed
     * @throws ReadingStopped
     */
    public function read(EndpointDefinition $endpoint, array $inputs, Limits $limits, FetchObserver $watch, Pacer $pacer, ?int $most = null, ?Position $from = null, array $validators = []): \Generator
    {
        $answer = $endpoint->answer();
        $writes = $endpoint->does()->writes();
        $limits = $limits->repeatable(! $writes || $endpoint->ask()->hasIdempotencyKey($inputs));
        $this->walk = $walk = $endpoint->onward()->walk($from->now ?? now()->toDateTimeImmutable());
        if ($from?->next !== null) {
            $walk->remember($from->memory());
        }
        $this->reading->stopWith(static fn (): bool => ! $watch->goesOn());
        $fetcher = new PageFetcher($this->reading, $this->transport, $pacer, $limits, $watch, fn (PageRequest $step): RequestInterface => $this->reading->request($endpoint, $inputs, $step));
        $number = $from->page ?? 1;
        $total = $from->records ?? 0;
        $fetcher->ask($number, $from->next ?? $walk->first()->with(new PageRequest(headers: $validators)));
        $ok = [...$answer->ok, ...$walk->statuses()];
        try {
            for ($window = 1; ; $number++) {
                $sent = $fetcher->answer($number);
                if ($sent->status === 304 && $validators !== [] && $number === 1) {
                    $watch->answered($sent, $number, 0);

                    return new End(EndReason::Unchanged, 'The service answered 304: nothing has changed since.');
                }
                $this->refuse($sent, $ok, $limits, $number, $watch, $endpoint);
                if ($sent->stream !== null && ! $sent->isOneJson()) {
                    if ($sent->size() > (int) config('spring.limits.answer_bytes')) {
                        throw ReadingFailed::because(new Diagnosis('too-large', 'The answer is more than '.intdiv((int) config('spring.limits.answer_bytes'), 1048576).' MB, and only one JSON text can be read in parts.', 'Ask for fewer records at a time.', 'onward'), $number);
                    }
                    $sent = $sent->whole();
                }
                if ($sent->stream !== null) {
                    $page = yield from $this->large($sent, $endpoint, $number, $total, $watch);
                    $total += $page->records;
                    [$step, $failure] = $this->next($walk, $page);
                    if ($step instanceof PageRequest && ($most === null || $number < $most)) {
                        $fetcher->ask($number + 1, $step);
                        $fetcher->advance();
                    }
                    $after = $step instanceof PageRequest ? new Position($number + 1, $step, $total, $walk->memory(...), $from->now ?? $this->begun) : null;
                    yield new ReadPage($number, $page->document, [], $sent, $after, changes: ChangeLink::in($page->document));
                    $this->conclude($failure, $number);
                    if ($step instanceof End) {
                        return new End($step->reason, $this->reading->mask()->apply($step->sentence));
                    }

                    continue;
                }
                $isPast = in_array($sent->status, [...$walk->statuses()], true) && $sent->status >= 400;
                $isEmpty = $isPast || $this->isEmpty($sent, $writes);
                try {
                    // What a service sends back of our secrets is kept nowhere; the way to the next page
                    // may need it, and is read from what came.
                    $clean = $this->reading->clean($sent);
                    $read = $isEmpty ? null : $answer->read($clean->body, $sent->contentType());
                    $came = $isEmpty || $clean === $sent ? $read?->document : $answer->read($sent->body, $sent->contentType())->document;
                } catch (UnreadableAnswer $unreadable) {
                    $watch->answered($sent, $number, null);

                    throw ReadingFailed::because($this->reading->explain($sent, $answer->ok, $limits->timeout, $endpoint, $unreadable) ?? new Diagnosis('unreadable', $unreadable->getMessage(), 'See the raw answer.', 'answer'), $number);
                }
                $document = $read?->document;
                $page = $read === null ? new RecordPage([]) : $answer->pageOf($read);
                $records = $page->values;
                $bad = $read->bad ?? [];
                unset($read);
                $total += count($records);
                $watch->answered($sent, $number, count($records));
                if ($isEmpty && ! $isPast) {
                    return new End(EndReason::Single, $sent->status === 204 ? 'Done; the service has nothing to add.' : 'Done; the answer is empty.');
                }
                if (! $isPast) {
                    $this->refuseHiddenErrors($sent, $answer->ok, $limits, $endpoint, $records, $answer->isChosen(), $number);
                }
                if ($number === 1 && $records === [] && $answer->records !== null && $answer->records->isSingular()) {
                    throw ReadingFailed::because(new Diagnosis('no-records', "The answer has nothing at {$answer->records}.", 'Choose where the records are from the answer at the right.', 'answer'), $number);
                }
                [$step, $failure] = $this->next($walk, new Page($number, $came, count($records), $total, (string) $sent->request->getUri(), self::fingerprint($records), $sent->headers, (int) $sent->status, $records === [] ? null : $records[count($records) - 1]));
                $isLast = $most !== null && $number >= $most;
                if ($step instanceof PageRequest && ! $isLast) {
                    $fetcher->ask($number + 1, $step);
                    // The second page shows whether pages differ at all; after it, all that may go together
                    // go where the end is known, and otherwise more and more.
                    $window = match (true) {
                        $number === 1 => 1,
                        $walk->ahead($number + self::FAR) === null => self::TOGETHER,
                        default => min(self::TOGETHER, $window * 2),
                    };
                    $this->askAhead($fetcher, $walk, $number, min($window, ($most ?? PHP_INT_MAX) - $number));
                    $fetcher->advance();
                }
                $read = new ReadPage(
                    $number, $document, $records, $clean,
                    $step instanceof PageRequest ? new Position($number + 1, $step, $total, $walk->memory(...), $from->now ?? $this->begun) : null,
                    $page, $bad, heldSecret: $clean !== $sent, changes: ChangeLink::in($came),
                );
                // Only the page itself is held while it is worked on, so that two are never in memory.
                unset($document, $records, $page, $sent, $clean, $came);
                yield $read;
                unset($read);
                $this->conclude($failure, $number);
                if ($step instanceof End) {
                    return new End($step->reason, $this->reading->mask()->apply($step->sentence));
                }
            }
        } finally {
            $fetcher->drop();
            $pacer->release();
        }
    }

    /**
     * An answer too large for memory: its records in parts, as they are read from the disk.
     *
     * @return \Generator<int, ReadPage, void, Page>
     *
     * @throws ReadingFailed
     */
    private function large(Sent $sent, EndpointDefinition $endpoint, int $number, int $total, FetchObserver $watch): \Generator
    {
        $answer = $endpoint->answer();
        $open = static function () use ($sent, $answer): JsonRecords {
            $sent->stream?->rewind();

            return JsonRecords::of(static fn (int $bytes): string => (string) $sent->stream?->read($bytes), $answer->records) ?? throw new \LogicException('The path cannot be followed in a stream.');
        };
        $first = $last = null;
        try {
            $envelope = null;
            if ($endpoint->plan()?->readsEnvelope() === true) {
                // What stands behind the records is needed for the first of them already.
                $before = $open();
                foreach ($before->batches() as $batch) {
                    unset($batch);
                }
                $envelope = $before->envelope();
            }
            $masked = $this->reading->touchesFile($sent) ? new MaskedText($this->reading->mask()) : null;
            $envelope = $masked?->value($envelope) ?? $envelope;
            $stream = $open();
            foreach ($stream->batches() as $batch) {
                if ($masked !== null) {
                    $batch = new RecordPage(array_map($masked->value(...), $batch->values));
                }
                $first ??= self::fingerprint($batch->values);
                $last = $batch->values === [] ? $last : $batch->values[count($batch->values) - 1];
                $bad = $stream->bad;
                $stream->bad = [];
                yield new ReadPage($number, $envelope, $batch->values, $sent, null, $batch->within($envelope), $bad, true, $masked !== null);
                unset($batch);
            }
            $document = $stream->envelope();
        } catch (UnreadableAnswer $unreadable) {
            $watch->answered($sent, $number, null);

            throw ReadingFailed::because(new Diagnosis('unreadable', $unreadable->getMessage(), 'Records that were read before it are not kept.', 'answer'), $number);
        }
        $watch->answered($sent, $number, $stream->count);

        return new Page($number, $document, $stream->count, $total + $stream->count, (string) $sent->request->getUri(), $first ?? '', $sent->headers, (int) $sent->status, $last);
    }

    /**
     * @throws ReadingFailed
     */
    private function conclude(?OnwardFailure $failure, int $number): void
    {
        if ($failure !== null) {
            throw ReadingFailed::because(new Diagnosis('onward', $this->reading->mask()->apply($failure->getMessage()), $this->reading->mask()->apply($failure->hint ?? 'Compare the settings with the documentation.'), 'onward'), $number);
        }
    }

    /**
     * @return array{PageRequest|End|null, OnwardFailure|null}
     */
    private function next(Walk $walk, Page $page): array
    {
        try {
            return [$walk->next($page), null];
        } catch (OnwardFailure $failure) {
            return [null, $failure];
        }
    }

    /**
     * Pages that do not need the one before them are asked for together, few at first.
     */
    private function askAhead(PageFetcher $fetcher, Walk $walk, int $number, int $window): void
    {
        if ($window < 2 || $walk->ahead($number + 2) === null) {
            return;
        }
        $window = min($window, $fetcher->room($window));
        for ($ahead = 2; $ahead <= $window; $ahead++) {
            $step = $fetcher->wants($number + $ahead) ? null : $walk->ahead($number + $ahead);
            if ($step !== null) {
                $fetcher->ask($number + $ahead, $step);
            }
        }
    }

    /**
     * Whether an answer has no body and needs none: to a write, or to a request for the head alone.
     */
    private function isEmpty(Sent $sent, bool $writes): bool
    {
        return trim($sent->body) === '' && ($writes || $sent->status === 204 || $sent->request->getMethod() === 'HEAD');
    }

    /**
     * @param  list<int>  $ok
     *
     * @throws ReadingFailed
     */
    private function refuse(Sent $sent, array $ok, Limits $limits, int $number, FetchObserver $watch, EndpointDefinition $endpoint): void
    {
        if ($sent->failing === null && in_array($sent->status, $ok, true)) {
            return;
        }
        $watch->answered($sent, $number, null);
        $diagnosis = $this->reading->explain($sent, $ok, $limits->timeout, $endpoint) ?? new Diagnosis('unexplained', "The service answered {$sent->status}.", 'See the raw answer.', 'answer');

        throw ReadingFailed::because($diagnosis, $number);
    }

    /**
     * An error inside a success must not pass for the end of a list.
     *
     * @param  list<int>  $ok
     * @param  list<mixed>  $records
     *
     * @throws ReadingFailed
     */
    private function refuseHiddenErrors(Sent $sent, array $ok, Limits $limits, EndpointDefinition $endpoint, array $records, bool $chosen, int $number): void
    {
        $isEmpty = $records === [] || ! $chosen && count($records) === 1;
        if ($isEmpty) {
            $diagnosis = $this->reading->explain($sent, $ok, $limits->timeout, $endpoint, records: count($records));
            if ($diagnosis !== null) {
                throw ReadingFailed::because($diagnosis, $number);
            }
        }
        if ($number === 1 && (count($records) === 0 || str_starts_with($sent->body, "\xEF\xBB\xBF") || preg_match('/^\s*[)fw]/', $sent->body) === 1)) {
            $this->notes = $this->reading->notes($sent, $ok, $limits->timeout, $endpoint, count($records));
        }
    }

    /**
     * @param  list<mixed>  $records
     */
    private static function fingerprint(array $records): string
    {
        $count = count($records);
        $text = (string) $count;
        for ($at = 0, $step = max(1, intdiv($count - 1, 12)); $at < $count; $at += $step) {
            $text .= serialize($records[$at]);
        }

        return $count === 0 ? '' : hash('xxh128', $text.serialize($records[$count - 1]));
    }
}
