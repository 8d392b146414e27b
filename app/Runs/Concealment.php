<?php

declare(strict_types=1);

namespace App\Runs;

use App\Evidence\EvidenceWriter;
use App\Models\AnswerPart;
use App\Models\Drift;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\RejectedValue;
use App\Models\Run;
use App\Models\SeenProfile;
use App\Models\SourceDocument;
use App\Models\Tryout;
use App\Reservoir\TableStore;
use App\Secrets\Vault;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\Mask\Concealing;
use DeepSpring\Flatten\Mask\MaskedPlaces;
use DeepSpring\Flatten\Plan;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Database\Eloquent\Builder;

/**
 * When a column is masked for the first time, what was written before is masked, too, or forgotten.
 * Only the tables themselves keep it until they are made anew.
 */
final readonly class Concealment
{
    public function __construct(private Vault $vault, private TableStore $store)
    {
    }

    /**
     * Columns of an endpoint that are masked, and how.
     *
     * @param  array<string, mixed>  $endpoint  of a source file
     * @return list<string>
     */
    public static function masked(array $endpoint): array
    {
        $masked = [];
        foreach (isset($endpoint['flatten']) ? Plan::tablesIn($endpoint['flatten']) : [] as $table) {
            foreach ($table['columns'] as $column) {
                if (($column['mask'] ?? 'none') !== 'none') {
                    $masked[] = ($table['from'] ?? '').' '.json_encode(array_intersect_key($column, ['from' => 1, 'parent' => 1, 'up' => 1, 'envelope' => 1, 'many' => 1, 'mask' => 1]));
                }
            }
        }

        return $masked;
    }

    /**
     * The same endpoint with its sample masked.
     *
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    public function sample(array $endpoint): array
    {
        if (self::masked($endpoint) === [] || ! isset($endpoint['answer']['sample'])) {
            return $endpoint;
        }
        $definition = new EndpointDefinition($endpoint);
        $plan = $definition->plan();
        if ($plan === null || ! MaskedPlaces::areClear($plan)) {
            unset($endpoint['answer']['sample']);
        } else {
            $endpoint['answer']['sample'] = (new Concealing($plan, $definition->answer(), $this->vault->masks()))->document($endpoint['answer']['sample']);
        }

        return $endpoint;
    }

    public function earlier(Endpoint $row, EndpointDefinition $definition): void
    {
        $plan = $definition->plan();
        if ($plan === null || ! $plan->isMasked()) {
            return;
        }
        $concealing = new Concealing($plan, $definition->answer(), $this->vault->masks());
        $runs = Run::query()->where('endpoint_id', $row->id)->pluck('id');
        $tries = Tryout::query()->where('endpoint_id', $row->id)->pluck('id');
        $exchanges = Exchange::query()->where(static fn (Builder $any) => $any->whereIn('try_id', $tries)->orWhereIn('run_id', $runs))->where('purpose', EvidenceWriter::REQUEST)->whereNotNull('body')->pluck('id');
        foreach ($exchanges as $id) {
            $exchange = Exchange::query()->findOrFail($id, Exchange::LIGHT);
            $body = $concealing->body((string) $exchange->text(), (string) $exchange->header('content-type'), $exchange->status >= 400);
            AnswerPart::query()->where('exchange_id', $exchange->id)->delete();
            Exchange::query()->whereKey($exchange->id)->update(['body' => $body === null ? null : gzdeflate($body, 1), 'digest' => null]);
        }
        foreach ($plan->tables() as $table) {
            $names = array_map(static fn (Column $column): string => $column->name, array_filter($table->columns, static fn (Column $column): bool => ! $column->isPlain()));
            RejectedValue::query()->whereIn('run_id', $runs)->where('table', $table->name)->whereIn('column', $names)->update(['value' => 'masked']);
            RejectedValue::query()->whereIn('run_id', $runs)->where('table', $table->name)->when(array_intersect($names, $table->key) === [], static fn (Builder $none) => $none->whereRaw('false'))->update(['record_key' => '']);
        }
        $this->samples($row, $definition);
        SeenProfile::query()->where('endpoint_id', $row->id)->delete();
        Drift::query()->where('endpoint_id', $row->id)->update(['examples' => '[]']);
        foreach (Environment::query()->get() as $environment) {
            $this->store->pages($environment, "e$row->id")->forget();
        }
    }

    /**
     * Samples in versions that were published before. Where the answer was described otherwise then, it is
     * not known where the values are, and the sample goes.
     */
    private function samples(Endpoint $row, EndpointDefinition $definition): void
    {
        $about = static fn (array $endpoint): array => array_diff_key($endpoint['answer'] ?? [], ['sample' => 1]);
        foreach ($row->source->documents()->whereNotNull('version')->pluck('id') as $id) {
            $stored = SourceDocument::query()->findOrFail($id);
            $document = $stored->file()->document;
            $isChanged = false;
            foreach ($document['endpoints'] ?? [] as $number => $endpoint) {
                if ($endpoint['slug'] !== $row->slug || ! isset($endpoint['answer']['sample'])) {
                    continue;
                }
                $isChanged = true;
                $masked = $about($endpoint) == $about($definition->endpoint) ? $this->sample(['answer' => $endpoint['answer']] + $definition->endpoint)['answer'] : array_diff_key($endpoint['answer'], ['sample' => 1]);
                $document['endpoints'][$number]['answer'] = $masked;
                if ($masked === []) {
                    unset($document['endpoints'][$number]['answer']);
                }
            }
            if ($isChanged) {
                $stored->update(SourceDocument::columns(SourceFile::trusted($document)));
            }
        }
    }
}
