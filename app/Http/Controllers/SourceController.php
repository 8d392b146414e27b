<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Access\IssuerReader;
use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Sheets\AddressAdvice;
use App\Http\Sheets\ChangedElsewhere;
use App\Http\Sheets\ChangeSequence;
use App\Http\Sheets\EditConflictGuard;
use App\Http\Sheets\SchemeFields;
use App\Http\Sheets\Sheets;
use App\Http\Sheets\SourceForm;
use App\Imports\Fetch;
use App\Imports\Incoming;
use App\Imports\PendingImports;
use App\Imports\Shelf;
use App\Models\KeptTable;
use App\Models\Secret;
use App\Models\Source;
use App\Runs\Tries;
use App\Secrets\Vault;
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

final class SourceController extends Controller
{
    public function __construct(private readonly Sheets $sheets, private readonly AuditLog $log)
    {
    }

    private const PAGE = 25;

    public function index(): View
    {
        $this->authorize('viewAny', Source::class);
        $search = $this->text('q');
        $sort = in_array($this->text('sort'), ['name', 'updated_at'], true) ? $this->text('sort') : 'name';
        $sources = Source::query()->with('owner')->withCount('endpoints')
            ->when($search !== '', fn ($query) => $query->whereRaw('name collate utf8mb4_general_ci like ?', ['%'.addcslashes($search, '%_\\').'%']))
            ->orderBy($sort, $sort === 'name' ? 'asc' : 'desc')->paginate(self::PAGE)->withQueryString();

        return view('sources.index', ['sources' => $sources, 'states' => SourceStates::of($sources->pluck('id')->all()), 'leftAlone' => DB::table('paces')->whereIn('source_id', $sources->pluck('id'))->where('breaker', 'open')->get()->map(static fn (object $row): string => "$row->source_id/$row->environment_id")->all(), 'search' => $search, 'sort' => $sort]);
    }

    public function create(Shelf $shelf): View
    {
        $this->authorize('create', Source::class);

        return view('sources.create', ['shelf' => $shelf->all(), 'taken' => Source::query()->pluck('slug')->all()]);
    }

    /**
     * From whatever is at hand. An address, one request or a source file is a source at once, and tested;
     * of what describes many operations, a person chooses first.
     */
    public function store(Request $request, Incoming $incoming, NewSource $new, SourceStore $store, Vault $vault, Tries $tries, Shelf $shelf, PendingImports $pending): RedirectResponse
    {
        $this->authorize('create', Source::class);
        $start = is_string($request->input('start')) ? trim($request->input('start')) : $this->text('base');
        [$name, $slug] = [$this->text('name'), $this->text('slug')];
        $service = ServiceAddress::of($start);
        if ($service !== null && $this->text('shelf') === '') {
            return $this->made($new->service($service, $this->environment(), $name, $slug), [], $store, $vault, $tries)->with('said', 'This is an OData service, so it can describe itself: say who is asking, then choose from what it offers.'.($service->leftOut === [] ? '' : ' Left out of the address: '.implode(', ', $service->leftOut).'.'));
        }
        $isAddress = preg_match('~^\S+$~', $start) === 1 && ! str_contains($start, '?') && ! Fetch::looksLikeDescription($start) && $this->text('read') !== '1' && ! str_starts_with($start, '{');
        if ($isAddress && ! $request->hasFile('files') && $this->text('shelf') === '') {
            return $this->made($new->at($start, $this->environment(), $name, $slug), [], $store, $vault, $tries);
        }
        try {
            $all = $this->text('shelf') !== '' ? [$shelf->read($this->text('shelf'))] : Importers::every($incoming->of($request, Fetch::looksLikeDescription($start) || $this->text('read') === '1'));
        } catch (CannotDescribe $cannot) {
            throw ValidationException::withMessages(['start' => array_map(ucfirst(...), $cannot->sentences)]);
        }
        $described = $all[0];
        if (count($all) === 1 && $described->document !== null && ! Source::query()->where('slug', $described->document['source']['slug'])->exists()) {
            return $this->made($new->file($described), [], $store, $vault, $tries);
        }
        if (count($all) === 1 && $described->kind === 'curl' && count($described->endpoints) === 1) {
            return $this->made($new->of($described, $this->environment(), $name, $slug), $described->secrets, $store, $vault, $tries)->with('mends', array_map(static fn (ImportNotice $one): array => $one->toArray(), $described->mends));
        }

        return redirect()->route('imports.show', [$pending->keep($all, $this->person(), null)] + array_filter(['name' => $name, 'slug' => $slug]));
    }

    /**
     * @param  array<string, string>  $secrets
     */
    private function made(SourceFile $file, #[\SensitiveParameter] array $secrets, SourceStore $store, Vault $vault, Tries $tries): RedirectResponse
    {
        $source = $store->draft($file, $this->person());
        foreach ($secrets as $name => $value) {
            $vault->put($source, $this->environment(), (string) $name, $value, $this->person());
        }
        if ($file->source()->base($this->environment()->slug) !== null) {
            $tries->source($source, $file, $this->environment(), $this->person());
        }

        return redirect()->route('sources.show', $source);
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
                if ($this->text('do') === 'add-scheme' && SchemeFields::fresh($this->text('scheme')) !== null) {
                    $document['source']['access'][] = SchemeFields::fresh($this->text('scheme'));
                }
                if ($this->text('do') === 'earlier') {
                    $document['source'] = SourceForm::earlier($document['source'], (int) $this->text('scheme'));
                }
                if ($this->text('do') === 'copy') {
                    $document['source'] = SourceForm::copied($document['source'], $this->text('from'), $this->environment()->slug);
                }

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
     * Sets a secret. One that replaces another is tested first: only when the service takes it is
     * the old one let go.
     */
    public function secret(Request $request, Source $source, Vault $vault, Tries $tries): View
    {
        $this->authorize('update', $source);
        $name = $this->text('secret_name');
        $value = $request->input('secret_value');
        $ends = preg_match('/^\d{4}-\d\d-\d\d$/D', $this->text('secret_ends')) === 1 ? $this->text('secret_ends') : null;
        $there = Secret::query()->where(['source_id' => $source->id, 'environment_id' => $this->environment()->id, 'name' => $name])->first();
        if ($this->text('do') === 'accept' && $there !== null) {
            $vault->accept($there, $this->person());
        } elseif ($this->text('do') === 'discard' && $there !== null) {
            $there->forceFill(['pending' => null])->save();
        } elseif (preg_match('/^[A-Za-z0-9_-]{1,64}$/D', $name) === 1 && is_string($value) && $value !== '') {
            if ($there === null || $source->current()->source()->base($this->environment()->slug) === null) {
                $vault->put($source, $this->environment(), $name, $value, $this->person(), $ends);
            } else {
                $vault->propose($there, $value, $ends);
                if ($tries->source($source, $source->current(), $this->environment(), $this->person(), [$name => $value])->succeeded) {
                    $vault->accept($there, $this->person());
                }
            }
        }

        return $this->sheet($source, $source->current());
    }

    /**
     * Lets secrets that this person gave travel to where the source leads now.
     */
    public function confirmSecrets(Source $source, Vault $vault): View
    {
        $this->authorize('update', $source);
        $secrets = Secret::query()->where(['source_id' => $source->id, 'environment_id' => $this->environment()->id, 'set_by' => $this->person()->id])->get();
        foreach ($secrets as $secret) {
            $vault->confirm($secret);
        }

        return $this->sheet($source, $source->current());
    }

    /**
     * Fills the addresses of a scheme from its issuer.
     */
    public function discover(Request $request, Source $source, SourceStore $store, IssuerReader $reader): View
    {
        $this->authorize('update', $source);
        $number = (int) $this->text('scheme');
        $issuer = $this->text('issuer') ?: (string) (request()->input("access.$number.issuer") ?? '');
        $named = SchemeFields::parsed($issuer);
        $variable = is_array($named) ? (string) ($named['variable'] ?? '') : null;
        $address = $variable === null ? $issuer : $source->current()->source()->variables($this->environment()->slug)[$variable] ?? '';
        $found = $reader->read($address);
        if ($found === []) {
            return $this->sheet($source, $source->current(), trouble: "Nothing under $issuer describes its addresses. Look for the issuer in the documentation, or fill the addresses by hand.");
        }
        try {
            $store->edit($source, $this->person(), static function (array $document) use ($request, $number, $named, $found): ?array {
                if ($request->has('bases') && ChangeSequence::of($request)?->isPast() !== true) {
                    $document['source'] = (new SourceForm($document['source']))->apply($request->all());
                }
                $entry = $document['source']['access'][$number] ?? null;
                if ($entry === null) {
                    return null;
                }
                $takes = $entry['scheme'] === 'oauth2-authorization-code' ? $found : array_diff_key($found, ['authorize_url' => 1, 'revoke_url' => 1]);
                $document['source']['access'][$number] = ['scheme' => $entry['scheme'], 'issuer' => $named] + $takes + $entry;

                return $document;
            });
        } catch (InvalidSourceFile $invalid) {
            return $this->sheet($source, $source->current(), trouble: implode(' ', array_map(strval(...), $invalid->faults)));
        }

        return $this->sheet($source, $source->refresh()->current());
    }

    public function publish(Source $source, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $source);
        $store->publish($source, $this->person());

        return redirect()->to(url()->previous(route('sources.show', $source)));
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

    /**
     * @param  list<Fault>  $faults
     * @param  array<string, mixed>|null  $form  what was sent, when it could not be saved
     */
    private function sheet(Source $source, SourceFile $file, array $faults = [], ?array $form = null, ?string $view = null, ?string $trouble = null): View
    {
        return view($view ?? (request()->hasHeader('HX-Request') ? 'sources.sheet' : 'sources.show'), [
            'source' => $source->refresh(), 'sheet' => $this->sheets->source($source, $file, $this->environment(), $this->person(), $faults, $form), 'trouble' => $trouble ?? session('trouble'),
        ]);
    }
}
