<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

use DeepSpring\Answer\AnswerDefinition;

/**
 * Where the records of an answer most likely are, and the columns they would become.
 */
final class AnswerColumns
{
    /**
     * @return string|null a JSONPath; null when the whole answer is one record
     */
    public static function recordsIn(mixed $document): ?string
    {
        return ((new RecordsFinder)->find($document)[0] ?? null)?->answer['records'] ?? null;
    }

    /**
     * An endpoint with records and columns as an answer suggests them.
     *
     * @param  array<string, mixed>  $endpoint  of a source file
     * @return array<string, mixed>
     */
    public static function fromAnswer(array $endpoint, mixed $answer): array
    {
        if (($endpoint['does'] ?? 'list') !== 'list') {
            return $endpoint;
        }
        $found = (new RecordsFinder)->find($answer)[0] ?? null;
        $endpoint['answer'] = ($found->answer ?? []) + ($endpoint['answer'] ?? []);
        if ($endpoint['answer'] === []) {
            unset($endpoint['answer']);
        }
        $records = AnswerDefinition::of($found->answer ?? [])->records($answer);
        if ($records === [] || ! $records[0] instanceof \stdClass) {
            return $endpoint;
        }
        $endpoint['flatten'] = (new Proposer)->propose(array_slice($records, 0, 500), str_replace('-', '_', $endpoint['slug']), AnswerDefinition::of($found->answer ?? [])->page($answer)->members)->flatten;

        return $endpoint;
    }

    public static function step(string $name): string
    {
        return preg_match('/^[A-Za-z_]\w*$/D', $name) === 1 ? ".$name" : '['.json_encode($name, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE).']';
    }
}
