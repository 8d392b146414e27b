<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Http\Controller;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Tries;
use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\Shape;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\SourceFile\EndpointDefinition;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;

/**
 * One endpoint in two environments: the same shape of answer, the same columns?
 */
final class CompareController extends Controller
{
    public function show(Source $source, Endpoint $endpoint): View
    {
        $this->authorize('view', $source);
        $definition = $source->current()->endpoint($endpoint->slug) ?? abort(404);
        $here = $this->environment();
        $others = Environment::query()->where('id', '<>', $here->id)->orderBy('position')->get();
        $there = Environment::named($this->text('with')) ?? $others->first() ?? abort(404);
        $tries = [$endpoint->lastTry($here), $endpoint->lastTry($there)];
        $documents = array_map($this->document(...), $tries);
        $shapes = array_map(static fn (mixed $document): ?Shape => $document === null ? null : Shape::of($document), $documents);

        return view('endpoints.compare', [
            'source' => $source, 'endpoint' => $endpoint, 'name' => $definition->name, 'sides' => [[$here, $tries[0]], [$there, $tries[1]]], 'others' => $others,
            'difference' => isset($shapes[0], $shapes[1]) ? $shapes[0]->against($shapes[1]) : null,
            'columns' => isset($documents[0], $documents[1]) ? [$this->columns($documents[0], $definition), $this->columns($documents[1], $definition)] : null,
        ]);
    }

    /**
     * Tries what stands in the sheets in both: the draft, or what is published where there is none.
     */
    public function try(Source $source, Endpoint $endpoint, Tries $tries): RedirectResponse
    {
        $this->authorize('update', $source);
        $file = $source->current();
        $definition = $file->endpoint($endpoint->slug) ?? abort(404);
        $with = Environment::named($this->text('with')) ?? abort(404);
        if ($definition->does()->writes()) {
            return redirect()->route('endpoints.compare', [$source, $endpoint, 'with' => $with->slug]);
        }
        foreach ([$this->environment(), $with] as $environment) {
            $tries->endpoint($endpoint, $file, $definition, $environment, $this->person());
        }

        return redirect()->route('endpoints.compare', [$source, $endpoint, 'with' => $with->slug]);
    }

    private function document(?Tryout $try): mixed
    {
        $text = $try?->succeeded === true ? $try->exchanges->first()?->text() : null;
        try {
            return $text === null ? null : JsonDecoder::decode($text);
        } catch (UnreadableAnswer) {
            return null;
        }
    }

    /**
     * Columns that would be proposed from these records, by name.
     *
     * @return array<string, string>
     */
    private function columns(mixed $document, EndpointDefinition $definition): array
    {
        $records = $definition->answer()->records($document);
        if ($records === []) {
            return [];
        }
        $proposal = (new Proposer)->propose($records, $definition->slug)->flatten;
        $columns = [];
        foreach ([$proposal, ...($proposal['branches'] ?? [])] as $number => $table) {
            foreach ($table['columns'] as $column) {
                $columns[($number === 0 ? '' : "{$table['table']}.").$column['name']] = (string) ($column['type'] ?? 'text');
            }
        }

        return $columns;
    }
}
