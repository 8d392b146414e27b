<?php

declare(strict_types=1);

namespace DeepSpring\Schedule;

/**
 * When a table is read again, as `keep.refresh` of a source file says it.
 */
final readonly class RefreshTimes
{
    /** For a table that is only refreshed when somebody asks. */
    public const MANUAL = 'manual';

    /**
     * @param  CronTimes|null  $sweep  when all of it is read, of a table of which usually only changes are
     * @param  list<string>  $after  names of tables; it follows each of their refreshes
     * @param  list<string>  $in  slugs of environments; empty for the first one of the source
     * @param  string|null  $olderThan  ISO 8601 duration: a statement that reads older rows has it refreshed
     * @param  bool  $waits  whether such a statement waits for the new rows
     */
    private function __construct(public ?CronTimes $times, public ?CronTimes $sweep, public array $after, public array $in, public ?string $olderThan, public bool $waits)
    {
    }

    /**
     * @param  array{every?: string, zone?: string, sweep?: string, after?: list<string>, in?: list<string>, when_asked?: array{older_than: string, wait?: bool}}  $refresh
     *
     * @throws InvalidSchedule
     */
    public static function of(array $refresh): self
    {
        $every = $refresh['every'] ?? self::MANUAL;
        $asked = $refresh['when_asked'] ?? null;

        return new self(
            $every === self::MANUAL ? null : new CronTimes($every, $refresh['zone'] ?? 'UTC'),
            isset($refresh['sweep']) ? self::sweep($refresh['sweep'], $refresh['zone'] ?? 'UTC') : null,
            $refresh['after'] ?? [], $refresh['in'] ?? [], $asked['older_than'] ?? null, $asked['wait'] ?? false,
        );
    }

    /**
     * @throws InvalidSchedule
     */
    private static function sweep(string $expression, string $zone): CronTimes
    {
        try {
            return new CronTimes($expression, $zone);
        } catch (InvalidSchedule $invalid) {
            throw $invalid->where === 'every' ? $invalid->at('sweep') : $invalid;
        }
    }

    /**
     * Whether anything but a person begins it.
     */
    public function isAutomatic(): bool
    {
        return $this->times !== null || $this->sweep !== null || $this->after !== [] || $this->olderThan !== null;
    }

    /**
     * Whether rows of that age are too old to be read without refreshing them.
     */
    public function isTooOld(\DateTimeImmutable $refreshed, \DateTimeImmutable $now): bool
    {
        return $this->olderThan !== null && $refreshed->add(new \DateInterval($this->olderThan)) < $now;
    }

    /**
     * Whether it is followed in an environment.
     *
     * @param  string  $first  the first environment of the source
     */
    public function isFor(string $environment, string $first): bool
    {
        return in_array($environment, $this->in === [] ? [$first] : $this->in, true);
    }

    /**
     * "every hour from 07:00 to 19:00, Mon–Sat, Europe/Oslo; after borrowers"; "by hand".
     */
    public function words(): string
    {
        $words = [];
        if ($this->times !== null) {
            $plain = PlainTimes::ofCron($this->times->expression)?->words() ?? "by cron \"{$this->times->expression}\"";
            $words[] = "$plain, {$this->times->zone()}";
        }
        if ($this->sweep !== null) {
            $words[] = 'all of it '.(PlainTimes::ofCron($this->sweep->expression)?->words() ?? "by cron \"{$this->sweep->expression}\"").($this->times === null ? ", {$this->sweep->zone()}" : '');
        }
        if ($this->after !== []) {
            $words[] = 'after '.implode(', ', $this->after);
        }
        if ($this->olderThan !== null) {
            $words[] = "when asked and older than {$this->olderThan}";
        }

        return $words === [] ? 'by hand' : implode('; ', $words);
    }
}
