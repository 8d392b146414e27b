<?php

declare(strict_types=1);

namespace App\Console;

use App\Queries\ResultColumn;
use Illuminate\Console\OutputStyle;
use Symfony\Component\Console\Formatter\OutputFormatter;
use Symfony\Component\Console\Helper\Table;

/**
 * Rows as a table for a person to read.
 */
final readonly class RowTable
{
    private const MOST = 1000;

    /** Characters of a cell. */
    private const WIDTH = 60;

    /**
     * @param  \Closure(string): void  $say
     */
    public function __construct(private OutputStyle $output, private \Closure $say)
    {
    }

    /**
     * @param  list<ResultColumn>  $columns
     * @param  iterable<list<string|null>>  $rows
     */
    public function show(array $columns, iterable $rows): void
    {
        $table = new Table($this->output);
        $table->setHeaders(array_map(static fn (ResultColumn $column): string => OutputFormatter::escape($column->name), $columns));
        $count = 0;
        foreach ($rows as $row) {
            if ($count === self::MOST) {
                ($this->say)('Only the first '.self::MOST.' rows are shown; --as csv gives all of them.');

                break;
            }
            $table->addRow(array_map(static fn (?string $value): string => $value === null ? '—' : OutputFormatter::escape(mb_strimwidth(str_replace(["\r", "\n", "\t"], ' ', $value), 0, self::WIDTH, '…', 'UTF-8')), $row));
            $count++;
        }
        $table->render();
    }
}
