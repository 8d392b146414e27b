<?php

declare(strict_types=1);

namespace DeepSpring\Increment;

/**
 * By a column that says when a record was changed last. The next reading begins at the newest change that was
 * seen, but not after the moment at which this one began by the clock of the service: a record on a page that was
 * read already may have changed while the rest was.
 */
final readonly class ByChange implements Increment
{
    /** Seconds by which the column may run ahead of the clock of the service, which is then of no use. */
    private const AHEAD = 86_400;

    public function __construct(private string $column, private string $sendAs, private SentMoment $format, private \DateInterval $overlap, private string $overlapWords)
    {
    }

    public function sent(string $mark, \DateTimeImmutable $now): array
    {
        return [$this->sendAs => $this->format->written($this->moment($mark)->sub($this->overlap))];
    }

    public function next(?string $mark, SeenValues $seen): ?string
    {
        if ($seen->largest === null) {
            return $mark;
        }
        $largest = $this->moment($seen->largest);
        $isUsable = $seen->began !== null && $largest->getTimestamp() <= $seen->began->getTimestamp() + self::AHEAD;
        $safe = $isUsable ? min($largest, $seen->began) : $this->moment($seen->first ?? $seen->largest);

        return max($safe, $mark === null ? $safe : $this->moment($mark))->format('Y-m-d H:i:s.u');
    }

    private function moment(string $kept): \DateTimeImmutable
    {
        return new \DateTimeImmutable($kept, new \DateTimeZone('UTC'));
    }

    public function column(): string
    {
        return $this->column;
    }

    public function tellsStates(): bool
    {
        return true;
    }

    public function marker(): ?string
    {
        return null;
    }

    public function words(): string
    {
        return "by {$this->column}, sent as {$this->sendAs}".($this->overlapWords === '' ? '' : ", {$this->overlapWords} earlier");
    }

    public function blind(): string
    {
        return 'Records that are deleted at the source are not seen, unless the service lists them as changed.';
    }
}
