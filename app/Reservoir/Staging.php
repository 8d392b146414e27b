<?php

declare(strict_types=1);

namespace App\Reservoir;

use DeepSpring\Flatten\Batch;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\TablePlan;
use Illuminate\Database\Connection;

/**
 * New tables beside the old ones, which stay readable until all new ones take their place in one
 * step. Only one staging for the same owner is open at a time: the lock goes with the database
 * connection, so it ends with the process whatever kills that.
 */
final class Staging
{
    /** @var list<TableShape> */
    public readonly array $shapes;

    /** @var list<RowFile> */
    private array $files = [];

    public int $rows = 0;

    /** Rows whose key was there already. */
    public int $duplicates = 0;

    /** @var list<int> */
    public array $rowsOf = [];

    private bool $open = false;

    private ?Loader $loader = null;

    /** The file that is being loaded. */
    private ?RowFile $loading = null;

    private int $loadingTable = 0;

    private readonly string $mark;

    private int $fileCount = 0;

    /**
     * @param  string  $owner  letters and digits; what is left over of the same owner is cleared away
     */
    public function __construct(private readonly Connection $keeper, private readonly string $schema, private readonly string $owner, Plan $plan, private readonly string $folder)
    {
        // Tables of a run have names of their own, so a loader that outlives its run by a moment
        // can never write into those of the next one.
        $this->mark = bin2hex(random_bytes(4));
        $this->shapes = array_map(static fn (TablePlan $table): TableShape => new TableShape($table), $plan->tables());
    }

    public static function lockName(string $schema, string $owner): string
    {
        return substr("spring $schema $owner", 0, 64);
    }

    /**
     * @throws KeepFailed when another one is at work on the same tables
     */
    public function begin(): void
    {
        $locked = $this->keeper->selectOne('select get_lock(?, 0) as got', [self::lockName($this->schema, $this->owner)], false);
        if ((int) ($locked->got ?? 0) !== 1) {
            throw KeepFailed::because('These tables are being refreshed already.');
        }
        $this->open = true;
        $this->clearLeftovers();
        array_map(unlink(...), (array) glob("{$this->folder}/{$this->schema}-{$this->owner}-*.tsv"));
        $this->loader = new Loader((array) $this->keeper->getConfig());
        foreach ($this->shapes as $number => $shape) {
            $this->keeper->statement($shape->create($this->staged($number)));
            $this->files[$number] = $this->newFile($number);
            $this->rowsOf[$number] = 0;
        }
    }

    /**
     * @throws KeepFailed
     */
    public function add(Batch $batch): void
    {
        foreach ($batch->rows as $number => $rows) {
            if ($rows !== []) {
                $this->files[$number]->add($rows);
                if ($this->files[$number]->bytes >= RowFile::FULL) {
                    $this->load($number);
                }
            }
        }
    }

    /**
     * Loads what is left, so that the counts are final.
     *
     * @throws KeepFailed
     */
    public function finish(): void
    {
        foreach (array_keys($this->files) as $number) {
            $this->load($number);
        }
        $this->settle();
        // So that the first query after the swap is planned by what is in them, and not by a guess.
        $this->keeper->select('ANALYZE TABLE '.implode(', ', array_map($this->staged(...), array_keys($this->shapes))), [], false);
    }

    /**
     * All new tables in place of the old ones, in one statement.
     */
    public function swap(): void
    {
        $moves = [];
        $old = [];
        foreach ($this->shapes as $number => $shape) {
            $table = Sql::table($this->schema, $shape->name);
            if ($this->exists($shape->name)) {
                $old[] = $aside = Sql::table($this->schema, "stage__{$this->owner}__old_{$this->mark}_$number");
                $moves[] = "$table TO $aside";
            }
            $moves[] = $this->staged($number)." TO $table";
        }
        $this->keeper->statement('RENAME TABLE '.implode(', ', $moves));
        foreach ($old as $table) {
            $this->keeper->statement("DROP TABLE $table");
        }
    }

    /**
     * Drops what was not swapped in, and lets others begin.
     */
    public function end(): void
    {
        if (! $this->open) {
            return;
        }
        $this->open = false;
        $this->loader?->close();
        $this->loader = null;
        $this->loading?->clear();
        foreach ($this->files as $file) {
            $file->clear();
        }
        $this->clearLeftovers();
        $this->keeper->selectOne('select release_lock(?)', [self::lockName($this->schema, $this->owner)], false);
    }

    private function load(int $number): void
    {
        $file = $this->files[$number];
        $file->close();
        if ($file->rows === 0) {
            return;
        }
        $this->settle();
        $columns = implode(', ', array_map(static fn (KeptColumn $column): string => Sql::name($column->name), $this->shapes[$number]->columns));
        $this->loader?->begin('LOAD DATA LOCAL INFILE '.$this->keeper->getPdo()->quote($file->path).' INTO TABLE '.$this->staged($number)." CHARACTER SET utf8mb4 ($columns)");
        $this->loading = $file;
        $this->loadingTable = $number;
        $this->files[$number] = $this->newFile($number);
    }

    /**
     * Waits for the file under way and counts its rows.
     */
    private function settle(): void
    {
        if ($this->loading === null || $this->loader === null) {
            return;
        }
        $file = $this->loading;
        $this->loading = null;
        try {
            $loaded = $this->loader->result();
        } finally {
            $sent = $file->rows;
            $file->clear();
        }
        $this->duplicates += $sent - $loaded;
        $this->rowsOf[$this->loadingTable] += $loaded;
        $this->rows += $loaded;
    }

    private function newFile(int $number): RowFile
    {
        $texts = [];
        foreach ($this->shapes[$number]->columns as $place => $column) {
            if ($column->isText()) {
                $texts[] = $place;
            }
        }

        return new RowFile("{$this->folder}/{$this->schema}-{$this->owner}-{$this->mark}-$number-".++$this->fileCount.'.tsv', $texts);
    }

    private function clearLeftovers(): void
    {
        foreach ($this->tablesLike("stage__{$this->owner}__%") as $table) {
            $this->keeper->statement('DROP TABLE IF EXISTS '.Sql::table($this->schema, $table));
        }
    }

    private function exists(string $table): bool
    {
        return $this->tablesLike($table) !== [];
    }

    /**
     * @return list<string>
     */
    private function tablesLike(string $pattern): array
    {
        $found = $this->keeper->select('select table_name as name from information_schema.tables where table_schema = ? and table_name like ?', [$this->schema, str_replace('_', '\\_', $pattern)], false);

        return array_map(static fn (object $row): string => (string) $row->name, $found);
    }

    private function staged(int $number): string
    {
        return Sql::table($this->schema, "stage__{$this->owner}__{$this->mark}_$number");
    }
}
