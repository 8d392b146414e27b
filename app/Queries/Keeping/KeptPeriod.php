<?php

declare(strict_types=1);

namespace App\Queries\Keeping;

use DeepSpring\Sql\RelativeMoment;

/**
 * The stretch of time in which rows of a query can still change. What lies before it is not read anew.
 */
final readonly class KeptPeriod
{
    private function __construct(private string $column, private string $back)
    {
    }

    /**
     * @param  array{column: string, back: string}  $period
     */
    public static function of(array $period): self
    {
        return new self($period['column'], $period['back']);
    }

    /**
     * @param  array{column: string, back: string}  $period
     * @param  list<array<string, mixed>>  $columns  of the query
     *
     * @throws CannotKeep
     */
    public static function checked(array $period, array $columns): self
    {
        [$column, $back] = [$period['column'], trim($period['back'])];
        $type = array_column($columns, 'type', 'name')[$column] ?? null;
        if (! in_array($type, ['date', 'datetime'], true)) {
            throw CannotKeep::because($type === null ? "The query gives no column \"$column\"." : "\"$column\" holds no days or moments, so no period can be told by it.", 'period');
        }
        if (preg_match('/^\d+ \w+ ago$/D', $back) !== 1 || RelativeMoment::of($back, new \DateTimeImmutable, new \DateTimeZone('UTC')) === null) {
            throw CannotKeep::because("\"$back\" is no period. Write how far back rows can change: 7 days ago, 36 hours ago, 2 months ago.", 'period');
        }

        return new self($column, $back);
    }

    /**
     * @return array{column: string, back: string}
     */
    public function toArray(): array
    {
        return ['column' => $this->column, 'back' => $this->back];
    }

    /**
     * From when on rows are read anew: as far back from the refresh before as they could change then.
     *
     * @return string in UTC
     */
    public function since(\DateTimeImmutable $before): string
    {
        return RelativeMoment::of($this->back, $before, new \DateTimeZone('UTC'))?->format('Y-m-d H:i:s') ?? throw new \LogicException('A period is checked before it is kept.');
    }

    public function words(string $since): string
    {
        return "$this->column from $since UTC on";
    }

    /**
     * The statement for rows that can have changed; those without a moment are among them.
     */
    public function narrowed(string $sql, string $since): string
    {
        return "select * from (\n$sql\n) as q where q.{$this->name()} >= '$since' or q.{$this->name()} is null";
    }

    /**
     * The rows that stay, of the table as it is.
     *
     * @param  list<string>  $columns
     */
    public function rest(string $table, array $columns, string $since): string
    {
        return 'select '.implode(', ', array_map(static fn (string $name): string => "`$name`", $columns))." from `$table` where {$this->name()} < '$since'";
    }

    private function name(): string
    {
        return '`'.str_replace('`', '``', $this->column).'`';
    }
}
