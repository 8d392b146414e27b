<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Http\Controller;
use App\Models\Source;
use App\Models\SourceDocument;
use App\Models\User;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\DocumentComparison;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;

/**
 * The published versions of a source: compared field by field, and brought back.
 */
final class VersionController extends Controller
{
    public function index(Source $source): View
    {
        $this->authorize('view', $source);
        $versions = $source->documents()->whereNotNull('version')->orderByDesc('version')->select(['id', 'version', 'author_id', 'created_at', 'updated_at'])->paginate(25);

        return view('versions.index', ['source' => $source, 'versions' => $versions, 'draft' => $source->draft(), 'people' => User::query()->pluck('name', 'id')]);
    }

    public function compare(Source $source): View
    {
        $this->authorize('view', $source);
        [$left, $right] = [$this->document($source, $this->text('a')), $this->document($source, $this->text('b'))];

        return view('versions.compare', ['source' => $source, 'left' => $left, 'right' => $right, 'changes' => (new DocumentComparison)->of($left->file()->document, $right->file()->document), 'all' => $source->documents()->whereNotNull('version')->orderByDesc('version')->pluck('version')->all(), 'hasDraft' => $source->draft() !== null]);
    }

    /**
     * Puts an earlier version into the draft, to be looked at and published.
     */
    public function restore(Source $source, int $version, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $source);
        $store->restore($source, $version, $this->person());

        return redirect()->route('sources.versions', $source)->with('said', "Version $version is the draft now. Publish it when it is right.");
    }

    public function discard(Source $source, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $source);
        $store->discardDraft($source);

        return redirect()->route('sources.versions', $source)->with('said', 'The draft is discarded; the sheets show what is published.');
    }

    private function document(Source $source, string $which): SourceDocument
    {
        return $source->documents()->where('version', $which === 'draft' ? null : (int) $which)->first() ?? abort(404);
    }
}
