<?php

declare(strict_types=1);

namespace DeepSpring\Value;

/**
 * A document is arrays, but for the JSON trees in it (bodies and samples): there `{}` and `[]`, or
 * `{"0": …}` and a list, are different things, so objects stay `stdClass`.
 */
final class JsonSubtrees
{
    private const TREES = [['ask', 'body', 'of'], ['answer', 'sample', null]];

    /**
     * What a decoder gave with objects as `stdClass` → a document.
     */
    public static function document(mixed $decoded): mixed
    {
        return self::grafted(self::arrays($decoded), $decoded);
    }

    /**
     * JSON → a document. Decoding it twice is quicker than turning objects into arrays here, and most
     * documents need it once.
     *
     * @throws \JsonException
     */
    public static function decoded(string $json): mixed
    {
        $document = json_decode($json, true, 512, JSON_THROW_ON_ERROR);

        return str_contains($json, '"body":') || str_contains($json, '"sample":') ? self::grafted($document, json_decode($json, false, 512, JSON_THROW_ON_ERROR)) : $document;
    }

    /**
     * The trees of a decoded document, in the place of their arrays.
     */
    private static function grafted(mixed $document, mixed $decoded): mixed
    {
        foreach (is_array($document) && is_array($document['endpoints'] ?? null) ? array_keys($document['endpoints']) : [] as $number) {
            foreach (self::TREES as [$part, $name, $last]) {
                $tree = self::at($decoded, ['endpoints', $number, $part, $name, ...($last === null ? [] : [$last])]);
                if ($tree === null) {
                    continue;
                }
                if ($last === null) {
                    $document['endpoints'][$number][$part][$name] = $tree;
                } else {
                    $document['endpoints'][$number][$part][$name][$last] = $tree;
                }
            }
        }

        return $document;
    }

    /**
     * Maps that were written as PHP arrays become objects.
     */
    public static function tree(mixed $value): mixed
    {
        if ($value instanceof \stdClass || is_array($value) && $value !== [] && ! array_is_list($value)) {
            $object = new \stdClass;
            $isAsItWas = $value instanceof \stdClass;
            foreach ((array) $value as $name => $member) {
                $object->{$name} = self::tree($member);
                $isAsItWas = $isAsItWas && $object->{$name} === $member;
            }

            // The object itself, when nothing in it changes: by that an endpoint is known to be as it was.
            return $isAsItWas ? $value : $object;
        }

        return is_array($value) ? array_map(self::tree(...), $value) : $value;
    }

    /**
     * @param  array<string, mixed>  $document
     * @return array<string, mixed>
     */
    public static function normal(array $document): array
    {
        foreach (is_array($document['endpoints'] ?? null) ? $document['endpoints'] : [] as $number => $endpoint) {
            if (isset($endpoint['ask']['body']['of'])) {
                $document['endpoints'][$number]['ask']['body']['of'] = self::tree($endpoint['ask']['body']['of']);
            }
            if (isset($endpoint['answer']['sample'])) {
                $document['endpoints'][$number]['answer']['sample'] = self::tree($endpoint['answer']['sample']);
            }
        }

        return $document;
    }

    /**
     * The same text for parts that say the same, in whatever order their members stand.
     */
    public static function canonical(mixed $value): string
    {
        if ($value instanceof \stdClass || is_array($value) && $value !== [] && ! array_is_list($value)) {
            $members = (array) $value;
            ksort($members, SORT_STRING);

            return '{'.implode(',', array_map(static fn (string|int $name, mixed $member): string => json_encode((string) $name, JSON_INVALID_UTF8_SUBSTITUTE).':'.self::canonical($member), array_keys($members), $members)).'}';
        }

        return is_array($value) ? '['.implode(',', array_map(self::canonical(...), $value)).']' : (string) json_encode($value, JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE);
    }

    private static function arrays(mixed $value): mixed
    {
        return $value instanceof \stdClass || is_array($value) ? array_map(self::arrays(...), (array) $value) : $value;
    }

    /**
     * @param  list<string|int>  $path
     */
    private static function at(mixed $value, array $path): mixed
    {
        foreach ($path as $step) {
            $value = $value instanceof \stdClass ? $value->{$step} ?? null : (is_array($value) ? $value[$step] ?? null : null);
        }

        return $value;
    }
}
