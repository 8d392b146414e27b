<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Sheets\ChangedElsewhere;
use App\Http\Sheets\ChangeSequence;
use App\Http\Sheets\EditConflictGuard;
use App\Http\Sheets\EndpointForm;
use App\Http\Sheets\KeepFields;
use App\Http\Sheets\Sheets;
use App\Models\Endpoint;
use App\Models\Source;
use App\Runs\RefreshJob;
use App\Runs\Runs;
use App\Runs\Tries;
use App\Sources\NewEndpoint;
use App\Sources\SourceStore;
use DeepSpring\Ask\RecordSets;
use DeepSpring\SourceFile\DocumentComparison;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\Cache;
use Illuminate\Validation\ValidationException;

final class EndpointController extends Controller
{
    private bool $isChanged = false;

    public function __construct(private readonly Sheets $sheets, private readonly AuditLog $log)
    {
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
        $isWhole = $request->has('do') || $request->has('records_choice') || $request->has('insist');
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
        $isProposal = str_starts_with($this->text('do'), 'onward-');
        if ($faults === []) {
            $page = explode(':', (string) $request->header('X-Sheet'))[0];
            Cache::forget("stop.$page");
            $tries->endpoint($endpoint, $file, $definition, $this->environment(), $this->person(), stopped: $page === '' ? null : static fn (): bool => Cache::get("stop.$page") === true, pages: $isProposal ? 2 : null);
        }

        return $this->sheet($isProposal ? 'endpoints.sheet' : 'endpoints.happened', $source, $endpoint, $file, $faults);
    }

    /**
     * Reads all of what is drafted in the queue, and keeps nothing.
     */
    public function prove(Source $source, Endpoint $endpoint, Runs $runs): RedirectResponse
    {
        $this->authorize('update', $source);
        $file = $source->current();
        if ($this->definition($file, $endpoint)->does()->writes()) {
            return redirect()->route('endpoints.show', [$source, $endpoint])->with('notice', 'It writes, so it is not read to its end.');
        }
        $run = $runs->prove($endpoint, $file, $this->environment(), $this->person());
        if ($run->wasRecentlyCreated) {
            RefreshJob::dispatch($run->id);
        }

        return redirect()->route('runs.show', $run);
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

    public function keep(Request $request, Source $source, Endpoint $endpoint, SourceStore $store, Runs $runs): View|Response
    {
        $this->authorize('update', $source);
        try {
            [$file, $faults] = $this->save($request, $source, $endpoint, $store);
        } catch (ChangedElsewhere $changed) {
            return $this->conflict($request, $source, $endpoint, $changed);
        }
        $faults = $faults === [] ? (new KeepFields($this->definition($file, $endpoint)))->missing() : $faults;
        if ($faults === []) {
            $store->publish($source, $this->person());
            $endpoint->update(['inputs_taken_over' => false]);
            $runs->queue($endpoint->refresh()->load('source'), $this->environment(), $this->person());
        }

        return $this->sheet('endpoints.happened', $source, $endpoint, $file, $faults);
    }

    /**
     * Somebody has read what became of the test values.
     */
    public function inputsSeen(Source $source, Endpoint $endpoint): RedirectResponse
    {
        $this->authorize('update', $source);
        $endpoint->update(['inputs_taken_over' => false]);

        return redirect()->to(route('endpoints.show', [$source, $endpoint]).'#keep');
    }

    public function destroy(Source $source, Endpoint $endpoint, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $source);
        $store->edit($source, $this->person(), static function (array $document) use ($endpoint): array {
            $document['endpoints'] = array_values(array_filter($document['endpoints'] ?? [], static fn (array $one): bool => $one['slug'] !== $endpoint->slug));
            if (($document['source']['test']['endpoint'] ?? null) === $endpoint->slug) {
                unset($document['source']['test']);
            }

            return $document;
        });
        $this->log->note(Action::EndpointDeleted, "$source->slug: $endpoint->slug");

        return redirect()->route('sources.show', $source);
    }

    /**
     * @return array{SourceFile, list<Fault>}
     *
     * @throws ChangedElsewhere
     */
    private function save(Request $request, Source $source, Endpoint $endpoint, SourceStore $store): array
    {
        $hand = EditConflictGuard::of($request);
        try {
            return [$store->edit($source, $this->person(), function (array $document) use ($request, $endpoint, $hand): ?array {
                if (ChangeSequence::of($request)?->isPast() === true) {
                    return null;
                }
                foreach ($document['endpoints'] ?? [] as $number => $one) {
                    if ($one['slug'] === $endpoint->slug) {
                        $hand?->check("endpoint.$endpoint->id", $one);
                        $file = SourceFile::trusted($document);
                        $changed = $this->sheets->edit($request, $endpoint, $file, $this->environment())->apply((new EndpointForm($one))->apply($request->all()));
                        if (EditConflictGuard::mark($changed) !== EditConflictGuard::mark($one)) {
                            $document['endpoints'][$number] = $changed;
                            $this->isChanged = true;
                        }
                    }
                }

                return $document;
            }, EditConflictGuard::page($request)), []];
        } catch (InvalidSourceFile $invalid) {
            return [$source->current(), $invalid->faults];
        }
    }

    private function conflict(Request $request, Source $source, Endpoint $endpoint, ChangedElsewhere $changed): Response
    {
        $theirs = is_array($changed->now) ? $changed->now : [];
        try {
            $mine = (new EndpointForm($theirs))->apply($request->all());
        } catch (InvalidSourceFile) {
            $mine = $theirs;
        }

        return response(view('endpoints.conflict', ['source' => $source, 'endpoint' => $endpoint, 'changed' => $changed, 'changes' => (new DocumentComparison)->of($theirs, $mine)]))->header('HX-Reswap', 'none');
    }

    /**
     * @param  list<Fault>  $faults
     */
    private function sheet(string $view, Source $source, Endpoint $endpoint, SourceFile $file, array $faults = []): View
    {
        $source->refresh();

        return view($view, ['source' => $source, 'sheet' => $this->sheets->endpoint($endpoint, $file, $this->definition($file, $endpoint), $this->environment(), $faults)]);
    }

    private function definition(SourceFile $file, Endpoint $endpoint): EndpointDefinition
    {
        return $file->endpoint($endpoint->slug) ?? abort(404);
    }
}
