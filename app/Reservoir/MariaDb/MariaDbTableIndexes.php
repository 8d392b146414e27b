<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Reservoir\IndexCost;
use App\Reservoir\IndexMustWait;
use App\Reservoir\IndexThere;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableIndexes;
use DeepSpring\Indexing\ColumnFacts;
use DeepSpring\Indexing\TableFacts;
use Illuminate\Database\Connection;
use Illuminate\Database\ConnectionResolverInterface;
use Illuminate\Database\QueryException;

/**
 * Indexes of InnoDB, built in place: statements read on, and it is there for all of them at one moment.
 */
final readonly class MariaDbTableIndexes implements TableIndexes
{
    /** Seconds that statements which hold the table are waited for. */
    private const WAIT = 3;

    /** Seconds that another measurement of the same table is waited for. */
    private const MEASURING = 10;

    private const TIMED_OUT = 1205;

    private const TOO_LONG = 1969;

    /** Rows that are looked at for what is known of a table. */
    private const LOOK = 20_000;

    /** Rows that these are taken from. */
    private const AMONG = 2_000_000;

    /** Rows that building is measured with. */
    private const MEASURE = 50_000;

    public function __construct(private ConnectionResolverInterface $connections)
    {
    }

    public function there(Environment $environment, string $table): array
    {
        $keeper = $this->keeper();
        $sizes = $this->sizes($keeper, $environment->schema(), $table);
        $columns = [];
        foreach ($keeper->select('select index_name as name, column_name as `column` from information_schema.statistics where table_schema = ? and table_name = ? order by index_name, seq_in_index', [$environment->schema(), $table], false) as $part) {
            if (IndexName::isOne((string) $part->name)) {
                $columns[(string) $part->name][] = (string) $part->column;
            }
        }

        return array_map(static fn (array $of, string $name): IndexThere => new IndexThere($of, $sizes[$name] ?? null), $columns, array_keys($columns));
    }

    public function add(KeptTable $table, array $columns): void
    {
        $schema = $table->environment->schema();
        $this->change($table, 'ADD '.str_replace('INDEX ', 'INDEX IF NOT EXISTS ', IndexDefinition::for($this->keeper(), $schema, $table->name)->sql($columns)));
    }

    public function drop(KeptTable $table, array $columns): void
    {
        $this->change($table, 'DROP INDEX IF EXISTS '.Sql::name(IndexName::of($columns)));
    }

    /**
     * Not while a refresh makes new tables, which would come without it.
     */
    private function change(KeptTable $table, string $change): void
    {
        $keeper = $this->keeper();
        $lock = MariaDbStagedTables::lock($keeper, $table->environment->schema(), "e{$table->endpoint_id}");
        if (! $lock->takeFree()) {
            throw new IndexMustWait('The table is being refreshed.');
        }
        try {
            $keeper->statement('set statement lock_wait_timeout = '.self::WAIT.' for ALTER TABLE '.Sql::table($table->environment->schema(), $table->name)." $change, ALGORITHM=INPLACE, LOCK=NONE");
        } catch (QueryException $refused) {
            throw (int) ($refused->errorInfo[1] ?? 0) === self::TIMED_OUT
                ? new IndexMustWait('Statements are reading the table.', 0, $refused)
                : KeepFailed::because('The database did not build the index: '.mb_strimwidth((string) ($refused->errorInfo[2] ?? $refused->getMessage()), 0, 300, '…', 'UTF-8').'.', $refused);
        } finally {
            $lock->release();
        }
    }

    public function facts(KeptTable $table, array $columns): TableFacts
    {
        $schema = $table->environment->schema();
        $definition = IndexDefinition::for($this->keeper(), $schema, $table->name);
        $columns = array_values(array_filter(array_unique($columns), $definition->has(...)));
        $looked = 0;
        $facts = [];
        if ($columns !== []) {
            $row = $this->looked($table, $columns);
            $looked = (int) $row['looked'];
            foreach ($columns as $place => $column) {
                $facts[$column] = new ColumnFacts((float) $row["b$place"], (int) $row["d$place"], $definition->isWhole($column), $definition->canBeIndexed($column));
            }
        }

        return new TableFacts($table->name, $table->rows, $looked, $table->key, array_map(static fn (IndexThere $one): array => $one->columns, $this->there($table->environment, $table->name)), $facts);
    }

    /**
     * @param  list<string>  $columns
     * @return array<string, mixed>
     */
    private function looked(KeptTable $table, array $columns): array
    {
        $asked = implode(', ', array_map(static fn (int $place, string $column): string => "avg(length(c$place)) as b$place, count(distinct c$place) as d$place", array_keys($columns), $columns));
        $taken = implode(', ', array_map(static fn (int $place, string $column): string => 'left('.Sql::name($column).', '.IndexDefinition::BEGINNING.") as c$place", array_keys($columns), $columns));
        $part = min(1, self::LOOK / max(1, min($table->rows, self::AMONG)));
        $from = Sql::table($table->environment->schema(), $table->name);
        $sql = static fn (string $where): string => "select count(*) as looked, $asked from (select $taken from $from $where limit ".self::LOOK.') as some';
        try {
            $row = $this->keeper()->selectOne('set statement max_statement_time = '.self::WAIT.' for '.$sql($part < 1 ? "where rand() < $part" : ''), [], false);
        } catch (QueryException $refused) {
            if ((int) ($refused->errorInfo[1] ?? 0) !== self::TOO_LONG) {
                throw $refused;
            }
            $row = $this->keeper()->selectOne($sql(''), [], false);
        }

        return (array) $row;
    }

    public function cost(KeptTable $table, array $columns): IndexCost
    {
        $keeper = $this->keeper();
        $schema = $table->environment->schema();
        $names = new StageNames($schema, self::OWNER.$table->id);
        $key = $table->key === [] ? [TableDefinition::ROW] : $table->key;
        $copy = $names->table(0);
        $lock = MariaDbStagedTables::lock($keeper, $schema, $names->owner);
        $lock->take(self::MEASURING);
        try {
            $keeper->statement("CREATE TABLE $copy (PRIMARY KEY (".implode(', ', array_map(Sql::name(...), $key)).')) ENGINE=InnoDB SELECT '.implode(', ', array_map(Sql::name(...), array_unique([...$key, ...$columns]))).' FROM '.Sql::table($schema, $table->name).' LIMIT '.self::MEASURE);
            $measured = (int) ($keeper->selectOne("SELECT COUNT(*) AS n FROM $copy", [], false)->n ?? 0);
            $begun = hrtime(true);
            $keeper->statement("ALTER TABLE $copy ADD ".IndexDefinition::for($keeper, $schema, $names->bare(0))->sql($columns).', ALGORITHM=INPLACE');
            $milliseconds = (hrtime(true) - $begun) / 1e6;
            $bytes = $this->sizes($keeper, $schema, $names->bare(0))[IndexName::of($columns)] ?? 0;
        } finally {
            $keeper->statement("DROP TABLE IF EXISTS $copy");
            $lock->release();
        }
        $times = max(1, $table->rows / max(1, $measured));

        return new IndexCost($measured, (int) round($bytes * $times), (int) round($milliseconds * $times));
    }

    /**
     * @return array<string, int> bytes by the name of the index
     */
    private function sizes(Connection $keeper, string $schema, string $table): array
    {
        $found = $keeper->select("select index_name as name, stat_value * @@innodb_page_size as bytes from mysql.innodb_index_stats where database_name = ? and table_name = ? and stat_name = 'size'", [$schema, $table], false);

        return array_map(intval(...), array_column(array_map(static fn (object $row): array => (array) $row, $found), 'bytes', 'name'));
    }

    private function keeper(): Connection
    {
        $connection = $this->connections->connection(MariaDbTableStore::CONNECTION);

        return $connection instanceof Connection ? $connection : throw new \LogicException('Indexes need a connection to MariaDB.');
    }
}
