<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Sheets\EndpointForm;
use App\Http\Sheets\EndpointSheet;
use App\Http\Sheets\Turn;
use App\Models\Endpoint;
use App\Models\Source;
use App\Runs\Runs;
use App\Runs\Tries;
use App\Sources\SourceStore;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;

final class EndpointController extends Controller
{
    public function create(Source $source): View
    {
        $this->authorize('update', $source);

        return view('endpoints.create', ['source' => $source]);
    }

    public function store(Source $source, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $source);
        $path = $this->word('path');
        $name = $this->word('name') ?: ucfirst(trim((string) preg_replace('/[^a-z0-9]+/i', ' ', $path))) ?: 'Endpoint';
        $document = $source->inHand()->document;
        $taken = array_column($document['endpoints'] ?? [], 'slug');
        $slug = Str::slug($name) ?: 'endpoint';
        for ($number = 2, $try = $slug; in_array($try, $taken, true); $number++) {
            $try = "$slug-$number";
        }
        preg_match_all('/\{([^{}]+)\}/', $path, $found);
        $inputs = array_map(static fn (string $input): array => ['name' => $input, 'in' => 'path', 'required' => true], array_values(array_unique($found[1])));
        $document['endpoints'][] = ['slug' => $try, 'name' => $name, 'does' => 'list', 'ask' => ['method' => 'GET', 'path' => $path] + ($inputs === [] ? [] : ['inputs' => $inputs])];
        try {
            $store->draft(SourceFile::of($document), $this->person(), $source);
        } catch (InvalidSourceFile $invalid) {
            throw ValidationException::withMessages(['path' => array_map(static fn (Fault $fault): string => ucfirst($fault->message), $invalid->faults)]);
        }

        return redirect()->route('endpoints.show', [$source, $try]);
    }

    public function show(Source $source, Endpoint $endpoint): View
    {
        $this->authorize('view', $source);

        return $this->sheet(request()->hasHeader('HX-Request') ? 'endpoints.sheet' : 'endpoints.show', $source, $endpoint, $source->inHand());
    }

    /**
     * Keeps what was typed as the draft. With `do`, the sheet itself changes shape and is sent whole;
     * otherwise only what happened is, so that nothing moves under the hand.
     */
    public function update(Request $request, Source $source, Endpoint $endpoint, SourceStore $store): View
    {
        $this->authorize('update', $source);
        [$saved, $faults] = $this->save($request, $source, $endpoint, $store);

        return $this->sheet($request->has('do') || $request->has('records_choice') ? 'endpoints.sheet' : 'endpoints.happened', $source, $endpoint, $saved, $faults);
    }

    public function try(Request $request, Source $source, Endpoint $endpoint, SourceStore $store, Tries $tries): View
    {
        $this->authorize('update', $source);
        [$file, $faults] = $this->save($request, $source, $endpoint, $store);
        if ($faults === []) {
            $tries->endpoint($endpoint, $file, $this->definition($file, $endpoint), $this->environment(), $this->person());
        }

        return $this->sheet('endpoints.happened', $source, $endpoint, $file, $faults);
    }

    public function keep(Request $request, Source $source, Endpoint $endpoint, SourceStore $store, Runs $runs): View
    {
        $this->authorize('update', $source);
        [$file, $faults] = $this->save($request, $source, $endpoint, $store);
        if ($faults === []) {
            $store->publish($source, $this->person());
            $runs->queue($endpoint->refresh()->load('source'), $this->environment(), $this->person());
        }

        return $this->sheet('endpoints.happened', $source, $endpoint, $file, $faults);
    }

    public function destroy(Source $source, Endpoint $endpoint, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $source);
        $document = $source->inHand()->document;
        $document['endpoints'] = array_values(array_filter($document['endpoints'] ?? [], static fn (array $one): bool => $one['slug'] !== $endpoint->slug));
        if (($document['source']['test']['endpoint'] ?? null) === $endpoint->slug) {
            unset($document['source']['test']);
        }
        $store->draft(SourceFile::of($document), $this->person(), $source);

        return redirect()->route('sources.show', $source);
    }

    /**
     * @return array{SourceFile, list<Fault>}
     */
    private function save(Request $request, Source $source, Endpoint $endpoint, SourceStore $store): array
    {
        try {
            return [$store->edit($source, $this->person(), function (array $document) use ($request, $endpoint): ?array {
                if (Turn::of($request)?->isPast() === true) {
                    return null;
                }
                foreach ($document['endpoints'] ?? [] as $number => $one) {
                    if ($one['slug'] === $endpoint->slug) {
                        $document['endpoints'][$number] = $this->reshape((new EndpointForm($one))->apply($request->all()), $request, $endpoint, SourceFile::of($document));
                    }
                }

                return $document;
            }), []];
        } catch (InvalidSourceFile $invalid) {
            return [$source->inHand(), $invalid->faults];
        }
    }

    /**
     * What a button asks for beyond the fields.
     *
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function reshape(array $endpoint, Request $request, Endpoint $row, SourceFile $file): array
    {
        $do = $this->word('do');
        if ($this->word('records_choice') !== '') {
            $endpoint['answer'] = ['records' => $this->word('records_choice')] + ($endpoint['answer'] ?? []);
        }
        if ($do === 'add-input') {
            $taken = array_column($endpoint['ask']['inputs'] ?? [], 'name');
            for ($number = 1; in_array("input_$number", $taken, true); $number++) {
                continue;
            }
            $endpoint['ask']['inputs'][] = ['name' => "input_$number", 'in' => 'query'];
        }
        if ($do === 'propose') {
            $definition = new EndpointDefinition($endpoint);
            $sheet = new EndpointSheet($row, $file, $definition, $this->environment());
            if ($sheet->records !== []) {
                $endpoint['flatten'] = (new Proposer)->propose($sheet->records, $endpoint['flatten']['table'] ?? $row->slug)->flatten;
            }
        }
        if (preg_match('/^add-column-(\d+)$/D', $do, $part) === 1 && isset($endpoint['flatten'])) {
            $table = $part[1] === '0' ? 'flatten' : null;
            $new = ['name' => 'column_'.random_int(100, 999), 'from' => '$', 'type' => 'json'];
            if ($table !== null) {
                $endpoint['flatten']['columns'][] = $new;
            } elseif (isset($endpoint['flatten']['branches'][(int) $part[1] - 1])) {
                $endpoint['flatten']['branches'][(int) $part[1] - 1]['columns'][] = $new;
            }
        }

        return $endpoint;
    }

    /**
     * @param  list<Fault>  $faults
     */
    private function sheet(string $view, Source $source, Endpoint $endpoint, SourceFile $file, array $faults = []): View
    {
        $source->refresh();

        return view($view, ['source' => $source, 'sheet' => new EndpointSheet($endpoint, $file, $this->definition($file, $endpoint), $this->environment(), $faults)]);
    }

    private function definition(SourceFile $file, Endpoint $endpoint): EndpointDefinition
    {
        return $file->endpoint($endpoint->slug) ?? abort(404);
    }
}
