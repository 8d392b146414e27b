<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\BuiltIndex;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableShape;
use Illuminate\Database\Connection;
use Illuminate\Database\LostConnectionDetector;
use Illuminate\Database\QueryException;

/**
 * Indexes over staged tables, built when all rows are there, which is quicker than row by row, and
 * histograms of columns that are compared (MariaDB, Engine-Independent Table Statistics).
 */
final readonly class StagedIndexes
{
    public function __construct(private Connection $keeper, private StageNames $names)
    {
    }

    /**
     * @param  list<TableShape>  $shapes
     * @param  array<string, list<list<string>>>  $wanted  columns of each index, by the name of the table
     * @return list<BuiltIndex>
     */
    public function build(array $shapes, array $wanted): array
    {
        $built = [];
        foreach ($shapes as $number => $shape) {
            foreach ($wanted[$shape->name] ?? [] as $columns) {
                $built[] = $this->one($shape->name, $number, $columns);
            }
        }

        return $built;
    }

    /**
     * Of large tables some of the rows are looked at. RENAME TABLE takes what was seen along.
     *
     * @param  list<TableShape>  $shapes
     * @param  array<string, list<string>>  $columns  by the name of the table
     */
    public function survey(array $shapes, array $columns): void
    {
        foreach ($shapes as $number => $shape) {
            $definition = IndexDefinition::for($this->keeper, $this->names->schema, $this->names->bare($number));
            $there = array_filter($columns[$shape->name] ?? [], static fn (string $column): bool => $definition->has($column) && $definition->canBeIndexed($column));
            if ($there !== []) {
                $this->keeper->select('set statement analyze_sample_percentage = 0, histogram_type = "JSON_HB" for ANALYZE TABLE '.$this->names->table($number).' PERSISTENT FOR COLUMNS ('.implode(', ', array_map(Sql::name(...), $there)).') INDEXES ()', [], false);
            }
        }
    }

    /**
     * @param  list<string>  $columns
     */
    private function one(string $table, int $number, array $columns): BuiltIndex
    {
        $begun = hrtime(true);
        try {
            $sql = IndexDefinition::for($this->keeper, $this->names->schema, $this->names->bare($number))->sql($columns);
            // A process that died may have built it already.
            $this->keeper->statement("ALTER TABLE {$this->names->table($number)} ADD ".str_replace('INDEX ', 'INDEX IF NOT EXISTS ', $sql));
        } catch (KeepFailed $failed) {
            return new BuiltIndex($table, $columns, 0, $failed->getMessage());
        } catch (QueryException $refused) {
            if ((new LostConnectionDetector)->causedByLostConnection($refused)) {
                throw $refused;
            }

            return new BuiltIndex($table, $columns, 0, 'The database did not build the index: '.mb_strimwidth((string) ($refused->errorInfo[2] ?? $refused->getMessage()), 0, 300, '…', 'UTF-8').'.');
        }

        return new BuiltIndex($table, $columns, (int) round((hrtime(true) - $begun) / 1e6));
    }
}
