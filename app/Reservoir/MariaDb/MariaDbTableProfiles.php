<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Reservoir\ColumnProfile;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableProfiles;
use Illuminate\Database\Connection;
use Illuminate\Database\ConnectionResolverInterface;
use Illuminate\Database\QueryException;

/**
 * One reading of the table for counts and ranges of all columns; histograms, different values and frequent ones
 * column by column, as long as that takes no longer than it may.
 */
final readonly class MariaDbTableProfiles implements TableProfiles
{
    private const BARS = 12;

    private const COMMON = 6;

    /** Characters of a value that are kept. */
    private const LONGEST = 80;

    /** Different values up to which the most frequent ones say something. */
    private const FEW = 5000;

    private const NO_TABLE = 1146;

    private const TOO_LONG = 1969;

    public function __construct(private ConnectionResolverInterface $connections)
    {
    }

    public function take(KeptTable $table, int $longest): array
    {
        $from = Sql::table($table->environment->schema(), $table->name);
        $columns = $table->keptColumns();
        $parts = [];
        foreach ($columns as $place => $column) {
            $name = Sql::name($column->name);
            $parts[] = "COALESCE(SUM($name IS NULL), 0) AS n$place";
            $parts[] = $column->type === 'json' ? "NULL AS a$place, NULL AS z$place" : "LEFT(MIN($name), ".self::LONGEST.") AS a$place, LEFT(MAX($name), ".self::LONGEST.") AS z$place";
            $parts[] = self::isText($column) ? "COALESCE(SUM($name = ''), 0) AS e$place, MIN(CHAR_LENGTH($name)) AS s$place, MAX(CHAR_LENGTH($name)) AS l$place" : "0 AS e$place, NULL AS s$place, NULL AS l$place";
        }
        $found = $this->select('SELECT COUNT(*) AS n'.($parts === [] ? '' : ', '.implode(', ', $parts))." FROM $from", $longest)[0] ?? throw KeepFailed::because('The database says nothing of the table.');
        $rows = (int) $found['n'];
        $profiles = [];
        foreach ($columns as $place => $column) {
            $bars = $this->bars($from, $column, $found["a$place"], $found["z$place"], $longest);
            $distinct = $this->distinct($from, $table, $column, $rows, (int) $found["n$place"], $longest);
            $isCommon = $bars === [] && $column->type !== 'json' && $distinct !== null && $distinct <= self::FEW && $distinct < max(1, $rows - (int) $found["n$place"]) || $distinct === 1 && $bars === [];
            $profiles[] = new ColumnProfile(
                $column->name, (int) $found["n$place"], (int) $found["e$place"], $distinct, $found["a$place"], $found["z$place"],
                $found["s$place"] === null ? null : [(int) $found["s$place"], (int) $found["l$place"]], $bars, $isCommon ? $this->common($from, $column, $longest) : [],
            );
        }

        return [$rows, $profiles];
    }

    /**
     * @return list<array{from: string, to: string, rows: int}>
     */
    private function bars(string $from, KeptColumn $column, ?string $least, ?string $most, int $longest): array
    {
        $position = self::position($column);
        if ($position === null || $least === null || $most === null) {
            return [];
        }
        $ends = $this->select('SELECT '.sprintf($position, Sql::text($least)).' AS a, '.sprintf($position, Sql::text($most)).' AS z', $longest)[0];
        $width = ((float) $ends['z'] - (float) $ends['a']) / self::BARS;
        if ($width <= 0 || ! is_finite($width)) {
            return [];
        }
        $name = Sql::name($column->name);
        try {
            $counts = array_column($this->select(sprintf('SELECT LEAST(%d, FLOOR((%s - %s) / %.17E)) AS b, COUNT(*) AS n FROM %s WHERE %s IS NOT NULL GROUP BY b', self::BARS - 1, sprintf($position, $name), $ends['a'], $width, $from, $name), $longest), 'n', 'b');
        } catch (KeepFailed) {
            return [];
        }

        return array_map(static fn (int $number): array => ['from' => self::edge($column, $least, $width * $number), 'to' => self::edge($column, $least, $width * ($number + 1)), 'rows' => (int) ($counts[$number] ?? 0)], range(0, self::BARS - 1));
    }

    /**
     * Where a value stands, as a number; null for what has no distances.
     */
    private static function position(KeptColumn $column): ?string
    {
        return match ($column->type) {
            'integer', 'decimal', 'float' => 'CAST(%s AS DOUBLE)',
            'date' => 'TO_DAYS(%s)',
            'datetime' => "TIMESTAMPDIFF(SECOND, '1000-01-01', %s)",
            'time' => 'TIME_TO_SEC(%s)',
            default => null,
        };
    }

    /**
     * The value at a distance from the least, roughly.
     */
    private static function edge(KeptColumn $column, string $least, float $distance): string
    {
        return match ($column->type) {
            'date' => (new \DateTimeImmutable($least))->modify('+'.(int) $distance.' days')->format('Y-m-d'),
            'datetime' => (new \DateTimeImmutable($least))->modify('+'.(int) $distance.' seconds')->format('Y-m-d H:i:s'),
            'time' => gmdate('H:i:s', (int) ((new \DateTimeImmutable("1970-01-01 $least UTC"))->getTimestamp() + $distance) % 86_400),
            'integer' => sprintf('%.0f', (float) $least + $distance),
            default => rtrim(rtrim(sprintf('%.4F', (float) $least + $distance), '0'), '.'),
        };
    }

    private function distinct(string $from, KeptTable $table, KeptColumn $column, int $rows, int $nulls, int $longest): ?int
    {
        if ($table->key === [$column->name]) {
            return $rows;
        }
        if ($column->type === 'json' || $rows === $nulls) {
            return $rows === $nulls ? 0 : null;
        }
        try {
            return (int) ($this->select('SELECT COUNT(DISTINCT '.Sql::name($column->name).") AS n FROM $from", $longest)[0]['n'] ?? 0);
        } catch (KeepFailed) {
            return null;
        }
    }

    /**
     * @return list<array{value: string, rows: int}>
     */
    private function common(string $from, KeptColumn $column, int $longest): array
    {
        $name = Sql::name($column->name);
        try {
            $found = $this->select("SELECT LEFT($name, ".self::LONGEST.") AS v, COUNT(*) AS n FROM $from WHERE $name IS NOT NULL GROUP BY $name ORDER BY n DESC, v LIMIT ".self::COMMON, $longest);
        } catch (KeepFailed) {
            return [];
        }

        return array_map(static fn (array $row): array => ['value' => (string) $row['v'], 'rows' => (int) $row['n']], $found);
    }

    private static function isText(KeptColumn $column): bool
    {
        return in_array($column->type, ['text', 'json'], true);
    }

    /**
     * @return list<array<string, string|null>>
     *
     * @throws KeepFailed
     */
    private function select(string $sql, int $longest): array
    {
        try {
            return array_values(array_map(static fn (object $row): array => array_map(static fn (mixed $value): ?string => $value === null ? null : (string) $value, get_object_vars($row)), $this->keeper()->select("SET STATEMENT max_statement_time = $longest FOR $sql", [], false)));
        } catch (QueryException $refused) {
            throw match ((int) ($refused->errorInfo[1] ?? 0)) {
                self::TOO_LONG => KeepFailed::because("To look at all rows takes longer than $longest s."),
                self::NO_TABLE => KeepFailed::because('The table is not there.'),
                default => $refused,
            };
        }
    }

    private function keeper(): Connection
    {
        $connection = $this->connections->connection(MariaDbTableStore::CONNECTION);

        return $connection instanceof Connection ? $connection : throw new \LogicException('Profiles need a connection to MariaDB.');
    }
}
