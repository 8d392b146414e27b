<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Value\JsonSubtrees;

/**
 * What each stratum of an endpoint says, as a hash: by it a screen knows whether a try proved the
 * settings that stand there now.
 */
final class SettingsFingerprint
{
    public const NAMES = ['ask', 'answer', 'onward', 'flatten'];

    /**
     * Of all that decides what a table holds: the settings, what it is read with, and the source.
     *
     * @param  array<string, mixed>  $endpoint  of a source file
     */
    public static function ofTable(array $endpoint, SourceDefinition $source, string $environment): string
    {
        $inputs = JsonSubtrees::canonical($endpoint['keep']['inputs'] ?? []).(isset($endpoint['keep']['lookup']) ? JsonSubtrees::canonical(array_diff_key($endpoint['keep']['lookup'], ['answers' => 1])) : '');

        return hash('xxh128', implode(' ', self::hashes($endpoint, $source->base($environment) ?? '')).$source->fingerprint($environment).$inputs);
    }

    /**
     * @param  array<string, mixed>  $endpoint  of a source file
     * @param  string  $base  the address it was sent to
     * @return array<string, string>
     */
    public static function hashes(array $endpoint, string $base): array
    {
        $hashes = [];
        foreach (self::NAMES as $name) {
            $hashes[$name] = hash('xxh128', JsonSubtrees::canonical([$endpoint[$name] ?? null, $name === 'ask' ? $base : null]));
        }

        return $hashes;
    }
}
