<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Imports\Importing;
use App\Imports\Incoming;
use App\Imports\PendingImports;
use App\Models\PendingImport;
use App\Models\Source;
use App\Runs\Tries;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\Slugs;
use DeepSpring\SourceFile\DocumentComparison;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\ValidationException;

/**
 * Choosing from a description that was read, and making endpoints of it.
 */
final class ImportController extends Controller
{
    /**
     * More endpoints for a source that is there.
     */
    public function store(Request $request, Source $source, Incoming $incoming, PendingImports $pending): RedirectResponse
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

        return redirect()->route('imports.show', $pending->keep($described, $this->person(), $source));
    }

    public function show(PendingImport $import, PendingImports $pending, Importing $importing): View
    {
        $source = $this->allowed($import);
        $all = $pending->open($import);
        if ($all[0]->document !== null) {
            return view('imports.files', ['import' => $import, 'files' => array_map(fn (Described $one): array => $this->against($one), $all)]);
        }
        $described = $all[0];

        return view('imports.show', [
            'import' => $import, 'source' => $source, 'described' => $described, 'merge' => $source === null ? null : $importing->preview($described, $source),
            'keepsAccess' => ($source?->current()->document['source']['access'] ?? []) !== [] && $described->access !== [],
            'slug' => $source === null ? $this->freeSlug($described) : '', 'there' => $source === null ? [] : $this->requests($source),
        ]);
    }

    public function apply(Request $request, PendingImport $import, PendingImports $pending, Importing $importing, Tries $tries): RedirectResponse
    {
        $source = $this->allowed($import);
        $all = $pending->open($import);
        if ($all[0]->document !== null) {
            return $this->applyFiles($import, $all, $importing);
        }
        $chosen = array_values(array_filter(explode("\n", str_replace("\r", '', is_string($request->input('chosen')) ? $request->input('chosen') : ''))));
        if ($chosen === [] && ($source === null || $all[0]->endpoints !== [] && $importing->preview($all[0], $source, [])->changes === [])) {
            throw ValidationException::withMessages(['chosen' => 'Choose at least one operation.']);
        }
        try {
            if ($source !== null) {
                $theirs = $this->requests($source);
                $described = $all[0]->only([...$chosen, ...array_values(array_map(static fn ($one): string => $one->slug(), array_filter($all[0]->endpoints, static fn ($one): bool => isset($theirs[self::key($one->method(), $one->endpoint['ask']['path'])]))))]);
                $merge = $importing->into($described, $source, $chosen, $this->environment(), $this->person());
                $import->delete();

                return count($merge->added) === 1 && $merge->changes === [] ? redirect()->route('endpoints.show', [$source, $merge->added[0]]) : redirect()->route('sources.show', $source)->with('trouble', null)->with('said', count($merge->added).' added, '.count($merge->changes).' brought up to date'.($merge->kept === [] ? '.' : ', and '.count($merge->kept).' edits of yours kept where the description says otherwise.'));
            }
            $slug = $this->text('slug') ?: Slugs::clean($this->text('name'));
            if (Source::query()->where('slug', $slug)->exists()) {
                throw ValidationException::withMessages(['slug' => "There is a source \"$slug\" already. Give this one another short name."]);
            }
            $made = $importing->asSource($all[0]->only($chosen), $slug, $this->text('name') ?: $slug, $this->environment(), $this->text('base'), $this->person());
        } catch (InvalidSourceFile $invalid) {
            throw ValidationException::withMessages(array_reduce($invalid->faults, static fn (array $all, Fault $fault): array => $all + [str_ends_with($fault->path, '.base') ? 'base' : (str_ends_with($fault->path, 'slug') ? 'slug' : 'chosen') => ucfirst($fault->message)], []));
        }
        $import->delete();
        $tries->source($made, $made->current(), $this->environment(), $this->person());

        return redirect()->route('sources.show', $made);
    }

    /**
     * @param  non-empty-list<Described>  $all
     */
    private function applyFiles(PendingImport $import, array $all, Importing $importing): RedirectResponse
    {
        $last = null;
        foreach ($all as $one) {
            $last = $importing->asSource($one, '', '', $this->environment(), null, $this->person());
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

    /**
     * @return array<string, string> slugs of endpoints by method and path
     */
    private function requests(Source $source): array
    {
        $by = [];
        foreach ($source->current()->endpoints() as $one) {
            $by[self::key($one->ask()->method, $one->ask()->path)] = $one->slug;
        }

        return $by;
    }

    public static function key(string $method, string $path): string
    {
        return $method.' '.rtrim((string) preg_replace('/\{[^{}]*\}/', '{}', $path), '/');
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
