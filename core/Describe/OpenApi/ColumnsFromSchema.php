<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Describe\EndpointNames;
use DeepSpring\Flatten\Proposal\AnswerColumns;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Value\SafeNames;

/**
 * The schema of an answer → where the records are and the columns they become, before any request
 * was sent.
 */
final class ColumnsFromSchema
{
    private const MOST_COLUMNS = 200;

    private const DEEPEST = 3;

    /** @var array<string, array{list<array<string, mixed>>, list<array{string, Schema}>}> columns by the name of a schema */
    private array $known = [];

    /** @var \WeakMap<Schema, array{string|null, Schema|null}> what `records` found */
    private \WeakMap $found;

    public function __construct(private readonly Schemas $schemas)
    {
        $this->found = new \WeakMap;
    }

    /**
     * @return array{string|null, array<string, mixed>|null} the path of the records, and flatten of a source file
     */
    public function of(Schema $answer, string $table, string $place): array
    {
        [$path, $record] = $this->records($answer, $place);
        if ($record === null || $record->type !== 'object' || $record->properties === []) {
            return [$path, null];
        }
        [$columns, $lists] = $this->columns($record, $place);
        if ($columns === []) {
            return [$path, null];
        }
        $key = $this->key($columns, $record);
        $table = SafeNames::clean($table);
        // Without a key, what comes from one record is found again by the number of its row.
        $number = ['name' => in_array(Proposer::ROW, array_column($columns, 'name'), true) ? Proposer::ROW.'_2' : Proposer::ROW, 'position' => 1, 'type' => 'integer'];
        $tables = [$table];
        $branches = [];
        foreach (array_slice($lists, 0, 10) as [$from, $items]) {
            $branch = $this->branch($table, $from, $items, [$number, ...$columns], $key === [] ? [$number['name']] : $key, $place, $tables);
            if ($branch !== null) {
                $tables[] = $branch['table'];
                $branches[] = $branch;
            }
        }
        $flatten = ['table' => $table, 'key' => $key, 'columns' => $key === [] && $branches !== [] ? [$number, ...$columns] : $columns] + ($branches === [] ? [] : ['branches' => $branches]);

        return [$path, $flatten];
    }

    /**
     * The path of the records alone; null when the whole answer is one.
     */
    public function path(Schema $answer, string $place): ?string
    {
        return $this->records($answer, $place)[0];
    }

    /**
     * @return array{string|null, Schema|null}
     */
    private function records(Schema $answer, string $place): array
    {
        return $this->found[$answer] ??= $this->find($answer, $place);
    }

    /**
     * @return array{string|null, Schema|null}
     */
    private function find(Schema $answer, string $place): array
    {
        if ($answer->type === 'array') {
            return ['$[*]', $answer->items === null ? null : $this->schemas->of($answer->items[0], $place, $answer->items[1])];
        }
        $best = null;
        foreach ($this->lists($answer, '$', $place, 0) as [$path, $name, $depth, $items]) {
            $rank = [$items->type === 'object' ? 1 : 0, in_array(strtolower($name), \DeepSpring\Flatten\Proposal\RecordsFinder::LISTS, true) ? 1 : 0, -$depth];
            if ($items->type === 'object' && ($best === null || $rank > $best[0])) {
                $best = [$rank, "{$path}[*]", $items];
            }
        }
        // Lists inside a record are none of an answer: only a wrapper has a list and little beside it.
        $beside = count(array_filter($answer->properties, fn (array $one): bool => $this->schemas->of($one[0], $place, $one[1])->type !== 'array'));
        $isRecord = $best !== null && (isset($answer->properties['id']) || isset($answer->properties['uuid']) || $best[0][1] === 0 && $beside > 6);

        return $best === null || $isRecord ? [null, $answer] : [$best[1], $best[2]];
    }

    /**
     * @return list<array{string, string, int, Schema}> path, name, depth and elements of each list
     */
    private function lists(Schema $schema, string $path, string $place, int $depth): array
    {
        $lists = [];
        foreach ($schema->properties as $name => [$raw, $file]) {
            $inner = $this->schemas->of($raw, $place, $file);
            $at = $path.AnswerColumns::step((string) $name);
            if ($inner->type === 'array' && $inner->items !== null) {
                $lists[] = [$at, (string) $name, $depth, $this->schemas->of($inner->items[0], $place, $inner->items[1])];
            } elseif ($inner->type === 'object' && $depth < 1 && in_array(strtolower((string) $name), ['data', 'result', 'response', '_embedded', 'd', 'body', 'payload'], true)) {
                array_push($lists, ...$this->lists($inner, $at, $place, $depth + 1));
            }
        }

        return $lists;
    }

    /**
     * @return array{list<array<string, mixed>>, list<array{string, Schema}>} columns, and lists of objects
     */
    private function columns(Schema $record, string $place): array
    {
        if ($record->name !== null && isset($this->known[$record->name])) {
            return $this->known[$record->name];
        }
        $columns = [];
        $names = [];
        $lists = [];
        $this->walk($record, '$', [], $record->name === null ? [] : [$record->name], 0, $columns, $names, $lists, $place);
        $columns = array_slice($columns, 0, self::MOST_COLUMNS);
        foreach (SafeNames::all(array_slice($names, 0, self::MOST_COLUMNS)) as $number => $name) {
            $columns[$number] = ['name' => $name] + $columns[$number];
        }
        if ($record->name !== null) {
            $this->known[$record->name] = [$columns, $lists];
        }

        return [$columns, $lists];
    }

    /**
     * @param  list<string>  $path
     * @param  list<string>  $circle
     * @param  list<array<string, mixed>>  $columns
     * @param  list<string>  $names
     * @param  list<array{string, Schema}>  $lists
     */
    private function walk(Schema $schema, string $at, array $path, array $circle, int $depth, array &$columns, array &$names, array &$lists, string $place): void
    {
        foreach ($schema->properties as $name => [$raw, $file]) {
            if (count($columns) >= self::MOST_COLUMNS) {
                return;
            }
            $inner = $this->schemas->of($raw, $place, $file);
            if (($inner->raw['writeOnly'] ?? false) === true) {
                continue;
            }
            $step = $at.AnswerColumns::step((string) $name);
            $isCircle = $inner->name !== null && in_array($inner->name, $circle, true);
            if ($inner->type === 'object' && $inner->properties !== [] && ! $isCircle && $depth < self::DEEPEST) {
                $this->walk($inner, $step, [...$path, (string) $name], $inner->name === null ? $circle : [...$circle, $inner->name], $depth + 1, $columns, $names, $lists, $place);

                continue;
            }
            $items = $inner->type === 'array' && $inner->items !== null ? $this->schemas->of($inner->items[0], $place, $inner->items[1]) : null;
            if ($items !== null && $items->type === 'object' && $items->properties !== [] && ! in_array($items->name, $circle, true)) {
                $lists[] = [$step, $items];

                continue;
            }
            $columns[] = $items !== null && in_array($items->type, ['string', 'integer', 'number', 'boolean'], true)
                ? ['from' => "{$step}[*]", 'type' => 'text', 'many' => 'join', 'with' => '; ']
                : ['from' => $step] + ($isCircle ? ['type' => 'json'] : self::type($inner, (string) $name));
            $columns[count($columns) - 1] += self::texts($inner, (string) $name);
            $names[] = implode('_', [...$path, (string) $name]);
        }
    }

    /**
     * What the description says of a property.
     *
     * @return array<string, string>
     */
    private static function texts(Schema $schema, string $name): array
    {
        $said = static fn (string $word, int $most): string => is_string($schema->raw[$word] ?? null) ? mb_strimwidth(trim((string) preg_replace('/\s+/', ' ', $schema->raw[$word])), 0, $most, '…', 'UTF-8') : '';
        $title = $said('title', 200);

        // A title that is the name in other letters says nothing.
        return array_filter(['title' => SafeNames::clean($title) === SafeNames::clean($name) ? '' : $title, 'comment' => $said('description', 1000)], static fn (string $one): bool => $one !== '');
    }

    /**
     * @return array<string, mixed>
     */
    private static function type(Schema $schema, string $name): array
    {
        return match ($schema->type) {
            'integer' => ['type' => 'integer'],
            'number' => in_array($schema->format, ['float', 'double'], true) || preg_match('/price|amount|value|cost|fee|total|sum|balance|cover|worth/i', $name) !== 1 ? ['type' => 'float'] : ['type' => 'decimal', 'scale' => 2],
            'boolean' => ['type' => 'boolean'],
            'string' => match (strtolower($schema->format)) {
                'date' => ['type' => 'date'],
                'date-time', 'datetime' => ['type' => 'datetime'],
                'decimal', 'money' => ['type' => 'decimal', 'scale' => 2],
                default => ['type' => 'text'],
            },
            default => ['type' => 'json'],
        };
    }

    /**
     * @param  list<array<string, mixed>>  $columns
     * @return list<string>
     */
    private function key(array $columns, Schema $record): array
    {
        foreach ($columns as $column) {
            $isKey = in_array($column['from'], ['$.id', '$.uuid', '$.ID', '$.Id', '$.key'], true) || preg_match('/^\$\.\w*(?:Id|ID|_id)$/', (string) $column['from']) === 1 && $column === $columns[0];
            if ($isKey && in_array($column['type'], ['integer', 'text'], true)) {
                return [$column['name']];
            }
        }

        return [];
    }

    /**
     * @param  list<array<string, mixed>>  $parentColumns
     * @param  list<string>  $parentKey
     * @param  list<string>  $tables
     * @return array<string, mixed>|null
     */
    private function branch(string $table, string $from, Schema $items, array $parentColumns, array $parentKey, string $place, array $tables): ?array
    {
        [$inside] = $this->columns($items, $place);
        if ($inside === []) {
            return null;
        }
        $leading = [];
        foreach ($parentColumns as $column) {
            if (in_array($column['name'], $parentKey, true)) {
                $leading[] = isset($column['position']) ? ['name' => EndpointNames::singular($table).'_row', 'position' => 1, 'up' => 1, 'type' => 'integer']
                    : ['name' => EndpointNames::singular($table).'_'.$column['name'], 'parent' => $column['from'], 'type' => $column['type']];
            }
        }
        $leading[] = ['name' => 'position', 'position' => 1, 'type' => 'integer'];
        $all = [...$leading, ...$inside];
        foreach (SafeNames::all(array_map(static fn (array $column): string => (string) $column['name'], $all)) as $number => $name) {
            $all[$number]['name'] = $name;
        }
        $name = SafeNames::clean($table.'_'.trim((string) preg_replace('/[^A-Za-z0-9]+/', '_', substr($from, 1)), '_'));
        for ($base = $name, $number = 2; in_array($name, $tables, true); $number++) {
            $name = "{$base}_$number";
        }

        return ['table' => $name, 'from' => "{$from}[*]", 'key' => array_map(static fn (array $column): string => $column['name'], array_slice($all, 0, count($leading))), 'columns' => $all];
    }
}
