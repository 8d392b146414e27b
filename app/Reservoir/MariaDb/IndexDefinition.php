<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\KeepFailed;
use Illuminate\Database\Connection;

/**
 * An index as a statement makes it. Long texts are in it with their beginnings, as far as all columns
 * together fit.
 */
final readonly class IndexDefinition
{
    /** Characters of a text that can be in an index as a whole. */
    private const WHOLE = 255;

    /** Characters of a text that is not in an index as a whole. Four of them fit into the bytes of a key. */
    public const BEGINNING = 190;

    /** Bytes that a key has at most, and those of anything but a text at most. */
    private const KEY = 3072;

    private const OTHER = 32;

    private const TEXTS = ['varchar', 'char', 'text', 'mediumtext'];

    /**
     * @param  array<string, array{type: string, characters: int|null}>  $there  columns of the table by their names
     */
    private function __construct(private array $there)
    {
    }

    public static function for(Connection $keeper, string $schema, string $table): self
    {
        $there = [];
        foreach ($keeper->select('select column_name as name, data_type as type, character_maximum_length as characters from information_schema.columns where table_schema = ? and table_name = ?', [$schema, $table], false) as $column) {
            $there[(string) $column->name] = ['type' => (string) $column->type, 'characters' => $column->characters === null ? null : (int) $column->characters];
        }

        return new self($there);
    }

    /**
     * @param  list<string>  $columns
     *
     * @throws KeepFailed when the table has no such columns, or they cannot be in an index
     */
    public function sql(array $columns): string
    {
        foreach ($columns as $column) {
            isset($this->there[$column]) || throw KeepFailed::because("The table has no column $column any more.");
            $this->canBeIndexed($column) || throw KeepFailed::because("$column holds JSON, which cannot be in an index.");
        }

        $most = array_sum(array_map($this->bytes(...), $columns)) > self::KEY ? self::BEGINNING : self::WHOLE;
        $part = fn (string $column): string => Sql::name($column).($this->isWhole($column, $most) ? '' : '('.self::BEGINNING.')');

        return 'INDEX '.Sql::name(IndexName::of($columns)).' ('.implode(', ', array_map($part, $columns)).')';
    }

    public function has(string $column): bool
    {
        return isset($this->there[$column]);
    }

    public function canBeIndexed(string $column): bool
    {
        return $this->there[$column]['type'] !== 'longtext';
    }

    public function isWhole(string $column, int $most = self::WHOLE): bool
    {
        ['type' => $type, 'characters' => $characters] = $this->there[$column];

        return ! in_array($type, self::TEXTS, true) || $characters !== null && $characters <= $most;
    }

    private function bytes(string $column): int
    {
        ['type' => $type, 'characters' => $characters] = $this->there[$column];

        return in_array($type, self::TEXTS, true) ? 4 * ($this->isWhole($column) ? (int) $characters : self::BEGINNING) + 2 : self::OTHER;
    }
}
