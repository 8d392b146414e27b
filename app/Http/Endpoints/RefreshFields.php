<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\Increment\IncrementProposal;
use DeepSpring\Increment\Increments;
use DeepSpring\Increment\InvalidIncrement;
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

    private ?TablePlan $table;

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
        $this->table = self::table($definition);
        $this->every = $this->refresh['every'] ?? RefreshTimes::MANUAL;
        $this->choice = $chosen === RefreshForm::CRON && $this->every !== RefreshTimes::MANUAL ? RefreshForm::CRON : RefreshForm::choice($this->every);
        $this->plain = PlainTimes::ofCron($this->every) ?? new PlainTimes(PlainTimes::DAY);
    }

    /**
     * The main table; null while there is none, or one that cannot be read.
     */
    public static function table(EndpointDefinition $definition): ?TablePlan
    {
        try {
            return $definition->plan()?->table;
        } catch (\DomainException|\InvalidArgumentException) {
            return null;
        }
    }

    public function isIncremental(): bool
    {
        return ($this->refresh['mode'] ?? 'whole') === 'incremental';
    }

    /**
     * Which of the ways to ask for changes it is.
     */
    public function by(): string
    {
        return Increments::kind($this->since(), $this->table);
    }

    /**
     * @return array<string, mixed>
     */
    private function since(): array
    {
        return $this->refresh['since'] ?? [];
    }

    /**
     * What a field of `since` holds, with what is likely where nothing was said.
     */
    public function sinceText(string $name): string
    {
        return (string) ($this->since()[$name] ?? '');
    }

    /**
     * Columns by which changes can be asked for, those that are likely first.
     *
     * @return array<array-key, string>
     */
    public function sinceColumns(): array
    {
        $names = $this->table === null ? [] : IncrementProposal::columns($this->table, $this->by());

        return ['' => 'choose a column'] + array_combine($names, $names);
    }

    /**
     * @return array<array-key, string>
     */
    public function columns(): array
    {
        $names = array_map(static fn (Column $one): string => $one->name, $this->table->columns ?? []);

        return ['' => 'nothing says so'] + array_combine($names, $names);
    }

    public function deletedColumn(): string
    {
        return $this->refresh['deleted']['column'] ?? '';
    }

    public function deletedIs(): string
    {
        $is = $this->refresh['deleted']['is'] ?? true;

        return is_bool($is) ? ($is ? 'true' : 'false') : (string) $is;
    }

    public function sweep(): string
    {
        return $this->refresh['sweep'] ?? '';
    }

    /**
     * How changes are asked for, and what is not seen that way; null where everything is read, or it cannot be said.
     *
     * @return array{string, string}|null
     */
    public function increment(): ?array
    {
        try {
            $way = $this->table === null ? null : Increments::of($this->refresh, $this->table);
        } catch (InvalidIncrement) {
            return null;
        }
        if ($way === null) {
            return null;
        }
        $blind = isset($this->refresh['deleted']) ? "Records whose {$this->deletedColumn()} is {$this->deletedIs()} are taken out." : $way->blind();

        return [$way->words(), $blind.($this->sweep() === '' ? ' “Refresh all of it” on the page of the table sees everything.' : '')];
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
