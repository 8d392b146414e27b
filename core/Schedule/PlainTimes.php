<?php

declare(strict_types=1);

namespace DeepSpring\Schedule;

use DeepSpring\Value\Phrase;

/**
 * The times that a form offers in words, and the cron expression that each stands for. What cron can say beyond
 * that is written as cron.
 */
final readonly class PlainTimes
{
    public const MINUTES = 'minutes';

    public const HOURS = 'hours';

    public const DAY = 'day';

    public const MONTH = 'month';

    /** Minutes that divide an hour. */
    public const MINUTE_STEPS = [1, 2, 5, 10, 15, 20, 30];

    /** Hours that divide a day. */
    public const HOUR_STEPS = [1, 2, 3, 4, 6, 8, 12];

    /** Days of the week as cron writes them → in words. */
    public const DAYS = ['*' => 'every day', '1-5' => 'Mon–Fri', '1-6' => 'Mon–Sat', '0,6' => 'Sat and Sun', '1' => 'Mon', '2' => 'Tue', '3' => 'Wed', '4' => 'Thu', '5' => 'Fri', '6' => 'Sat', '0' => 'Sun'];

    /** For the last day of a month. */
    public const LAST = 'L';

    /**
     * @param  string  $every  one of MINUTES, HOURS, DAY, MONTH
     * @param  int  $step  minutes or hours
     * @param  int  $hour  of the day; of HOURS and MINUTES the first one
     * @param  int  $until  the last hour, of HOURS and MINUTES
     * @param  string  $days  of the week, a key of DAYS; of MONTH always "*"
     * @param  string  $date  day of the month, of MONTH: "1" to "31" or LAST
     */
    public function __construct(public string $every, public int $step = 1, public int $minute = 0, public int $hour = 0, public int $until = 23, public string $days = '*', public string $date = '1')
    {
    }

    /**
     * What a form holds, with whatever does not fit brought into bounds.
     *
     * @param  array<string, string>  $form  step, minute, hour, until, days, date, or at ("06:30") for hour and minute
     */
    public static function ofForm(string $every, array $form): self
    {
        $number = static fn (string $name, int $least, int $most, int $else): int => max($least, min($most, preg_match('/^\d{1,4}$/D', trim($form[$name] ?? '')) === 1 ? (int) $form[$name] : $else));
        $steps = $every === self::MINUTES ? self::MINUTE_STEPS : self::HOUR_STEPS;
        $step = $number('step', 1, 60, $every === self::MINUTES ? 15 : 1);
        $hour = $number('hour', 0, 23, 0);
        $minute = $number('minute', 0, 59, 0);
        if (preg_match('/^(\d{1,2}):(\d{2})(?::\d{2})?$/D', trim($form['at'] ?? ''), $at) === 1) {
            [$hour, $minute] = [min(23, (int) $at[1]), min(59, (int) $at[2])];
        }
        $days = array_key_exists($form['days'] ?? '', self::DAYS) ? (string) $form['days'] : '*';
        $date = ($form['date'] ?? '') === self::LAST ? self::LAST : (string) $number('date', 1, 31, 1);

        return match ($every) {
            self::MINUTES, self::HOURS => new self($every, in_array($step, $steps, true) ? $step : $steps[0], $every === self::HOURS ? $minute : 0, $hour, max($hour, $number('until', 0, 23, 23)), $days),
            self::MONTH => new self($every, 1, $minute, $hour, 23, '*', $date),
            default => new self(self::DAY, 1, $minute, $hour, 23, $days),
        };
    }

    /**
     * @return self|null null for an expression that these words do not reach
     */
    public static function ofCron(string $expression): ?self
    {
        $fields = explode(' ', trim((string) preg_replace('/\s+/', ' ', $expression)));
        if (count($fields) !== 5) {
            return null;
        }
        [$minute, $hour, $date, $month, $days] = $fields;
        $days = ['7' => '0', '6,0' => '0,6', '6,7' => '0,6'][$days] ?? $days;
        foreach (self::candidates($minute, $hour, $date, $days) as $plain) {
            if ($month === '*' && $plain->isOffered() && $plain->cron() === "$minute $hour $date * $days") {
                return $plain;
            }
        }

        return null;
    }

    /**
     * Whether it is what a form makes of the same fields.
     */
    private function isOffered(): bool
    {
        $form = ['step' => (string) $this->step, 'minute' => (string) $this->minute, 'hour' => (string) $this->hour, 'until' => (string) $this->until, 'days' => $this->days, 'date' => $this->date];

        return self::ofForm($this->every, $form)->cron() === $this->cron();
    }

    /**
     * @return iterable<self>
     */
    private static function candidates(string $minute, string $hour, string $date, string $days): iterable
    {
        preg_match('~^(?:\*|(\d+)-(\d+))(?:/(\d+))?$~D', $hour, $span, PREG_UNMATCHED_AS_NULL);
        [$from, $until] = [(int) ($span[1] ?? 0), (int) ($span[2] ?? 23)];
        yield new self(self::MINUTES, (int) substr($minute, 2) ?: 1, 0, $from, $until, $days);
        yield new self(self::HOURS, (int) ($span[3] ?? 1), (int) $minute, $from, $until, $days);
        yield new self(self::DAY, 1, (int) $minute, (int) $hour, 23, $days);
        yield new self(self::MONTH, 1, (int) $minute, (int) $hour, 23, $days, $date);
    }

    public function cron(): string
    {
        $span = $this->hour === 0 && $this->until === 23 ? '*' : "{$this->hour}-{$this->until}";
        $minutes = $this->step === 1 ? '*' : "*/{$this->step}";
        $hours = $this->step === 1 ? $span : "$span/{$this->step}";

        return match ($this->every) {
            self::MINUTES => "$minutes $span * * {$this->days}",
            self::HOURS => "{$this->minute} $hours * * {$this->days}",
            self::MONTH => "{$this->minute} {$this->hour} {$this->date} * {$this->days}",
            default => "{$this->minute} {$this->hour} * * {$this->days}",
        };
    }

    public function words(): string
    {
        $at = $this->at();
        $days = $this->days === '*' ? '' : ', '.self::DAYS[$this->days];
        // The last time of the day, which need not be in the last hour that is named.
        $last = $this->every === self::MINUTES ? [$this->until, 60 - $this->step] : [$this->until - ($this->until - $this->hour) % $this->step, $this->minute];
        $span = $this->hour === 0 && $this->until === 23 ? '' : sprintf(' from %02d:%02d to %02d:%02d', $this->hour, $this->minute, ...$last);

        return match ($this->every) {
            self::MINUTES => ($this->step === 1 ? 'every minute' : 'every '.Phrase::count($this->step, 'minute')).$span.$days,
            self::HOURS => ($this->step === 1 ? 'hourly' : 'every '.Phrase::count($this->step, 'hour')).($span === '' ? sprintf(' at :%02d', $this->minute) : $span).$days,
            self::MONTH => ($this->date === self::LAST ? 'on the last day of the month' : "on day {$this->date} of the month").", at $at",
            default => ($this->days === '*' ? 'daily' : self::DAYS[$this->days])." at $at",
        };
    }

    /**
     * Time of the day, as "06:30".
     */
    public function at(): string
    {
        return sprintf('%02d:%02d', $this->hour, $this->minute);
    }

    /**
     * What is to be known of it beside the words; "" for nothing.
     */
    public function note(): string
    {
        return $this->every === self::MONTH && (int) $this->date > 28 ? "Months without a day {$this->date} are left out." : '';
    }
}
