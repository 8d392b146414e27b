<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

use DeepSpring\Answer\JsonPath\Location;

/**
 * Members that stand twice in one object. RFC 8259 §4 leaves open which of them counts, and
 * `json_decode` takes the last in silence; here the record is refused. That some do is seen from
 * counts, which is cheap; where they are is looked for only then.
 */
final class Duplicates
{
    private const NAME = '/"(?:[^"\\\\]++|\\\\.)*+"(?:\s*+:|(*SKIP)(*FAIL))/s';

    /** Where none of these is, each name ends with `":`. */
    private const ODD = [' :', "\t:", "\n:", "\r:"];

    private const TOKEN = '/\G[\s,]*+(?:(?<open>[{\[])|(?<close>[}\]])|(?<name>"(?:[^"\\\\]++|\\\\.)*+")\s*+:|(?<value>"(?:[^"\\\\]++|\\\\.)*+"|[^\s,{}\[\]":]++))/s';

    /**
     * Whether the text has more members than what it was decoded to.
     */
    public static function areIn(string $json, mixed $document): bool
    {
        foreach (self::ODD as $odd) {
            if (str_contains($json, $odd)) {
                return preg_match_all(self::NAME, $json) !== MemberCount::exactly($document);
            }
        }
        $names = substr_count($json, '":');

        // What is learned is never more than there is, and what is counted in the text never less, so where they are the same no name stands twice.
        if ($names === MemberCount::atLeast($document)) {
            return false;
        }
        $members = MemberCount::exactly($document);

        // A quote within a text, or the one it ends or begins with, may have a colon behind it.
        return $names !== $members && preg_match_all(self::NAME, $json) !== $members;
    }

    /**
     * @return list<array{list<string|int>, string}> steps to the object, and the name that stands twice in it
     */
    public static function find(string $json): array
    {
        $found = [];
        $steps = [];
        /** @var list<array{array<string, true>|null}> $open names so far of an object, null for an array */
        $open = [];
        /** @var array<int, int> $places elements so far of the arrays that are open */
        $places = [];
        $name = null;
        for ($at = 0; preg_match(self::TOKEN, $json, $token, PREG_UNMATCHED_AS_NULL, $at) === 1; $at += strlen((string) $token[0])) {
            $top = count($open) - 1;
            if (isset($token['name'])) {
                $name = (string) json_decode($token['name']);
                if (isset($open[$top][0][$name])) {
                    $found[] = [$steps, $name];
                }
                $open[$top][0][$name] = true;
            } elseif (isset($token['close'])) {
                array_pop($open);
                array_pop($steps);
            } else {
                $step = $top < 0 ? null : ($open[$top][0] === null ? $places[$top]++ : $name);
                if (isset($token['open'])) {
                    if ($step !== null) {
                        $steps[] = $step;
                    } else {
                        $steps = [];
                    }
                    $open[] = [$token['open'] === '{' ? [] : null];
                    $places[$top + 1] = 0;
                    // The root has no step, but is closed like the others.
                    if ($step === null) {
                        $steps = [''];
                    }
                }
            }
        }

        return array_map(static fn (array $one): array => [array_slice($one[0], 1), $one[1]], $found);
    }

    /**
     * Why the records cannot be told, where such a member is on the way to them: one of two lists would be
     * lost.
     *
     * @param  list<string|int>  $head  the steps with which the path to the records begins
     * @param  list<list<string|int>>  $places  steps to each record
     */
    public static function before(string $json, array $head, array $places): ?string
    {
        foreach (self::find($json) as [$steps, $name]) {
            $at = [...$steps, $name];
            foreach ([$head, ...$places] as $number => $place) {
                $isOnTheWay = array_slice($place, 0, count($at)) === $at && ($number === 0 || count($at) <= count($place));
                if ($isOnTheWay) {
                    return "the member \"$name\" stands twice in $".implode('', array_map(Location::short(...), $steps)).', and nothing says which of them holds the records';
                }
            }
        }

        return null;
    }

    /**
     * Records that hold such a member, by their place among the records, and why each is refused.
     *
     * @param  list<list<string|int>>  $places  steps to each record
     * @return array<int, string>
     */
    public static function refused(string $json, array $places): array
    {
        $refused = [];
        foreach (self::find($json) as [$steps, $name]) {
            foreach ($places as $index => $place) {
                if (array_slice($steps, 0, count($place)) === $place) {
                    $inside = '$'.implode('', array_map(Location::short(...), array_slice($steps, count($place))));
                    $refused[$index] ??= "the member \"$name\" stands twice in $inside, and nothing says which of them counts";
                }
            }
        }

        return $refused;
    }
}
