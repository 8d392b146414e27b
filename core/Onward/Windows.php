<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * One request, or one list, for each window of time from a start to an end. Dates stay dates;
 * anything with a time is sent in UTC.
 */
final class Windows implements PagingStyle
{
    use PlainPager;

    private readonly \DateTimeImmutable $start;

    private readonly \DateTimeImmutable $end;

    private readonly \DateInterval $step;

    private readonly bool $isDate;

    /** Counts from 0. */
    private int $window = 0;

    /** Pages read in the windows before this one. */
    private int $before = 0;

    /** Records read in the windows before this one. */
    private int $recordsBefore = 0;

    private ?Pager $inner = null;

    public static function kind(): Kind
    {
        return new Kind('window', 'Date windows', 'One request for each span of time.', [
            new Field('from_as', FieldType::Parameter, 'from parameter', 'The parameter that carries the beginning of a window.', true, start: 'from'),
            new Field('to_as', FieldType::Parameter, 'to parameter', 'The parameter that carries its end.', start: 'to'),
            new Field('step', FieldType::Duration, 'window', 'The length of a window.', default: null, start: 'P1M', example: 'P1M'),
            new Field('start', FieldType::Moment, 'start', 'Where the first window begins.', true, start: '-P1Y', example: '2030-01-01'),
            new Field('end', FieldType::Moment, 'end', 'Where the last window ends.', example: 'now'),
            new Field('to_is', FieldType::Choice, 'its end is', 'Whether the service counts the end of a window in.', default: 'excluded', choices: ['excluded' => 'excluded', 'included' => 'included']),
            new Field('inner', FieldType::Paging, 'paging within a window', 'How the pages of one window are got.'),
            ...PagingSettings::ends(false),
        ]);
    }

    public static function of(OnwardDefinition $onward, \DateTimeImmutable $now): self
    {
        return new self($onward, $now);
    }

    public function __construct(private readonly OnwardDefinition $onward, \DateTimeImmutable $now)
    {
        $this->isDate = preg_match('/^(\d{4}-\d{2}-\d{2}|-P\d+[YMWD])$/D', $onward->start) === 1;
        $this->start = self::moment($onward->start, $now, $this->isDate);
        $this->end = self::moment($onward->end, $now, $this->isDate && $onward->end !== 'now');
        $this->step = new \DateInterval($onward->step);
        $this->inner = $onward->inner?->pager($now);
    }

    /**
     * @param  string  $text  a date, a date with a time, `now`, or how long ago, as -P30D
     */
    private static function moment(string $text, \DateTimeImmutable $now, bool $isDate): \DateTimeImmutable
    {
        $utc = new \DateTimeZone('UTC');
        $moment = match (true) {
            $text === 'now' || $text === '' => $now,
            str_starts_with($text, '-P') => $now->sub(new \DateInterval(substr($text, 1))),
            default => new \DateTimeImmutable($text, $utc),
        };

        return $isDate ? $moment->setTimezone($utc)->setTime(0, 0) : $moment->setTimezone($utc);
    }

    public function first(): PageRequest
    {
        return $this->request(0)->with($this->inner?->first() ?? new PageRequest);
    }

    public function next(Page $page): PageRequest|End
    {
        if ($this->inner !== null) {
            $step = $page->records === 0 && $this->inner->endsEmpty() ? null : $this->inner->next(new Page(
                $page->number - $this->before, $page->document, $page->records, $page->recordsSoFar - $this->recordsBefore,
                $page->uri, $page->fingerprint, $page->headers, $page->status, $page->last,
            ));
            if ($step instanceof PageRequest) {
                return $step->uri === null ? $this->request($this->window)->with($step) : $step;
            }
            $this->inner = $this->onward->inner?->pager($this->start);
        }
        $this->window++;
        $this->before = $page->number;
        $this->recordsBefore = $page->recordsSoFar;
        if ($this->from($this->window) >= $this->end) {
            return new End(EndReason::All, "The window that ends at {$this->written($this->end, $this->end)} was the last of {$this->window}.");
        }

        return $this->request($this->window)->with($this->inner?->first() ?? new PageRequest);
    }

    public function ahead(int $number): ?PageRequest
    {
        return $this->onward->inner !== null || $this->from($number - 1) >= $this->end ? null : $this->request($number - 1);
    }

    public function endsEmpty(): bool
    {
        return false;
    }

    public function statuses(): array
    {
        return $this->inner?->statuses() ?? [];
    }

    public function memory(): array
    {
        return ['window' => $this->window, 'before' => $this->before, 'records_before' => $this->recordsBefore, 'inner' => $this->inner?->memory(), 'start' => $this->start->format('c'), 'end' => $this->end->format('Y-m-d\TH:i:s.uP')];
    }

    public function remember(array $memory): void
    {
        $this->window = $memory['window'];
        $this->before = $memory['before'];
        $this->recordsBefore = $memory['records_before'];
        $this->inner?->remember($memory['inner'] ?? []);
    }

    /**
     * How many windows there are.
     */
    public function count(): int
    {
        for ($count = 0; $count < 1_000_000 && $this->from($count) < $this->end; $count++);

        return $count;
    }

    private function from(int $window): \DateTimeImmutable
    {
        // From the start each time, so that months of different length do not drift.
        $from = $this->start;
        $step = $this->step;
        if ($window > 0) {
            $months = 12 * $step->y + $step->m;
            $from = $months === 0 ? $from : self::addMonths($from, $months * $window);
            $seconds = ($step->d * 86400 + $step->h * 3600 + $step->i * 60 + $step->s) * $window;
            $from = $from->setTimestamp($from->getTimestamp() + $seconds);
        }

        return $from;
    }

    /**
     * The same day so many months later, or the last day of that month when it has no such day.
     */
    private static function addMonths(\DateTimeImmutable $from, int $months): \DateTimeImmutable
    {
        $first = $from->modify('first day of this month')->modify("+$months months");
        $day = min((int) $from->format('j'), (int) $first->format('t'));

        return $first->setDate((int) $first->format('Y'), (int) $first->format('n'), $day);
    }

    private function request(int $window): PageRequest
    {
        $from = $this->from($window);
        $to = max($from, min($this->from($window + 1), $this->end));
        $last = $this->onward->toIsIncluded ? ($this->isDate ? max($from, $to->modify('-1 day')) : $to->modify('-1 second')) : $to;
        $query = [];
        if ($this->onward->fromAs !== '') {
            $query[$this->onward->fromAs] = $this->written($from, $from);
        }
        if ($this->onward->toAs !== '') {
            $query[$this->onward->toAs] = $this->written($last, $to);
        }

        return new PageRequest($query);
    }

    private function written(\DateTimeImmutable $moment, \DateTimeImmutable $of): string
    {
        // A window that ends in the middle of a day, as now, must not lose that day.
        return $this->isDate ? ($of->format('His') !== '000000' && ! $this->onward->toIsIncluded ? $moment->modify('+1 day')->format('Y-m-d') : $moment->format('Y-m-d')) : $moment->format('Y-m-d\TH:i:s\Z');
    }
}
