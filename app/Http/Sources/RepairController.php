<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Http\Controller;
use App\Http\Editing\ChangeSequence;
use App\Http\Editing\EditConflictGuard;
use App\Http\Endpoints\EndpointForm;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Secret;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Tries;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\SecretFact;
use DeepSpring\SourceFile\InvalidSourceFile;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;

/**
 * Makes the change that a diagnosis offers, and tries again.
 */
final class RepairController extends Controller
{
    public function __invoke(Request $request, Tryout $tryout, int $number, SourceStore $store, Vault $vault, Tries $tries): RedirectResponse
    {
        $source = Source::query()->findOrFail($tryout->source_id);
        $this->authorize('update', $source);
        $environment = Environment::query()->findOrFail($tryout->environment_id);
        $endpoint = $tryout->endpoint_id === null ? null : Endpoint::query()->find($tryout->endpoint_id);
        $diagnosis = $number === 0 ? $tryout->diagnosis : $tryout->diagnosis['others'][$number - 1] ?? null;
        $repair = is_array($diagnosis['repair'] ?? null) ? Repair::fromArray($diagnosis['repair']) : abort(404);
        $fromSource = $this->text('sheet') === 'source';
        try {
            $store->edit($source, $this->person(), function (array $document) use ($request, $repair, $endpoint): array {
                if (ChangeSequence::of($request)?->isPast() !== true) {
                    $document = $this->asTyped($request, $document, $endpoint);
                }

                return $repair->apply($document, $endpoint?->slug);
            }, EditConflictGuard::page($request));
            $this->clean($repair, $source, $environment, $vault);
        } catch (InvalidSourceFile $invalid) {
            return $this->back($source, $fromSource ? null : $endpoint)->with('trouble', 'The change could not be made: '.implode(' ', array_map(strval(...), $invalid->faults)));
        }
        $file = $source->refresh()->current();
        $definition = $endpoint === null ? null : $file->endpoint($endpoint->slug);
        if ($definition?->does()->writes() === true && ! $fromSource) {
            // The change is made; sending it is asked about, as always.
            return $this->back($source, $endpoint);
        }
        if (! $fromSource && $endpoint !== null && $definition !== null) {
            $tries->endpoint($endpoint, $file, $definition, $environment, $this->person());
        } else {
            $tries->source($source, $file, $environment, $this->person());
        }

        return $this->back($source, $fromSource ? null : $endpoint);
    }

    /**
     * What stands in the sheet at this moment is kept before the change is made.
     *
     * @param  array<string, mixed>  $document
     * @return array<string, mixed>
     */
    private function asTyped(Request $request, array $document, ?Endpoint $endpoint): array
    {
        if ($request->has('bases')) {
            $document['source'] = (new SourceForm($document['source']))->apply($request->all());
        } elseif ($request->has('path')) {
            foreach ($document['endpoints'] ?? [] as $number => $one) {
                if ($one['slug'] === $endpoint?->slug) {
                    $document['endpoints'][$number] = (new EndpointForm($one))->apply($request->all());
                }
            }
        }

        return $document;
    }

    private function clean(Repair $repair, Source $source, Environment $environment, Vault $vault): void
    {
        $secret = $repair->cleanSecret === null ? null : Secret::query()->where(['source_id' => $source->id, 'environment_id' => $environment->id, 'name' => $repair->cleanSecret])->first();
        if ($secret !== null) {
            $vault->clean($secret, SecretFact::cleaned($vault->open($secret)));
        }
    }

    private function back(Source $source, ?Endpoint $endpoint): RedirectResponse
    {
        // 303, so that the sheet is asked for by GET.
        return $endpoint === null ? redirect()->route('sources.show', $source, 303) : redirect()->route('endpoints.show', [$source, $endpoint], 303);
    }
}
