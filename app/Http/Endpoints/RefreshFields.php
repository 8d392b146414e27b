<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use DeepSpring\Schedule\InvalidSchedule;
use DeepSpring\Schedule\PlainTimes;
use DeepSpring\Schedule\RefreshTimes;
use DeepSpring\SourceFile\EndpointDefinition;
use Illuminate\Support\Carbon;

/**
 * When a table is refreshed, as the stratum Keep shows it.
 */
final readonly class RefreshFields
{
    private const NEXT = 3;

    /** Ages that are offered, as ISO 8601 durations. */
    private const AGES = ['' => 'never', 'PT5M' => '5 min', 'PT15M' => '15 min', 'PT1H' => '1 h', 'PT6H' => '6 h', 'P1D' => '1 day', 'P7D' => '7 days'];

    /** @var array<string, mixed> */
    private array $refresh;

    public string $every;

    /** Which of the choices it is. */
    public string $choice;

    public PlainTimes $plain;

    /**
     * @param  list<string>  $environments  of the source, the first one first
     * @param  string  $chosen  what was chosen on the sheet: an expression stays one there, though words could say it
     */
    public function __construct(EndpointDefinition $definition, private array $environments, string $chosen = '')
    {
        $this->refresh = $definition->endpoint['keep']['refresh'] ?? [];
        $this->every = $this->refresh['every'] ?? RefreshTimes::MANUAL;
        $this->choice = $chosen === RefreshForm::CRON && $this->every !== RefreshTimes::MANUAL ? RefreshForm::CRON : RefreshForm::choice($this->every);
        $this->plain = PlainTimes::ofCron($this->every) ?? new PlainTimes(PlainTimes::DAY);
    }

    /**
     * @return array<string, string>
     */
    public function choices(): array
    {
        return [RefreshTimes::MANUAL => 'by hand', PlainTimes::MINUTES => 'by the minute', PlainTimes::HOURS => 'by the hour', PlainTimes::DAY => 'daily or on weekdays', PlainTimes::MONTH => 'monthly', RefreshForm::CRON => 'by cron expression'];
    }

    /**
     * @return array<array-key, string>
     */
    public function steps(): array
    {
        $unit = $this->choice === PlainTimes::MINUTES ? 'min' : 'h';
        $steps = $this->choice === PlainTimes::MINUTES ? PlainTimes::MINUTE_STEPS : PlainTimes::HOUR_STEPS;

        return array_combine(array_map(strval(...), $steps), array_map(static fn (int $step): string => "$step $unit", $steps));
    }

    /**
     * @return array<array-key, string>
     */
    public function dates(): array
    {
        $days = array_map(strval(...), range(1, 31));

        return array_combine($days, array_map(static fn (string $day): string => "day $day", $days)) + [PlainTimes::LAST => 'the last day'];
    }

    /**
     * @return array<array-key, string>
     */
    public function hours(): array
    {
        return array_map(static fn (int $hour): string => sprintf('%02d', $hour), range(0, 23));
    }

    public function zone(): string
    {
        return $this->refresh['zone'] ?? 'UTC';
    }

    /**
     * @return list<string>
     */
    public function zones(): array
    {
        return \DateTimeZone::listIdentifiers();
    }

    public function after(): string
    {
        return implode(', ', $this->refresh['after'] ?? []);
    }

    public function in(): string
    {
        return implode(', ', $this->refresh['in'] ?? []);
    }

    /**
     * @return list<string>
     */
    public function environments(): array
    {
        return $this->environments;
    }

    public function olderThan(): string
    {
        return $this->refresh['when_asked']['older_than'] ?? '';
    }

    /**
     * @return array<string, string>
     */
    public function ages(): array
    {
        return self::AGES + [$this->olderThan() => $this->olderThan()];
    }

    public function waits(): bool
    {
        return $this->refresh['when_asked']['wait'] ?? false;
    }

    public function words(): string
    {
        $times = $this->times();
        if ($times === null) {
            return 'not as it stands; see under Keep';
        }

        return $times->words().($times->isAutomatic() && count($this->environments) > 1 ? ', in '.implode(' and ', array_filter($this->environments, fn (string $one): bool => $times->isFor($one, $this->environments[0]))) : '');
    }

    /**
     * The next few times by the clock of the zone: "Wed 15 Jan 07:00".
     *
     * @return list<string>
     */
    public function next(): array
    {
        $times = $this->times()?->times;

        return $times === null ? [] : array_map(
            static fn (\DateTimeImmutable $time): string => $time->setTimezone(new \DateTimeZone($times->zone()))->format('D j M H:i'),
            $times->next(Carbon::now()->toDateTimeImmutable(), self::NEXT),
        );
    }

    private function times(): ?RefreshTimes
    {
        try {
            return RefreshTimes::of($this->refresh);
        } catch (InvalidSchedule) {
            return null;
        }
    }
}
