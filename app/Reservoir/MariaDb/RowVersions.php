<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\KeepFailed;
use App\Reservoir\MergeCounts;
use App\Reservoir\MergedRows;
use DeepSpring\History\HistorySettings;
use Illuminate\Database\Connection;
use Illuminate\Support\Carbon;

/**
 * The versions of the rows of one table: its columns, and from when until when they were true.
 */
final readonly class RowVersions
{
    private const FROM = HistorySettings::FROM;

    private const TO = HistorySettings::TO;

    /**
     * @param  list<string>  $key
     * @param  list<string>  $columns
     */
    public function __construct(private Connection $keeper, private string $schema, private string $table, private string $versions, private array $key, private array $columns)
    {
    }

    /**
     * @throws KeepFailed
     */
    public function record(Carbon $at, ?MergedRows $merged = null): MergeCounts
    {
        $this->fit();
        $moment = $at->format('Y-m-d H:i:s.u');
        $table = Sql::table($this->schema, $this->table);
        $versions = Sql::table($this->schema, $this->versions);
        $on = implode(' AND ', array_map(static fn (string $name): string => 'n.'.Sql::name($name).' = v.'.Sql::name($name), $this->key));
        $first = Sql::name($this->key[0]);
        $rest = array_diff($this->columns, $this->key);
        $same = $rest === [] ? 'TRUE' : implode(' AND ', array_map(static fn (string $name): string => 'n.'.Sql::name($name).' <=> v.'.Sql::name($name), $rest));
        $names = implode(', ', array_map(Sql::name(...), $this->columns));
        $of = fn (string $rows): string => $merged === null ? '' : ' JOIN '.Sql::table($this->schema, $merged->stage).' s ON '.implode(' AND ', array_map(static fn (string $column, string $staged): string => "$rows.".Sql::name($column).' = s.'.Sql::name($staged), array_keys($merged->on), $merged->on));
        // Records that went stand in no stage, so all are looked at for them.
        $ofGone = $merged === null || $merged->hasGone ? '' : $of('v');

        return $this->keeper->transaction(function () use ($table, $versions, $on, $first, $same, $names, $moment, $of, $ofGone): MergeCounts {
            $gone = $this->keeper->affectingStatement("UPDATE $versions v$ofGone LEFT JOIN $table n ON $on SET v.".self::TO.' = ? WHERE v.'.self::TO." IS NULL AND n.$first IS NULL", [$moment]);
            $changed = $this->keeper->affectingStatement("UPDATE $versions v{$of('v')} JOIN $table n ON $on SET v.".self::TO.' = ? WHERE v.'.self::TO." IS NULL AND NOT ($same)", [$moment]);
            $begun = $this->keeper->affectingStatement("INSERT INTO $versions ($names, ".self::FROM.') SELECT '.implode(', ', array_map(static fn (string $name): string => 'n.'.Sql::name($name), $this->columns)).", ? FROM $table n{$of('n')} LEFT JOIN $versions v ON $on AND v.".self::TO." IS NULL WHERE v.$first IS NULL", [$moment]);

            return new MergeCounts($begun - $changed, $changed, $gone);
        });
    }

    /**
     * Makes the table of versions, or has it hold what the columns hold now.
     *
     * @throws KeepFailed
     */
    private function fit(): void
    {
        $types = self::types($this->keeper, $this->schema, $this->table);
        $there = self::types($this->keeper, $this->schema, $this->versions);
        $versions = Sql::table($this->schema, $this->versions);
        if ($there === []) {
            $lines = array_map(static fn (string $name): string => Sql::name($name)." {$types[$name]} NULL", $this->columns);
            $this->keeper->statement("CREATE TABLE $versions (".implode(', ', $lines).', '.self::FROM.' DATETIME(6) NOT NULL, '.self::TO.' DATETIME(6) NULL, '.Sql::name(TableDefinition::ROW).' BIGINT UNSIGNED NOT NULL AUTO_INCREMENT INVISIBLE PRIMARY KEY, KEY `by_key` ('.implode(', ', array_map(Sql::name(...), $this->key)).'), KEY `by_end` ('.self::TO.')) ENGINE=InnoDB ROW_FORMAT=DYNAMIC DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_nopad_bin');

            return;
        }
        $changes = [];
        foreach ($this->columns as $name) {
            $wide = isset($there[$name]) ? VersionColumns::wider($there[$name], $types[$name]) : $types[$name];
            if ($wide === null) {
                throw KeepFailed::because("$name was {$there[$name]} and is {$types[$name]} now.");
            }
            if (! isset($there[$name]) || $wide !== $there[$name]) {
                $changes[] = (isset($there[$name]) ? 'MODIFY ' : 'ADD ').Sql::name($name)." $wide NULL";
            }
        }
        $changes === [] || $this->keeper->statement("ALTER TABLE $versions ".implode(', ', $changes));
    }

    /**
     * @return array<string, string> column → its type
     */
    private static function types(Connection $keeper, string $schema, string $table): array
    {
        $types = [];
        foreach ($keeper->select('select column_name as name, column_type as type from information_schema.columns where table_schema = ? and table_name = ? order by ordinal_position', [$schema, $table], false) as $column) {
            $types[(string) $column->name] = (string) $column->type;
        }

        return $types;
    }
}
