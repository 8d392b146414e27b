<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Http\Controller;
use App\Imports\Importing;
use App\Imports\Incoming;
use App\Imports\PendingImports;
use App\Models\PendingImport;
use App\Models\Source;
use App\Sources\FirstTake;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\ImportMerge;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Describe\NoticeGroup;
use DeepSpring\Describe\Slugs;
use DeepSpring\SourceFile\DocumentComparison;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\Phrase;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Pagination\LengthAwarePaginator;
use Illuminate\Validation\ValidationException;

/**
 * Choosing from a description that was read, and making endpoints of it.
 */
final class ImportController extends Controller
{
    /** Places of a notice on a page. */
    private const NOTICES = 100;

    /**
     * More endpoints for a source that is there.
     */
    public function store(Request $request, Source $source, Incoming $incoming, PendingImports $pending, Importing $importing, FirstTake $take): RedirectResponse
    {
        $this->authorize('update', $source);
        try {
            $given = $incoming->of($request, true);
            $bases = array_values(array_filter(array_map($source->current()->source()->base(...), $source->current()->source()->environments())));
            $described = Importers::every(new ImportInput($given->text, $given->name, $given->address, $given->files, $bases));
        } catch (CannotDescribe $cannot) {
            throw ValidationException::withMessages(['start' => $cannot->sentences]);
        }
        if ($described[0]->document !== null) {
            throw ValidationException::withMessages(['start' => 'This is a whole source file. Open "Source file" of this source to replace it, or add it as a source of its own.']);
        }

        if (count($described) === 1 && $importing->isPlain($described[0], $source)) {
            $keepsAccess = ($source->current()->document['source']['access'] ?? []) !== [] && $described[0]->access !== [];
            $merge = $importing->into($described[0]->only(null), $source, null, $this->environment(), $this->person());

            return $this->opened($source->refresh(), $merge->added[0], $take)->with('said', $keepsAccess ? 'The authentication of the source stays as it is; that of the request was not taken.' : null);
        }

        return redirect()->route('imports.show', $pending->keep($described, $this->person(), $source));
    }

    /**
     * The sheet of an endpoint that was added: tried, if it reads, with what its answer suggests.
     */
    private function opened(Source $source, string $slug, FirstTake $take): RedirectResponse
    {
        $take->of($source->endpoints()->where('slug', $slug)->firstOrFail(), $this->environment(), $this->person());

        return redirect()->route('endpoints.show', [$source, $slug]);
    }

    public function show(PendingImport $import, PendingImports $pending, Importing $importing): View
    {
        $source = $this->allowed($import);
        $all = $pending->open($import);
        if ($all[0]->document !== null) {
            return view('imports.files', ['import' => $import, 'files' => array_map(fn (Described $one): array => $this->against($one), $all)]);
        }
        $page = $this->page($import, $all[0], $source, $importing);
        // While somebody searches or turns pages, only the list is sent.
        if (request()->hasHeader('HX-Request')) {
            return view('imports.operations', ['page' => $page]);
        }

        return view('imports.show', ['page' => $page, 'slug' => $source === null ? $this->freeSlug($all[0]) : '']);
    }

    /**
     * All operations that a search finds and that can be added, a line each.
     */
    public function slugs(PendingImport $import, PendingImports $pending, Importing $importing): Response
    {
        $source = $this->allowed($import);

        return response(implode("\n", $this->page($import, $pending->open($import)[0], $source, $importing)->choosable()), 200, ['Content-Type' => 'text/plain; charset=utf-8']);
    }

    /**
     * Every place that a notice is about.
     */
    public function notices(PendingImport $import, string $group, PendingImports $pending): View
    {
        $this->allowed($import);
        $found = NoticeGroup::all($pending->open($import)[0]->mends)[ctype_digit($group) ? (int) $group : -1] ?? abort(404);
        $number = max(1, (int) $this->text('page'));

        return view('imports.notices', ['import' => $import, 'group' => $found, 'notices' => new LengthAwarePaginator(array_slice($found->notices, ($number - 1) * self::NOTICES, self::NOTICES), count($found->notices), self::NOTICES, $number, ['path' => route('imports.notices', [$import, $group])])]);
    }

    private function page(PendingImport $import, Described $described, ?Source $source, Importing $importing): ImportPage
    {
        return new ImportPage($import, $described, $source, $source === null ? null : $importing->preview($described, $source), $source === null ? [] : ImportMerge::there($source->current()->document['endpoints'] ?? [], $described->endpoints), $this->text('q'), (int) $this->text('page'));
    }

    public function apply(Request $request, PendingImport $import, PendingImports $pending, Importing $importing, FirstTake $take): RedirectResponse
    {
        $source = $this->allowed($import);
        $all = $pending->open($import);
        if ($all[0]->document !== null) {
            return $this->applyFiles($import, $all, $importing);
        }
        $chosen = array_values(array_filter(explode("\n", str_replace("\r", '', is_string($request->input('chosen')) ? $request->input('chosen') : ''))));
        $theirs = array_values(array_filter((array) $request->input('take'), static fn (mixed $one): bool => is_string($one) && $one !== ''));
        if ($chosen === [] && $theirs === [] && ($source === null || $all[0]->endpoints !== [] && $importing->preview($all[0], $source, [])->changes === [])) {
            throw ValidationException::withMessages(['chosen' => 'Choose at least one operation.']);
        }
        $all[0] = $all[0]->withAccess($this->text('access'));
        try {
            if ($source !== null) {
                $there = array_map(strval(...), array_keys(ImportMerge::there($source->current()->document['endpoints'] ?? [], $all[0]->endpoints)));
                $kept = $all[0]->only([...$chosen, ...$there]);
                $merge = $importing->into($kept, $source, $chosen, $this->environment(), $this->person(), $this->agreed($request), $theirs);
                $import->delete();
                $left = $this->left($all[0], $kept);

                return count($merge->added) === 1 && $merge->changes === [] && $left === [] ? $this->opened($source->refresh(), $merge->added[0], $take) : redirect()->route('sources.show', $source)->with('trouble', null)->with('mends', $left)
                    ->with('said', count($merge->added).' added, '.count($merge->changes).' brought up to date'.($merge->kept === [] ? '.' : ', and '.Phrase::count(count($merge->kept), 'edit').' of yours kept where the description says otherwise.').($merge->gone === [] ? '' : ' '.Phrase::count(count($merge->gone), 'endpoint is', 'endpoints are').' no longer in the description, and stay: '.implode(', ', array_slice($merge->gone, 0, 20)).'.'));
            }
            $slug = $this->text('slug') ?: Slugs::clean($this->text('name'));
            if (Source::query()->where('slug', $slug)->exists()) {
                throw ValidationException::withMessages(['slug' => "There is a source \"$slug\" already. Give this one another short name."]);
            }
            $kept = $all[0]->only($chosen);
            $made = $importing->asSource($kept, $slug, $this->text('name') ?: $slug, $this->environment(), $this->text('base'), $this->person(), $this->agreed($request));
        } catch (InvalidSourceFile $invalid) {
            throw ValidationException::withMessages(array_reduce($invalid->faults, static fn (array $all, Fault $fault): array => $all + [str_ends_with($fault->path, '.base') ? 'base' : (str_ends_with($fault->path, 'slug') ? 'slug' : 'chosen') => ucfirst($fault->message)], []));
        }
        $import->delete();
        $left = $this->left($all[0], $kept);
        $endpoint = $take->ofNew($made, $this->environment(), $this->person());

        return ($endpoint === null || $left !== [] ? redirect()->route('sources.show', $made) : redirect()->route('endpoints.show', [$made, $endpoint]))->with('mends', $left);
    }

    /**
     * Other servers to which the authentication of the source goes as well, since somebody said so.
     *
     * @return list<string>
     */
    private function agreed(Request $request): array
    {
        return array_values(array_filter((array) $request->input('agreed'), is_string(...)));
    }

    /**
     * What was chosen and could not be kept: what is listed of it beyond what was listed before.
     *
     * @return list<array{kind: string, place: string, what: string}>
     */
    private function left(Described $described, Described $kept): array
    {
        return array_map(static fn (ImportNotice $one): array => $one->toArray(), array_slice($kept->mends, count($described->mends)));
    }

    /**
     * @param  non-empty-list<Described>  $all
     */
    private function applyFiles(PendingImport $import, array $all, Importing $importing): RedirectResponse
    {
        $last = null;
        try {
            foreach ($all as $one) {
                $last = $importing->asSource($one, '', '', $this->environment(), null, $this->person());
            }
        } catch (InvalidSourceFile $invalid) {
            throw ValidationException::withMessages(['chosen' => array_map(static fn (Fault $fault): string => (string) $fault, $invalid->faults)]);
        }
        $import->delete();

        return count($all) === 1 ? redirect()->route('sources.show', $last) : redirect()->route('sources.index');
    }

    /**
     * A source file, and what it would change of the source that has its slug.
     *
     * @return array<string, mixed>
     */
    private function against(Described $one): array
    {
        $document = $one->document ?? [];
        $there = Source::query()->where('slug', $document['source']['slug'])->first();

        return ['described' => $one, 'slug' => $document['source']['slug'], 'there' => $there, 'changes' => $there === null ? [] : (new DocumentComparison)->of($there->current()->document, SourceFile::trusted($document)->document)];
    }

    private function freeSlug(Described $described): string
    {
        return (new Slugs(array_values(Source::query()->pluck('slug')->map(strval(...))->all())))->take($described->title !== '' ? $described->title : (string) (parse_url($described->bases[0] ?? '', PHP_URL_HOST) ?: 'source'));
    }

    private function allowed(PendingImport $import): ?Source
    {
        abort_unless($import->user_id === $this->person()->id, 404);
        $source = $import->source_id === null ? null : Source::query()->find($import->source_id);
        $source === null ? $this->authorize('create', Source::class) : $this->authorize('update', $source);

        return $source;
    }
}
