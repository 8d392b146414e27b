<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Http\Controller;
use App\Models\Source;
use App\OData\ServiceModels;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Response;

/**
 * A source as its file: the same object that the sheets edit.
 */
final class SourceFileController extends Controller
{
    public function __construct(private readonly ServiceModels $services)
    {
    }

    public function show(Source $source): View
    {
        $this->authorize('view', $source);

        return view('sources.file', ['source' => $source, 'text' => $this->services->text($source, $source->current()), 'faults' => []]);
    }

    public function update(Source $source, SourceStore $store): View|RedirectResponse
    {
        $this->authorize('update', $source);
        $text = is_string(request('text')) ? request('text') : '';
        try {
            $file = SourceFile::read($text);
            $taken = Source::query()->where('slug', $file->slug())->whereKeyNot($source->id)->exists();
            if ($taken) {
                throw InvalidSourceFile::because([new Fault('source.slug', "\"{$file->slug()}\" belongs to another source.")]);
            }
            $store->draft($file, $this->person(), $source);
        } catch (InvalidSourceFile $invalid) {
            return view('sources.file', ['source' => $source, 'text' => $text, 'faults' => $invalid->faults]);
        }

        return redirect()->route('sources.show', $source->refresh());
    }

    public function export(Source $source): Response
    {
        $this->authorize('view', $source);

        return response($this->services->text($source, $source->current()), 200, ['Content-Type' => 'application/yaml; charset=utf-8', 'Content-Disposition' => "attachment; filename=\"{$source->slug}.yaml\""]);
    }
}
