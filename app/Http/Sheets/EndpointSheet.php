<?php

declare(strict_types=1);

namespace App\Http\Sheets;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\Tryout;
use App\Reservoir\TableShape;
use App\Runs\Reading;
use App\Runs\ReadingFailed;
use App\Runs\Strata;
use App\Secrets\Vault;
use App\Transport\Transport;
use App\View\JsonTree;
use App\View\Ladder;
use DeepSpring\Answer\JsonBody;
use DeepSpring\Answer\JsonPath\InvalidJsonPath;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\FlattenFailure;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Flatten\Reject;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\HtmlString;

/**
 * Everything that the sheet of an endpoint shows: what is set, and what happened on the last try
 * in the environment in hand.
 */
final class EndpointSheet
{
    public readonly ?Tryout $try;

    public readonly ?Exchange $first;

    public readonly ?Run $run;

    /** Request as it would leave now, without secrets; or why there is none. */
    public readonly string $preview;

    public readonly ?Diagnosis $cannotAsk;

    public readonly mixed $document;

    /** @var list<mixed> */
    public readonly array $records;

    /** @var list<PreviewTable> */
    public readonly array $tables;

    /** @var list<Reject> */
    public readonly array $rejects;

    public readonly int $rejected;

    /** @var array<string, string> "table.column" → a note on its values */
    public readonly array $notes;

    public readonly ?string $flattenFault;

    public readonly bool $bodyIsGone;

    /** @var array<string, mixed> of the source file */
    public readonly array $endpoint;

    /**
     * @param  list<Fault>  $faults  of what was just sent and not saved
     */
    public function __construct(
        public readonly Endpoint $row,
        public readonly SourceFile $file,
        public readonly EndpointDefinition $definition,
        public readonly Environment $environment,
        public readonly array $faults = [],
    ) {
        $this->endpoint = $definition->endpoint;
        $this->try = $row->lastTry($environment);
        $this->first = $this->try?->exchanges->first();
        $this->run = $row->lastRun($environment);
        [$this->preview, $this->cannotAsk] = $this->previewRequest();
        $text = $this->first?->text();
        $this->bodyIsGone = $this->first !== null && $text === null;
        $document = null;
        $records = [];
        if ($text !== null && $this->first->error === null) {
            try {
                $document = JsonBody::decode($text);
                $records = in_array($this->first->status, $definition->answer()->ok, true) ? $definition->answer()->records($document) : [];
            } catch (UnreadableAnswer) {
                $document = null;
            }
        }
        $this->document = $document;
        $this->records = $records;
        [$this->tables, $this->rejects, $this->rejected, $this->flattenFault] = $this->flatten();
        $plan = $definition->plan();
        $this->notes = $records === [] || $plan === null ? [] : $this->notesFor((new Proposer)->propose($records, $plan->table->name));
    }

    /**
     * ok: proven as it stands; bad: failed; no: not tried as it stands.
     */
    public function node(string $stratum): string
    {
        if ($stratum === 'keep') {
            return $this->run === null || ! $this->run->state->isOver() ? 'no' : ($this->run->diagnosis === null && $this->run->state->value === 'done' ? 'ok' : 'bad');
        }
        if ($this->try === null) {
            return 'no';
        }
        $where = $this->failedAt();
        $order = ['ask' => 0, 'answer' => 1, 'onward' => 2, 'flatten' => 3];
        $now = Strata::hashes($this->endpoint, $this->file->source()->base($this->environment->slug) ?? '');
        $unchanged = ($this->try->strata[$stratum] ?? '') === $now[$stratum];
        if ($stratum === 'flatten') {
            return $this->tables === [] || $where !== null ? 'no' : ($this->flattenFault === null ? 'ok' : 'bad');
        }
        if ($stratum === 'answer' && $where === null) {
            return $this->records === [] ? 'bad' : 'ok';
        }
        if ($where !== null && $order[$stratum] >= $order[$where]) {
            return $stratum === $where && $unchanged ? 'bad' : 'no';
        }

        return $unchanged ? 'ok' : 'no';
    }

    /**
     * Whether the request on the last try is the one that would leave now.
     */
    public function askIsTried(): bool
    {
        return $this->try !== null && $this->try->strata['ask'] === Strata::hashes($this->endpoint, $this->file->source()->base($this->environment->slug) ?? '')['ask'];
    }

    public function failedAt(): ?string
    {
        $where = $this->try?->diagnosis['where'] ?? null;

        return $where === null ? null : (in_array($where, ['answer', 'onward', 'flatten'], true) ? $where : 'ask');
    }

    public function tree(): HtmlString
    {
        $records = (string) ($this->endpoint['answer']['records'] ?? '');

        return (new JsonTree(str_ends_with($records, '[*]') ? substr($records, 0, -3) : null, route('endpoints.update', [$this->row->source, $this->row])))->html($this->document);
    }

    public function ladder(): ?Ladder
    {
        if ($this->try === null || $this->try->exchanges->count() === 0) {
            return null;
        }
        $pages = [];
        $start = 0;
        foreach ($this->try->exchanges as $exchange) {
            $ms = (int) round((float) ($exchange->timing['total'] ?? 0));
            $pages[] = ['start' => $start, 'ms' => $ms, 'records' => $exchange->records, 'waited' => (int) ($exchange->timing['waited'] ?? 0)];
            $start += $ms;
        }

        return Ladder::of($pages);
    }

    /**
     * @return list<string>
     */
    public function faultsAt(string $part): array
    {
        $sentences = [];
        foreach ($this->faults as $fault) {
            if (preg_match('/^endpoints\[\d+\]\.'.preg_quote($part, '/').'(?:[.\[]|$)(.*)/s', $fault->path, $found) === 1) {
                $sentences[] = $found[1] === '' ? $fault->message : self::place($found[1]).': '.$fault->message;
            } elseif ($part === 'ask' && preg_match('/^endpoints\[\d+\](\.(name|slug))?$/', $fault->path) === 1) {
                $sentences[] = $fault->message;
            }
        }

        return $sentences;
    }

    /**
     * @return \Illuminate\Database\Eloquent\Collection<int, KeptTable>
     */
    public function kept(): \Illuminate\Database\Eloquent\Collection
    {
        return KeptTable::query()->where('endpoint_id', $this->row->id)->where('environment_id', $this->environment->id)->orderBy('id')->get();
    }

    private static function place(string $rest): string
    {
        return (string) preg_replace_callback('/(inputs|columns|branches)?\[?(\d+)\]\.?/', static fn (array $found): string => rtrim($found[1], 's').' '.((int) $found[2] + 1).' ', $rest);
    }

    /**
     * @return array{string, Diagnosis|null}
     */
    private function previewRequest(): array
    {
        try {
            $reading = new Reading(app(Transport::class), app(Vault::class), $this->row->source, $this->file->source(), $this->environment);

            return [trim($reading->preview($this->definition, $this->definition->ask()->tryValues(), $this->firstPage())), null];
        } catch (ReadingFailed $failed) {
            return ['', $failed->diagnosis];
        }
    }

    private function firstPage(): PageRequest
    {
        try {
            return $this->definition->onward()->pager()->first();
        } catch (InvalidJsonPath) {
            return new PageRequest;
        }
    }

    /**
     * @return array{list<PreviewTable>, list<Reject>, int, string|null}
     */
    private function flatten(): array
    {
        $plan = $this->definition->plan();
        $tables = [];
        $rejects = [];
        $rejected = 0;
        $fault = null;
        if ($plan !== null && $this->records !== []) {
            try {
                $inputs = array_map(static fn (array $values): string => implode(',', $values), $this->definition->ask()->tryValues());
                $batch = (new Flattener($plan, $inputs))->flatten($this->records);
                foreach ($plan->tables() as $number => $table) {
                    $tables[] = new PreviewTable(new TableShape($table), $batch->rows[$number]);
                }
                $rejects = $batch->rejects;
                $rejected = $batch->rejected;
            } catch (FlattenFailure $failure) {
                $fault = $failure->getMessage();
            }
        }

        return [$tables, $rejects, $rejected, $fault];
    }

    /**
     * The notes of a proposal, on the columns that read the same path now.
     *
     * @return array<string, string>
     */
    private function notesFor(\DeepSpring\Flatten\Proposal\Proposal $proposal): array
    {
        $byPath = [];
        foreach ([$proposal->flatten, ...($proposal->flatten['branches'] ?? [])] as $table) {
            foreach ($table['columns'] as $column) {
                $note = $proposal->notes["{$table['table']}.{$column['name']}"] ?? null;
                if ($note !== null && isset($column['from'])) {
                    $byPath[($table['from'] ?? '').' '.$column['from']] = $note;
                }
            }
        }
        $notes = [];
        foreach ([$this->endpoint['flatten'] ?? [], ...($this->endpoint['flatten']['branches'] ?? [])] as $table) {
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
