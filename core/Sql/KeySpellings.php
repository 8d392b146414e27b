<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

use DeepSpring\Value\Phrase;

/**
 * Values that have no match because they are written otherwise there: with blanks, in other letters, with
 * zeros in front, with other dashes.
 */
final class KeySpellings
{
    /**
     * @param  list<string>  $lone  different values of one side without a match
     * @param  list<string>  $there  different values of the other side
     * @return list<string> a sentence of the way of writing that would bring most together; none where no way does
     */
    public static function between(array $lone, array $there): array
    {
        $helped = [];
        foreach (self::ways() as $way => $normal) {
            $known = [];
            foreach ($there as $value) {
                $known[$normal($value)] ??= $value;
            }
            $count = 0;
            $example = null;
            foreach ($lone as $value) {
                $other = $known[$normal($value)] ?? null;
                if ($other !== null && $other !== $value) {
                    $count++;
                    $example ??= [$value, $other];
                }
            }
            if ($example !== null) {
                $helped[$way] = [$count, $example];
            }
        }
        // The plainest way that helps as many says enough.
        uasort($helped, static fn (array $one, array $other): int => $other[0] <=> $one[0]);
        foreach ($helped as $way => [$count, [$here, $other]]) {
            return [Phrase::count($count, 'value', 'values').' of '.Phrase::count(count($lone), 'that was looked at', 'that were looked at')." would match if $way were ignored: \"$here\" here, \"$other\" there."];
        }

        return [];
    }

    /**
     * @return array<string, \Closure(string): string> what would have to be ignored → how it is made so; the plainest first
     */
    private static function ways(): array
    {
        $blanks = static fn (string $value): string => (string) preg_replace('/^[\s\x{a0}\x{200b}\x{feff}]+|[\s\x{a0}\x{200b}\x{feff}]+$/u', '', $value);
        $dashes = static fn (string $value): string => (string) preg_replace('/[\s\x{2010}-\x{2015}\x{2212}_.\/-]+/u', '', $value);
        $zeros = static fn (string $value): string => (string) preg_replace('/^0+(?=\d)|(?<=\d)\.0+$/', '', $value);

        return [
            'surrounding blanks' => $blanks,
            'letter case' => static fn (string $value): string => mb_strtolower($value),
            'leading zeros' => $zeros,
            'dashes and inner blanks' => $dashes,
            'blanks, letter case, leading zeros and dashes' => static fn (string $value): string => $zeros($dashes(mb_strtolower($blanks($value)))),
        ];
    }
}
