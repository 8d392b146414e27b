<?php

declare(strict_types=1);

namespace App\Http\Sheets;

use App\Evidence\CurrentAnswer;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Tryout;
use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\SampleFields;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Ask\EndpointRole;
use DeepSpring\Ask\RecordSets;
use DeepSpring\Describe\BodyFromSample;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\AnswerColumns;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\KeptInputs;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\SafeNames;
use Illuminate\Http\Request;
use Illuminate\Http\UploadedFile;

/**
 * What a button of an endpoint's sheet asks for beyond the fields.
 */
final readonly class EndpointEdit
{
    public function __construct(private Sheets $sheets, private Request $request, private Endpoint $row, private SourceFile $file, private Environment $environment)
    {
    }

    /**
     * @param  array<string, mixed>  $endpoint  with the fields applied
     * @return array<string, mixed>
     *
     * @throws InvalidSourceFile
     */
    public function apply(array $endpoint): array
    {
        $do = $this->text('do');
        if ($this->text('records_choice') !== '') {
            $endpoint['answer'] = ['records' => $this->text('records_choice')] + ($endpoint['answer'] ?? []);
        }

        return KeptInputs::following($endpoint, match (true) {
            $do === 'add-input' => $this->withInput($endpoint),
            $do === 'keep-as-tried' => KeptInputs::put($endpoint, KeptInputs::fromTestValues(KeptInputs::put($endpoint, []))),
            $do === 'propose' => $this->withColumns($endpoint),
            $do === 'body-inputs' => ['ask' => BodyForm::withInputs($endpoint['ask'])] + $endpoint,
            $do === 'body-from-get' => $this->withBodyOfGet($endpoint),
            $do === 'does' => $this->withRole($endpoint),
            $do === 'sample' => $this->withSample($endpoint),
            $do === 'sample-forget' => ['answer' => array_diff_key($endpoint['answer'] ?? [], ['sample' => 1])] + $endpoint,
            $do === 'node-column' => $this->withNodeAsColumn($endpoint),
            $do === 'node-input' => $this->withNodeAsValue($endpoint),
            $do === 'node-cursor' => $this->withNodeAsCursor($endpoint),
            preg_match('/^records-([0-9])$/D', $do, $part) === 1 => $this->withRecords($endpoint, (int) $part[1]),
            preg_match('/^onward-([0-9])$/D', $do, $part) === 1 => $this->withProposal($endpoint, (int) $part[1]),
            preg_match('/^add-column-(\d+)$/D', $do, $part) === 1 => $this->withColumn($endpoint, (int) $part[1]),
            default => $endpoint,
        });
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withInput(array $endpoint): array
    {
        $taken = array_column($endpoint['ask']['inputs'] ?? [], 'name');
        for ($number = 1; in_array("input_$number", $taken, true); $number++) {
            continue;
        }
        $endpoint['ask']['inputs'][] = ['name' => "input_$number", 'in' => 'query'];

        return $endpoint;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withColumns(array $endpoint): array
    {
        $sheet = $this->sheets->endpoint($this->row, $this->file, new EndpointDefinition($endpoint), $this->environment);
        if ($sheet->records !== []) {
            $endpoint['flatten'] = (new Proposer)->propose($sheet->answer->isSample ? $sheet->records : (ShapeSheet::sampled($this->row, new EndpointDefinition($endpoint), $this->environment) ?: $sheet->records), $endpoint['flatten']['table'] ?? $this->tableName($endpoint), $sheet->page->members)->flatten + array_intersect_key($endpoint['flatten'] ?? [], ['leave_out' => 1]);
        }

        return $endpoint;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withColumn(array $endpoint, int $table): array
    {
        $new = ['name' => 'column_'.random_int(100, 999), 'from' => '$', 'type' => 'json'];
        if (isset($endpoint['flatten'])) {
            $endpoint['flatten'] = FlattenTables::change($endpoint['flatten'], $table, static fn (array $one): array => ['columns' => [...$one['columns'], $new]] + $one);
        }

        return $endpoint;
    }

    /**
     * A role that was just chosen brings the method that it usually has, and a body where one is usual.
     *
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withRole(array $endpoint): array
    {
        $does = EndpointRole::tryFrom((string) ($endpoint['does'] ?? '')) ?? EndpointRole::List;
        $method = $endpoint['ask']['method'] ?? 'GET';
        $usual = ['list' => ['GET', 'POST'], 'get' => ['GET', 'POST'], 'create' => ['POST', 'PUT'], 'update' => ['PATCH', 'PUT', 'POST', 'MERGE'], 'delete' => ['DELETE', 'POST'], 'call' => ['POST', 'PUT', 'GET', 'PATCH', 'DELETE']][$does->value];
        if (! in_array($method, $usual, true)) {
            $endpoint['ask']['method'] = $usual[0];
        }
        if (in_array($does, [EndpointRole::Create, EndpointRole::Update], true) && ! isset($endpoint['ask']['body'])) {
            $endpoint['ask']['body'] = ['as' => 'json', 'of' => new \stdClass];
        }

        return $endpoint;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withBodyOfGet(array $endpoint): array
    {
        $document = $this->answerOfGet($this->row, $this->file, $this->environment);
        if ($document === null) {
            throw self::fault('body', 'There is no answer of an endpoint that gets one of these records. Try that one first.');
        }
        $others = array_values(array_filter($endpoint['ask']['inputs'] ?? [], static fn (array $input): bool => $input['in'] !== 'body'));
        [$body, $inputs] = (new BodyFromSample(array_column($others, 'name')))->of((string) json_encode($document, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION), 'application/json');
        $endpoint['ask']['body'] = $body;
        $endpoint['ask']['inputs'] = [...$others, ...$inputs];

        return $endpoint;
    }

    /**
     * The record in the last answer of the endpoint that gets one of the same records.
     */
    public static function answerOfGet(Endpoint $row, SourceFile $file, Environment $environment): mixed
    {
        $mine = $file->endpoint($row->slug);
        $set = RecordSets::path((string) ($mine?->endpoint['ask']['path'] ?? ''));
        foreach ($file->endpoints() as $one) {
            if ($one->does() !== EndpointRole::Get || RecordSets::path($one->ask()->path) !== $set) {
                continue;
            }
            $its = Endpoint::query()->where('source_id', $row->source_id)->where('slug', $one->slug)->first();
            $try = $its === null ? null : Tryout::query()->where('endpoint_id', $its->id)->where('environment_id', $environment->id)->where('succeeded', true)->latest('id')->first();
            $answer = CurrentAnswer::of($try?->exchanges->first(), null);
            $records = $answer->isThere ? $one->answer()->records($answer->document) : [];
            if (($records[0] ?? null) instanceof \stdClass) {
                return $records[0];
            }
        }

        return null;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withSample(array $endpoint): array
    {
        $upload = $this->request->file('sample_file');
        $text = $upload instanceof UploadedFile ? (string) $upload->get() : (is_string($this->request->input('sample_text')) ? $this->request->input('sample_text') : '');
        if (strlen($text) > 1_000_000) {
            throw self::fault('answer', 'A sample of more than 1 MB is not needed: a few records show all there is.', 'answer.sample');
        }
        // A list of fields describes one record.
        $isJson = preg_match('/^\s*[\[{]/', $text) === 1;
        try {
            $sample = $isJson ? JsonDecoder::decode($text) : SampleFields::document($text);
        } catch (UnreadableAnswer $unreadable) {
            throw self::fault('sample', str_replace('The answer', 'The sample', $unreadable->getMessage()).' Give JSON, or one field a line: name, type, example.', 'answer.sample');
        }
        $records = $endpoint['answer']['records'] ?? ($isJson ? AnswerColumns::recordsIn($sample) : null);
        $endpoint['answer'] = array_filter(['records' => $records]) + ($endpoint['answer'] ?? []);
        $endpoint['answer']['sample'] = $sample;

        return $endpoint;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withNodeAsColumn(array $endpoint): array
    {
        $from = NodeActs::inRecord($this->text('node'), (string) ($endpoint['answer']['records'] ?? ''));
        if ($from === null) {
            throw self::fault('flatten', "{$this->text('node')} is not inside a record.", 'flatten');
        }
        $name = SafeNames::clean((string) preg_replace('/[^\pL\pN]+/u', '_', substr($from, 1)));
        $taken = array_column($endpoint['flatten']['columns'] ?? [], 'name');
        for ($try = $name, $number = 2; in_array($try, $taken, true); $number++) {
            $try = "{$name}_$number";
        }
        $type = $this->text('type');
        $endpoint['flatten'] ??= ['table' => $this->tableName($endpoint), 'columns' => []];
        $endpoint['flatten']['columns'][] = ['name' => $try, 'from' => $from, 'type' => in_array($type, ['text', 'integer', 'float', 'boolean', 'json'], true) ? $type : 'text'];

        return $endpoint;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withNodeAsValue(array $endpoint): array
    {
        foreach ($endpoint['ask']['inputs'] ?? [] as $number => $input) {
            if ($input['name'] === $this->text('input')) {
                $value = is_string($this->request->input('value')) ? $this->request->input('value') : '';
                $endpoint['ask']['inputs'][$number] = ['try' => isset($input['many']) ? [$value] : $value] + array_diff_key($input, ['fixed' => 1]);
            }
        }

        return $endpoint;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withNodeAsCursor(array $endpoint): array
    {
        $isLink = preg_match('~^(?:https?:/)?/~', (string) (is_string($this->request->input('value')) ? $this->request->input('value') : '')) === 1;
        $was = $endpoint['onward'] ?? [];
        $size = array_intersect_key($was, ['size' => 1, 'size_as' => 1, 'max_pages' => 1]);
        $endpoint['onward'] = ($isLink ? ['style' => 'next-link', 'link' => $this->text('node')] : ['style' => 'cursor', 'send_as' => $was['send_as'] ?? 'after', 'next' => $this->text('node')] + array_intersect_key($was, ['more' => 1])) + $size;

        return $endpoint;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withRecords(array $endpoint, int $number): array
    {
        $proposal = $this->sheets->endpoint($this->row, $this->file, new EndpointDefinition($endpoint), $this->environment)->suggestions()->records()[$number] ?? null;
        if ($proposal === null) {
            return $endpoint;
        }
        $answer = $proposal->answer + array_diff_key($endpoint['answer'] ?? [], ['records' => 1, 'rows' => 1]);

        return $answer === [] ? array_diff_key($endpoint, ['answer' => 1]) : ['answer' => $answer] + $endpoint;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withProposal(array $endpoint, int $number): array
    {
        $proposal = $this->sheets->endpoint($this->row, $this->file, new EndpointDefinition($endpoint), $this->environment)->suggestions()->paging()[$number] ?? null;
        if ($proposal === null) {
            return $endpoint;
        }
        $endpoint['onward'] = $proposal->onward;
        // What the pager sends from now on is no input any more.
        $sent = array_filter([$proposal->onward['send_as'] ?? null, $proposal->onward['size_as'] ?? null]);
        $endpoint['ask']['inputs'] = array_values(array_filter($endpoint['ask']['inputs'] ?? [], static fn (array $input): bool => $input['in'] !== 'query' || ! in_array($input['name'], $sent, true)));
        if ($endpoint['ask']['inputs'] === []) {
            unset($endpoint['ask']['inputs']);
        }

        return $endpoint;
    }

    /**
     * After the records that the path is about; after the endpoint, when another one has that name.
     *
     * @param  array<string, mixed>  $endpoint
     */
    private function tableName(array $endpoint): string
    {
        $words = explode('/', RecordSets::path((string) ($endpoint['ask']['path'] ?? '')));
        $name = SafeNames::clean(end($words) ?: $this->row->slug);
        foreach ($this->file->document['endpoints'] ?? [] as $one) {
            foreach (isset($one['flatten']) && $one['slug'] !== $this->row->slug ? Plan::tablesIn($one['flatten']) : [] as $table) {
                if (SafeNames::clean($table['table']) === $name) {
                    return SafeNames::clean($this->row->slug);
                }
            }
        }

        return $name;
    }

    private static function fault(string $part, string $sentence, ?string $path = null): InvalidSourceFile
    {
        return InvalidSourceFile::because([new Fault('endpoints[0].'.($path ?? "ask.$part"), $sentence)]);
    }

    private function text(string $name): string
    {
        $value = $this->request->input($name);

        return is_string($value) ? trim($value) : '';
    }
}
