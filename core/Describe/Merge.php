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
final class Merge
{
    /** @var list<array{slug: string, place: string, kept: mixed, offered: mixed}> where people and the API both changed something */
    public array $kept = [];

    /** @var array<string, list<DocumentChange>> what changes, by the slug of an endpoint */
    public array $changes = [];

    /** @var list<string> slugs of endpoints that are new */
    public array $added = [];

    /** @var list<string> slugs of endpoints that the description no longer has; they stay */
    public array $gone = [];

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
        $there = self::byRequest($mine);
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
            $offered = ['slug' => $endpoint['slug']] + $new[$key];
            // One that no description made is whoever's who made it, and stays as it is.
            $old = ['slug' => $endpoint['slug']] + ($base[$key] ?? $new[$key]);
            $one = $this->value($old, $endpoint, $offered, '', $endpoint['slug'], []);
            $one = is_array($one) ? $one : $endpoint;
            $changes = (new DocumentComparison)->of($endpoint, $one);
            if ($changes !== []) {
                $this->changes[$endpoint['slug']] = $changes;
            }
            $merged[] = $one;
        }
        foreach ($theirs as $found) {
            $key = self::key($found->endpoint);
            if (isset($there[$key]) || isset($base[$key]) && $chosen === null || $chosen !== null && ! in_array($found->slug(), $chosen, true)) {
                continue;
            }
            $endpoint = ['slug' => $slugs->take($found->slug())] + $found->endpoint;
            $this->added[] = $endpoint['slug'];
            $merged[] = $endpoint;
        }

        return self::withTablesApart($merged, $this->added);
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
            $this->kept[] = ['slug' => $slug, 'place' => implode(' › ', $path), 'kept' => $mine, 'offered' => $theirs];

            return $mine;
        }
        $merged = [];
        foreach ($parts[1] as $member => $value) {
            $inBase = $parts[0] !== null && array_key_exists($member, $parts[0]);
            if (array_key_exists($member, $parts[2])) {
                $merged[$member] = $this->value($inBase ? $parts[0][$member] : null, $value, $parts[2][$member], (string) $member, $slug, [...$path, (string) $member]);
            } elseif (! $inBase || ! $same($parts[0][$member] ?? null, $value)) {
                // Added or changed by somebody, and not in the description.
                $merged[$member] = $value;
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
        return ($endpoint['ask']['method'] ?? 'GET').' '.rtrim((string) preg_replace('/\{[^{}]*\}/', '{}', (string) ($endpoint['ask']['path'] ?? '')), '/');
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
