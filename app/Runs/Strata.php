<?php

declare(strict_types=1);

namespace App\Runs;

use DeepSpring\Value\JsonSubtrees;

/**
 * What each stratum of an endpoint says, as a hash: by it a screen knows whether a try proved the
 * settings that stand there now.
 */
final class Strata
{
    public const NAMES = ['ask', 'answer', 'onward', 'flatten'];

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
