<?php

declare(strict_types=1);

namespace App\Sources;

use App\Evidence\CurrentAnswer;
use App\Evidence\SampledRecords;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\Source;
use App\Models\Tryout;
use App\Models\User;
use App\Runs\TableNames;
use App\Runs\Tries;
use DeepSpring\Ask\EndpointRole;
use DeepSpring\SourceFile\Chosen;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\KeptInputs;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Suggest\PagingTrial;
use DeepSpring\Suggest\RecordsSuggestion;
use DeepSpring\Suggest\Suggestion;

/**
 * A first answer → everything that an endpoint needs to be kept: where its records are, how the list goes
 * on (proved by one page more), columns, key, a free name of a table, and what it is read with. What
 * nothing suggests is left as it is, and asked. Nothing that writes is ever sent, and nothing is sent at all
 * beyond the first answer where the source does not allow it.
 */
final class FirstTake
{
    /** Pages of a try that proves how a list goes on. */
    private const PAGES = 2;

    /** @var array<string, mixed> of the source file */
    private array $endpoint = [];

    /** @var list<Suggestion> */
    private array $suggestions = [];

    /** @var list<array{stratum: string, text: string}> */
    private array $questions = [];

    private ?Tryout $try = null;

    public function __construct(private readonly Tries $tries, private readonly SourceStore $store, private readonly AddressEndpoint $addresses)
    {
    }

    /**
     * The one endpoint of a new source, tried and set up as far as its answer suggests; of a source that is
     * an address alone, the one that the address is of. The source is tested in any case.
     *
     * @param  bool  $isRecorded  whether it was set up from an answer that somebody recorded, which gives way to what is answered now
     * @return Endpoint|null null when it has none, several, or one that writes
     */
    public function ofNew(Source $source, Environment $environment, ?User $by, bool $isRecorded = false): ?Endpoint
    {
        $file = $source->current();
        if ($file->source()->base($environment->slug) === null) {
            return null;
        }
        $endpoints = $file->endpoints();
        $isOne = count($endpoints) === 1 && ! $endpoints[0]->does()->writes() && ! Chosen::isOData($file->document);
        $try = $isOne ? null : $this->tries->source($source, $file, $environment, $by);
        $row = match (true) {
            $isOne => $source->endpoints()->where('slug', $endpoints[0]->slug)->first(),
            $try !== null && AddressEndpoint::isOne($file, $try) && AddressEndpoint::holdsRecords($try) => $this->addresses->make($source, $environment, $by),
            default => null,
        };
        if ($row !== null) {
            $this->of($row, $environment, $by, isRecorded: $isRecorded);
        }

        return $row;
    }

    /**
     * Tries an endpoint unless that was just done, and sets what the answer suggests. What was set before
     * stays.
     *
     * @param  (\Closure(): bool)|null  $stopped
     */
    public function of(Endpoint $row, Environment $environment, ?User $by, ?Tryout $try = null, ?\Closure $stopped = null, bool $isRecorded = false): void
    {
        $file = $row->source->refresh()->current();
        $definition = $file->endpoint($row->slug);
        if ($definition === null || $definition->does()->writes()) {
            return;
        }
        [$this->endpoint, $this->suggestions, $this->questions] = [$definition->endpoint, [], []];
        $this->try = $try ?? $this->tries->endpoint($row, $file, $definition, $environment, $by, stopped: $stopped, pages: 1);
        // A part that comes without being asked for says how the rest does.
        if ($this->try->succeeded || $this->first()?->status === 206) {
            if ($isRecorded) {
                $this->endpoint = Suggestion::put(array_diff_key($this->endpoint, ['flatten' => 1]), 'records', []);
            }
            $this->inputs();
            $this->records();
            if ($this->questions === []) {
                $this->paging($row, $file, $environment, $by, $stopped);
                $this->columns($row, $file, $environment);
            }
        }
        $this->keep($row, $by, $definition->endpoint);
    }

    /**
     * A table is read with what was asked for in the request as it was given. Where nobody gave one, test values
     * are for trying only, but for those without which nothing can be read.
     */
    private function inputs(): void
    {
        $needed = array_filter($this->endpoint['ask']['inputs'] ?? [], static fn (array $input): bool => isset($input['try']) && ! array_key_exists('fixed', $input) && ! array_key_exists('default', $input) && ($input['in'] === 'path' || ($input['required'] ?? false)));
        $given = $this->endpoint['keep']['inputs'] ?? [];
        $inputs = $given === [] ? array_column($needed, 'try', 'name') : $given;
        if ($inputs !== []) {
            $this->suggest(new Suggestion('inputs', $inputs, $given === [] ? 'it needs a value, and this is the one it was tried with' : 'these are the values of the request as it was given', $needed === [] ? [['label' => 'all of it', 'value' => []]] : []));
        }
    }

    private function records(): void
    {
        if (isset($this->endpoint['answer']['records']) || isset($this->endpoint['answer']['rows'])) {
            return;
        }
        $answer = $this->answer();
        if (! $answer->isThere) {
            $this->ask('answer', $answer->isGone ? 'The first answer was too large to be looked at. Ask for fewer records at a time, and try it.' : 'The answer could not be read as a document. Choose its format under Answer.');

            return;
        }
        $found = RecordsSuggestion::of($answer->document);
        if ($found->suggestion === null) {
            $this->ask('answer', (string) $found->question);

            return;
        }
        // A path tells badly whether it lists; what came tells it.
        if (($this->endpoint['does'] ?? 'list') !== 'call') {
            $this->endpoint['does'] = ($found->isOne ? EndpointRole::Get : EndpointRole::List)->value;
        }
        $this->suggest($found->suggestion);
    }

    /**
     * @param  (\Closure(): bool)|null  $stopped
     */
    private function paging(Endpoint $row, SourceFile $file, Environment $environment, ?User $by, ?\Closure $stopped): void
    {
        $definition = new EndpointDefinition($this->endpoint);
        if ($definition->does() !== EndpointRole::List || ($this->endpoint['onward']['style'] ?? 'none') !== 'none') {
            return;
        }
        $suggestions = new AnswerSuggestions($definition, $this->answer(), $this->first(), null, true);
        $trial = new PagingTrial($suggestions->paging(), $suggestions->signsOfMore());
        if (! $file->source()->allowsSecondPage()) {
            $trial->withoutTrying();
            $untried = $trial->untried();
            $this->endpoint = $untried === null ? $this->endpoint : KeptInputs::following($this->endpoint, $untried->appliedTo($this->endpoint));
            $this->followInputs();
        }
        $first = $this->try;
        while (($proposal = $trial->next()) !== null && ($stopped === null || ! $stopped())) {
            $changed = KeptInputs::following($this->endpoint, $proposal->appliedTo($this->endpoint));
            $this->try = $this->tries->endpoint($row, $file, new EndpointDefinition($changed), $environment, $by, stopped: $stopped, pages: self::PAGES);
            $trial->came(array_values($this->try->exchanges()->pluck('records')->map(intval(...))->all()), $this->fault());
            if ($trial->suggestion() !== null) {
                $this->endpoint = $changed;
                $this->followInputs();
            }
        }
        if ($trial->suggestion() === null && $this->try?->id !== $first?->id) {
            // What stands last is the request as it is set.
            $this->try = $this->tries->endpoint($row, $file, new EndpointDefinition($this->endpoint), $environment, $by, stopped: $stopped, pages: 1);
        }
        $trial->suggestion() === null ?: $this->suggest($trial->suggestion());
        $trial->question() === null ?: $this->ask('onward', $trial->question());
    }

    /**
     * Pages that do not follow each other are a fault of the way, though the try did not end by it.
     */
    private function fault(): ?string
    {
        $notes = array_values(array_filter($this->try->notes ?? [], static fn (array $note): bool => $note['where'] === 'onward' && in_array($note['code'], ['overlap', 'link-query'], true)));

        return $this->try?->succeeded === true ? $notes[0]['what'] ?? null : (string) ($this->try->diagnosis['what'] ?? 'it failed');
    }

    /**
     * What the pager sends is not among the values a table is read with.
     */
    private function followInputs(): void
    {
        $inputs = Suggestion::read($this->endpoint, 'inputs');
        $followed = array_map(static fn (Suggestion $one): Suggestion => $one->place === 'inputs' ? new Suggestion('inputs', $inputs, $one->reason, $one->others) : $one, $this->suggestions);
        $this->suggestions = array_values(array_filter($followed, static fn (Suggestion $one): bool => $one->place !== 'inputs' || $inputs !== []));
    }

    private function columns(Endpoint $row, SourceFile $file, Environment $environment): void
    {
        if (isset($this->endpoint['flatten'])) {
            $this->name($row, $file, $this->endpoint['flatten']);

            return;
        }
        $definition = new EndpointDefinition($this->endpoint);
        $records = SampledRecords::of($row, $definition, $environment)->written();
        if ($records === []) {
            $this->ask('flatten', 'No record came, so there is nothing to propose columns from. Try it with values that find something.');

            return;
        }
        $made = TableSuggestion::of($row, $file, $this->endpoint, $records, $this->answer());
        $this->endpoint['flatten'] = $made->flatten;
        $this->suggestions = [...$this->suggestions, ...$made->suggestions];
    }

    /**
     * Tables that a description brought along get names that are free.
     *
     * @param  array<string, mixed>  $flatten
     */
    private function name(Endpoint $row, SourceFile $file, array $flatten): void
    {
        $names = new TableNames($row, $file);
        $freed = $row->tables()->exists() ? $flatten : $names->freed($flatten);
        if ($freed !== $flatten) {
            $this->endpoint['flatten'] = $freed;
            $this->suggestions[] = new Suggestion('table', $freed['table'], implode('; ', array_map(static fn (string $name, array $taken): string => "\"$name\" is taken, by {$taken['holder']}", array_keys($names->conflicts($flatten)), $names->conflicts($flatten))));
        }
    }

    private function suggest(Suggestion $suggestion): void
    {
        $this->endpoint = Suggestion::put($this->endpoint, $suggestion->place, $suggestion->value);
        $this->suggestions[] = $suggestion;
    }

    private function ask(string $stratum, string $text): void
    {
        $this->questions[] = ['stratum' => $stratum, 'text' => $text];
    }

    private function first(): ?Exchange
    {
        return $this->try?->exchanges->first();
    }

    private function answer(): CurrentAnswer
    {
        return CurrentAnswer::of($this->first(), null, (new EndpointDefinition($this->endpoint))->answer());
    }

    /**
     * @param  array<string, mixed>  $before
     */
    private function keep(Endpoint $row, ?User $by, array $before): void
    {
        try {
            $this->store->edit($row->source, $by, function (array $document) use ($row, $before): ?array {
                foreach ($document['endpoints'] ?? [] as $number => $one) {
                    // What somebody changed meanwhile is theirs.
                    if ($one['slug'] === $row->slug && $one === $before) {
                        $document['endpoints'][$number] = $this->endpoint;

                        return $document;
                    }
                }

                return null;
            });
        } catch (InvalidSourceFile $invalid) {
            $this->suggestions = [];
            $this->questions = [];
            $this->ask('answer', 'What the answer suggests cannot be kept: '.$invalid->faults[0]->message.'.');
        }
        $row->update(['suggestions' => ['made' => array_map(static fn (Suggestion $one): array => $one->toArray(), $this->suggestions), 'questions' => $this->questions]]);
    }
}
