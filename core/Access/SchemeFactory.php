<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * The `access` list of a source file → schemes.
 */
final class SchemeFactory
{
    /**
     * @param  list<array<string, mixed>>  $access  valid by the schema
     * @return list<Scheme>
     */
    public static function all(array $access): array
    {
        return array_values(array_filter(array_map(self::one(...), $access)));
    }

    /**
     * @param  array<string, mixed>  $entry
     */
    private static function one(array $entry): ?Scheme
    {
        return match ($entry['scheme']) {
            'basic' => new Basic(Value::of($entry['username']), Value::of($entry['password'])),
            'bearer' => new Bearer(Value::of($entry['token']), $entry['prefix'] ?? 'Bearer'),
            'api-key' => new ApiKey($entry['in'], $entry['name'], Value::of($entry['value']), $entry['prefix'] ?? ''),
            default => null,
        };
    }
}
