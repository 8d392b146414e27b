<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Models\KeptColumn;
use App\Reservoir\CheckedRows;
use App\Reservoir\KeepFailed;
use App\Reservoir\LentTable;
use App\Reservoir\MergeRule;
use App\Reservoir\StagedCounts;
use App\Reservoir\StagedMerge;
use App\Reservoir\StagedTables;
use App\Reservoir\TableShape;
use App\Secrets\NamedLock;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Flatten\TablePlan;
use Illuminate\Database\Connection;

/**
 * Tables under names of their own until RENAME TABLE puts all of them in place in one statement. The
 * lock goes with the database connection, so it ends with the process whatever kills that.
 *
 * In one piece, since all of it works on the same lock, names and counts.
 */
final class MariaDbStagedTables implements StagedTables
{
    /** @var list<TableShape> */
    private readonly array $shapes;

    private readonly StageNames $names;

    private readonly SchemaTables $tables;

    private readonly NamedLock $lock;

    private StagedCounts $counts;

    private ?RowLoading $loading = null;

    /** Null when no page is kept; not any more once they are too many. */
    private ?PageFile $pages = null;

    /** @var array<string, string> tables that stay under another name */
    private array $leftOld = [];

    /** Whether columns are as wide as those that are kept, from the beginning. */
    private bool $expectsChanges = false;

    private bool $isOpen = false;

    private bool $isInPlace = false;

    private int $fileCount = 0;

    private int $attempt = 0;

    public function __construct(private readonly Connection $keeper, private readonly string $schema, private readonly string $owner, Plan $plan, private readonly string $folder)
    {
        $this->names = new StageNames($schema, $owner);
        $this->tables = new SchemaTables($keeper, $schema);
        $this->lock = self::lock($keeper, $schema, $owner);
        $this->counts = new StagedCounts;
        $this->shapes = array_map(static fn (TablePlan $table): TableShape => new TableShape($table), $plan->tables());
    }

    public static function lock(Connection $keeper, string $schema, string $owner): NamedLock
    {
        return NamedLock::of($keeper, 'staging', $schema, $owner);
    }

    public function begin(int $run = 0, int $attempt = 1): ?array
    {
        if (! $this->lock->take()) {
            throw KeepFailed::because('These tables are being refreshed already.');
        }
        $this->isOpen = true;
        $this->attempt = $attempt;
        foreach ((array) glob("{$this->folder}/{$this->schema}-{$this->owner}-*.tsv") as $file) {
            @unlink((string) $file);
        }
        $left = $run === 0 ? null : $this->adopt($run);
        $widths = [];
        if ($left === null) {
            $widths = $this->create($run);
        } elseif (! $this->isInPlace) {
            $widths = array_map(fn (TableShape $shape, int $number): ColumnWidths => $this->tables->widths($shape, $this->names->bare($number)), $this->shapes, array_keys($this->shapes));
        }
        $this->loading = new RowLoading($this->keeper, $this->names, $this->shapes, $this->counts, $this->newPath(...), $widths);

        return $left;
    }

    /**
     * @return array<int, ColumnWidths> of the columns of tables of which something is known, by their number
     */
    private function create(int $run): array
    {
        $this->tables->drop(StageNames::of($this->owner).'%');
        [$this->counts->rows, $this->counts->duplicates, $this->counts->duplicatesOf] = [0, 0, []];
        $widths = [];
        foreach ($this->shapes as $number => $shape) {
            $widths[$number] = $this->expectsChanges ? $this->tables->widths($shape, $shape->name) : null;
            $this->keeper->statement(TableDefinition::create($shape, $this->names->table($number), $widths[$number]));
            $this->counts->rowsOf[$number] = 0;
            $this->counts->givenTo[$number] = 0;
        }
        if ($this->pages !== null) {
            $this->keeper->statement(MariaDbKeptPages::create($this->names->pages()));
        }
        $this->keeper->statement("CREATE TABLE {$this->names->progress()} (run BIGINT NOT NULL, attempt INT NOT NULL, finished TINYINT NOT NULL, position LONGTEXT NOT NULL)");
        $this->keeper->insert("INSERT INTO {$this->names->progress()} VALUES (?, ?, 0, '')", [$run, $this->attempt]);

        return array_filter($widths);
    }

    /**
     * @return array<string, mixed>|null
     */
    private function adopt(int $run): ?array
    {
        $before = StageNames::of($this->owner);
        foreach ($this->tables->like("$before%\\_p") as $table) {
            $this->names->mark = substr($table, strlen($before), 8);
            $row = $this->keeper->selectOne("SELECT * FROM {$this->names->progress()}", [], false);
            if ($row === null || (int) $row->run !== $run || ! str_starts_with((string) $row->position, '{')) {
                continue;
            }
            $there = array_filter(array_keys($this->shapes), fn (int $number): bool => $this->tables->has($this->names->bare($number)));
            $this->isInPlace = (bool) $row->finished && $there === [];
            if (count($there) !== count($this->shapes) && ! $this->isInPlace) {
                continue;
            }
            $left = (array) json_decode((string) $row->position, true);
            $this->keeper->update("UPDATE {$this->names->progress()} SET attempt = ?", [$this->attempt]);
            $this->pages = $this->tables->has($this->names->bare('r')) ? $this->pages : null;
            $this->recount($left['given']);

            return ['finished' => (bool) $row->finished] + $left;
        }
        $this->names->renew();

        return null;
    }

    /**
     * @param  array<int, int>  $given
     */
    private function recount(array $given): void
    {
        foreach ($this->shapes as $number => $shape) {
            $table = $this->isInPlace ? Sql::table($this->schema, $shape->name) : $this->names->table($number);
            $this->counts->rowsOf[$number] = $this->rowsIn($table);
            $this->counts->givenTo[$number] = (int) $given[$number];
            $this->counts->duplicatesOf[$number] = $this->counts->givenTo[$number] - $this->counts->rowsOf[$number];
        }
        $this->counts->rows = array_sum($this->counts->rowsOf);
        $this->counts->duplicates = array_sum($this->counts->givenTo) - $this->counts->rows;
    }

    private function rowsIn(string $table): int
    {
        return (int) ($this->keeper->selectOne("SELECT COUNT(*) AS n FROM $table", [], false)->n ?? 0);
    }

    public function keepPages(int $most): void
    {
        $this->pages = $most > 0 ? new PageFile($most, fn (): string => $this->newPath('pages')) : null;
    }

    public function expectChanges(): void
    {
        $this->expectsChanges = true;
    }

    public function addPage(int $number, string $type, string $body): void
    {
        if ($this->pages?->add($number, $type, $body) === false) {
            $this->dropPages();
        }
    }

    public function dropPages(): void
    {
        if ($this->pages === null) {
            return;
        }
        $this->awaitLoading();
        $this->pages->clear();
        $this->pages = null;
        $this->keeper->statement("DROP TABLE IF EXISTS {$this->names->pages()}");
    }

    public function add(RowBatch $batch): void
    {
        $this->loading?->add($batch);
    }

    public function isDue(bool $isWorth = false): bool
    {
        return $this->loading?->isDue($isWorth) === true;
    }

    public function commit(?array $position): void
    {
        $this->load($position, false);
    }

    /**
     * @param  array<string, mixed>|null  $position
     */
    private function load(?array $position, bool $finished): void
    {
        $this->awaitLoading();
        $this->loading?->begin(fn (): array => [
            "UPDATE {$this->names->progress()} SET position = ?, finished = ? WHERE attempt = ?",
            [$this->written($position), (int) $finished, $this->attempt],
        ], $this->pages?->hand($this->names->pages()));
    }

    /**
     * The time makes it another row each time, so that the row counts as changed.
     *
     * @param  array<string, mixed>|null  $position
     */
    private function written(?array $position): string
    {
        return $position === null
            ? 'none '.microtime(true)
            : json_encode(['given' => $this->counts->givenTo, 'at' => microtime(true)] + $position, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE);
    }

    public function awaitLoading(): void
    {
        try {
            $this->loading?->await();
        } finally {
            $this->pages?->loaded();
        }
    }

    public function finish(array $position = []): void
    {
        $this->load($position, true);
        $this->awaitLoading();
        // So that the first query after they are in place is planned by what is in them, and not by a guess.
        $this->keeper->select('ANALYZE TABLE '.implode(', ', array_map($this->names->table(...), array_keys($this->shapes))), [], false);
    }

    public function carryOver(array $gone = [], array $properties = []): int
    {
        $main = $this->names->table(0);
        $columns = implode(', ', array_map(static fn (KeptColumn $column): string => Sql::name($column->name), $this->shapes[0]->columns));
        // What is there is as wide as it was, and IGNORE would cut it in silence.
        $this->loading?->widenLike($this->tables->widths($this->shapes[0], $this->shapes[0]->name));
        // What has come anew is there already under its key.
        $stayed = $this->keeper->affectingStatement("INSERT IGNORE INTO $main ($columns) SELECT $columns FROM ".Sql::table($this->schema, $this->shapes[0]->name));
        $names = implode(', ', array_map(Sql::name(...), array_map(strval(...), array_keys($properties))));
        foreach (array_chunk($gone, 500) as $some) {
            $values = array_merge(...array_map(static fn (array $key): array => array_map(static fn (string $property): string => $key[$property], array_values($properties)), $some));
            $one = '('.implode(', ', array_fill(0, count($properties), '?')).')';
            $stayed -= $this->keeper->delete("DELETE FROM $main WHERE ($names) IN (".implode(', ', array_fill(0, count($some), $one)).')', $values);
        }
        $this->counts->rowsOf[0] = $this->rowsIn($main);
        $this->counts->rows = $this->counts->rowsOf[0];

        return $stayed;
    }

    public function merge(MergeRule $rule): StagedMerge
    {
        $settle = function (bool $isInPlace): void {
            $this->isInPlace = $isInPlace;
            $this->loading === null || $isInPlace || $this->commit(null);
            $this->awaitLoading();
        };

        return new Merging($this->keeper, $this->tables, $this->names, $this->shapes, $this->counts, $rule, $this->attempt, $settle);
    }

    public function checked(Environment $environment): CheckedRows
    {
        return CheckedTables::staged($this->keeper, $environment, $this->shapes, $this->names->table(...), $this->counts, $this->countAgain(...));
    }

    private function countAgain(): void
    {
        foreach (array_keys($this->shapes) as $number) {
            $this->counts->rowsOf[$number] = $this->rowsIn($this->names->table($number));
        }
        $this->counts->rows = array_sum($this->counts->rowsOf);
    }

    public function index(array $wanted): array
    {
        return $this->isInPlace ? [] : (new StagedIndexes($this->keeper, $this->names))->build($this->shapes, $wanted);
    }

    public function survey(array $columns): void
    {
        $this->isInPlace || (new StagedIndexes($this->keeper, $this->names))->survey($this->shapes, $columns);
    }

    public function leaveOld(array $names): void
    {
        $this->leftOld = $names;
    }

    public function putInPlace(): void
    {
        $moves = [];
        $old = [];
        foreach ($this->shapes as $number => $shape) {
            $moves[$this->names->table($number)] = [$shape->name, $number];
        }
        if ($this->pages !== null && $this->tables->has($this->names->bare('r'))) {
            $this->keeper->statement("ALTER TABLE {$this->names->pages()} COMMENT = 'whole'");
            $moves[$this->names->pages()] = [MariaDbKeptPages::tableName($this->owner), 'r'];
        }
        $renames = [];
        foreach ($moves as $staged => [$name, $part]) {
            $table = Sql::table($this->schema, $name);
            if ($this->tables->has($name)) {
                $stays = $this->leftOld[$name] ?? null;
                $aside = $stays === null ? $this->names->aside($part) : Sql::table($this->schema, $stays);
                $old = $stays === null ? [...$old, $aside] : $old;
                $renames[] = "$table TO $aside";
            }
            $renames[] = "$staged TO $table";
        }
        $this->keeper->statement('RENAME TABLE '.implode(', ', $renames));
        foreach ($old as $table) {
            $this->keeper->statement("DROP TABLE $table");
        }
    }

    public function isInPlace(): bool
    {
        return $this->isInPlace;
    }

    public function end(bool $keep = false): void
    {
        if (! $this->isOpen) {
            return;
        }
        $this->isOpen = $this->expectsChanges = false;
        $this->loading?->close();
        $this->loading = null;
        $this->pages?->clear();
        if (! $keep) {
            $this->tables->drop(StageNames::of($this->owner).'%');
        }
        $this->lock->release();
    }

    public function shapes(): array
    {
        return $this->shapes;
    }

    public function counts(): StagedCounts
    {
        return $this->counts;
    }

    public function lent(): array
    {
        return array_map(fn (TableShape $shape, int $number): LentTable => new LentTable(
            $this->names->bare($number),
            Sql::name($shape->name)." AS (SELECT * FROM {$this->names->table($number)})",
        ), $this->shapes, array_keys($this->shapes));
    }

    private function newPath(int|string $for): string
    {
        return "{$this->folder}/{$this->schema}-{$this->owner}-{$this->names->mark}-$for-".++$this->fileCount.'.tsv';
    }
}
