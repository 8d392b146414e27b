<?php

declare(strict_types=1);

namespace App\Sources;

use App\Evidence\CurrentAnswer;
use App\Models\Endpoint;
use App\Runs\TableNames;
use DeepSpring\Ask\RecordSets;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Suggest\Suggestion;
use DeepSpring\Value\Phrase;
use DeepSpring\Value\SafeNames;

/**
 * The tables that records suggest, under names that are free, and what of them is a suggestion.
 */
final readonly class TableSuggestion
{
    /**
     * @param  array<string, mixed>  $flatten  of a source file
     * @param  list<Suggestion>  $suggestions
     */
    private function __construct(public array $flatten, public array $suggestions)
    {
    }

    /**
     * @param  array<string, mixed>  $endpoint  of a source file; a table that it has keeps its name
     * @param  non-empty-list<mixed>  $records
     */
    public static function of(Endpoint $row, SourceFile $file, array $endpoint, array $records, CurrentAnswer $answer): self
    {
        $names = new TableNames($row, $file);
        $given = $endpoint['flatten']['table'] ?? null;
        $wanted = $given ?? self::name($row, $endpoint);
        $members = $answer->read === null ? null : (new EndpointDefinition($endpoint))->answer()->pageOf($answer->read)->members;
        $proposal = (new Proposer)->propose($records, $wanted, $members);
        $flatten = $given === null ? $names->freed($proposal->flatten) : $proposal->flatten;
        $endpoint['flatten'] = $flatten;
        $holder = $given === null ? $names->holder($wanted) : null;
        $key = $flatten['key'] ?? [];
        $why = $proposal->reasons["{$proposal->flatten['table']}.key"] ?? '';

        return new self($flatten, [
            ...($given !== null ? [] : [new Suggestion('table', $flatten['table'], $holder === null ? 'a name after the path of the request' : '"'.SafeNames::clean($wanted)."\" is kept already, by $holder")]),
            new Suggestion('columns', Suggestion::read($endpoint, 'columns'), 'names and types of columns, from '.Phrase::count(count($records), 'record')),
            new Suggestion('key', $key, $why, $key === [] ? [] : [['label' => 'no key', 'value' => []]]),
        ]);
    }

    /**
     * A name that no other table has.
     *
     * @param  array<string, mixed>  $endpoint
     */
    public static function freeName(Endpoint $row, SourceFile $file, array $endpoint): string
    {
        return (new TableNames($row, $file))->free(self::name($row, $endpoint));
    }

    /**
     * After the records that the path is about.
     *
     * @param  array<string, mixed>  $endpoint
     */
    private static function name(Endpoint $row, array $endpoint): string
    {
        $words = explode('/', RecordSets::path((string) ($endpoint['ask']['path'] ?? '')));

        return end($words) ?: $row->slug;
    }
}
