<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

use DeepSpring\Answer\JsonPath\Location;

/**
 * Two documents, compared by their structure. Elements of arrays go by a key where there is one, so
 * that a record that moved is no change; otherwise by their place.
 */
final class Difference
{
    private const MOST = 500;

    private const KEYS = ['id', 'uuid', 'key', 'ref', 'code', 'number', 'slug', 'name'];

    /** @var list<array{path: string, kind: string, was: mixed, now: mixed}> */
    private array $changes = [];

    public int $count = 0;

    /**
     * @return list<array{path: string, kind: string, was: mixed, now: mixed}> kind: added, removed, changed; at most 500, of `count`
     */
    public function of(mixed $was, mixed $now): array
    {
        $this->changes = [];
        $this->count = 0;
        $this->compare($was, $now, '$');

        return $this->changes;
    }

    private function compare(mixed $was, mixed $now, string $path): void
    {
        if ($was === $now) {
            return;
        }
        if ($was instanceof \stdClass && $now instanceof \stdClass) {
            $this->members(get_object_vars($was), get_object_vars($now), static fn (string|int $name): string => $path.self::step((string) $name));
        } elseif (is_array($was) && is_array($now)) {
            $key = self::key($was, $now);
            $key === null
                ? $this->members($was, $now, static fn (string|int $at): string => "{$path}[$at]")
                : $this->members(self::by($was, $key), self::by($now, $key), static fn (string|int $value): string => $path.'[?@.'.$key.' == '.substr((string) $value, 1).']');
        } elseif (! (is_int($was) || is_float($was)) || ! (is_int($now) || is_float($now)) || (float) $was !== (float) $now) {
            $this->add($path, 'changed', $was, $now);
        }
    }

    /**
     * @param  array<array-key, mixed>  $was
     * @param  array<array-key, mixed>  $now
     * @param  \Closure(string|int): string  $path
     */
    private function members(array $was, array $now, \Closure $path): void
    {
        foreach ($was as $name => $value) {
            array_key_exists($name, $now) ? $this->compare($value, $now[$name], $path($name)) : $this->add($path($name), 'removed', $value, null);
        }
        foreach (array_diff_key($now, $was) as $name => $value) {
            $this->add($path($name), 'added', null, $value);
        }
    }

    private function add(string $path, string $kind, mixed $was, mixed $now): void
    {
        if (++$this->count <= self::MOST) {
            $this->changes[] = ['path' => $path, 'kind' => $kind, 'was' => $was, 'now' => $now];
        }
    }

    /**
     * A member that every element of both has, with a value of its own.
     *
     * @param  array<array-key, mixed>  $was
     * @param  array<array-key, mixed>  $now
     */
    private static function key(array $was, array $now): ?string
    {
        if ($was === [] || $now === []) {
            return null;
        }
        $first = $was[0] ?? null;
        $names = $first instanceof \stdClass ? array_map(strval(...), array_keys(get_object_vars($first))) : [];
        $likely = array_filter($names, static fn (string $name): bool => in_array(strtolower($name), self::KEYS, true) || preg_match('/(?:_id|Id|_no|_key)$/D', $name) === 1);
        usort($likely, static fn (string $a, string $b): int => (array_search(strtolower($a), self::KEYS, true) === false ? 99 : (int) array_search(strtolower($a), self::KEYS, true)) <=> (array_search(strtolower($b), self::KEYS, true) === false ? 99 : (int) array_search(strtolower($b), self::KEYS, true)));
        foreach ($likely as $name) {
            if (preg_match('/^[A-Za-z_]\w*$/D', $name) === 1 && self::isUnique($was, $name) && self::isUnique($now, $name)) {
                return $name;
            }
        }

        return null;
    }

    /**
     * @param  array<array-key, mixed>  $list
     */
    private static function isUnique(array $list, string $name): bool
    {
        $seen = [];
        foreach ($list as $one) {
            $value = $one instanceof \stdClass ? $one->{$name} ?? null : null;
            if (! is_int($value) && ! is_string($value) || isset($seen[self::mark($value)])) {
                return false;
            }
            $seen[self::mark($value)] = true;
        }

        return true;
    }

    /**
     * @param  array<array-key, mixed>  $list
     * @return array<string, mixed>
     */
    private static function by(array $list, string $name): array
    {
        $by = [];
        foreach ($list as $one) {
            $by[self::mark($one->{$name})] = $one;
        }

        return $by;
    }

    /**
     * As JSONPath compares it; with a sign before, so that PHP does not take digits for a number.
     */
    private static function mark(int|string $value): string
    {
        return '='.(is_int($value) ? $value : "'".addcslashes($value, "'\\")."'");
    }

    private static function step(string $name): string
    {
        return preg_match('/^[A-Za-z_]\w*$/D', $name) === 1 ? ".$name" : Location::step($name);
    }
}
