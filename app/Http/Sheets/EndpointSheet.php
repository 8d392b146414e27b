<?php

declare(strict_types=1);

namespace App\Http\Sheets;

use App\Evidence\CurrentAnswer;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\Tryout;
use App\Reservoir\TableShape;
use App\View\JsonTree;
use App\View\Ladder;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Answer\Shape;
use DeepSpring\Ask\EndpointRole;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\RecordSets;
use DeepSpring\Diagnose\ErrorBody;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\FlattenFailure;
use DeepSpring\Flatten\Mask\Masks;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Flatten\Proposal\RecordsFinder;
use DeepSpring\Flatten\Proposal\RecordsProposal;
use DeepSpring\Flatten\Reject;
use DeepSpring\Onward\Detect\Detector;
use DeepSpring\Onward\Detect\FirstAnswer;
use DeepSpring\Onward\Detect\PagingProposal;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\KeptInputs;
use DeepSpring\SourceFile\SettingsFingerprint;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\HtmlString;

/**
 * Everything that the sheet of an endpoint shows: what is set, and what happened on the last try
 * in the current environment.
 */
final class EndpointSheet
{
    public readonly ?Tryout $try;

    public readonly ?Exchange $first;

    public readonly ?Run $run;

    public readonly CurrentAnswer $answer;

    public readonly mixed $document;

    public readonly RecordPage $page;

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

    /** @var array<string, mixed> of the source file */
    public readonly array $endpoint;

    /**
     * @param  list<Fault>  $faults  of what was just sent and not saved
     */
    public function __construct(
        private readonly Masks $masks,
        public readonly AskPreview $ask,
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
        $this->answer = CurrentAnswer::of($this->try?->succeeded === true || ! isset($this->endpoint['answer']['sample']) ? $this->first : null, $this->endpoint['answer']['sample'] ?? null, $definition->answer());
        $document = $this->answer->document;
        $isSuccess = $this->answer->isSample || $this->first !== null && in_array($this->first->status, $definition->answer()->ok, true);
        $this->page = ! $this->answer->isThere || ! $isSuccess ? new RecordPage([]) : ($this->answer->read === null ? $definition->answer()->page($document) : $definition->answer()->pageOf($this->answer->read));
        $records = $this->page->values;
        $this->document = $document;
        $this->records = $records;
        [$this->tables, $this->rejects, $this->rejected, $this->flattenFault] = $this->flatten();
        $plan = $definition->plan(now()->toDateTimeImmutable());
        $this->notes = $records === [] || $plan === null ? [] : $this->notesFor((new Proposer)->propose($records, $plan->table->name));
    }

    /**
     * ok: proven as it stands; bad: failed; no: not tried since the last change.
     */
    public function node(string $stratum): string
    {
        if ($stratum === 'keep') {
            return $this->run === null || ! $this->run->state->isOver() ? 'no' : ($this->run->diagnosis === null && $this->run->state->value === 'done' ? 'ok' : 'bad');
        }
        if ($this->try === null) {
            return 'no';
        }
        if ($this->answer->isSample) {
            return $stratum === 'ask' && $this->failedAt() === 'ask' ? 'bad' : 'no';
        }
        $where = $this->failedAt();
        $order = ['ask' => 0, 'answer' => 1, 'onward' => 2, 'flatten' => 3];
        $now = SettingsFingerprint::hashes($this->endpoint, $this->file->source()->base($this->environment->slug) ?? '');
        $unchanged = ($this->try->strata[$stratum] ?? '') === $now[$stratum];
        if ($stratum === 'flatten') {
            return $this->tables === [] || $where !== null ? 'no' : ($this->flattenFault === null ? 'ok' : 'bad');
        }
        if ($stratum === 'answer' && $where === null) {
            return $this->records === [] && ! $this->definition->does()->writes() ? 'bad' : 'ok';
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
        return $this->try !== null && $this->try->strata['ask'] === SettingsFingerprint::hashes($this->endpoint, $this->file->source()->base($this->environment->slug) ?? '')['ask'];
    }

    public function failedAt(): ?string
    {
        $where = $this->try?->diagnosis['where'] ?? null;

        return $where === null ? null : (in_array($where, ['answer', 'onward', 'flatten'], true) ? $where : 'ask');
    }

    public function tree(): HtmlString
    {
        $records = (string) ($this->endpoint['answer']['records'] ?? '');
        $url = $this->answer->isSample || $this->try === null || $this->first === null ? route('endpoints.sample.tree', [$this->row->source, $this->row]) : route('tries.tree', [$this->try, $this->first->number]);

        return (new JsonTree($this->answer->nodes(), $url, str_ends_with($records, '[*]') ? substr($records, 0, -3) : null, route('endpoints.update', [$this->row->source, $this->row])))->html($this->answer->root());
    }

    /**
     * Ways to get the rest, as the first answer suggests them; none while the one that is set works.
     *
     * @return list<PagingProposal>
     */
    public function proposals(): array
    {
        $style = $this->endpoint['onward']['style'] ?? 'none';
        if (! $this->answer->isThere || $this->answer->isDigest || $this->definition->does() !== EndpointRole::List || $style !== 'none' && $this->failedAt() !== 'onward') {
            return [];
        }
        if ($this->first !== null && ! $this->answer->isSample && ! in_array($this->first->status, [...$this->definition->answer()->ok, 206], true)) {
            return [];
        }
        $headers = [];
        foreach ($this->answer->isSample || $this->first === null ? [] : Exchange::lines($this->first->headers) as [$name, $value]) {
            $headers[strtolower($name)] = $value;
        }
        $target = $this->answer->isSample || $this->first === null ? '' : explode(' ', (string) strtok($this->first->request, "\n"))[1] ?? '';
        $inputs = array_filter($this->endpoint['ask']['inputs'] ?? [], static fn (array $input): bool => $input['in'] === 'query');
        $found = (new Detector)->propose(new FirstAnswer($this->definition->ask()->method, "http://h$target", $this->first->status ?? 200, $headers, $this->document, $this->endpoint['answer']['records'] ?? null, array_column($inputs, 'name')));

        // What was just found not to work is not proposed again.
        $failed = $this->endpoint['onward'] ?? [];

        return array_values(array_filter($found, static fn (PagingProposal $one): bool => $one->onward !== $failed && ($one->onward['style'] !== $style || ($one->onward['send_as'] ?? $one->onward['link'] ?? '') !== ($failed['send_as'] ?? $failed['link'] ?? ''))));
    }

    /**
     * Where the records may be, as long as nothing is found where they are said to be.
     *
     * @return list<RecordsProposal>
     */
    public function recordProposals(): array
    {
        $isSet = isset($this->endpoint['answer']['records']) || isset($this->endpoint['answer']['rows']);
        if (! $this->answer->isThere || $this->definition->does() !== EndpointRole::List || $isSet && $this->records !== [] || $this->failedAt() === 'ask' && ! $this->answer->isSample) {
            return [];
        }

        return array_slice((new RecordsFinder)->find($this->document), 0, 3);
    }

    /**
     * A setting of onward in one line: what is sent, what is looked at.
     *
     * @param  array<string, mixed>  $onward
     */
    public static function inShort(array $onward): string
    {
        $parts = [];
        foreach (array_diff_key($onward, ['style' => 1]) as $name => $value) {
            $parts[] = "$name: ".(is_scalar($value) ? (is_bool($value) ? var_export($value, true) : $value) : json_encode($value));
        }

        return implode(', ', $parts);
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
            $pages[] = ['start' => $start, 'ms' => $ms, 'records' => $exchange->records, 'waited' => (int) ($exchange->timing['waited'] ?? 0), 'page' => $exchange->number];
            $start += $ms;
        }

        return Ladder::of($pages);
    }

    /**
     * @return list<string>
     */
    public function faultsAt(string $part): array
    {
        return $this->ask->faultsAt($part);
    }

    /**
     * How long a try of this endpoint usually takes, in milliseconds: the middle of the last ones that
     * succeeded; null when it was never tried.
     */
    public function usual(): ?int
    {
        $all = Tryout::query()->where('endpoint_id', $this->row->id)->where('environment_id', $this->environment->id)->where('succeeded', true)->latest('id')->limit(9)->pluck('milliseconds')->sort()->values();

        return $all->isEmpty() ? null : (int) $all[intdiv($all->count(), 2)];
    }

    /**
     * What the service said of single inputs, when it did not accept the request as it stands.
     *
     * @return array<string, string> by the name of the input
     */
    public function refusedInputs(): array
    {
        if ($this->first === null || ! in_array($this->first->status, [400, 422], true) || ! $this->askIsTried()) {
            return [];
        }
        $said = [];
        foreach (ErrorBody::of((string) $this->first->text())->fields as $field => $sentence) {
            $last = preg_split('/[.\[\]\/]+/', trim((string) $field, '.[]/')) ?: [];
            foreach ($this->endpoint['ask']['inputs'] ?? [] as $input) {
                if (strcasecmp($input['name'], (string) $field) === 0 || strcasecmp($input['name'], (string) end($last)) === 0) {
                    $said[$input['name']] ??= $sentence;
                }
            }
        }

        return $said;
    }

    /**
     * Endpoints over the same records, this one among them, and the roles that are missing.
     *
     * @return array{endpoints: list<array<string, mixed>>, missing: list<string>}
     */
    public function recordSet(): array
    {
        $sets = RecordSets::of($this->file->document['endpoints'] ?? []);

        return $sets[RecordSets::path((string) ($this->endpoint['ask']['path'] ?? ''))] ?? ['endpoints' => [], 'missing' => []];
    }

    /**
     * Records of the first answer; of a large one only some are looked at here.
     */
    public function recordCount(): int
    {
        return $this->answer->isDigest ? max((int) $this->first?->records, count($this->records)) : count($this->records);
    }

    /**
     * Where the real answer differs from the sample that the endpoint was made with.
     *
     * @return array{here: list<string>, there: list<string>, types: array<string, array{string, string}>}|null
     */
    public function againstSample(): ?array
    {
        $sample = $this->endpoint['answer']['sample'] ?? null;
        if ($sample === null || $this->answer->isSample || ! $this->answer->isThere || $this->try?->succeeded !== true) {
            return null;
        }

        return Shape::of($sample)->against(Shape::of($this->document));
    }

    /**
     * What the table is read with, in words: "all of it", "only status = open".
     */
    public function readWith(): string
    {
        try {
            return $this->definition->keptWith()->words();
        } catch (InvalidInput $invalid) {
            return $invalid->getMessage();
        }
    }

    /**
     * Inputs that a table can be read with.
     *
     * @return list<array{name: string, text: string, lines: int, isMany: bool, isNeeded: bool, default: string}>
     */
    public function keptInputs(): array
    {
        $inputs = [];
        foreach ($this->definition->ask()->inputs as $input) {
            if ($input->fixed === null) {
                $text = KeptInputs::text($this->endpoint['keep']['inputs'][$input->name] ?? null);
                $inputs[] = [
                    'name' => $input->name, 'text' => $text, 'lines' => min(8, substr_count($text, "\n") + 1), 'isMany' => $input->many !== null,
                    'isNeeded' => $input->required && $input->default === null, 'default' => implode(', ', $input->default ?? []),
                ];
            }
        }

        return $inputs;
    }

    /**
     * Inputs that have to be filled before it can be kept, in sentences.
     *
     * @return list<Fault>
     */
    public static function missingToKeep(EndpointDefinition $definition): array
    {
        try {
            $faults = $definition->keptWith()->faults();
        } catch (InvalidInput $invalid) {
            $faults = ['' => $invalid];
        }

        return array_values(array_map(static fn (InvalidInput $fault): Fault => new Fault('endpoints[0].keep', $fault->getMessage().' Say here what the table is read with; test values are for trying only.'), $faults));
    }

    /**
     * @return \Illuminate\Database\Eloquent\Collection<int, KeptTable>
     */
    public function kept(): \Illuminate\Database\Eloquent\Collection
    {
        return KeptTable::query()->where('endpoint_id', $this->row->id)->where('environment_id', $this->environment->id)->orderBy('id')->get();
    }

    /**
     * @return array{list<PreviewTable>, list<Reject>, int, string|null}
     */
    private function flatten(): array
    {
        $plan = $this->definition->plan(now()->toDateTimeImmutable());
        $tables = [];
        $rejects = [];
        $rejected = 0;
        $fault = null;
        if ($plan !== null && $this->records !== []) {
            try {
                $inputs = array_map(static fn (array $values): string => implode(',', $values), $this->definition->ask()->tryValues());
                $batch = (new Flattener($plan, $inputs, $this->masks))->flatten($this->page);
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
    private function notesFor(\DeepSpring\Flatten\Proposal\TableProposal $proposal): array
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
        foreach (isset($this->endpoint['flatten']) ? Plan::tablesIn($this->endpoint['flatten']) : [] as $table) {
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
