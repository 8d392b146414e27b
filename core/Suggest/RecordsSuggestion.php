<?php

declare(strict_types=1);

namespace DeepSpring\Suggest;

use DeepSpring\Flatten\Proposal\RecordsFinder;
use DeepSpring\Flatten\Proposal\RecordsProposal;
use DeepSpring\Value\Phrase;

/**
 * Where the records of an answer are: suggested where one place is clearly the likeliest, and a question
 * where none is.
 */
final readonly class RecordsSuggestion
{
    /** Score below which a list is not taken for the records. */
    private const PLAUSIBLE = 60;

    /** How much likelier than the next it has to be. */
    private const CLEARLY = 15;

    /**
     * @param  Suggestion|null  $suggestion  null where a person has to say it
     * @param  string|null  $question  what has to be said, a sentence
     * @param  bool  $isOne  whether the answer is one record, and no list
     */
    private function __construct(public ?Suggestion $suggestion, public ?string $question = null, public bool $isOne = false)
    {
    }

    public static function of(mixed $document): self
    {
        $found = (new RecordsFinder)->find($document);
        if ($found === []) {
            return new self(null, $document === [] ? 'The answer is an empty list, so nothing can be proposed from it. Try it with values that find something.' : 'The answer holds no records that columns could be proposed from. Choose under Answer where they are.');
        }
        $best = $found[0];
        $lists = array_values(array_filter($found, static fn (RecordsProposal $one): bool => $one->answer !== []));
        if ($best->answer === [] || $lists === []) {
            return new self(new Suggestion('records', [], $best->why, self::others($found, $best)), null, true);
        }
        $rival = $found[1] ?? null;
        if ($rival !== null && $best->score - $rival->score < self::CLEARLY || $best->score < self::PLAUSIBLE && count($lists) > 1) {
            $names = array_map(static fn (RecordsProposal $one): string => self::path($one).' ('.Phrase::count($one->count, 'record').')', array_slice($found, 0, 3));

            return new self(null, 'Several parts of the answer may be the records: '.implode(', ', $names).'. Choose one under Answer.');
        }

        return new self(new Suggestion('records', $best->answer, $best->why, self::others($found, $best)));
    }

    /**
     * @param  list<RecordsProposal>  $found
     * @return list<array{label: string, value: mixed}>
     */
    private static function others(array $found, RecordsProposal $taken): array
    {
        return array_values(array_map(static fn (RecordsProposal $one): array => ['label' => self::path($one), 'value' => $one->answer], array_filter(array_slice($found, 0, 4), static fn (RecordsProposal $one): bool => $one !== $taken)));
    }

    private static function path(RecordsProposal $one): string
    {
        return $one->answer === [] ? 'the whole answer as one record' : ($one->answer['records'] ?? $one->answer['rows']['data']);
    }
}
