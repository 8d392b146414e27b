<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Sheets\SourceForm;
use App\Http\Sheets\Turn;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Secret;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Tries;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;

final class SourceController extends Controller
{
    private const PAGE = 25;

    public function index(): View
    {
        $this->authorize('viewAny', Source::class);
        $search = $this->word('q');
        $sort = in_array($this->word('sort'), ['name', 'updated_at'], true) ? $this->word('sort') : 'name';
        $sources = Source::query()->with('owner')->withCount('endpoints')
            ->when($search !== '', fn ($query) => $query->whereRaw('name collate utf8mb4_general_ci like ?', ['%'.addcslashes($search, '%_\\').'%']))
            ->orderBy($sort, $sort === 'name' ? 'asc' : 'desc')->paginate(self::PAGE)->withQueryString();
        $last = Tryout::query()->whereIn('id', Tryout::query()->selectRaw('max(id)')->whereIn('source_id', $sources->pluck('id'))->where('environment_id', $this->environment()->id)->groupBy('source_id'))->get()->keyBy('source_id');

        return view('sources.index', ['sources' => $sources, 'last' => $last, 'search' => $search, 'sort' => $sort]);
    }

    public function create(): View
    {
        $this->authorize('create', Source::class);

        return view('sources.create');
    }

    public function store(Request $request, SourceStore $store): RedirectResponse
    {
        $this->authorize('create', Source::class);
        $base = $this->word('base');
        $name = $this->word('name') ?: (string) parse_url($base, PHP_URL_HOST);
        $slug = $this->word('slug') ?: Str::slug($name);
        if ($slug !== '' && Source::query()->where('slug', $slug)->exists()) {
            throw ValidationException::withMessages(['slug' => "There is a source \"$slug\" already. Give this one another short name."]);
        }
        try {
            $file = SourceFile::of(['deepspring' => 1, 'source' => ['slug' => $slug, 'name' => $name, 'kind' => 'rest', 'environments' => [$this->environment()->slug => ['base' => $base]], 'headers' => ['accept' => 'application/json']], 'endpoints' => []]);
        } catch (InvalidSourceFile $invalid) {
            $messages = [];
            foreach ($invalid->faults as $fault) {
                $field = str_ends_with($fault->path, '.base') ? 'base' : (str_ends_with($fault->path, '.slug') ? 'slug' : 'name');
                $messages[$field] ??= ucfirst($fault->message);
            }

            throw ValidationException::withMessages($messages)->redirectTo(route('sources.create').'?'.http_build_query(['offer' => SourceForm::repaired($base)]));
        }
        $source = $store->draft($file, $this->person());

        return redirect()->route('sources.show', $source);
    }

    public function show(Source $source): View
    {
        $this->authorize('view', $source);

        return $this->sheet($source, $source->inHand());
    }

    public function update(Request $request, Source $source, SourceStore $store): View
    {
        $this->authorize('update', $source);
        $form = $request->all();
        // Only a button that changes the shape of the sheet is answered with the whole of it, so
        // that nothing moves under the hand of somebody who types.
        $view = $request->has('do') ? 'sources.sheet' : 'sources.happened';
        try {
            $file = $store->edit($source, $this->person(), function (array $document) use ($request, $form): ?array {
                if (Turn::of($request)?->isPast() === true) {
                    return null;
                }
                $document['source'] = (new SourceForm($document['source']))->apply($form);
                if ($this->word('do') === 'add-scheme') {
                    $document['source']['access'][] = $this->newScheme($this->word('scheme'));
                }

                return $document;
            });
        } catch (InvalidSourceFile $invalid) {
            return $this->sheet($source, $source->inHand(), $invalid->faults, $form, $view);
        }

        return $this->sheet($source, $file, view: $view);
    }

    public function test(Source $source, Tries $tries): View
    {
        $this->authorize('update', $source);
        $tries->source($source, $source->inHand(), $this->environment(), $this->person());

        return $this->sheet($source, $source->inHand());
    }

    public function secret(Request $request, Source $source, Vault $vault): View
    {
        $this->authorize('update', $source);
        $name = $this->word('secret_name');
        $value = $request->input('secret_value');
        if (preg_match('/^[A-Za-z0-9_-]{1,64}$/D', $name) === 1 && is_string($value) && $value !== '') {
            $vault->put($source, $this->environment(), $name, $value, $this->person());
        }

        return $this->sheet($source, $source->inHand());
    }

    public function publish(Source $source, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $source);
        $store->publish($source, $this->person());

        return redirect()->back();
    }

    public function destroy(Source $source): RedirectResponse
    {
        $this->authorize('delete', $source);
        $kept = KeptTable::query()->whereIn('endpoint_id', $source->endpoints()->select('id'))->pluck('name');
        if ($kept->isNotEmpty()) {
            throw ValidationException::withMessages(['source' => 'It still keeps '.$kept->join(', ', ' and ').', which queries may read. Delete is possible once nothing is kept.']);
        }
        $source->delete();

        return redirect()->route('sources.index');
    }

    /**
     * @param  list<Fault>  $faults
     * @param  array<string, mixed>|null  $form  what was sent, when it could not be saved
     */
    private function sheet(Source $source, SourceFile $file, array $faults = [], ?array $form = null, ?string $view = null): View
    {
        $environment = $this->environment();
        $shown = $form === null ? $file->document['source'] : (new SourceForm($file->document['source']))->apply($form);
        $secrets = Secret::query()->with('setBy')->where('source_id', $source->id)->where('environment_id', $environment->id)->get()->keyBy('name');

        return view($view ?? (request()->hasHeader('HX-Request') ? 'sources.sheet' : 'sources.show'), [
            'source' => $source->refresh(), 'file' => $file, 'definition' => $shown, 'faults' => $faults, 'secrets' => $secrets,
            'try' => Tryout::query()->where('source_id', $source->id)->where('environment_id', $environment->id)->latest('id')->first(),
            'workspace' => Environment::query()->orderBy('position')->get(),
        ]);
    }

    /**
     * @return array<string, mixed>
     */
    private function newScheme(string $scheme): array
    {
        return match ($scheme) {
            'basic' => ['scheme' => 'basic', 'username' => ['secret' => 'username'], 'password' => ['secret' => 'password']],
            'api-key' => ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Api-Key', 'value' => ['secret' => 'key']],
            default => ['scheme' => 'bearer', 'token' => ['secret' => 'token']],
        };
    }
}
