<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Http\Editing\ChangedElsewhere;
use App\Models\Endpoint;
use App\Models\Source;
use App\Runs\RefreshJob;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Runs\TableNames;
use App\Sources\FirstTake;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/**
 * From the settings of an endpoint to its table: having the rest suggested, reading it to the end, keeping it.
 */
final class KeepController extends EndpointPage
{
    /**
     * Sets what the answer suggests: records, how the list goes on, tables.
     */
    public function take(Request $request, Source $source, Endpoint $endpoint, SourceStore $store, FirstTake $take): View|Response
    {
        $this->authorize('update', $source);
        try {
            [$file, $faults] = $this->save($request, $source, $endpoint, $store);
        } catch (ChangedElsewhere $changed) {
            return $this->conflict($request, $source, $endpoint, $changed);
        }
        if ($faults !== []) {
            return response($this->sheet('endpoints.happened', $source, $endpoint, $file, $faults))->header('HX-Reswap', 'none');
        }
        $sheet = $this->sheets->endpoint($endpoint, $file, $this->definition($file, $endpoint), $this->environment());
        $take->of($endpoint->load('source'), $this->environment(), $this->person(), $sheet->askIsTried() && $sheet->try?->succeeded === true ? $sheet->try : null, $this->stopper($request));

        return $this->sheet('endpoints.sheet', $source, $endpoint->refresh(), $source->refresh()->current());
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

    public function keep(Request $request, Source $source, Endpoint $endpoint, SourceStore $store, Runs $runs): View|Response
    {
        $this->authorize('update', $source);
        try {
            [$file, $faults] = $this->save($request, $source, $endpoint, $store);
        } catch (ChangedElsewhere $changed) {
            return $this->conflict($request, $source, $endpoint, $changed);
        }
        $faults = $faults === [] ? [...(new KeepFields($this->definition($file, $endpoint)))->missing(), ...$this->takenNames($endpoint, $file)] : $faults;
        if ($faults === []) {
            // Looked at before: once it is published, the draft asks for what is published.
            $isRebuild = $this->text('rebuild') === '1' && $this->sheets->canRebuild($endpoint, $file, $this->environment());
            $store->publish($source, $this->person());
            $endpoint->update(['inputs_taken_over' => false]);
            $runs->queue($endpoint->refresh()->load('source'), $this->environment(), $this->person(), new RunWish(rebuild: $isRebuild));
        }

        return $this->sheet('endpoints.happened', $source, $endpoint, $file, $faults);
    }

    /**
     * Tables that another endpoint keeps are not written over.
     *
     * @return list<Fault>
     */
    private function takenNames(Endpoint $endpoint, SourceFile $file): array
    {
        $flatten = $this->definition($file, $endpoint)->endpoint['flatten'] ?? null;
        $taken = $flatten === null ? [] : (new TableNames($endpoint, $file))->keptElsewhere($flatten, $this->environment());

        return array_values(array_map(static fn (string $sentence): Fault => new Fault('endpoints[0].keep', $sentence), $taken));
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
}
