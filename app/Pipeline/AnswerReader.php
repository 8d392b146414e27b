<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Transport\Limits;
use App\Transport\Sent;
use DeepSpring\Access\MaskedText;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Answer\Stream\JsonRecords;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Onward\Page;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * What came back for one page → whether it is what was asked for, and the records in it.
 */
final class AnswerReader
{
    /** @var list<Diagnosis> what is worth saying of the first answer */
    public array $notes = [];

    /**
     * @param  list<int>  $ends  status codes that end the list
     */
    public function __construct(
        private readonly SourceConnection $connection,
        private readonly EndpointDefinition $endpoint,
        private readonly array $ends,
        private readonly Limits $limits,
        private readonly FetchObserver $watch,
    ) {
    }

    /**
     * An answer of a status that was expected; in memory where it cannot be read in parts.
     *
     * @throws ReadingFailed
     */
    public function accepted(Sent $sent, int $number): Sent
    {
        $this->refuse($sent, $number);
        if ($sent->stream === null || $sent->isOneJson()) {
            return $sent;
        }
        $most = (int) config('spring.limits.answer_bytes');
        if ($sent->size() > $most) {
            throw ReadingFailed::because(new Diagnosis('too-large', 'The answer is more than '.intdiv($most, 1048576).' MB, and only one JSON text can be read in parts.', 'Ask for fewer records at a time.', 'onward'), $number);
        }

        return $sent->whole();
    }

    /**
     * An answer in memory.
     *
     * @param  int  $total  records before it
     *
     * @throws ReadingFailed
     */
    public function whole(Sent $sent, int $number, int $total): UnderstoodAnswer
    {
        $answer = $this->endpoint->answer();
        $isPast = in_array($sent->status, $this->ends, true) && $sent->status >= 400;
        $isEmpty = $isPast || $this->isEmpty($sent);
        try {
            // What a service sends back of our secrets is kept nowhere; the way to the next page may need
            // it, and is read from what came.
            $clean = $this->connection->clean($sent);
            $read = $isEmpty ? null : $answer->read($clean->body, $sent->contentType());
            $came = $isEmpty || $clean === $sent ? $read?->document : $answer->read($sent->body, $sent->contentType())->document;
        } catch (UnreadableAnswer $unreadable) {
            $this->watch->answered($sent, $number, null);

            throw ReadingFailed::because($this->connection->explain($sent, $answer->ok, $this->limits->timeout, $this->endpoint, $unreadable) ?? new Diagnosis('unreadable', $unreadable->getMessage(), 'See the raw answer.', 'answer'), $number);
        }
        $page = $read === null ? new RecordPage([]) : $answer->pageOf($read);
        $records = $page->values;
        $count = count($records);
        $this->watch->answered($sent, $number, $count);
        if (! $isPast && ! $isEmpty) {
            $this->refuseHiddenErrors($sent, $records, $number);
        }
        if (($isPast || ! $isEmpty) && $number === 1 && $records === [] && $answer->records !== null && $answer->records->isSingular()) {
            throw ReadingFailed::because(new Diagnosis('no-records', "The answer has nothing at {$answer->records}.", 'Choose where the records are from the answer at the right.', 'answer'), $number);
        }
        $seen = new Page($number, $came, $count, $total + $count, (string) $sent->request->getUri(), self::fingerprint($records), $sent->headers, (int) $sent->status, $records === [] ? null : $records[$count - 1]);

        return new UnderstoodAnswer($clean, $read?->document, $seen, $page, $read->bad ?? [], $clean !== $sent, $isEmpty && ! $isPast);
    }

    /**
     * An answer too large for memory: its records in parts, as they are read from the disk.
     *
     * @return \Generator<int, ReadPage, void, UnderstoodAnswer>
     *
     * @throws ReadingFailed
     */
    public function inParts(Sent $sent, int $number, int $total): \Generator
    {
        $answer = $this->endpoint->answer();
        $open = static function () use ($sent, $answer): JsonRecords {
            $sent->stream?->rewind();

            return JsonRecords::of(static fn (int $bytes): string => (string) $sent->stream?->read($bytes), $answer->records) ?? throw new \LogicException('The path cannot be followed in a stream.');
        };
        $first = $last = null;
        try {
            $envelope = $around = null;
            if ($this->endpoint->plan()?->readsEnvelope() === true) {
                // What stands behind the records is needed for the first of them already.
                $before = $open();
                foreach ($before->batches() as $batch) {
                    unset($batch);
                }
                $envelope = $before->envelope();
                $around = $before->around();
            }
            $masked = $this->connection->touchesFile($sent) ? new MaskedText($this->connection->mask()) : null;
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
                yield new ReadPage($number, $envelope, $batch->values, $sent, null, $batch->within($envelope, $masked === null ? $around : null), $bad, true, $masked !== null);
                unset($batch);
            }
            $document = $stream->envelope();
        } catch (UnreadableAnswer $unreadable) {
            $this->watch->answered($sent, $number, null);

            throw ReadingFailed::because(new Diagnosis('unreadable', $unreadable->getMessage(), 'Records that were read before it are not kept.', 'answer'), $number);
        }
        $this->watch->answered($sent, $number, $stream->count);

        $seen = new Page($number, $document, $stream->count, $total + $stream->count, (string) $sent->request->getUri(), $first ?? '', $sent->headers, (int) $sent->status, $last);

        return new UnderstoodAnswer($sent, $document, $seen, isInParts: true);
    }

    /**
     * Whether an answer has no body and needs none: to a write, or to a request for the head alone.
     */
    private function isEmpty(Sent $sent): bool
    {
        return trim($sent->body) === '' && ($this->endpoint->does()->writes() || $sent->status === 204 || $sent->request->getMethod() === 'HEAD');
    }

    /**
     * @throws ReadingFailed
     */
    private function refuse(Sent $sent, int $number): void
    {
        $ok = [...$this->endpoint->answer()->ok, ...$this->ends];
        if ($sent->failing === null && in_array($sent->status, $ok, true)) {
            return;
        }
        $this->watch->answered($sent, $number, null);
        $diagnosis = $this->connection->explain($sent, $ok, $this->limits->timeout, $this->endpoint) ?? new Diagnosis('unexplained', "The service answered {$sent->status}.", 'See the raw answer.', 'answer');

        throw ReadingFailed::because($diagnosis, $number);
    }

    /**
     * An error inside a success must not pass for the end of a list.
     *
     * @param  list<mixed>  $records
     *
     * @throws ReadingFailed
     */
    private function refuseHiddenErrors(Sent $sent, array $records, int $number): void
    {
        $answer = $this->endpoint->answer();
        $isEmpty = $records === [] || ! $answer->isChosen() && count($records) === 1;
        if ($isEmpty) {
            $diagnosis = $this->connection->explain($sent, $answer->ok, $this->limits->timeout, $this->endpoint, records: count($records));
            if ($diagnosis !== null) {
                throw ReadingFailed::because($diagnosis, $number);
            }
        }
        $mayBeNoted = count($records) === 0 || isset($this->endpoint->endpoint['ask']['headers']['prefer']) || str_starts_with($sent->body, "\xEF\xBB\xBF") || preg_match('/^\s*[)fw]/', $sent->body) === 1;
        if ($number === 1 && $mayBeNoted) {
            $this->notes = $this->connection->notes($sent, $answer->ok, $this->limits->timeout, $this->endpoint, count($records));
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
