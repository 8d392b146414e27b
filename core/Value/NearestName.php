<?php

declare(strict_types=1);

namespace DeepSpring\Value;

/**
 * The name that was probably meant.
 */
final class NearestName
{
    /**
     * @param  list<string>  $known
     * @param  float  $within  share of its letters that may differ
     */
    public static function to(string $name, array $known, float $within = 0.4): ?string
    {
        $best = null;
        $least = PHP_INT_MAX;
        $bare = static fn (string $text): string => strtolower((string) preg_replace('/[^A-Za-z0-9]/', '', $text));
        foreach ($known as $one) {
            $distance = $bare($one) === $bare($name) ? 0 : levenshtein(substr($bare($name), 0, 200), substr($bare($one), 0, 200));
            if ($one !== $name && $distance < $least && $distance <= max(1, (int) floor($within * max(strlen($name), strlen($one))))) {
                [$best, $least] = [$one, $distance];
            }
        }

        return $best;
    }
}
