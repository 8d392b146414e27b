<?php

declare(strict_types=1);

namespace App\Http\Services;

use App\Http\Controller;
use App\Models\KeptTable;
use App\Models\Service;
use App\Models\Source;
use App\OData\MetadataFetcher;
use App\OData\ServiceModels;
use App\OData\ServiceReader;
use App\Pipeline\ReadingFailed;
use App\Runs\Tries;
use App\Sources\SourceStore;
use App\View\SetDiagram;
use DeepSpring\Describe\Slugs;
use DeepSpring\OData\Derive\Calling;
use DeepSpring\OData\Derive\Derived;
use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\Operation;
use DeepSpring\Value\SafeNames;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Pagination\LengthAwarePaginator;

/**
 * What an OData service offers: its sets, and what can be taken from them.
 */
final class ServiceController extends Controller
{
    private const PAGE = 50;

    private const SORTS = ['name', 'label', 'columns'];

    private const NAMES = ['list' => '', 'get' => 'One of', 'create' => 'New in', 'update' => 'Change in', 'delete' => 'Delete from'];

    public function show(Source $source, ServiceModels $services): View
    {
        $this->authorize('view', $source);
        $service = $services->service($source, $this->environment(), false);
        $search = $this->text('q');
        $sort = in_array($this->text('sort'), self::SORTS, true) ? $this->text('sort') : '';
        $all = $service?->listing() ?? [];
        $groups = array_count_values(array_map(static fn (array $one): string => self::group($one), $all));
        $in = isset($groups[$this->text('in')]) ? $this->text('in') : '';
        $sets = array_values(array_filter($all, static fn (array $one): bool => ($search === '' || mb_stripos("{$one['name']} {$one['label']} {$one['about']} {$one['type']}", $search) !== false) && ($in === '' || self::group($one) === $in)));
        if ($sort !== '') {
            usort($sets, static fn (array $a, array $b): int => $sort === 'columns' ? $b['columns'] <=> $a['columns'] : strnatcasecmp($a[$sort] ?: $a['name'], $b[$sort] ?: $b['name']));
        }
        $page = max(1, (int) $this->text('page'));
        $paged = new LengthAwarePaginator(array_slice($sets, ($page - 1) * self::PAGE, self::PAGE), count($sets), self::PAGE, $page, ['path' => route('services.show', $source), 'query' => array_filter(['q' => $search, 'sort' => $sort, 'in' => $in])]);

        return view('services.show', ['source' => $source, 'service' => $service, 'sets' => $paged, 'search' => $search, 'sort' => $sort, 'in' => $in, 'groups' => $groups, 'operations' => $this->operations($source, $services, $service, $search), 'failed' => session('failed'), 'taken' => $this->taken($source)]);
    }

    public function read(Source $source, MetadataFetcher $metadata): RedirectResponse
    {
        $this->authorize('update', $source);
        $try = $metadata->read($source, $this->environment(), $this->person());

        return redirect()->route('services.show', $source)->with('failed', $try->succeeded ? null : $try->diagnosis);
    }

    public function set(Source $source, string $set, ServiceModels $services): View
    {
        $this->authorize('view', $source);
        [$service, $model, $found] = $this->found($source, $set, $services);
        $type = $model->typeOf($found);

        return view('services.set', ['source' => $source, 'service' => $service, 'model' => $model, 'set' => $found, 'type' => $type, 'diagram' => $type === null ? null : new SetDiagram($model, $found, $type), 'operations' => array_values(array_filter($model->operations(), static fn (Operation $one): bool => in_array($one->on, [$found->type, ...self::bases($model, $found->type)], true))), 'taken' => $this->taken($source)]);
    }

    public function count(Source $source, string $set, ServiceModels $services, ServiceReader $reader): View
    {
        $this->authorize('update', $source);
        [, , $found] = $this->found($source, $set, $services);
        try {
            return view('services.count', ['look' => $reader->count($source, $this->environment(), $this->person(), $found->name)]);
        } catch (ReadingFailed $failed) {
            return view('services.count', ['failed' => $failed->diagnosis->toArray()]);
        }
    }

    /**
     * Of all sets that are shown, in one request where the service takes several in one.
     */
    public function counts(Source $source, ServiceModels $services, ServiceReader $reader): View
    {
        $this->authorize('update', $source);
        $model = $services->service($source, $this->environment())?->model() ?? abort(404);
        $asked = request()->input('sets');
        $sets = array_slice(array_values(array_filter(is_array($asked) ? $asked : [], static fn (mixed $name): bool => is_string($name) && $model->set($name)?->can('count') === true)), 0, self::PAGE);
        try {
            return view('services.counts', ['counts' => $sets === [] ? [] : $reader->counts($source, $this->environment(), $this->person(), $model, $sets)]);
        } catch (ReadingFailed $failed) {
            return view('services.counts', ['counts' => [], 'failed' => $failed->diagnosis->toArray()]);
        }
    }

    public function preview(Source $source, string $set, ServiceModels $services, ServiceReader $reader): View
    {
        $this->authorize('update', $source);
        [, $model, $found] = $this->found($source, $set, $services);
        try {
            return view('services.rows', ['look' => $reader->rows($source, $this->environment(), $this->person(), $model, ['slug' => $found->name, 'entity_set' => $found->name])]);
        } catch (ReadingFailed $failed) {
            return view('services.rows', ['failed' => $failed->diagnosis->toArray()]);
        }
    }

    /**
     * Makes an endpoint of a set or an operation.
     */
    public function take(Source $source, ServiceModels $services, SourceStore $store, Tries $tries): RedirectResponse
    {
        $this->authorize('update', $source);
        $model = $services->service($source, $this->environment())?->model() ?? abort(404);
        $operation = $this->text('operation');
        $set = $this->text('set');
        $does = array_key_exists($this->text('does'), self::NAMES) ? $this->text('does') : 'list';
        $choice = array_filter(['entity_set' => $set, 'operation' => $operation], static fn (string $one): bool => $one !== '');
        if ($operation !== '' ? (new Calling($model->version, $model))->find($choice + ['operation' => '']) === null : $model->set($set) === null) {
            abort(404);
        }
        $slug = '';
        // Tables are named after it, and a name is kept by one endpoint.
        $kept = KeptTable::query()->distinct()->pluck('name')->flip()->all();
        $store->edit($source, $this->person(), static function (array $document) use (&$slug, $choice, $does, $model, $kept, $source): array {
            $of = isset($choice['entity_set']) ? ($model->set($choice['entity_set'])?->label ?: self::words($choice['entity_set'])) : '';
            $name = isset($choice['operation']) ? ucfirst(self::words(substr($choice['operation'], (int) strrpos('.'.$choice['operation'], '.')))).($of === '' ? '' : ' of '.lcfirst($of)) : ($does === 'list' ? ucfirst($of) : self::NAMES[$does].' '.lcfirst($of));
            $slugs = new Slugs(array_column($document['endpoints'] ?? [], 'slug'));
            $slug = $slugs->take(isset($kept[SafeNames::clean(Slugs::clean($name))]) ? "$source->slug $name" : $name);
            $made = ['slug' => $slug, 'name' => mb_substr($name, 0, 190)] + (isset($choice['operation']) ? [] : ['does' => $does]) + $choice;
            if ($does === 'list' && ! isset($choice['operation'])) {
                $made += self::page($model, $choice['entity_set']);
            }
            $document['endpoints'][] = (new Derived($model->version, $model))->filled($made);

            return $document;
        });

        $row = $this->text('tried') === '1' && $does === 'list' && $operation === '' ? $source->endpoints()->where('slug', $slug)->first() : null;
        $definition = $row === null ? null : $source->refresh()->current()->endpoint($slug);
        if ($row !== null && $definition !== null) {
            $tries->endpoint($row->load('source'), $source->current(), $definition, $this->environment(), $this->person());

            return redirect()->route('endpoints.show', [$source, $row]);
        }

        return $does === 'list' && $operation === '' ? redirect()->route('endpoints.choice', [$source, $slug]) : redirect()->route('endpoints.show', [$source, $slug]);
    }

    /**
     * ConditionReports → condition reports.
     */
    private static function words(string $name): string
    {
        return trim((string) preg_replace_callback('/(?<=[\p{Ll}\d])\p{Lu}(?=\p{Ll})/u', static fn (array $letter): string => ' '.mb_strtolower($letter[0]), strtr($name, '_', ' ')));
    }

    /**
     * How pages are asked for at first, by what the service says of the set.
     *
     * @return array{page?: array<string, mixed>}
     */
    private static function page(Model $model, string $name): array
    {
        $set = $model->set($name);
        $type = $set === null ? null : $model->typeOf($set);
        $page = [];
        if ($set?->can('count') === false) {
            $page['count'] = false;
        }
        foreach ($type->properties ?? [] as $property) {
            if ($model->version->isV4() && in_array($model->primitive($property->type), ['Edm.Int64', 'Edm.Decimal'], true)) {
                $page['long_numbers'] = true;
            }
        }

        return $page === [] ? [] : ['page' => $page];
    }

    /**
     * @return array{Service, Model, EntitySet}
     */
    private function found(Source $source, string $set, ServiceModels $services): array
    {
        $service = $services->service($source, $this->environment()) ?? abort(404);
        $model = $service->model();

        return [$service, $model, $model->set($set) ?? abort(404)];
    }

    /**
     * Functions and actions that stand alone.
     *
     * @return list<Operation>
     */
    private function operations(Source $source, ServiceModels $services, ?Service $service, string $search): array
    {
        if ($service === null) {
            return [];
        }
        $model = $service->types > 500 && $search === '' ? null : $services->service($source, $this->environment())?->model();

        return array_values(array_filter($model?->operations() ?? [], static fn (Operation $one): bool => $one->on === null && ($search === '' || mb_stripos("$one->name $one->about", $search) !== false)));
    }

    /**
     * Endpoints that are there already.
     *
     * @return array<string, list<array<string, mixed>>> by set or operation
     */
    private function taken(Source $source): array
    {
        $taken = [];
        foreach ($source->current()->document['endpoints'] ?? [] as $endpoint) {
            if (Derived::isChosen($endpoint)) {
                $taken[isset($endpoint['operation']) ? "operation {$endpoint['operation']}" : $endpoint['entity_set']][] = $endpoint;
            }
        }

        return $taken;
    }

    /**
     * @return list<string>
     */
    private static function bases(Model $model, string $type): array
    {
        $bases = [];
        for ($at = $model->facts['types'][$type]['base'] ?? ''; $at !== '' && ! in_array($at, $bases, true); $at = $model->facts['types'][$at]['base'] ?? '') {
            $bases[] = $at;
        }

        return $bases;
    }

    /**
     * @param  array{container: string, namespace: string, ...}  $listed
     */
    private static function group(array $listed): string
    {
        return substr($listed['container'], (int) strrpos(".{$listed['container']}", '.')).' · '.$listed['namespace'];
    }
}
