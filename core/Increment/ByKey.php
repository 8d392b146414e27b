<?php

declare(strict_types=1);

namespace DeepSpring\Increment;

use Brick\Math\BigInteger;

/**
 * By a column that only grows from record to record, as numbers that are given out one after the other do.
 */
final readonly class ByKey implements Increment
{
    /**
     * @param  bool  $isNumber  whether it is compared as a number, and not as a text
     * @param  int  $overlap  of a number: how many before the last one are read again
     */
    public function __construct(private string $column, private string $sendAs, private bool $isNumber, private int $overlap)
    {
    }

    public function sent(string $mark, \DateTimeImmutable $now): array
    {
        return [$this->sendAs => $this->isNumber ? (string) BigInteger::of($mark)->minus($this->overlap) : $mark];
    }

    public function next(?string $mark, SeenValues $seen): ?string
    {
        if ($seen->largest === null || $mark === null) {
            return $seen->largest ?? $mark;
        }

        return self::compare($seen->largest, $mark, $this->isNumber) > 0 ? $seen->largest : $mark;
    }

    /**
     * As the database orders them.
     */
    public static function compare(string $one, string $other, bool $isNumber): int
    {
        return $isNumber ? BigInteger::of($one)->compareTo(BigInteger::of($other)) : strcmp($one, $other);
    }

    public function column(): string
    {
        return $this->column;
    }

    public function tellsStates(): bool
    {
        // A record keeps its number, whatever its state.
        return false;
    }

    public function marker(): ?string
    {
        return null;
    }

    public function words(): string
    {
        return "by {$this->column}, which grows, sent as {$this->sendAs}".($this->overlap > 0 ? ", {$this->overlap} less" : '');
    }

    public function blind(): string
    {
        return 'New records are seen; changed and deleted ones are not.';
    }
}
