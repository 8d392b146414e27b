<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Pace\Pacer;
use App\Pace\Ticks;
use App\Transport\Limits;
use App\Transport\Sent;
use App\Transport\Transport;
use DeepSpring\Ask\Method;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Pace\Allowance;
use DeepSpring\Pace\Backoff;
use Psr\Http\Message\RequestInterface;

/**
 * Gets pages: several at once as far as the pace allows, again when it failed and may be repeated.
 * Answers are handed out by their page, in whatever order they come.
 */
final class PageFetcher
{
    /** Bytes of answers that may wait for their turn before no more are asked for. */
    private const HELD = 24 * 1024 * 1024;

    /** @var array<int, PendingPage> by page, in their order */
    private array $flights = [];

    private int $underWay = 0;

    private int $held = 0;

    private bool $waiting = false;

    /**
     * @param  \Closure(PageRequest, array<string, list<string>>): RequestInterface  $make  given what is asked for, and with which values
     */
    public function __construct(
        private readonly SourceConnection $reading,
        private readonly Transport $transport,
        private readonly Pacer $pacer,
        private readonly Limits $limits,
        private readonly FetchObserver $watch,
        private readonly \Closure $make,
    ) {
    }

    public function wants(int $page): bool
    {
        return isset($this->flights[$page]);
    }

    /**
     * @param  array<string, list<string>>  $inputs  values, where they are not the same for all pages
     */
    public function ask(int $page, PageRequest $step, array $inputs = []): void
    {
        $this->flights[$page] ??= new PendingPage($page, $step, $inputs);
    }

    /**
     * How many pages may be asked for ahead of the one that is worked on.
     */
    public function room(int $wants): int
    {
        return $this->held > self::HELD ? 0 : $this->pacer->atOnce($wants, $this->underWay);
    }

    /**
     * Sends what may leave, without waiting for anything.
     */
    public function advance(): void
    {
        $this->collect();
        $this->launch();
        $this->transport->advance();
    }

    /**
     * Waits for the answer to a page, and keeps the others going meanwhile.
     *
     * @throws ReadingFailed
     * @throws ReadingStopped
     */
    public function answer(int $page): Sent
    {
        for (; ;) {
            $flight = $this->flights[$page] ?? throw new \LogicException("Page $page was not asked for.");
            if ($flight->error !== null) {
                unset($this->flights[$page]);

                throw $flight->error;
            }
            if ($flight->answer !== null) {
                unset($this->flights[$page]);
                $this->held -= strlen($flight->answer->body);

                return $flight->answer;
            }
            if (! $this->watch->goesOn()) {
                $this->drop();

                throw new ReadingStopped;
            }
            $this->launch();
            $this->move();
            $this->collect();
        }
    }

    /**
     * Gives up whatever is under way.
     */
    public function drop(): void
    {
        foreach ($this->flights as $flight) {
            $flight->transfer?->cancel();
        }
        $this->flights = [];
        $this->underWay = $this->held = 0;
    }

    private function launch(): void
    {
        $now = Ticks::now();
        $room = null;
        foreach ($this->flights as $flight) {
            if ($flight->transfer !== null || $flight->answer !== null || $flight->error !== null) {
                continue;
            }
            $room ??= $this->pacer->atOnce(count($this->flights), $this->underWay);
            if ($room === 0 && $this->underWay === 0) {
                $this->tellWait('its turn among those who read from this source', $now + 1);
            }
            if ($this->underWay >= $room || $flight->at > $now) {
                // Later pages do not go before earlier ones.
                break;
            }
            if (! $flight->isReserved) {
                [$seconds, $for] = $this->pacer->reserve();
                $at = Ticks::now() + $seconds;
                $this->tellWait($for, $at);
                if ($for === Pacer::BREAKER && ! $this->mayWait($flight, $at - $now)) {
                    $flight->error = ReadingFailed::because($this->reading->breaker($this->pacer->state()), $flight->page);
                    break;
                }
                $flight->at = $at;
                $flight->isReserved = $for !== Pacer::BREAKER;
                if ($seconds > 0.002) {
                    break;
                }
            }
            $this->send($flight);
        }
    }

    private function send(PendingPage $flight): void
    {
        try {
            $request = ($this->make)($flight->step, $flight->inputs);
        } catch (ReadingFailed $failed) {
            if (! $this->watch->goesOn()) {
                // It was waiting for a token when somebody stopped it.
                throw new ReadingStopped;
            }
            $flight->error = $failed;

            return;
        }
        $this->tellWait(null, 0);
        $flight->attempt++;
        $flight->attempts++;
        $flight->generation = $this->reading->generation;
        $flight->transfer = $this->transport->begin($request, $this->limits, $this->reading->mask(), $this->reading->certificateFor($request));
        $this->underWay++;
    }

    private function move(): void
    {
        if ($this->underWay > 0) {
            $this->transport->tick();

            return;
        }
        $next = INF;
        foreach ($this->flights as $flight) {
            $next = $flight->answer === null && $flight->error === null ? min($next, $flight->at) : $next;
        }
        $seconds = $next - Ticks::now();
        usleep((int) (1e6 * ($seconds <= 0 ? 0.02 : max(0.001, min(0.1, $seconds)))));
    }

    private function collect(): void
    {
        foreach ($this->flights as $flight) {
            if ($flight->transfer?->isComplete() !== true) {
                continue;
            }
            $sent = $flight->transfer->sent($flight->waited, $flight->attempts);
            $flight->transfer = null;
            $flight->isReserved = false;
            $this->underWay--;
            $this->pacer->answered($sent);
            try {
                $this->judge($flight, $sent);
            } catch (ReadingFailed $failed) {
                $flight->error = $failed;
            }
        }
    }

    /**
     * @throws ReadingFailed
     */
    private function judge(PendingPage $flight, Sent $sent): void
    {
        if (! $flight->isRenewed && $this->reading->renewAfter($sent, $flight->generation, $this->watch)) {
            $flight->isRenewed = true;
            $flight->attempt--;

            return;
        }
        $wait = $this->again($flight, $sent);
        if ($wait === null) {
            $flight->answer = $sent;
            $this->held += strlen($sent->body);

            return;
        }
        $flight->failingSince ??= Ticks::now();
        $flight->lastFailure = $sent;
        $flight->at = Ticks::now() + $wait / 1000;
        $flight->waited += $wait;
        $this->watch->again($sent, $flight->page, $wait / 1000);
    }

    /**
     * @return int|null milliseconds until it is sent again; null when it is not
     */
    private function again(PendingPage $flight, Sent $sent): ?int
    {
        $safe = $this->limits->repeatable || Method::isSafe($sent->request->getMethod());
        $tries = $this->limits->tries;
        $asked = Allowance::read($sent->headers, microtime(true))->retryAfter;
        $chance = random_int(0, 1_000_000) / 1_000_000;
        $wait = Backoff::wait($sent->status, $sent->failing, $flight->attempt, $tries, $safe, $asked, $chance);
        if ($wait !== null || ! $safe || $tries < 2 || ! Backoff::isPassing($sent->status, $sent->failing)) {
            return $wait;
        }
        // The tries are used up: the source is left alone for a while, as long as there is patience.
        $flight->failingSince ??= Ticks::now();
        if (! $this->limits->isPatient && $sent->status !== 429 || ! $this->mayWait($flight, 1)) {
            return null;
        }
        $wait = $sent->status === 429 ? (int) (1000 * ($asked ?? 5 + 10 * $chance)) : $this->pacer->trip();
        if (! $this->mayWait($flight, $wait / 1000)) {
            return null;
        }
        $flight->attempt = 0;

        return $wait;
    }

    private function mayWait(PendingPage $flight, float $seconds): bool
    {
        $now = Ticks::now();
        $flight->failingSince ??= $now;

        return $now + $seconds <= $flight->failingSince + $this->pacer->settings->patience;
    }

    private function tellWait(?string $for, float $until): void
    {
        if ($for !== null || $this->waiting) {
            $this->waiting = $for !== null;
            $this->watch->waits($for, $until);
        }
    }
}
