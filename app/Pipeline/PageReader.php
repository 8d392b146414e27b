<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Pace\Pacer;
use App\Transport\Limits;
use App\Transport\Transport;
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

    /** Whether the same list was read before, so that its second page need not come first to show that there is one. */
    public bool $pagesDiffer = false;

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
        $writes = $endpoint->does()->writes();
        $limits = $limits->repeatable(! $writes || $endpoint->ask()->hasIdempotencyKey($inputs));
        $this->walk = $walk = $endpoint->onward()->walk($from->now ?? now()->toDateTimeImmutable(), $endpoint->isRefuted);
        if ($from?->next !== null) {
            $walk->remember($from->memory());
        }
        $this->reading->stopWith(static fn (): bool => ! $watch->goesOn());
        $fetcher = new PageFetcher($this->reading, $this->transport, $pacer, $limits, $watch, fn (PageRequest $step): RequestInterface => $this->reading->request($endpoint, $inputs, $step));
        $answers = new AnswerReader($this->reading, $endpoint, $walk->statuses(), $limits, $watch);
        $number = $from->page ?? 1;
        $total = $from->records ?? 0;
        $fetcher->ask($number, $from->next ?? $walk->first()->with(new PageRequest(headers: $validators)));
        try {
            for ($window = 1; ; $number++) {
                $sent = $fetcher->answer($number);
                if ($sent->status === 304 && $validators !== [] && $number === 1) {
                    $watch->answered($sent, $number, 0);

                    return new End(EndReason::Unchanged, 'The service answered 304: nothing has changed since.');
                }
                $sent = $answers->accepted($sent, $number);
                $answer = $sent->stream !== null ? yield from $answers->inParts($sent, $number, $total) : $answers->whole($sent, $number, $total);
                if ($answer->isEmpty) {
                    return new End(EndReason::Single, $sent->status === 204 ? 'Done; the service has nothing to add.' : 'Done; the answer is empty.');
                }
                $this->notes = $answers->notes;
                $total = $answer->seen->recordsSoFar;
                [$step, $failure] = $this->next($walk, $answer->seen);
                if ($step instanceof PageRequest && ($most === null || $number < $most)) {
                    $window = $answer->isInParts ? $window : $this->widened($walk, $number, $window);
                    $this->askOn($fetcher, $walk, $step, $number, $answer->isInParts ? 1 : min($window, ($most ?? PHP_INT_MAX) - $number));
                }
                $read = $answer->page($number, $step instanceof PageRequest ? new Position($number + 1, $step, $total, $walk->memory(...), $from->now ?? $this->begun) : null);
                // Only the page itself is held while it is worked on, so that two are never in memory.
                unset($answer, $sent);
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
     * The second page shows whether pages differ at all, unless that is known; after it, all that may go
     * together go where the end is known, and otherwise more and more.
     */
    private function widened(Walk $walk, int $number, int $window): int
    {
        return match (true) {
            $number === 1 && ! $this->pagesDiffer => 1,
            $walk->ahead($number + self::FAR) === null => self::TOGETHER,
            default => min(self::TOGETHER, $window * 2),
        };
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
     * The next page is asked for, and with it those that do not need the one before them.
     */
    private function askOn(PageFetcher $fetcher, Walk $walk, PageRequest $step, int $number, int $window): void
    {
        $fetcher->ask($number + 1, $step);
        $this->askAhead($fetcher, $walk, $number, $window);
        $fetcher->advance();
    }

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
}
