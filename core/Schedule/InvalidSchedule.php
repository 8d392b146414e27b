<?php

declare(strict_types=1);

namespace DeepSpring\Schedule;

/**
 * What was said of when to read again cannot be followed. The message is a sentence for whoever wrote it.
 */
final class InvalidSchedule extends \DomainException
{
    /**
     * @param  string  $where  key of `keep.refresh`: every, zone
     */
    private function __construct(string $sentence, public readonly string $where)
    {
        parent::__construct($sentence);
    }

    /**
     * The same of another key.
     */
    public function at(string $where): self
    {
        return new self($this->getMessage(), $where);
    }

    public static function expression(string $written): self
    {
        return new self("\"$written\" is no cron expression: minute, hour, day of the month, month, day of the week, as in \"30 6 * * 1-5\".", 'every');
    }

    public static function never(string $written): self
    {
        return new self("\"$written\" never happens: no day of the calendar fits it.", 'every');
    }

    public static function zone(string $written): self
    {
        return new self("\"$written\" is no time zone. Give a name such as Europe/Oslo or UTC.", 'zone');
    }
}
