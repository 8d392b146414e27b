<?php

declare(strict_types=1);

namespace DeepSpring\Indexing;

/**
 * What is known of a table.
 */
final readonly class TableFacts
{
    /**
     * @param  int  $looked  rows that were looked at for what is said of the columns
     * @param  list<string>  $key
     * @param  list<list<string>>  $indexes  columns of those it has besides its key
     * @param  array<string, ColumnFacts>  $columns
     */
    public function __construct(
        public string $name,
        public int $rows,
        public int $looked,
        public array $key,
        public array $indexes,
        public array $columns,
    ) {
    }

    /**
     * Which part of the rows has the same values in these columns, as far as can be told from each of them.
     *
     * @param  list<string>  $columns
     */
    public function share(array $columns): float
    {
        $different = 1.0;
        foreach ($columns as $column) {
            $different *= max(1, $this->columns[$column]->different ?? 1);
        }

        return 1 / min($different, max(1, $this->looked));
    }

    /**
     * @param  list<string>  $columns
     */
    public function can(array $columns): bool
    {
        foreach ($columns as $column) {
            if (! isset($this->columns[$column]) || ! $this->columns[$column]->canBeIndexed) {
                return false;
            }
        }

        return $columns !== [];
    }

    /**
     * Whether an index over these columns holds all of their values.
     *
     * @param  list<string>  $columns
     */
    public function isWhole(array $columns): bool
    {
        foreach ($columns as $column) {
            if (! ($this->columns[$column]->isWhole ?? false)) {
                return false;
            }
        }

        return true;
    }
}
