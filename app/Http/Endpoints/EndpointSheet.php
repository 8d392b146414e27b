<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Evidence\CurrentAnswer;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\Tryout;
use App\Runs\RefutedPaging;
use App\Sources\AnswerSuggestions;
use App\View\JsonTree;
use App\View\Ladder;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Answer\Shape;
use DeepSpring\Ask\RecordSets;
use DeepSpring\Diagnose\ErrorBody;
use DeepSpring\Flatten\Mask\Masks;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
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

    private ?FlattenPreview $preview = null;

    private ?SuggestedSettings $setup = null;

    /** @var array<string, mixed> of the source file */
    public readonly array $endpoint;

    /**
     * @param  list<Fault>  $faults  of what was just sent and not saved
     * @param  (\Closure(): bool)|null  $rebuild  whether its tables can be made anew from the pages that are kept
     */
    public function __construct(
        private readonly Masks $masks,
        public readonly AskPreview $ask,
        public readonly Endpoint $row,
        public readonly SourceFile $file,
        public readonly EndpointDefinition $definition,
        public readonly Environment $environment,
        public readonly array $faults = [],
        private readonly ?\Closure $rebuild = null,
    ) {
        $this->endpoint = $definition->endpoint;
        $this->try = $row->lastTry($environment);
        $this->first = $this->try?->exchanges->first();
        $this->run = $row->lastRun($environment);
        $this->answer = CurrentAnswer::of($this->try?->succeeded === true || ! isset($this->endpoint['answer']['sample']) ? $this->first : null, $this->endpoint['answer']['sample'] ?? null, $definition->answer());
        $document = $this->answer->document;
        $isSuccess = $this->answer->isSample || $this->first !== null && in_array($this->first->status, $definition->answer()->ok, true);
        $this->page = ! $this->answer->isThere || ! $isSuccess ? new RecordPage([]) : ($this->answer->read === null ? $definition->answer()->page($document) : $definition->answer()->pageOf($this->answer->read));
        $this->document = $document;
        $this->records = $this->page->values;
    }

    /**
     * The rows of the first answer, made when they are first asked for.
     */
    public function preview(): FlattenPreview
    {
        return $this->preview ??= new FlattenPreview($this->masks, $this->definition, $this->page);
    }

    public function suggestions(): AnswerSuggestions
    {
        return new AnswerSuggestions($this->definition, $this->answer, $this->first, $this->failedAt(), $this->records !== [], (new RefutedPaging($this->row, $this->environment, $this->endpoint, $this->file->source()->base($this->environment->slug) ?? ''))->has(...));
    }

    /**
     * What nobody set, and what a person was asked.
     */
    public function setup(): SuggestedSettings
    {
        return $this->setup ??= new SuggestedSettings($this->row, $this->file, $this->endpoint);
    }

    /**
     * Whether nobody can supply an input: those who use the endpoint are not offered it, and it has no value of
     * its own.
     *
     * @param  array<string, mixed>  $input  of a source file
     */
    public function isUnsupplied(array $input): bool
    {
        return ($input['private'] ?? false) === true && ! array_key_exists('fixed', $input) && ! array_key_exists('default', $input);
    }

    public function canRebuild(): bool
    {
        return $this->rebuild !== null && ($this->rebuild)();
    }

    /**
     * Whether the answer that came can suggest the rest of the settings.
     */
    public function canSuggest(): bool
    {
        return ! isset($this->endpoint['flatten']) && $this->try?->succeeded === true && ! $this->answer->isSample && ! $this->definition->does()->writes();
    }

    /**
     * @param  string  $chosen  how the sheet said it a moment ago
     */
    public function refresh(string $chosen = ''): RefreshFields
    {
        return new RefreshFields($this->definition, $this->file->source()->environments(), $chosen);
    }

    public function keep(): KeepFields
    {
        return new KeepFields($this->definition);
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
            return $this->preview()->tables === [] || $where !== null ? 'no' : ($this->preview()->fault === null ? 'ok' : 'bad');
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

        return (new JsonTree($this->answer->nodes(), $this->treeUrl(), str_ends_with($records, '[*]') ? substr($records, 0, -3) : null, route('endpoints.update', [$this->row->source, $this->row])))->html($this->answer->root());
    }

    /**
     * Id of the tree on the page: the same as long as the tree is, so that what somebody opened in it
     * stays open while the sheet is saved.
     */
    public function treeId(): string
    {
        return 'tree-'.substr(hash('sha256', serialize([$this->treeUrl(), $this->endpoint['answer']['records'] ?? null, $this->answer->isSample ? $this->endpoint['answer']['sample'] ?? null : null])), 0, 16);
    }

    private function treeUrl(): string
    {
        return $this->answer->isSample || $this->try === null || $this->first === null ? route('endpoints.sample.tree', [$this->row->source, $this->row]) : route('tries.tree', [$this->try, $this->first->number]);
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
     * @return \Illuminate\Database\Eloquent\Collection<int, KeptTable>
     */
    public function kept(): \Illuminate\Database\Eloquent\Collection
    {
        return KeptTable::query()->where('endpoint_id', $this->row->id)->where('environment_id', $this->environment->id)->orderBy('id')->get();
    }
}
