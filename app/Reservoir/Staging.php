<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Secrets\LockName;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Flatten\TablePlan;
use Illuminate\Database\Connection;

/**
 * New tables beside the old ones, which stay readable until all new ones take their place in one
 * step. Only one staging for the same owner is open at a time: the lock goes with the database
 * connection, so it ends with the process whatever kills that. Rows are loaded together with how
 * far the reading got, so another process can go on from there.
 */
final class Staging
{
    /** Seconds after which rows are loaded however few they are, so that little is lost with a process. */
    private const SECONDS = 1.0;

    /** @var list<TableShape> */
    public readonly array $shapes;

    /** @var array<int, RowFile> */
    private array $files = [];

    public int $rows = 0;

    /** Rows whose key was there already. */
    public int $duplicates = 0;

    /** @var array<int, int> rows of each table */
    public array $rowsOf = [];

    /** @var array<int, int> rows that were given to each table, whether they were new to it or not. */
    public array $givenTo = [];

    private bool $open = false;

    private ?Loader $loader = null;

    /** @var array<int, RowFile> the files that are being loaded */
    private array $loading = [];

    private bool $isLoading = false;

    private string $mark;

    private int $fileCount = 0;

    private float $committed = 0.0;

    private int $attempt = 0;

    /** @var list<array{int, string, int}> pages to be kept with the next commit: number, media type, bytes */
    private array $pages = [];

    /** @var resource|null their bodies, one after the other */
    private $pageFile = null;

    private string $pagePath = '';

    /** The file of pages that are being kept. */
    private string $keeping = '';

    /** Whether the pages are kept; not any more once they are too many. */
    private bool $keepsPages = false;

    private int $pageBytes = 0;

    private int $mostPageBytes = 0;

    /** Whether the tables were put in place by an earlier process already. */
    public bool $isSwapped = false;

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
        return LockName::of('staging', $schema, $owner);
    }

    /**
     * Goes on with what an earlier process of the same run left, or begins anew.
     *
     * @param  int  $run  whose rows these are; 0 when they are nobody's to go on with
     * @param  int  $attempt  counts up with each process that works for the run
     * @return array<string, mixed>|null how far the earlier process got, as it was committed
     *
     * @throws KeepFailed when another one is at work on the same tables
     */
    public function begin(int $run = 0, int $attempt = 1): ?array
    {
        $this->lock();
        $this->open = true;
        $this->attempt = $attempt;
        array_map(unlink(...), (array) glob("{$this->folder}/{$this->schema}-{$this->owner}-*.tsv"));
        $this->committed = hrtime(true) / 1e9;
        $left = $run === 0 ? null : $this->adopt($run);
        if ($left === null) {
            $this->clearLeftovers();
            foreach ($this->shapes as $number => $shape) {
                $this->keeper->statement($shape->create($this->staged($number)));
                $this->rowsOf[$number] = 0;
                $this->givenTo[$number] = 0;
            }
            if ($this->keepsPages) {
                $this->keeper->statement(KeptPages::create($this->raw()));
            }
            $this->keeper->statement("CREATE TABLE {$this->progress()} (run BIGINT NOT NULL, attempt INT NOT NULL, finished TINYINT NOT NULL, position LONGTEXT NOT NULL)");
            $this->keeper->insert("INSERT INTO {$this->progress()} VALUES (?, ?, 0, '')", [$run, $attempt]);
        }
        $this->loader = new Loader((array) $this->keeper->getConfig());
        foreach (array_keys($this->shapes) as $number) {
            $this->files[$number] = $this->newFile($number);
        }

        return $left;
    }

    /**
     * Has the answers kept beside the rows, to be called before it begins.
     *
     * @param  int  $most  bytes of them, before they are deflated, after which none is kept
     */
    public function keepPages(int $most): void
    {
        $this->keepsPages = $most > 0;
        $this->mostPageBytes = $most;
    }

    public function addPage(int $number, string $type, string $body): void
    {
        if (! $this->keepsPages) {
            return;
        }
        $this->pageBytes += strlen($body);
        if ($this->pageBytes > $this->mostPageBytes) {
            $this->dropPages();

            return;
        }
        if ($this->pageFile === null) {
            $this->pagePath = "{$this->folder}/{$this->schema}-{$this->owner}-{$this->mark}-pages-".++$this->fileCount.'.tsv';
            $opened = @fopen($this->pagePath, 'w');
            $this->pageFile = $opened === false ? null : $opened;
        }
        if ($this->pageFile === null || @fwrite($this->pageFile, $body) !== strlen($body)) {
            throw KeepFailed::because('Pages cannot be written to the disk of this server: is it full?');
        }
        $this->pages[] = [$number, substr($type, 0, 200), strlen($body)];
    }

    /**
     * A part of the pages would be no use, so none is kept.
     */
    public function dropPages(): void
    {
        if (! $this->keepsPages) {
            return;
        }
        $this->settle();
        $this->keepsPages = false;
        $this->clearPages();
        $this->keeper->statement("DROP TABLE IF EXISTS {$this->raw()}");
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
     * Whether enough rows, or enough seconds, have come together for a commit.
     */
    public function isDue(): bool
    {
        foreach ($this->files as $file) {
            if ($file->bytes >= RowFile::FULL) {
                return true;
            }
        }

        return hrtime(true) / 1e9 - $this->committed > self::SECONDS;
    }

    /**
     * Begins to load all rows so far, together with how far the reading got: both are there after
     * it, or neither.
     *
     * @param  array<string, mixed>|null  $position  null in the middle of a page, where nobody can go on
     *
     * @throws KeepFailed
     * @throws ConnectionLost
     * @throws Overtaken
     */
    public function commit(?array $position, bool $finished = false): void
    {
        $this->settle();
        $this->committed = hrtime(true) / 1e9;
        $loads = [];
        foreach ($this->files as $number => $file) {
            $file->close();
            if ($file->rows === 0) {
                continue;
            }
            $columns = implode(', ', array_map(static fn (KeptColumn $column): string => Sql::name($column->name), $this->shapes[$number]->columns));
            $loads[$number] = 'LOAD DATA LOCAL INFILE '.$this->keeper->getPdo()->quote($file->path).' INTO TABLE '.$this->staged($number)." CHARACTER SET utf8mb4 ($columns)";
            $this->loading[$number] = $file;
            $this->givenTo[$number] += $file->rows;
            $this->files[$number] = $this->newFile($number);
        }
        // The time makes it another row each time, so that the row counts as changed.
        $position = $position === null ? 'none '.microtime(true) : json_encode(['given' => $this->givenTo, 'at' => microtime(true)] + $position, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE);
        $pages = null;
        if ($this->pageFile !== null) {
            fclose($this->pageFile);
            $this->pageFile = null;
            $this->keeping = $this->pagePath;
            $pages = ['table' => $this->raw(), 'file' => $this->pagePath, 'pages' => $this->pages, 'part' => KeptPages::PART];
            $this->pages = [];
        }
        $this->loader?->begin($loads, ["UPDATE {$this->progress()} SET position = ?, finished = ? WHERE attempt = ?", [$position, (int) $finished, $this->attempt]], $pages);
        $this->isLoading = true;
    }

    /**
     * Loads what is left, so that the counts are final.
     *
     * @param  array<string, mixed>  $position
     *
     * @throws KeepFailed
     * @throws ConnectionLost
     * @throws Overtaken
     */
    public function finish(array $position = []): void
    {
        $this->commit($position, true);
        $this->settle();
        // So that the first query after the swap is planned by what is in them, and not by a guess.
        $this->keeper->select('ANALYZE TABLE '.implode(', ', array_map($this->staged(...), array_keys($this->shapes))), [], false);
    }

    /**
     * Takes over the rows that are kept and were not loaded anew, without those that are gone.
     *
     * @param  list<array<string, string>>  $gone  keys by the names of their properties
     * @param  array<string, string>  $properties  columns of the key → those names
     * @return int rows that were taken over
     */
    public function carryOver(array $gone, array $properties): int
    {
        $kept = Sql::table($this->schema, $this->shapes[0]->name);
        $columns = implode(', ', array_map(static fn (KeptColumn $column): string => Sql::name($column->name), $this->shapes[0]->columns));
        // What has come anew is there already under its key.
        $stayed = $this->keeper->affectingStatement("INSERT IGNORE INTO {$this->staged(0)} ($columns) SELECT $columns FROM $kept");
        $names = implode(', ', array_map(Sql::name(...), array_map(strval(...), array_keys($properties))));
        foreach (array_chunk($gone, 500) as $some) {
            $values = array_merge(...array_map(static fn (array $key): array => array_map(static fn (string $property): string => $key[$property], array_values($properties)), $some));
            $one = '('.implode(', ', array_fill(0, count($properties), '?')).')';
            $stayed -= $this->keeper->delete("DELETE FROM {$this->staged(0)} WHERE ($names) IN (".implode(', ', array_fill(0, count($some), $one)).')', $values);
        }
        $this->rowsOf[0] = (int) ($this->keeper->selectOne("SELECT COUNT(*) AS n FROM {$this->staged(0)}", [], false)->n ?? 0);
        $this->rows = $this->rowsOf[0];

        return $stayed;
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
        if ($this->keepsPages && $this->exists("stage__{$this->owner}__{$this->mark}_r")) {
            $table = Sql::table($this->schema, KeptPages::tableName($this->owner));
            $this->keeper->statement("ALTER TABLE {$this->raw()} COMMENT = 'whole'");
            if ($this->exists(KeptPages::tableName($this->owner))) {
                $old[] = $aside = Sql::table($this->schema, "stage__{$this->owner}__old_{$this->mark}_r");
                $moves[] = "$table TO $aside";
            }
            $moves[] = "{$this->raw()} TO $table";
        }
        $this->keeper->statement('RENAME TABLE '.implode(', ', $moves));
        foreach ($old as $table) {
            $this->keeper->statement("DROP TABLE $table");
        }
    }

    /**
     * Lets others begin.
     *
     * @param  bool  $keep  whether what was not swapped in stays, to be gone on with
     */
    public function end(bool $keep = false): void
    {
        if (! $this->open) {
            return;
        }
        $this->open = false;
        $this->loader?->close();
        $this->loader = null;
        foreach ([...$this->loading, ...$this->files] as $file) {
            $file->clear();
        }
        $this->clearPages();
        if (! $keep) {
            $this->clearLeftovers();
        }
        $this->keeper->selectOne('select release_lock(?)', [self::lockName($this->schema, $this->owner)], false);
    }

    /**
     * Drops what a run left that nobody goes on with.
     */
    public static function forget(Connection $keeper, string $schema, string $owner): void
    {
        foreach (self::tables($keeper, $schema, "stage__{$owner}__%") as $table) {
            $keeper->statement('DROP TABLE IF EXISTS '.Sql::table($schema, $table));
        }
    }

    /**
     * Waits for the transaction under way and counts its rows.
     *
     * @throws KeepFailed
     * @throws ConnectionLost
     * @throws Overtaken
     */
    public function settle(): void
    {
        if (! $this->isLoading || $this->loader === null) {
            return;
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
            if ($this->keeping !== '' && is_file($this->keeping)) {
                unlink($this->keeping);
            }
            $this->keeping = '';
        }
        foreach ($loaded as $number => $rows) {
            $this->duplicates += $given[$number] - $rows;
            $this->rowsOf[$number] += $rows;
            $this->rows += $rows;
        }
    }

    private function lock(): void
    {
        $name = self::lockName($this->schema, $this->owner);
        $locked = $this->keeper->selectOne('select get_lock(?, 0) as got', [$name], false);
        if ((int) ($locked->got ?? 0) !== 1) {
            throw KeepFailed::because('These tables are being refreshed already.');
        }
    }

    /**
     * @return array<string, mixed>|null
     */
    private function adopt(int $run): ?array
    {
        foreach ($this->tablesLike("stage__{$this->owner}__%\\_p") as $table) {
            $this->mark = substr($table, strlen("stage__{$this->owner}__"), 8);
            $row = $this->keeper->selectOne("SELECT * FROM {$this->progress()}", [], false);
            if ($row === null || (int) $row->run !== $run || ! str_starts_with((string) $row->position, '{')) {
                continue;
            }
            $left = (array) json_decode((string) $row->position, true);
            $there = array_filter(array_keys($this->shapes), fn (int $number): bool => $this->exists($this->stagedName($number)));
            $this->isSwapped = (bool) $row->finished && $there === [];
            if (count($there) !== count($this->shapes) && ! $this->isSwapped) {
                continue;
            }
            $this->keeper->update("UPDATE {$this->progress()} SET attempt = ?", [$this->attempt]);
            $this->keepsPages = $this->keepsPages && $this->exists("stage__{$this->owner}__{$this->mark}_r");
            foreach ($this->shapes as $number => $shape) {
                $counted = $this->keeper->selectOne('SELECT COUNT(*) AS n FROM '.($this->isSwapped ? Sql::table($this->schema, $shape->name) : $this->staged($number)), [], false);
                $this->rowsOf[$number] = (int) ($counted->n ?? 0);
                $this->givenTo[$number] = (int) $left['given'][$number];
            }
            $this->rows = array_sum($this->rowsOf);
            $this->duplicates = array_sum($this->givenTo) - $this->rows;

            return ['finished' => (bool) $row->finished] + $left;
        }
        $this->mark = bin2hex(random_bytes(4));

        return null;
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

    private function clearPages(): void
    {
        if ($this->pageFile !== null) {
            fclose($this->pageFile);
            $this->pageFile = null;
        }
        array_map(unlink(...), array_filter([$this->pagePath, $this->keeping], is_file(...)));
        [$this->pages, $this->keeping, $this->pagePath] = [[], '', ''];
    }

    private function clearLeftovers(): void
    {
        self::forget($this->keeper, $this->schema, $this->owner);
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
        return self::tables($this->keeper, $this->schema, $pattern);
    }

    /**
     * @return list<string>
     */
    private static function tables(Connection $keeper, string $schema, string $pattern): array
    {
        $found = $keeper->select('select table_name as name from information_schema.tables where table_schema = ? and table_name like ?', [$schema, preg_replace('/(?<!\\\\)_/', '\\_', $pattern)], false);

        return array_map(static fn (object $row): string => (string) $row->name, $found);
    }

    /**
     * What a table is called until it is put in place.
     */
    public function stagedName(int $number): string
    {
        return "stage__{$this->owner}__{$this->mark}_$number";
    }

    private function staged(int $number): string
    {
        return Sql::table($this->schema, $this->stagedName($number));
    }

    private function raw(): string
    {
        return Sql::table($this->schema, "stage__{$this->owner}__{$this->mark}_r");
    }

    private function progress(): string
    {
        return Sql::table($this->schema, "stage__{$this->owner}__{$this->mark}_p");
    }
}
