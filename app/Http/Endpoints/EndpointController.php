<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Editing\Asked;
use App\Http\Editing\ChangedElsewhere;
use App\Http\Endpoints\Step\EndpointSteps;
use App\Http\Endpoints\Step\UseProposedPaging;
use App\Models\Endpoint;
use App\Models\Source;
use App\Runs\Tries;
use App\Sources\NewEndpoint;
use App\Sources\SourceStore;
use DeepSpring\Ask\RecordSets;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\Cache;
use Illuminate\Validation\ValidationException;

final class EndpointController extends EndpointPage
{
    public function __construct(EndpointSheets $sheets, private readonly AuditLog $log)
    {
        parent::__construct($sheets);
    }

    public function create(Source $source): View
    {
        $this->authorize('update', $source);

        return view('endpoints.create', ['source' => $source, 'sets' => RecordSets::of($source->current()->document['endpoints'] ?? [])]);
    }

    /**
     * By hand: a path, and what it does.
     */
    public function store(Source $source, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $source);
        try {
            $slug = '';
            $store->edit($source, $this->person(), function (array $document) use (&$slug): array {
                $endpoint = NewEndpoint::byHand($document, $this->text('path'), $this->text('method'), $this->text('does'), $this->text('name'));
                $slug = $endpoint['slug'];
                $document['endpoints'][] = $endpoint;

                return $document;
            });
        } catch (InvalidSourceFile $invalid) {
            throw ValidationException::withMessages(['path' => array_map(static fn (Fault $fault): string => ucfirst($fault->message), $invalid->faults)]);
        }

        return redirect()->route('endpoints.show', [$source, $slug]);
    }

    public function show(Source $source, Endpoint $endpoint): View
    {
        $this->authorize('view', $source);

        return $this->sheet(request()->hasHeader('HX-Request') ? 'endpoints.sheet' : 'endpoints.show', $source, $endpoint, $source->current());
    }

    /**
     * Keeps what was typed as the draft. With `do`, the sheet itself changes shape and is sent whole;
     * otherwise only what happened is, so that nothing moves under the hand.
     */
    public function update(Request $request, Source $source, Endpoint $endpoint, SourceStore $store): View|Response
    {
        $this->authorize('update', $source);
        try {
            [$saved, $faults] = $this->save($request, $source, $endpoint, $store);
        } catch (ChangedElsewhere $changed) {
            return $this->conflict($request, $source, $endpoint, $changed);
        }
        $isWhole = $request->has('do') || $request->has('insist');
        if ($isWhole && $faults !== []) {
            // What was typed and cannot be saved stays where it is.
            return response($this->sheet('endpoints.happened', $source, $endpoint, $saved, $faults))->header('HX-Reswap', 'none');
        }

        // A question that was asked stands as long as nothing changes what it is about.
        return $this->sheet($isWhole ? 'endpoints.sheet' : 'endpoints.happened', $source, $endpoint, $saved, $faults)->with('keepsQuestion', ! $this->isChanged);
    }

    /**
     * While somebody types: the request as it would leave, and nothing else.
     */
    public function preview(Request $request, Source $source, Endpoint $endpoint, SourceStore $store): View|Response
    {
        $this->authorize('update', $source);
        try {
            [$file, $faults] = $this->save($request, $source, $endpoint, $store);
        } catch (ChangedElsewhere $changed) {
            return $this->conflict($request, $source, $endpoint, $changed);
        }

        return view('endpoints.previewed', ['keepsQuestion' => ! $this->isChanged, 'source' => $source, 'ask' => $this->sheets->preview($endpoint, $file, $this->definition($file, $endpoint), $this->environment(), $faults), 'faultCount' => count($faults)]);
    }

    /**
     * Something that writes is asked about once, and sent when that is answered.
     */
    public function try(Request $request, Source $source, Endpoint $endpoint, SourceStore $store, Tries $tries): View|Response
    {
        $this->authorize('update', $source);
        try {
            [$file, $faults] = $this->save($request, $source, $endpoint, $store);
        } catch (ChangedElsewhere $changed) {
            return $this->conflict($request, $source, $endpoint, $changed);
        }
        $definition = $this->definition($file, $endpoint);
        if ($faults === [] && $definition->does()->writes() && $this->text('confirmed') !== '1') {
            $ask = $this->sheets->preview($endpoint, $file, $definition, $this->environment());
            if ($ask->cannot === null) {
                return view('endpoints.confirm', ['source' => $source, 'ask' => $ask, 'does' => $definition->does(), 'hasKey' => $definition->ask()->hasIdempotencyKey($definition->ask()->tryValues())]);
            }
        }
        $isProposal = EndpointSteps::chosen(new Asked($request)) instanceof UseProposedPaging;
        if ($faults === []) {
            $tries->endpoint($endpoint, $file, $definition, $this->environment(), $this->person(), stopped: $this->stopper($request), pages: $isProposal ? 2 : null);
        }

        return $this->sheet($isProposal ? 'endpoints.sheet' : 'endpoints.happened', $source, $endpoint, $file, $faults);
    }

    /**
     * Ends the try that a sheet waits for.
     */
    public function stop(Source $source): Response
    {
        $this->authorize('update', $source);
        if (preg_match('/^[0-9a-f]{24}$/D', $this->text('page')) === 1) {
            Cache::put("stop.{$this->text('page')}", true, 120);
        }

        return response()->noContent();
    }

    public function destroy(Source $source, Endpoint $endpoint, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $source);
        $store->edit($source, $this->person(), static function (array $document) use ($endpoint): array {
            $document['endpoints'] = array_values(array_filter($document['endpoints'] ?? [], static fn (array $one): bool => $one['slug'] !== $endpoint->slug));
            if (($document['source']['test']['endpoint'] ?? null) === $endpoint->slug) {
                $document['source']['test'] = array_diff_key($document['source']['test'], ['endpoint' => 1]);
                $document['source'] = array_filter($document['source'], static fn (mixed $one): bool => $one !== []);
            }

            return $document;
        });
        $this->log->note(Action::EndpointDeleted, "$source->slug: $endpoint->slug");

        return redirect()->route('sources.show', $source);
    }
}
