<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

/**
 * The members of a part of a document, by names that stay when it is edited: elements of a list go by
 * what tells them apart, not by their number.
 */
final class Members
{
    private const NAMED = ['endpoints' => 'slug', 'inputs' => 'name', 'columns' => 'name', 'branches' => 'table'];

    /**
     * @param  string  $of  the name of the part
     * @return array<array-key, mixed>|null null for what has no members, or is compared as a whole
     */
    public static function of(mixed $value, string $of): ?array
    {
        if ($value instanceof \stdClass) {
            return get_object_vars($value);
        }
        if (! is_array($value)) {
            return null;
        }
        if (! array_is_list($value) || $value === []) {
            return $value;
        }
        $name = self::NAMED[$of] ?? null;
        if ($of === 'access') {
            return array_combine(array_map(static fn (mixed $one, int $number): string => ($number + 1).' '.(is_array($one) ? $one['scheme'] ?? '' : ''), $value, array_keys($value)), $value);
        }
        if ($name === null) {
            return null;
        }
        $members = [];
        foreach ($value as $number => $one) {
            $members[is_array($one) && is_string($one[$name] ?? null) ? $one[$name] : (string) $number] = $one;
        }

        return $members;
    }

    public static function isNamed(string $of): bool
    {
        return isset(self::NAMED[$of]);
    }
}
