<?php

declare(strict_types=1);

namespace DeepSpring\OData\Derive;

use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\Navigation;
use DeepSpring\OData\Model\Property;
use DeepSpring\OData\Model\StructuredType;
use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\SetChoice;
use DeepSpring\Value\SafeNames;

/**
 * A type and what is chosen of it → `flatten` of a source file: a column for each property, complex
 * properties and expanded singles as prefixed columns, collections as branch tables with the key of
 * their parent.
 */
final class Tables
{
    private const DEEPEST = 5;

    /** Levels of branches; a type can hold lists of itself. */
    private const DEEPEST_BRANCH = 4;

    private const MOST_BRANCHES = 60;

    /** Texts that fit into one index of the database; deep branches have no key then, and rows a number. */
    private const MOST_KEY_TEXTS = 2;

    private const MOST_COLUMNS = 900;

    private int $branches = 0;

    /** @var list<string> members of records that are none of the data */
    private array $leaveOut = [];

    public function __construct(private readonly Model $model)
    {
    }

    private static function cut(string $text, int $most): string
    {
        return mb_strimwidth(trim($text), 0, $most, '…', 'UTF-8');
    }

    /**
     * @return array<string, mixed>|null null when there would be no column
     */
    public function plan(StructuredType $type, SetChoice $choice, string $table): ?array
    {
        [$this->leaveOut, $this->branches] = [[], 0];
        $made = $this->table($type, $choice, Naming::table($table), []);
        if ($made['columns'] === []) {
            return null;
        }
        $this->leaveOut = [...($this->model->version->isV4() ? ["$['@odata.etag']", "$['@odata.id']", "$['@odata.editLink']", "$['@odata.type']"] : ['$.__metadata']), ...$this->leaveOut];

        return $made + ['leave_out' => array_values(array_unique($this->leaveOut))];
    }

    /**
     * @param  list<array<string, mixed>>  $leading  columns from above
     * @return array<string, mixed>
     */
    private function table(StructuredType $type, SetChoice $choice, string $table, array $leading, int $level = 0): array
    {
        $columns = [];
        $branches = [];
        $this->columns($type, $choice, [], [], $columns, $branches, 0, $level);
        // Without a key, what comes along with one entity is found again by the number of its row.
        $leading = $leading === [] && $type->key === [] && $branches !== [] ? [['name' => Proposer::ROW, 'position' => 1]] : $leading;
        $columns = array_slice([...$leading, ...$columns], 0, self::MOST_COLUMNS);
        $names = SafeNames::all(array_column($columns, 'name'));
        $key = [];
        $paths = array_map(static fn (mixed $part): string => Naming::path(explode('/', $part->path)), $type->key);
        foreach ($columns as $place => $column) {
            $columns[$place]['name'] = $names[$place];
            if (isset($column['parent']) || isset($column['position']) || ! isset($column['parent']) && in_array($column['from'] ?? '', $paths, true)) {
                $key[] = $names[$place];
            }
        }
        // Of entities in a branch, their own key tells them apart; a position would only move.
        $own = array_values(array_filter($columns, static fn (array $column): bool => in_array($column['from'] ?? '', $paths, true)));
        if ($leading !== [] && count($own) === count($paths) && $paths !== []) {
            $columns = array_values(array_filter($columns, static fn (array $column): bool => ! isset($column['position'])));
            $key = array_values(array_intersect($key, array_column($columns, 'name')));
        }
        $texts = array_filter($columns, static fn (array $column): bool => in_array($column['name'], $key, true) && ($column['type'] ?? 'text') === 'text');
        $hasKey = count($texts) <= self::MOST_KEY_TEXTS && ($leading !== [] || count($own) === count($paths) && $paths !== []);
        $made = ['table' => $table] + ($hasKey ? ['key' => $key] : []) + ['columns' => $columns];
        $above = $this->above($columns, $key, $paths, $table);
        foreach ($branches as $branch) {
            if ($this->branches++ < self::MOST_BRANCHES) {
                $made['branches'][] = $this->branch($branch, $table, $above, $level + 1);
            }
        }

        return $made;
    }

    /**
     * @param  list<string>  $before  members that lead to the type
     * @param  list<string>  $prefix  of the names of columns
     * @param  list<array<string, mixed>>  $columns
     * @param  list<array{list<string>, Property|Navigation, SetChoice}>  $branches
     */
    private function columns(StructuredType $type, SetChoice $choice, array $before, array $prefix, array &$columns, array &$branches, int $depth, int $level): void
    {
        foreach (count($columns) > self::MOST_COLUMNS ? [] : $this->chosen($type, $choice) as $property) {
            $path = [...$before, $property->name];
            $name = implode('_', [...$prefix, $property->name]);
            $primitive = $this->model->primitive($property->type);
            $complex = str_starts_with($primitive, 'Edm.') && $primitive !== 'Edm.ComplexType' ? null : $this->model->type($property->type);
            if ($primitive === 'Edm.Stream') {
                $this->leaveOut[] = Naming::path($path);
            } elseif ($complex !== null && $property->many && $level < self::DEEPEST_BRANCH) {
                $branches[] = [$path, $property, new SetChoice];
            } elseif ($complex !== null && ! $property->many && $depth < self::DEEPEST) {
                $this->columns($complex, $this->within($choice, $property->name), $path, [...$prefix, $property->name], $columns, $branches, $depth + 1, $level);
            } else {
                $columns[] = ['name' => $name, 'from' => Naming::path($path)] + ($complex !== null || $property->many ? ['type' => 'json'] : $this->type($property, $primitive)) + array_filter(['title' => self::cut($property->label, 200), 'unit' => self::cut($property->unit, 40), 'comment' => self::cut($property->about, 1000)]);
            }
        }
        foreach ($type->navigations as $navigation) {
            if (! isset($choice->expand[$navigation->name])) {
                if (! $this->model->version->isV4()) {
                    $this->leaveOut[] = Naming::path([...$before, $navigation->name]);
                }

                continue;
            }
            $inner = $choice->expand[$navigation->name];
            $target = $this->model->type($navigation->type);
            if ($navigation->many) {
                $branches[] = [[...$before, $navigation->name], $navigation, $inner];
            } elseif ($target !== null && $depth < self::DEEPEST) {
                $this->columns($target, $inner, [...$before, $navigation->name], [...$prefix, $navigation->name], $columns, $branches, $depth + 1, $level);
            }
        }
    }

    /**
     * @return list<Property>
     */
    private function chosen(StructuredType $type, SetChoice $choice): array
    {
        if ($choice->select === [] || in_array('*', $choice->select, true)) {
            return array_values($type->properties);
        }
        $names = array_map(static fn (string $path): string => explode('/', $path)[0], $choice->select);
        // The key comes along whether it is chosen or not: rows are told apart by it.
        $names = [...array_map(static fn (mixed $part): string => explode('/', $part->path)[0], $type->key), ...$names];

        return array_values(array_filter($type->properties, static fn (Property $property): bool => in_array($property->name, $names, true)));
    }

    private function within(SetChoice $choice, string $property): SetChoice
    {
        $select = [];
        foreach ($choice->select as $path) {
            if (str_starts_with($path, "$property/")) {
                $select[] = substr($path, strlen($property) + 1);
            }
        }

        return new SetChoice($this->model->version->isV4() ? $select : []);
    }

    /**
     * @return array<string, mixed>
     */
    private function type(Property $property, string $primitive): array
    {
        $version = $this->model->version;
        $facets = $this->model->facets($property->type);

        return match ($primitive) {
            'Edm.Boolean' => ['type' => 'boolean'],
            'Edm.Byte', 'Edm.SByte', 'Edm.Int16', 'Edm.Int32', 'Edm.Int64' => $this->model->isEnum($property->type) ? ['type' => 'text'] : ['type' => 'integer'],
            'Edm.Decimal' => ['type' => 'decimal', 'scale' => $this->scale($property, $facets)],
            'Edm.Single', 'Edm.Double' => ['type' => 'float'],
            'Edm.Guid' => ['type' => 'uuid'],
            'Edm.Date' => ['type' => 'date'],
            'Edm.TimeOfDay' => ['type' => 'time'],
            'Edm.DateTimeOffset' => ['type' => 'datetime'] + ($version === ODataVersion::V2 ? ['read_as' => 'odata-v2'] : []),
            // A time of no place: what it says is kept as it is.
            'Edm.DateTime' => ['type' => 'datetime'] + ($version === ODataVersion::V2 ? ['read_as' => 'odata-v2'] : ['zone' => 'UTC']),
            default => str_starts_with($primitive, 'Edm.Geo') || $primitive === 'Edm.Untyped' ? ['type' => 'json'] : ['type' => 'text'],
        };
    }

    /**
     * Without a word about decimals, ten are kept, which loses nothing that people write.
     *
     * @param  array<string, mixed>  $facets
     */
    private function scale(Property $property, array $facets): int
    {
        $scale = $property->scale ?? (is_numeric($facets['scale'] ?? null) ? (int) $facets['scale'] : null);
        $precision = $property->precision ?? (is_numeric($facets['precision'] ?? null) ? (int) $facets['precision'] : null);

        return min(30, $scale ?? ($precision !== null && $this->model->version->isV4() && ! $property->scaleVaries ? 0 : 10));
    }

    /**
     * The columns of the key, as a branch below takes them from its parent.
     *
     * @param  list<array<string, mixed>>  $columns
     * @param  list<string>  $key
     * @param  list<string>  $paths
     * @return list<array<string, mixed>>
     */
    private function above(array $columns, array $key, array $paths, string $table): array
    {
        $above = [];
        foreach ($columns as $column) {
            if (! in_array($column['name'], $key, true)) {
                continue;
            }
            $name = isset($column['parent']) || isset($column['position']) ? $column['name'] : $this->owned($column['name'], $table);
            $typed = array_intersect_key($column, ['type' => 1, 'scale' => 1, 'precision' => 1, 'read_as' => 1, 'zone' => 1]);
            if (isset($column['position'])) {
                $above[] = ['name' => $name, 'position' => 1, 'up' => 1] + $typed;
            } elseif (isset($column['parent'])) {
                $above[] = ['name' => $name, 'parent' => $column['parent'], 'up' => ($column['up'] ?? 0) + 1] + $typed;
            } else {
                $above[] = ['name' => $name, 'parent' => $column['from']] + $typed;
            }
        }

        return $above;
    }

    private function owned(string $column, string $table): string
    {
        $one = preg_replace(['/ies$/', '/(?<=[^s])s$/'], ['y', ''], $table) ?? $table;

        return str_starts_with($column, "{$one}_") ? $column : "{$one}_$column";
    }

    /**
     * @param  array{list<string>, Property|Navigation, SetChoice}  $branch
     * @param  list<array<string, mixed>>  $above
     * @return array<string, mixed>
     */
    private function branch(array $branch, string $table, array $above, int $level): array
    {
        [$path, $member, $choice] = $branch;
        $target = $this->model->type($member->type) ?? new StructuredType($member->type, false, false, false, [], [], []);
        $position = ['name' => 'position', 'position' => 1];
        // Versions 2 and 3 wrap what is expanded.
        $steps = $this->model->version->isV4() || $member instanceof Property ? $path : [...$path, 'results'];
        $name = Naming::table($table.'_'.implode('_', $path));
        $made = $this->table($target, $choice, $name, [...$above, $position], $level);

        return ['table' => $made['table'], 'from' => Naming::path($steps, true)] + $made;
    }
}
