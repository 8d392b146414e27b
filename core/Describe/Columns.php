<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\Flatten\Proposal\Proposer;

/**
 * Where the records of an answer most likely are, and the columns they would become.
 */
final class Columns
{
    /** Names that lists of records go by. */
    public const LISTS = ['data', 'items', 'results', 'records', 'rows', 'values', 'entries', 'content', 'list', 'objects', 'hits', 'elements', 'value'];

    /**
     * @return string|null a JSONPath; null when the whole answer is one record
     */
    public static function recordsIn(mixed $document): ?string
    {
        if (is_array($document)) {
            return self::areRecords($document) ? '$[*]' : null;
        }
        if ($document instanceof \stdClass && array_filter(['id', 'uuid', '_id'], static fn (string $name): bool => is_scalar($document->{$name} ?? null)) !== []) {
            // It is a record itself, and its lists belong to it.
            return null;
        }
        $best = null;
        foreach ($document instanceof \stdClass ? get_object_vars($document) : [] as $name => $value) {
            $path = '$'.self::step((string) $name);
            if (is_array($value) && self::areRecords($value)) {
                $rank = [in_array(strtolower((string) $name), self::LISTS, true) ? 1 : 0, count($value)];
                $best = $best === null || $rank > $best[0] ? [$rank, "{$path}[*]"] : $best;
            } elseif ($value instanceof \stdClass) {
                foreach (get_object_vars($value) as $inner => $list) {
                    if (is_array($list) && self::areRecords($list) && (in_array(strtolower((string) $name), ['data', 'result', 'response', '_embedded', 'd', 'body', 'payload'], true) || in_array(strtolower((string) $inner), self::LISTS, true))) {
                        $best ??= [[0, 0], $path.self::step((string) $inner).'[*]'];
                    }
                }
            }
        }

        return $best[1] ?? null;
    }

    /**
     * An endpoint with records and columns as an answer suggests them.
     *
     * @param  array<string, mixed>  $endpoint  of a source file
     * @return array<string, mixed>
     */
    public static function fromAnswer(array $endpoint, mixed $answer): array
    {
        $path = ($endpoint['does'] ?? 'list') === 'list' ? self::recordsIn($answer) : null;
        if ($path !== null) {
            $endpoint['answer'] = ['records' => $path] + ($endpoint['answer'] ?? []);
        }
        $records = $path === null ? [$answer] : \DeepSpring\Answer\JsonPath\JsonPath::parse($path)->values($answer);
        if (($endpoint['does'] ?? 'list') !== 'list' || $records === [] || ! $records[0] instanceof \stdClass) {
            return $endpoint;
        }
        $endpoint['flatten'] = (new Proposer)->propose(array_slice($records, 0, 500), str_replace('-', '_', $endpoint['slug']))->flatten;

        return $endpoint;
    }

    public static function step(string $name): string
    {
        return preg_match('/^[A-Za-z_]\w*$/D', $name) === 1 ? ".$name" : '['.json_encode($name, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE).']';
    }

    /**
     * @param  array<array-key, mixed>  $list
     */
    private static function areRecords(array $list): bool
    {
        return $list !== [] && $list[0] instanceof \stdClass;
    }
}
