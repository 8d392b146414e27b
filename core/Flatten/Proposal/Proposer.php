<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

use DeepSpring\Flatten\Proposal\Guess\Guesses;
use DeepSpring\Value\SafeNames;

/**
 * Sample records → a plan: objects folded into columns, arrays and dictionaries as branches or
 * joined, types by what survives, a key where one is seen.
 */
final class Proposer
{
    /** Levels of objects that are folded, tried until the columns are not too many. */
    private const DEPTHS = [8, 4, 2, 1];

    private const MOST_COLUMNS = 400;

    /** Name of the column that numbers rows, where they have no key. */
    public const ROW = 'row_no';

    /** Columns at most, whatever the records have. */
    private const LIMIT = 500;

    /** Levels of branches; what lies deeper is kept as JSON. */
    private const BRANCHES = 4;

    /** @var array<string, string> */
    private array $notes = [];

    /** @var array<string, string> */
    private array $reasons = [];

    /** @var list<string> */
    private array $asks = [];

    /** @var array<string, true> */
    private array $tables = [];

    private readonly Guesses $guesses;

    private readonly Shapes $shapes;

    /**
     * @param  bool  $prefix  whether a column of a folded object carries the object's name, or only where its own is not unique
     */
    public function __construct(private readonly bool $prefix = true)
    {
        $this->guesses = new Guesses;
        $this->shapes = new Shapes;
    }

    /**
     * @param  list<mixed>  $records
     * @param  list<string>|null  $members  names under which they stand, where they are members of an object
     */
    public function propose(array $records, string $table, ?array $members = null): TableProposal
    {
        [$this->notes, $this->reasons, $this->asks, $this->tables] = [[], [], [], []];
        $field = new RecordField;
        foreach ($records as $record) {
            $field->take($record);
        }
        $leading = $members === null ? [] : [['name' => $this->memberName([$table]), 'member' => true, 'type' => 'text']];
        $flatten = $this->table($field, $records, SafeNames::clean($table), $leading, null, 0);

        return new TableProposal($flatten, $this->notes, $this->reasons, $this->asks);
    }

    /**
     * @param  list<mixed>  $records
     * @param  list<array<string, mixed>>  $leading  columns that come before those of the records
     * @return array<string, mixed>
     */
    private function table(RecordField $field, array $records, string $name, array $leading, ?string $from, int $level): array
    {
        $name = $this->tableName($name);
        $drafts = $branches = [];
        foreach (self::DEPTHS as $depth) {
            $found = (new Layout($this->shapes, $records, $depth, $level < self::BRANCHES))->of($field);
            [$drafts, $branches] = [$found->columns, $found->branches];
            if (count($drafts) <= self::MOST_COLUMNS) {
                break;
            }
        }
        $left = count($drafts) - self::LIMIT;
        if ($left > 0) {
            $drafts = array_slice($drafts, 0, self::LIMIT);
            $this->reasons[$name] = "$left more fields were found than a table can hold well; add those that are needed from the list of fields";
        }
        [$columns, $fields] = $this->columns($drafts, $leading, $name);
        $flatten = ['table' => $name];
        if ($from !== null) {
            $flatten['from'] = $from;
        }
        if ($level === 0) {
            [$key, $why] = $leading === [] ? (new KeyFinder)->find($columns, $fields, $records, $this->singular((string) preg_replace('/_\d+$/', '', $name))) : [[(string) $columns[0]['name']], 'the name under which each record stands'];
            $columns = [...array_values(array_filter($columns, static fn (array $column): bool => in_array($column['name'], $key, true))), ...array_values(array_filter($columns, static fn (array $column): bool => ! in_array($column['name'], $key, true)))];
            $this->reasons["$name.key"] = $why;
        } else {
            $key = array_column(array_slice($columns, 0, count($leading)), 'name');
        }
        $joined = $key;
        if ($level === 0 && $key === [] && $branches !== []) {
            // What comes from one record is found again by the number of its row.
            $number = ['name' => in_array(self::ROW, array_column($columns, 'name'), true) ? self::ROW.'_2' : self::ROW, 'position' => 1, 'type' => 'integer'];
            $columns = [$number, ...$columns];
            $joined = [$number['name']];
            $this->notes["$name.{$number['name']}"] = 'no key was found, so the rows of the branches are joined by the number of the row';
        }
        $flatten += ['key' => $key, 'columns' => $columns];
        foreach ($branches as $branch) {
            $flatten['branches'][] = $this->branch($branch, $records, $name, $columns, $joined, $level + 1);
        }

        return $flatten;
    }

    /**
     * @param  list<Draft>  $drafts
     * @param  list<array<string, mixed>>  $leading
     * @return array{list<array<string, mixed>>, array<string, RecordField>} columns, and the fields by their path
     */
    private function columns(array $drafts, array $leading, string $table): array
    {
        $columns = $leading;
        $fields = [];
        $names = array_map(static fn (array $column): string => (string) $column['name'], $leading);
        $notes = array_fill(0, count($leading), null);
        $lasts = array_count_values(array_map(static fn (Draft $draft): string => SafeNames::clean($draft->last()), $drafts));
        foreach ($drafts as $draft) {
            $short = $lasts[SafeNames::clean($draft->last())] === 1;
            $names[] = ! $this->prefix && $short ? $draft->last() : implode('_', $draft->names);
            $type = $draft->column === null ? $this->guesses->of($draft->field->stats(), $draft->last()) : null;
            $columns[] = ['name' => '', 'from' => $draft->path] + ($draft->column ?? $type->column ?? []);
            $notes[] = $draft->note ?? $type?->note;
            if ($type?->asks === true) {
                $this->asks[] = (string) (count($columns) - 1);
            }
            $fields[$draft->path] = $draft->field;
        }
        $asked = [];
        foreach (SafeNames::all($names) as $number => $name) {
            $columns[$number]['name'] = $name;
            if ($notes[$number] !== null) {
                $this->notes["$table.$name"] = $notes[$number];
            }
            if (in_array((string) $number, $this->asks, true)) {
                $asked[] = "$table.$name";
            }
        }
        $this->asks = [...array_filter($this->asks, static fn (string $one): bool => str_contains($one, '.')), ...$asked];

        return [$columns, $fields];
    }

    /**
     * @param  list<mixed>  $records
     * @param  list<array<string, mixed>>  $parentColumns
     * @param  list<string>  $parentKey
     * @return array<string, mixed>
     */
    private function branch(BranchDraft $branch, array $records, string $parent, array $parentColumns, array $parentKey, int $level): array
    {
        $leading = [];
        foreach ($parentColumns as $column) {
            if (in_array($column['name'], $parentKey, true)) {
                $leading[] = self::fromAbove($column, $this->singular((string) preg_replace('/^.*_(?=[^_]+$)/', '', $parent)));
            }
        }
        if ($branch->isDictionary) {
            $leading[] = ['name' => $this->memberName($branch->names), 'member' => true, 'type' => 'text'];
        } else {
            $leading[] = ['name' => 'position', 'position' => 1, 'type' => 'integer'];
        }
        $inside = [];
        $path = \DeepSpring\Answer\JsonPath\JsonPath::parse($branch->from);
        foreach ($records as $record) {
            array_push($inside, ...$path->values($record));
        }
        $name = SafeNames::clean($this->singular($parent).'_'.implode('_', $branch->names));
        $flatten = $this->table($branch->field, $inside, $name, $leading, $branch->from, $level);
        $this->reasons[$flatten['table']] = $branch->why;

        return $flatten;
    }

    /**
     * A column of a table as the tables below it name it.
     *
     * @param  array<string, mixed>  $column
     * @return array<string, mixed>
     */
    public static function fromAbove(array $column, string $parent): array
    {
        $name = (string) $column['name'];
        $shifted = array_diff_key($column, ['name' => 1, 'from' => 1]);
        if (isset($column['from'])) {
            $shifted = ['parent' => $column['from']] + $shifted;
            $name = in_array($name, ['id', 'ref', 'key', 'number', 'code', 'uuid', 'slug', 'no'], true) ? SafeNames::clean("{$parent}_$name") : $name;
        } else {
            $shifted['up'] = ($column['up'] ?? 0) + 1;
            $name = $name === 'position' ? SafeNames::clean("{$parent}_position") : ($name === self::ROW ? SafeNames::clean("{$parent}_row") : $name);
        }

        return ['name' => $name] + $shifted;
    }

    /**
     * @param  list<string>  $names
     */
    private function memberName(array $names): string
    {
        $name = SafeNames::clean((string) end($names));

        if (str_starts_with($name, 'by_') && strlen($name) > 3) {
            return SafeNames::clean(substr($name, 3));
        }
        // Under "stations" each name is that of a station; where there is no such word, of its place.
        $one = $this->singular($name);

        return $one === $name ? SafeNames::clean("{$name}_key") : $one;
    }

    private function tableName(string $name): string
    {
        for ($try = $name, $number = 2; isset($this->tables[$try]); $number++) {
            $try = substr($name, 0, 60)."_$number";
        }
        $this->tables[$try] = true;

        return $try;
    }

    private function singular(string $table): string
    {
        return match (true) {
            str_ends_with($table, 'ies') && strlen($table) > 4 => substr($table, 0, -3).'y',
            str_ends_with($table, 'ss'), str_ends_with($table, 'us') => $table,
            str_ends_with($table, 's') && strlen($table) > 2 => substr($table, 0, -1),
            default => $table,
        };
    }
}
