<?php

declare(strict_types=1);

namespace DeepSpring\Check;

/**
 * The form that texts have in common, as a regular expression: runs of digits, of letters, and what stands between.
 */
final class TextForm
{
    /** Runs of a text beyond which it has no form that says much. */
    private const MOST = 8;

    /**
     * @param  list<string>  $texts
     * @return string|null null where they have none in common, or one that says nothing
     */
    public static function of(array $texts): ?string
    {
        $runs = null;
        foreach ($texts as $text) {
            preg_match_all('/\d+|[A-Z]+|[a-z]+|[^A-Za-z\d]+/', $text, $found);
            $here = $found[0];
            if (count($here) < 2 || count($here) > self::MOST || $runs !== null && count($runs) !== count($here)) {
                return null;
            }
            foreach ($here as $place => $run) {
                $runs[$place][] = $run;
            }
        }
        $parts = array_map(self::part(...), $runs ?? []);

        return in_array(null, $parts, true) || ! str_contains(implode('', $parts), '\d') ? null : implode('', $parts);
    }

    /**
     * @param  non-empty-list<string>  $runs  of the same place
     */
    private static function part(array $runs): ?string
    {
        $class = static fn (string $run): string => match (true) {
            ctype_digit($run) => '\d', ctype_upper($run) => '[A-Z]', ctype_lower($run) => '[a-z]', default => '',
        };
        $classes = array_unique(array_map($class, $runs));
        $same = count(array_unique($runs)) === 1;
        if ($same && $classes !== ['\d']) {
            return str_replace('\-', '-', preg_quote($runs[0]));
        }
        if (count($classes) !== 1 || $classes[0] === '') {
            return null;
        }
        $lengths = array_map(strlen(...), $runs);

        return $classes[0].(min($lengths) === max($lengths) ? (max($lengths) === 1 ? '' : '{'.max($lengths).'}') : '+');
    }
}
