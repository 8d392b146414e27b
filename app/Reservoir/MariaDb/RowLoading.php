<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\KeptColumn;
use App\Reservoir\ConnectionLost;
use App\Reservoir\KeepFailed;
use App\Reservoir\RunSuperseded;
use App\Reservoir\StagedCounts;
use App\Reservoir\TableShape;
use DeepSpring\Flatten\RowBatch;
use Illuminate\Database\Connection;

/**
 * Rows into files, and files into staged tables by a process beside this one, one transaction at a time.
 */
final class RowLoading
{
    /** Seconds after which rows are loaded however few they are, so that little is lost with a process. */
    private const SECONDS = 1.0;

    /** @var array<int, RowFile> by the number of their table */
    private array $files = [];

    /** @var array<int, RowFile> the files that are being loaded */
    private array $loading = [];

    private bool $isLoading = false;

    private float $committed;

    private readonly Loader $loader;

    /** @var array<int, ColumnWidths|null> by the number of the table; null while nothing is known of it */
    private array $widths;

    /**
     * @param  list<TableShape>  $shapes
     * @param  \Closure(int|string): string  $newPath  by what it is for
     * @param  array<int, ColumnWidths|null>  $widths  of the columns of tables that have rows already, by their number
     */
    public function __construct(private readonly Connection $keeper, private readonly StageNames $names, private readonly array $shapes, private readonly StagedCounts $counts, private readonly \Closure $newPath, array $widths = [])
    {
        $this->widths = $widths + array_fill_keys(array_keys($shapes), null);
        $this->committed = hrtime(true) / 1e9;
        $this->loader = Loader::with((array) $keeper->getConfig());
        foreach (array_keys($shapes) as $number) {
            $this->files[$number] = $this->newFile($number);
        }
    }

    public function add(RowBatch $batch): void
    {
        foreach ($batch->rows as $number => $rows) {
            if ($rows !== []) {
                $this->files[$number]->add($rows);
            }
        }
    }

    /**
     * @param  bool  $isWorth  whether what is there is worth loading, where nothing has to be waited for
     */
    public function isDue(bool $isWorth = false): bool
    {
        $most = max(0, ...array_map(static fn (RowFile $file): int => $file->bytes, $this->files));

        return $most >= RowFile::FULL || ($isWorth || $most >= RowFile::WORTH) && ! $this->isBusy() || hrtime(true) / 1e9 - $this->committed > self::SECONDS;
    }

    /**
     * @param  \Closure(): array{string, list<string|int>}  $mark  a statement that changes one row, and its values; asked for once the rows are counted
     * @param  array{table: string, file: string, pages: list<array{int, string, int}>, part: int}|null  $pages
     *
     * @throws ConnectionLost
     */
    public function begin(\Closure $mark, ?array $pages): void
    {
        $this->committed = hrtime(true) / 1e9;
        $loads = [];
        foreach ($this->files as $number => $file) {
            $file->close();
            if ($file->rows === 0) {
                continue;
            }
            $this->widen($number, $file);
            $columns = implode(', ', array_map(static fn (KeptColumn $column): string => Sql::name($column->name), $this->shapes[$number]->columns));
            $loads[$number] = 'LOAD DATA LOCAL INFILE '.$this->keeper->getPdo()->quote($file->path).' INTO TABLE '.$this->names->table($number).' CHARACTER SET utf8mb4 '.RowFile::FORM." ($columns)";
            $this->loading[$number] = $file;
            $this->counts->givenTo[$number] += $file->rows;
            $this->files[$number] = $this->newFile($number);
        }
        $this->loader->begin($loads, $mark(), $pages);
        $this->isLoading = true;
    }

    /**
     * @return bool whether anything was being loaded
     *
     * @throws KeepFailed
     * @throws ConnectionLost
     * @throws RunSuperseded
     */
    public function await(): bool
    {
        if (! $this->isLoading) {
            return false;
        }
        $this->isLoading = false;
        try {
            $loaded = $this->loader->result();
        } finally {
            $given = array_map(static fn (RowFile $file): int => $file->rows, $this->loading);
            foreach ($this->loading as $file) {
                $file->clear();
            }
            $this->loading = [];
        }
        foreach ($loaded as $number => $rows) {
            $this->counts->duplicates += $given[$number] - $rows;
            $this->counts->duplicatesOf[$number] = ($this->counts->duplicatesOf[$number] ?? 0) + $given[$number] - $rows;
            $this->counts->rowsOf[$number] += $rows;
            $this->counts->rows += $rows;
        }

        return true;
    }

    /**
     * Whether what is being loaded would have to be waited for.
     */
    private function isBusy(): bool
    {
        return $this->isLoading && ! $this->loader->hasAnswered();
    }

    public function close(): void
    {
        $this->loader->close(! $this->isLoading);
        foreach ([...$this->loading, ...$this->files] as $file) {
            $file->clear();
        }
    }

    /**
     * Makes room in a table for the values of a file, before it is loaded.
     */
    private function widen(int $number, RowFile $file): void
    {
        $was = $this->widths[$number];
        $growing = TableDefinition::growing($this->shapes[$number]);
        $now = $was === null ? ColumnWidths::seen($growing, $file->longest) : $was->widened($file->longest);
        $change = TableDefinition::widths($this->shapes[$number], $this->names->table($number), $was ?? ColumnWidths::unbounded($growing), $now);
        if ($change !== null) {
            $this->keeper->statement($change);
        }
        $this->widths[$number] = $now;
    }

    /**
     * Makes the columns of the main table as wide as those of another.
     */
    public function widenLike(ColumnWidths $other): void
    {
        $was = $this->widths[0] ?? ColumnWidths::unbounded(TableDefinition::growing($this->shapes[0]));
        $now = $was->atLeast($other);
        $change = TableDefinition::widths($this->shapes[0], $this->names->table(0), $was, $now);
        if ($change !== null) {
            $this->keeper->statement($change);
        }
        $this->widths[0] = $now;
    }

    private function newFile(int $number): RowFile
    {
        $texts = [];
        foreach ($this->shapes[$number]->columns as $place => $column) {
            if ($column->isText()) {
                $texts[] = $place;
            }
        }

        return new RowFile(($this->newPath)($number), $texts, TableDefinition::growing($this->shapes[$number]), $this->widths[$number] ?? null);
    }
}
