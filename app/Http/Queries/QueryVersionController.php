<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Models\SavedQuery;
use App\Queries\QueryDrafts;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;

/**
 * What a query said before, compared with what it says.
 */
final class QueryVersionController extends Controller
{
    public function index(SavedQuery $query): View
    {
        $this->authorize('view', $query);
        $versions = $query->versions()->with('user')->orderByDesc('number')->paginate(30)->withQueryString();
        $a = $query->versions()->where('number', (int) ($this->text('a') ?: $query->version - 1))->first();
        $b = $query->versions()->where('number', (int) ($this->text('b') ?: $query->version))->first();

        return view('queries.versions', ['query' => $query, 'versions' => $versions, 'a' => $a, 'b' => $b, 'lines' => $a === null || $b === null ? [] : LineChanges::between($a->sql, $b->sql)]);
    }

    /**
     * Into the editor, from where it can be saved as the next version.
     */
    public function restore(SavedQuery $query, int $version, QueryDrafts $drafts): RedirectResponse
    {
        $this->authorize('view', $query);
        $earlier = $query->versions()->where('number', $version)->firstOrFail();
        $draft = $drafts->write($this->person(), $query, null, 0, $query->version, $earlier->sql, $earlier->parameters ?? []);

        return redirect()->route('queries.show', [$query, 'draft' => $draft->id])->with('notice', "Version $version is in the editor. Save it to make it the next version.");
    }
}
