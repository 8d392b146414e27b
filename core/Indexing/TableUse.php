<?php

declare(strict_types=1);

namespace DeepSpring\Indexing;

/**
 * How one statement uses one table. Columns by their names in the database.
 */
final readonly class TableUse
{
    /**
     * @param  list<string>  $equal  compared with a value, or with several
     * @param  list<string>  $range  compared with bounds, or with the beginning of a text
     * @param  list<list<string>>  $joined  compared with columns of another table, those of each table together
     * @param  list<string>  $grouped  by which rows are grouped, or of which different ones are asked for
     * @param  list<string>  $sorted  by which the first rows are sorted, all in one direction
     * @param  list<string>  $read  all that the statement reads of the table
     */
    public function __construct(
        public string $table,
        public array $equal = [],
        public array $range = [],
        public array $joined = [],
        public array $grouped = [],
        public array $sorted = [],
        public array $read = [],
    ) {
    }

    /**
     * Whether an index could be of use for it at all.
     */
    public function isPlain(): bool
    {
        return $this->equal === [] && $this->range === [] && $this->joined === [] && $this->grouped === [] && $this->sorted === [];
    }

    /**
     * @return array<string, list<string>|list<list<string>>>
     */
    public function toArray(): array
    {
        return array_filter(array_diff_key(get_object_vars($this), ['table' => true]));
    }

    /**
     * @param  array{equal?: list<string>, range?: list<string>, joined?: list<list<string>>, grouped?: list<string>, sorted?: list<string>, read?: list<string>}  $use  of toArray()
     */
    public static function fromArray(string $table, array $use): self
    {
        return new self($table, $use['equal'] ?? [], $use['range'] ?? [], $use['joined'] ?? [], $use['grouped'] ?? [], $use['sorted'] ?? [], $use['read'] ?? []);
    }
}
