<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use App\Models\KeptTable;
use App\Outlets\OData\FeedEntity;
use App\Queries\IndexAdvisor;
use DeepSpring\Check\Checks;
use DeepSpring\Check\InvalidCheck;
use DeepSpring\Check\Refers;

/**
 * Which feeds belong together, so that readers can go from one to the other: a table that is made from inside the
 * records of another, and columns of which a check says that they refer to another table.
 */
final readonly class FeedTies
{
    public function __construct(private IndexAdvisor $advisor)
    {
    }

    /**
     * Brings the ways between all feeds of an environment up to date.
     */
    public function align(int $environment): void
    {
        $feeds = Feed::query()->where(['environment_id' => $environment, 'is_on' => true])->orderBy('id')->get();
        $tables = KeptTable::query()->with('endpoint.source')->where('environment_id', $environment)->whereIn('name', $feeds->pluck('reads'))->get()->keyBy('name');
        $links = array_fill_keys($feeds->modelKeys(), []);
        foreach ($tables as $table) {
            foreach ($this->ties($table) as [$columns, $other, $others]) {
                foreach ($feeds->where('reads', $table->name) as $one) {
                    foreach ($feeds->where('reads', $other)->where('version', $one->version) as $two) {
                        $this->tie($links, $one, $two, $columns, $others, $table, $tables->get($other));
                    }
                }
            }
        }
        foreach ($feeds as $feed) {
            if ($feed->links !== $links[$feed->id]) {
                // Readers lose nothing by it, so neither its state nor the mark of its answers changes.
                Feed::query()->whereKey($feed->id)->toBase()->update(['links' => json_encode($links[$feed->id])]);
            }
        }
    }

    /**
     * @param  array<int, list<array{name: string, feed: int, many: bool, on: list<array{string, string}>}>>  $links
     * @param  list<string>  $columns  of the first, as the table knows them
     * @param  list<string>  $others  of the second
     */
    private function tie(array &$links, Feed $one, Feed $two, array $columns, array $others, KeptTable $table, ?KeptTable $other): void
    {
        $here = self::shown($one, $columns);
        $there = self::shown($two, $others);
        if ($other === null || $one->id === $two->id || $here === null || $there === null || self::types($table, $columns) !== self::types($other, $others)) {
            return;
        }
        // At most one row is there where the columns are the whole key.
        $isOne = array_diff($two->key, $there) === [] && $two->key !== [];
        $links[$one->id][] = ['name' => self::name($one, $two, $here, $links[$one->id]), 'feed' => $two->id, 'many' => ! $isOne, 'on' => self::pairs($here, $there)];
        $links[$two->id][] = ['name' => self::name($two, $one, $there, $links[$two->id]), 'feed' => $one->id, 'many' => array_diff($one->key, $here) !== [] || $one->key === [], 'on' => self::pairs($there, $here)];
    }

    /**
     * @param  list<string>  $here
     * @param  list<string>  $there
     * @return list<array{string, string}>
     */
    private static function pairs(array $here, array $there): array
    {
        return array_map(static fn (string $one, string $other): array => [$one, $other], $here, $there);
    }

    /**
     * @param  list<string>  $by
     * @param  list<array{name: string, feed: int, many: bool, on: list<array{string, string}>}>  $taken
     */
    private static function name(Feed $from, Feed $to, array $by, array $taken): string
    {
        $used = array_map(strtolower(...), [...array_column($from->columns, 'name'), ...array_column($taken, 'name')]);
        $name = FeedEntity::nameOf($to->name);
        foreach ([$name, "{$name}_by_".implode('_', $by), "{$name}_rows"] as $one) {
            if (! in_array(strtolower($one), $used, true)) {
                return $one;
            }
        }
        for ($number = 2; in_array("{$name}_$number", $used, true); $number++);

        return "{$name}_$number";
    }

    /**
     * @param  list<string>  $columns
     * @return list<string>|null under which readers see them; null where one is not shown
     */
    private static function shown(Feed $feed, array $columns): ?array
    {
        $names = array_column($feed->columns, 'name', 'column');
        $shown = array_map(static fn (string $column): ?string => $names[$column] ?? null, $columns);

        return in_array(null, $shown, true) ? null : array_values(array_filter($shown, is_string(...)));
    }

    /**
     * @param  list<string>  $columns
     * @return list<string>
     */
    private static function types(KeptTable $table, array $columns): array
    {
        $kept = array_column($table->columns, null, 'name');

        return array_map(static fn (string $column): string => ($kept[$column]['type'] ?? '?').' '.($kept[$column]['scale'] ?? ''), $columns);
    }

    /**
     * @return list<array{list<string>, string, list<string>}> columns, the other table, its columns
     */
    private function ties(KeptTable $table): array
    {
        $ties = [];
        foreach ($this->advisor->toParent($table) as $tie) {
            $parent = KeptTable::query()->where(['environment_id' => $table->environment_id, 'name' => $tie->other])->first();
            if ($parent !== null && count($parent->key) === count($tie->columns)) {
                $ties[] = [$tie->columns, $tie->other, $parent->key];
            }
        }

        return [...$ties, ...$this->references($table)];
    }

    /**
     * @return list<array{list<string>, string, list<string>}>
     */
    private function references(KeptTable $table): array
    {
        $definition = $table->endpoint->source->of_query ? null : $table->endpoint->source->published()?->endpoint($table->endpoint->slug);
        $plan = $definition?->plan();
        try {
            $checks = $plan === null ? [] : Checks::all($definition->endpoint['keep']['checks'] ?? [], $plan);
        } catch (InvalidCheck) {
            return [];
        }
        $ties = [];
        foreach ($checks as $one) {
            if ($one->check instanceof Refers && $one->table === $table->given_name) {
                $ties[] = $this->reference($one->check, $table);
            }
        }

        return array_values(array_filter($ties));
    }

    /**
     * @return array{list<string>, string, list<string>}|null
     */
    private function reference(Refers $check, KeptTable $table): ?array
    {
        $other = KeptTable::query()->where('environment_id', $table->environment_id)->where(static fn ($query) => $query->where('given_name', $check->table)->orWhere('name', $check->table))->orderBy('id')->first();
        $own = array_column($table->columns, 'name', 'given')[$check->columns()[0]] ?? null;
        $to = $other === null ? null : array_column($other->columns, 'name', 'given')[$check->to] ?? null;

        return $other === null || $own === null || $to === null ? null : [[$own], $other->name, [$to]];
    }
}
