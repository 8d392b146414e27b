<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Reservoir\TableShape;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\FlattenFailure;
use DeepSpring\Flatten\Mask\Masks;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Flatten\Proposal\TableProposal;
use DeepSpring\Flatten\Reject;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * The rows that the records at hand become.
 */
final readonly class FlattenPreview
{
    /** @var list<PreviewTable> */
    public array $tables;

    /** @var list<Reject> the first of them */
    public array $rejects;

    /** How many values did not fit. */
    public int $rejected;

    /** How many rows a condition left out. */
    public int $filtered;

    /** Why there are no rows. */
    public ?string $fault;

    private ?Plan $plan;

    public function __construct(Masks $masks, private EndpointDefinition $definition, private RecordPage $page)
    {
        $this->plan = $plan = $definition->plan(now()->toDateTimeImmutable());
        $tables = [];
        $rejects = [];
        $rejected = $filtered = 0;
        $fault = null;
        if ($plan !== null && $page->values !== []) {
            try {
                $inputs = array_map(static fn (array $values): string => implode(',', $values), $definition->ask()->tryValues());
                $batch = (new Flattener($plan, $inputs, $masks))->flatten($page);
                foreach ($plan->tables() as $number => $table) {
                    $tables[] = new PreviewTable(new TableShape($table), $batch->rows[$number]);
                }
                $rejects = $batch->rejects;
                $rejected = $batch->rejected;
                $filtered = $batch->filtered;
            } catch (FlattenFailure $failure) {
                $fault = $failure->getMessage();
            }
        }

        [$this->tables, $this->rejects, $this->rejected, $this->filtered, $this->fault] = [$tables, $rejects, $rejected, $filtered, $fault];
    }

    /**
     * What the values of single columns suggest, seen again.
     *
     * @return array<string, string> "table.column" → a note
     */
    public function notes(): array
    {
        return $this->page->values === [] || $this->plan === null ? [] : $this->notesFor((new Proposer)->propose($this->page->written(), $this->plan->table->name));
    }

    /**
     * The notes of a proposal, on the columns that read the same path now.
     *
     * @return array<string, string>
     */
    private function notesFor(TableProposal $proposal): array
    {
        $byPath = [];
        foreach (Plan::tablesIn($proposal->flatten) as $table) {
            foreach ($table['columns'] as $column) {
                $note = $proposal->notes["{$table['table']}.{$column['name']}"] ?? null;
                if ($note !== null && isset($column['from'])) {
                    $byPath[($table['from'] ?? '').' '.$column['from']] = $note;
                }
            }
        }
        $notes = [];
        foreach (isset($this->definition->endpoint['flatten']) ? Plan::tablesIn($this->definition->endpoint['flatten']) : [] as $table) {
            foreach ($table['columns'] ?? [] as $column) {
                $note = $byPath[($table['from'] ?? '').' '.($column['from'] ?? '-')] ?? null;
                if ($note !== null) {
                    $notes["{$table['table']}.{$column['name']}"] = $note;
                }
            }
        }

        return $notes;
    }
}
