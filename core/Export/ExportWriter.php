<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * Rows → a file, one at a time, with no more in memory than a few of them. Values come as the database writes
 * them: numbers as digits, moments as "2031-04-09 14:30:00.000000" in UTC, null for no value.
 */
interface ExportWriter
{
    /**
     * @param  list<ExportColumn>  $columns  whose names differ
     *
     * @throws CannotExport when it has more of them than the format holds
     */
    public function begin(array $columns): void;

    /**
     * @param  list<string|null>  $values
     */
    public function row(array $values): void;

    /**
     * @throws CannotExport when the file cannot be finished
     */
    public function end(): void;

    /**
     * What a reader of the file has to know, in sentences: what was marked, cut or written otherwise than it
     * is, with how many and where.
     *
     * @return list<string>
     */
    public function said(): array;
}
