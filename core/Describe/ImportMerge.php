<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\SourceFile\DocumentChange;
use DeepSpring\SourceFile\DocumentComparison;
use DeepSpring\SourceFile\Members;

/**
 * A newer description of what was described before: what the API changed is taken over, what people
 * changed stays, and where both did, people win and are told.
 */
final class ImportMerge
{
    /** @var list<array{slug: string, place: string, kept: mixed, offered: mixed}> where people and the API both changed something; `offered` is null where the API no longer has it */
    public array $kept = [];

    /** @var list<array{slug: string, place: string, kept: mixed, offered: mixed}> of those, where the side of the API was chosen */
    public array $taken = [];

    /** @var list<array{slug: string, from: string, to: string}> inputs in a path that the API calls otherwise now */
    public array $renamed = [];

    /** @var array<string, list<DocumentChange>> what changes, by the slug of an endpoint */
    public array $changes = [];

    /** @var list<string> slugs of endpoints that are new */
    public array $added = [];

    /** @var list<string> slugs of endpoints that the description no longer has; they stay */
    public array $gone = [];

    /** @var list<string> slugs in the description of endpoints that somebody removed here; they are added only when they are chosen */
    public array $removed = [];

    /**
     * @param  list<string>  $take  conflicts, as "slug › place", that go to the API
     */
    public function __construct(private readonly array $take = [])
    {
    }

    /**
     * @param  list<array<string, mixed>>  $before  endpoints as the earlier description made them
     * @param  list<array<string, mixed>>  $mine  endpoints as they are now
     * @param  list<ImportedEndpoint>  $theirs
     * @param  list<string>|null  $chosen  slugs of new ones to add; all of them, when null
     * @return list<array<string, mixed>> endpoints as they should be
     */
    public function of(array $before, array $mine, array $theirs, ?array $chosen = null): array
    {
        $base = self::byRequest($before);
        $there = self::there($mine, $theirs);
        $new = self::byRequest(array_map(static fn (ImportedEndpoint $one): array => $one->endpoint, $theirs));
        $slugs = new Slugs(array_map(static fn (array $one): string => $one['slug'], $mine));
        $merged = [];
        foreach ($mine as $endpoint) {
            $key = self::key($endpoint);
            if (! isset($new[$key])) {
                if (isset($base[$key])) {
                    $this->gone[] = $endpoint['slug'];
                }
                $merged[] = $endpoint;

                continue;
            }
            $one = $this->together($endpoint, $base[$key] ?? null, $new[$key]);
            $changes = (new DocumentComparison)->of($endpoint, $one);
            if ($changes !== []) {
                $this->changes[$endpoint['slug']] = $changes;
            }
            $merged[] = $one;
        }
        foreach ($theirs as $found) {
            $key = self::key($found->endpoint);
            if (isset($there[$found->slug()]) || $chosen !== null && ! in_array($found->slug(), $chosen, true)) {
                continue;
            }
            if (isset($base[$key]) && $chosen === null) {
                $this->removed[] = $found->slug();

                continue;
            }
            $endpoint = ['slug' => $slugs->take($found->slug())] + $found->endpoint;
            $this->added[] = $endpoint['slug'];
            $merged[] = $endpoint;
        }

        return self::withTablesApart($merged, $this->added);
    }

    /**
     * @param  array<string, mixed>  $mine
     * @param  array<string, mixed>|null  $base  as the earlier description made it
     * @param  array<string, mixed>  $offered
     * @return array<string, mixed>
     */
    private function together(array $mine, ?array $base, array $offered): array
    {
        $slug = (string) $mine['slug'];
        // Only a description that called it so before has renamed it; otherwise its name is that of a person.
        $names = $base !== null && PathNames::changed($base, $mine) === [] ? PathNames::changed($mine, $offered) : [];
        foreach ($names as $from => $to) {
            $this->renamed[] = ['slug' => $slug, 'from' => (string) $from, 'to' => $to];
        }
        $mine = PathNames::in($mine, $names);
        // One that no description made is whoever's who made it, and stays as it is.
        [$old, $offered] = array_map(static fn (array $one): array => ['slug' => $slug] + PathNames::in($one, PathNames::changed($one, $mine)), [$base ?? $offered, $offered]);
        $one = $this->value($old, $mine, $offered, '', $slug, []);

        return is_array($one) ? $this->settled($one, $mine, $offered) : $mine;
    }

    /**
     * Endpoints of a description that are there already: those that ask for the same. Of several that ask
     * for the same, the first is the one that is there.
     *
     * @param  list<array<string, mixed>>  $mine
     * @param  list<ImportedEndpoint>  $theirs
     * @return array<string, string> their slugs → mine
     */
    public static function there(array $mine, array $theirs): array
    {
        $slugs = [];
        foreach ($mine as $endpoint) {
            $slugs[self::key($endpoint)] ??= $endpoint['slug'];
        }
        $there = [];
        foreach ($theirs as $found) {
            $key = self::key($found->endpoint);
            if (isset($slugs[$key])) {
                $there[$found->slug()] = $slugs[$key];
                unset($slugs[$key]);
            }
        }

        return $there;
    }

    /**
     * What can be stored of it: where both changes together make no sense, mine stays.
     *
     * @param  array<string, mixed>  $merged
     * @param  array<string, mixed>  $mine
     * @param  array<string, mixed>  $theirs
     * @return array<string, mixed>
     */
    private function settled(array $merged, array $mine, array $theirs): array
    {
        if (json_encode($merged) === json_encode($mine)) {
            return $merged;
        }
        $slug = (string) $mine['slug'];
        $repair = MergeRepair::of($merged, $mine, $theirs, fn (string $place): bool => in_array("$slug › $place", $this->take, true));
        // What is put back as a whole takes the single conflicts in it along.
        foreach ($repair->conflicts as $one) {
            $isInside = static fn (array $other): bool => $other['slug'] === $slug && ($one['place'] === MergeRepair::WHOLE || str_starts_with("{$other['place']} › ", "{$one['place']} › "));
            [$this->kept, $this->taken] = [array_values(array_filter($this->kept, static fn (array $other): bool => ! $isInside($other))), array_values(array_filter($this->taken, static fn (array $other): bool => ! $isInside($other)))];
        }
        foreach ($repair->conflicts as $one) {
            $conflict = ['slug' => $slug, 'place' => $one['place'], 'kept' => $one['kept'], 'offered' => $one['offered']];
            $one['isTaken'] ? $this->taken[] = $conflict : $this->kept[] = $conflict;
        }

        return $repair->endpoint;
    }

    /**
     * @param  list<string>  $path
     */
    private function conflict(string $slug, array $path, mixed $kept, mixed $offered): mixed
    {
        $one = ['slug' => $slug, 'place' => implode(' › ', $path), 'kept' => $kept, 'offered' => $offered];
        if (in_array("$slug › {$one['place']}", $this->take, true)) {
            $this->taken[] = $one;

            return $offered;
        }
        $this->kept[] = $one;

        return $kept;
    }

    /**
     * @param  list<string>  $path
     */
    private function value(mixed $base, mixed $mine, mixed $theirs, string $name, string $slug, array $path): mixed
    {
        $same = static fn (mixed $left, mixed $right): bool => json_encode($left) === json_encode($right);
        if ($same($mine, $theirs) || $same($base, $theirs)) {
            return $mine;
        }
        if ($same($base, $mine)) {
            return $theirs;
        }
        $parts = [Members::of($base, $name), Members::of($mine, $name), Members::of($theirs, $name)];
        if ($parts[1] === null || $parts[2] === null || $mine instanceof \stdClass) {
            return $this->conflict($slug, $path, $mine, $theirs);
        }
        $merged = [];
        foreach ($parts[1] as $member => $value) {
            $inBase = $parts[0] !== null && array_key_exists($member, $parts[0]);
            if (array_key_exists($member, $parts[2])) {
                $merged[$member] = $this->value($inBase ? $parts[0][$member] : null, $value, $parts[2][$member], (string) $member, $slug, [...$path, (string) $member]);
            } elseif (! $inBase || ! $same($parts[0][$member] ?? null, $value)) {
                // Added or changed by somebody, and not in the description.
                $stays = $inBase ? $this->conflict($slug, [...$path, (string) $member], $value, null) : $value;
                if ($stays !== null) {
                    $merged[$member] = $stays;
                }
            }
        }
        foreach ($parts[2] as $member => $value) {
            // What is in the base and not in mine was removed by somebody.
            if (! array_key_exists($member, $parts[1]) && ($parts[0] === null || ! array_key_exists($member, $parts[0]))) {
                $merged[$member] = $value;
            }
        }

        return is_array($mine) && array_is_list($mine) && $mine !== [] || Members::isNamed($name) ? array_values($merged) : $merged;
    }

    /**
     * @param  list<array<string, mixed>>  $endpoints
     * @return array<string, array<string, mixed>>
     */
    private static function byRequest(array $endpoints): array
    {
        $by = [];
        foreach ($endpoints as $endpoint) {
            $by[self::key($endpoint)] ??= $endpoint;
        }

        return $by;
    }

    /**
     * Method and path, whatever its inputs are called.
     *
     * @param  array<string, mixed>  $endpoint
     */
    private static function key(array $endpoint): string
    {
        return ($endpoint['ask']['method'] ?? 'GET').' '.preg_replace('/\{[^{}]*\}/', '{}', (string) ($endpoint['ask']['path'] ?? ''));
    }

    /**
     * @param  list<array<string, mixed>>  $endpoints
     * @param  list<string>  $added
     * @return list<array<string, mixed>>
     */
    private static function withTablesApart(array $endpoints, array $added): array
    {
        $taken = [];
        foreach ($endpoints as $number => $endpoint) {
            if (! isset($endpoint['flatten']) || in_array($endpoint['slug'], $added, true)) {
                continue;
            }
            foreach ([$endpoint['flatten'], ...($endpoint['flatten']['branches'] ?? [])] as $table) {
                $taken[$table['table']] = true;
            }
        }
        foreach ($endpoints as $number => $endpoint) {
            if (! isset($endpoint['flatten']) || ! in_array($endpoint['slug'], $added, true)) {
                continue;
            }
            $flatten = $endpoint['flatten'];
            $free = static function (string $wish) use (&$taken): string {
                for ($name = $wish, $n = 2; isset($taken[$name]); $n++) {
                    $name = "{$wish}_$n";
                }
                $taken[$name] = true;

                return $name;
            };
            $flatten['table'] = $free($flatten['table']);
            foreach ($flatten['branches'] ?? [] as $place => $branch) {
                $flatten['branches'][$place]['table'] = $free($branch['table']);
            }
            $endpoints[$number]['flatten'] = $flatten;
        }

        return $endpoints;
    }
}
