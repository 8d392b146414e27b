<?php

declare(strict_types=1);

namespace App\Http\Services;

use App\Http\Controller;
use App\Http\Editing\ChangeSequence;
use App\Models\Endpoint;
use App\Models\Source;
use App\OData\ServiceModels;
use App\OData\ServiceReader;
use App\Pipeline\ReadingFailed;
use App\Sources\SourceStore;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\OData\Derive\Derived;
use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\Model;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;

/**
 * Columns, conditions, order and related sets of an endpoint that is chosen from a service.
 */
final class ChoiceController extends Controller
{
    public function show(Source $source, Endpoint $endpoint, ServiceModels $services): View|RedirectResponse
    {
        $this->authorize('view', $source);
        $choice = $source->current()->endpoint($endpoint->slug)->endpoint ?? [];
        $service = $services->service($source, $this->environment());
        if (isset($choice['entity_set']) && $service?->model()->set($choice['entity_set']) === null) {
            return redirect()->route('services.show', $source)->with('failed', $service === null ? null : (new Diagnosis('no-set', "The service has no set \"{$choice['entity_set']}\" any more, from which {$endpoint->slug} is chosen.", 'Read the metadata again, or choose from another set.', 'ask'))->toArray());
        }

        return $this->sheet('services.choice', $source, $endpoint, $source->current(), $services);
    }

    public function update(Request $request, Source $source, Endpoint $endpoint, ServiceModels $services, SourceStore $store): View
    {
        $this->authorize('update', $source);
        [$file, $faults] = $this->save($request, $source, $endpoint, $services, $store);

        return $this->sheet('services.choosing', $source, $endpoint, $file, $services, $faults, $request->all());
    }

    public function preview(Request $request, Source $source, Endpoint $endpoint, ServiceModels $services, SourceStore $store, ServiceReader $reader): View
    {
        $this->authorize('update', $source);
        [$file, $faults] = $this->save($request, $source, $endpoint, $services, $store);
        [$model] = $this->chosen($file, $endpoint, $source, $services);
        try {
            $seen = ['look' => $reader->rows($source, $this->environment(), $this->person(), $model, $file->endpoint($endpoint->slug)->endpoint ?? [])];
        } catch (ReadingFailed $failed) {
            $seen = ['failed' => $failed->diagnosis->toArray()];
        }

        return $this->sheet('services.choosing', $source, $endpoint, $file, $services, $faults, $request->all())->with($seen);
    }

    /**
     * @return array{SourceFile, array<string, string>}
     */
    private function save(Request $request, Source $source, Endpoint $endpoint, ServiceModels $services, SourceStore $store): array
    {
        [$model, $set] = $this->chosen($source->current(), $endpoint, $source, $services);
        $form = new ChoiceForm($model, $set);
        try {
            $file = $store->edit($source, $this->person(), function (array $document) use ($form, $request, $endpoint, $model): ?array {
                if (ChangeSequence::of($request)?->isPast() === true) {
                    return null;
                }
                foreach ($document['endpoints'] as $number => $one) {
                    if ($one['slug'] === $endpoint->slug) {
                        $changed = $form->apply($one, $request->all());
                        $changed = ChoiceStep::tryFrom($this->text('do')) === ChoiceStep::Follow ? $this->followed($changed, $model) : $changed;
                        $document['endpoints'][$number] = $changed;
                    }
                }

                return $document;
            });
        } catch (InvalidSourceFile $invalid) {
            return [$source->current(), $form->faults + ['choice' => implode(' ', array_map(strval(...), $invalid->faults))]];
        }

        return [$file, $form->faults];
    }

    /**
     * Lets go of what was changed by hand.
     *
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function followed(array $endpoint, Model $model): array
    {
        return (new Derived($model->version, $model))->filled(array_diff_key($endpoint, array_flip(Derived::PARTS)));
    }

    /**
     * @return array{Model, EntitySet}
     */
    private function chosen(SourceFile $file, Endpoint $endpoint, Source $source, ServiceModels $services): array
    {
        $definition = $file->endpoint($endpoint->slug)->endpoint ?? [];
        $model = $services->service($source, $this->environment())?->model();
        $set = isset($definition['entity_set']) && ! isset($definition['operation']) ? $model?->set($definition['entity_set']) : null;

        return $model === null || $set === null ? abort(404) : [$model, $set];
    }

    /**
     * @param  array<string, string>  $faults
     * @param  array<array-key, mixed>  $form
     */
    private function sheet(string $view, Source $source, Endpoint $endpoint, SourceFile $file, ServiceModels $services, array $faults = [], array $form = []): View
    {
        [$model, $set] = $this->chosen($file, $endpoint, $source, $services);

        return view($view, ['source' => $source->refresh(), 'sheet' => new ChoiceSheet($source, $endpoint, $file, $model, $set, $this->environment(), $faults, $form), 'look' => null, 'failed' => null]);
    }
}
