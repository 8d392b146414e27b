<?php

declare(strict_types=1);

namespace App\Reservoir;

use DeepSpring\Check\ColumnSeen;
use DeepSpring\Check\TableCheck;

/**
 * Tables that were staged, or are kept, asked for rows that break a rule.
 */
interface CheckedRows
{
    /**
     * Looks at all rows; rules of one table together where that saves a reading of it.
     *
     * @param  list<TableCheck>  $checks
     * @return list<CheckCount> in their order
     */
    public function count(array $checks): array;

    /**
     * Some of the rows that break a rule, in the order of their key.
     *
     * @return list<array<string, string|null>> columns as the source file calls them → values
     */
    public function concerned(TableCheck $check, int $most): array;

    /**
     * What is seen of the columns that hold their values as they are, in the first rows of a table.
     *
     * @param  string  $table  as the source file calls it
     * @param  int  $most  rows that are looked at
     * @return list<ColumnSeen>
     */
    public function seen(string $table, int $most): array;

    /**
     * Takes the rows that break a rule away, with what belongs to them in other tables.
     *
     * @return int rows of the table of the check
     */
    public function leaveOut(TableCheck $check): int;
}
