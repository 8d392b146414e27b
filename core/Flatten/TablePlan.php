<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Expression\Expression;
use DeepSpring\Value\Moment\UnusablePattern;

/**
 * One table to be made: from the records, or (a branch) from an array or an object inside each of
 * them. A branch of `$` is a second table from the same records.
 */
final readonly class TablePlan
{
    /**
     * @param  list<Column>  $columns
     * @param  list<string>  $key  names of columns
     * @param  list<self>  $branches
     */
    public function __construct(
        public string $name,
        public array $columns,
        public array $key,
        public ?JsonPath $from = null,
        /** Only records of which it is true become rows. */
        public ?Expression $where = null,
        public array $branches = [],
        public string $title = '',
        public string $comment = '',
        public string $owner = '',
    ) {
    }

    /**
     * @param  array<string, mixed>  $table  valid by the schema
     *
     * @throws \DeepSpring\Answer\JsonPath\InvalidJsonPath
     * @throws \DeepSpring\Expression\InvalidExpression
     * @throws UnusablePattern
     */
    public static function of(array $table, ?\DateTimeImmutable $now = null): self
    {
        $key = $table['key'] ?? [];
        $columns = [];
        foreach ($table['columns'] ?? [] as $column) {
            $columns[] = Column::of($column, in_array($column['name'], $key, true), $columns, $now);
        }

        return new self(
            $table['table'],
            $columns,
            $key,
            isset($table['from']) ? JsonPath::parse($table['from']) : null,
            isset($table['where']) ? Expression::condition($table['where'], Column::scope($columns), $now) : null,
            array_values(array_map(static fn (array $branch): self => self::of($branch, $now), $table['branches'] ?? [])),
            $table['title'] ?? '',
            $table['comment'] ?? '',
            $table['owner'] ?? '',
        );
    }

    /**
     * Whether it is made of the records themselves, beside the main table.
     */
    public function isSplit(): bool
    {
        return $this->from?->names() === [];
    }

    /**
     * This table and all below it, each before its branches.
     *
     * @return non-empty-list<self>
     */
    public function all(): array
    {
        $all = [$this];
        foreach ($this->branches as $branch) {
            array_push($all, ...$branch->all());
        }

        return $all;
    }
}
