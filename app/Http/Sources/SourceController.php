<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Editing\Asked;
use App\Http\Editing\ChangedElsewhere;
use App\Http\Editing\ChangeSequence;
use App\Http\Editing\EditConflictGuard;
use App\Imports\Fetch;
use App\Imports\Incoming;
use App\Imports\PendingImports;
use App\Imports\Shelf;
use App\Imports\Uploads;
use App\Models\KeptTable;
use App\Models\Source;
use App\Models\Upload;
use App\OData\MetadataFetcher;
use App\Reservoir\KeepFailed;
use App\Runs\OrphanedTables;
use App\Runs\Tries;
use App\Secrets\Vault;
use App\Sources\AddressEndpoint;
use App\Sources\FirstTake;
use App\Sources\NewSource;
use App\Sources\SourceStore;
use App\View\SourceStates;
use DeepSpring\Access\AddressFinding;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\OData\ServiceAddress;
use DeepSpring\SourceFile\DocumentComparison;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;

final class SourceController extends SourcePage
{
    private const PAGE = 25;

    public function __construct(SourceSheets $sheets, private readonly AuditLog $log)
    {
        parent::__construct($sheets);
    }

    public function index(): View
    {
        $this->authorize('viewAny', Source::class);
        $search = $this->text('q');
        $sort = in_array($this->text('sort'), ['name', 'updated_at'], true) ? $this->text('sort') : 'name';
        $sources = Source::described()->with('owner')->withCount('endpoints')
            ->when($search !== '', fn ($query) => $query->whereRaw('name collate utf8mb4_general_ci like ?', ['%'.addcslashes($search, '%_\\').'%']))
            ->orderBy($sort, $sort === 'name' ? 'asc' : 'desc')->paginate(self::PAGE)->withQueryString();

        return view('sources.index', ['sources' => $sources, 'states' => SourceStates::of($sources->pluck('id')->all()), 'leftAlone' => DB::table('paces')->whereIn('source_id', $sources->pluck('id'))->where('breaker', 'open')->get()->map(static fn (object $row): string => "$row->source_id/$row->environment_id")->all(), 'search' => $search, 'sort' => $sort]);
    }

    public function create(Shelf $shelf): View
    {
        $this->authorize('create', Source::class);

        return view('sources.create', ['shelf' => $shelf->all(), 'taken' => Source::described()->pluck('slug')->all()]);
    }

    /**
     * From whatever is at hand. An address, one request or a source file is a source at once, and tested;
     * of what describes many operations, a person chooses first.
     */
    public function store(Request $request, Incoming $incoming, NewSource $new, SourceStore $store, Vault $vault, FirstTake $take, MetadataFetcher $metadata, Tries $tries, Shelf $shelf, PendingImports $pending, Uploads $uploads): RedirectResponse
    {
        $this->authorize('create', Source::class);
        $start = is_string($request->input('start')) ? trim($request->input('start')) : $this->text('base');
        [$name, $slug] = [$this->text('name'), $this->text('slug')];
        $upload = $start === '' ? $this->uploaded($request, $uploads) : null;
        if ($upload !== null) {
            return $this->made($new->upload($upload, $name, $slug), [], $store, $vault, $take)->with('said', implode(' ', $uploads->told) ?: null);
        }
        $service = ServiceAddress::of($start);
        if ($service !== null && $this->text('shelf') === '') {
            return $this->service($new->service($service, $this->environment(), $name, $slug), $service, [], $store, $vault, $metadata, $tries);
        }
        $isAddress = preg_match('~^\S+$~', $start) === 1 && ! str_contains($start, '?') && ! Fetch::looksLikeDescription($start) && $this->text('read') !== '1' && ! str_starts_with($start, '{');
        if ($isAddress && ! $request->hasFile('files') && $this->text('shelf') === '') {
            return $this->made($new->at($start, $this->environment(), $name, $slug), [], $store, $vault, $take);
        }
        try {
            $all = $this->text('shelf') !== '' ? [$shelf->read($this->text('shelf'))] : Importers::every($incoming->of($request, Fetch::looksLikeDescription($start) || $this->text('read') === '1'));
        } catch (CannotDescribe $cannot) {
            throw ValidationException::withMessages(['start' => array_map(ucfirst(...), $cannot->sentences)]);
        }
        $described = $all[0];
        if (count($all) === 1 && $described->document !== null && ! Source::query()->where('slug', $described->document['source']['slug'])->exists()) {
            return $this->made($new->file($described), [], $store, $vault, $take);
        }
        $service = count($all) === 1 ? NewSource::serviceOf($described) : null;
        if ($service !== null) {
            return $this->service($new->service($service, $this->environment(), $name, $slug, $described), $service, $described->secrets, $store, $vault, $metadata, $tries);
        }
        if (count($all) === 1 && in_array($described->kind, ['curl', 'har'], true) && count($described->endpoints) === 1) {
            return $this->made($new->of($described, $this->environment(), $name, $slug), $described->secrets, $store, $vault, $take, $described->kind === 'har')->with('mends', array_map(static fn (ImportNotice $one): array => $one->toArray(), $described->mends));
        }

        return redirect()->route('imports.show', [$pending->keep($all, $this->person(), null)] + array_filter(['name' => $name, 'slug' => $slug]));
    }

    /**
     * A file of rows that was handed in, and nothing else.
     */
    private function uploaded(Request $request, Uploads $uploads): ?Upload
    {
        $files = is_array($request->file('files')) ? array_values($request->file('files')) : [];
        $file = count($files) === 1 && $files[0]->isValid() && Uploads::isOne($files[0]->getClientOriginalName()) ? $files[0] : null;
        try {
            return $file === null ? null : $uploads->put($this->environment(), (string) $file->getRealPath(), $file->getClientOriginalName(), $this->person());
        } catch (CannotDescribe $cannot) {
            throw ValidationException::withMessages(['start' => array_map(ucfirst(...), $cannot->sentences)]);
        }
    }

    /**
     * A service that describes itself is asked at once to do so; where that is refused, for want of
     * authentication as a rule, its sheet says what is missing.
     *
     * @param  array<string, string>  $secrets
     */
    private function service(SourceFile $file, ServiceAddress $address, #[\SensitiveParameter] array $secrets, SourceStore $store, Vault $vault, MetadataFetcher $metadata, Tries $tries): RedirectResponse
    {
        $source = $this->drafted($file, $secrets, $store, $vault);
        $left = $address->leftOut === [] ? '' : ' Left out of the address: '.implode(', ', $address->leftOut).'.';
        if (! $metadata->read($source, $this->environment(), $this->person())->succeeded) {
            return redirect()->route('sources.show', $source)->with('said', "This is an OData service, so it can describe itself, once its metadata can be read.$left");
        }
        $row = $source->endpoints()->first();
        $definition = $row === null ? null : $source->refresh()->current()->endpoint($row->slug);
        if ($row === null || $definition === null) {
            return redirect()->route('services.show', $source)->with('said', "This is an OData service, and its metadata was read. Choose from what it offers.$left");
        }
        $tries->endpoint($row->load('source'), $source->current(), $definition, $this->environment(), $this->person());

        return redirect()->route('endpoints.show', [$source, $row])->with('said', $left === '' ? null : trim($left));
    }

    /**
     * @param  array<string, string>  $secrets
     */
    private function made(SourceFile $file, #[\SensitiveParameter] array $secrets, SourceStore $store, Vault $vault, FirstTake $take, bool $isRecorded = false): RedirectResponse
    {
        $source = $this->drafted($file, $secrets, $store, $vault);
        $endpoint = $take->ofNew($source, $this->environment(), $this->person(), $isRecorded);

        return $endpoint === null ? redirect()->route('sources.show', $source) : redirect()->route('endpoints.show', [$source, $endpoint]);
    }

    /**
     * @param  array<string, string>  $secrets
     */
    private function drafted(SourceFile $file, #[\SensitiveParameter] array $secrets, SourceStore $store, Vault $vault): Source
    {
        try {
            $source = $store->draft($file, $this->person());
        } catch (InvalidSourceFile $invalid) {
            throw ValidationException::withMessages(['start' => array_map(static fn (Fault $fault): string => (string) $fault, $invalid->faults)]);
        }
        foreach ($secrets as $name => $value) {
            $vault->put($source, $this->environment(), (string) $name, $value, $this->person());
        }

        return $source;
    }

    public function show(Source $source): View
    {
        $this->authorize('view', $source);

        return $this->sheet($source, $source->current());
    }

    public function update(Request $request, Source $source, SourceStore $store): View|Response
    {
        $this->authorize('update', $source);
        $form = $request->all();
        // Only a button that changes the shape of the sheet is answered with the whole of it, so
        // that nothing moves under the hand of somebody who types.
        $view = $request->has('do') || $request->has('insist') ? 'sources.sheet' : 'sources.happened';
        try {
            $hand = EditConflictGuard::of($request);
            $file = $store->edit($source, $this->person(), function (array $document) use ($request, $form, $hand, $source): ?array {
                if (ChangeSequence::of($request)?->isPast() === true) {
                    return null;
                }
                $hand?->check("source.$source->id", $document['source']);
                $document['source'] = (new SourceForm($document['source']))->apply($form);
                $asked = new Asked($request);
                $document['source'] = SourceStep::chosen($asked)?->apply($document['source'], $asked, $this->environment()->slug) ?? $document['source'];

                return $document;
            }, EditConflictGuard::page($request));
        } catch (ChangedElsewhere $changed) {
            $theirs = is_array($changed->now) ? $changed->now : [];

            return response(view('sources.conflict', ['source' => $source, 'changed' => $changed, 'changes' => (new DocumentComparison)->of($theirs, (new SourceForm($theirs))->apply($form))]))->header('HX-Reswap', 'none');
        } catch (InvalidSourceFile $invalid) {
            return $this->sheet($source, $source->current(), $invalid->faults, $form, $view);
        }

        return $this->sheet($source, $file, view: $view);
    }

    /**
     * What is odd about an address, while it is typed.
     */
    public function address(?Source $source = null): View
    {
        $this->authorize('viewAny', Source::class);
        $bases = request()->input('bases');
        $typed = is_array($bases) ? (string) (array_values(array_filter($bases, is_string(...)))[0] ?? '') : $this->text('start');
        // Advice is for an address alone: a command or a file is read when it is sent.
        if (preg_match('/^\s*curl\s|\n|deepspring/i', $typed) === 1) {
            $typed = '';
        }
        $paths = $source === null ? [] : array_map(static fn ($one): string => (string) ($one->endpoint['ask']['path'] ?? ''), $source->current()->endpoints());

        $findings = AddressAdvice::on($typed, $paths);
        if ($source === null) {
            // A new source takes path and query of an address for its first endpoint.
            $findings = array_values(array_filter($findings, static fn (AddressFinding $finding): bool => $finding->code !== 'query'));
        }

        return view('sources.address', ['findings' => $findings, 'field' => $this->text('field')]);
    }

    public function test(Source $source, Tries $tries): View
    {
        $this->authorize('update', $source);
        $tries->source($source, $source->current(), $this->environment(), $this->person());

        return $this->sheet($source, $source->current());
    }

    /**
     * The address of the source answers with data: what is asked for there becomes an endpoint.
     */
    public function endpoint(Source $source, AddressEndpoint $addresses, FirstTake $take): RedirectResponse
    {
        $this->authorize('update', $source);
        $row = $addresses->make($source, $this->environment(), $this->person());
        if ($row === null) {
            return redirect()->route('endpoints.create', $source);
        }
        $take->of($row, $this->environment(), $this->person());

        return redirect()->route('endpoints.show', [$source, $row]);
    }

    /**
     * Where the draft leaves out an endpoint whose tables are kept, what becomes of them is asked first.
     */
    public function publish(Source $source, SourceStore $store, OrphanedTables $orphaned): RedirectResponse|View
    {
        $this->authorize('update', $source);
        $tables = $orphaned->of($source, $source->current());
        $answer = $this->text('tables');
        if ($tables->isNotEmpty() && $source->draft() !== null && ! in_array($answer, ['keep', 'forget'], true)) {
            return view('sources.orphans', ['source' => $source, 'tables' => $tables, 'readers' => $orphaned->readers($tables)]);
        }
        try {
            $gone = $answer === 'forget' ? $orphaned->forget($tables) : [];
        } catch (KeepFailed $failed) {
            return view('sources.orphans', ['source' => $source, 'tables' => $tables, 'readers' => $orphaned->readers($tables), 'failed' => $failed->getMessage()]);
        }
        $store->publish($source, $this->person());
        $said = $gone === [] ? null : implode(', ', $gone).(count($gone) === 1 ? ' is' : ' are').' no longer kept.';

        return ($answer === '' ? redirect()->to(url()->previous(route('sources.show', $source))) : redirect()->route('sources.show', $source))->with('said', $said);
    }

    public function destroy(Source $source): RedirectResponse
    {
        $this->authorize('delete', $source);
        $kept = KeptTable::query()->whereIn('endpoint_id', $source->endpoints()->select('id'))->pluck('name');
        if ($kept->isNotEmpty()) {
            throw ValidationException::withMessages(['source' => 'It still keeps '.$kept->join(', ', ' and ').', which queries may read. Delete is possible once nothing is kept.']);
        }
        $source->delete();
        $this->log->note(Action::SourceDeleted, $source->slug);

        return redirect()->route('sources.index');
    }
}
