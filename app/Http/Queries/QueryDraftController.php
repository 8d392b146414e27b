<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Models\SavedQuery;
use App\Queries\QueryDrafts;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\RedirectResponse;

/**
 * Keeps what is typed.
 */
final class QueryDraftController extends Controller
{
    public function __construct(private readonly QueryDrafts $drafts)
    {
    }

    public function store(): JsonResponse
    {
        $query = $this->text('query') === '' ? null : SavedQuery::seenBy($this->person())->findOrFail((int) $this->text('query'));
        $sql = request()->input('sql');
        $sql = is_string($sql) ? mb_strcut(str_replace("\r\n", "\n", $sql), 0, (int) config('spring.query.statement_bytes'), 'UTF-8') : '';
        $draft = $this->drafts->write($this->person(), $query, $this->text('draft') === '' ? null : (int) $this->text('draft'), (int) $this->text('revision'), (int) $this->text('based_on'), $sql, (new AskedValues($sql, [], request()->all()))->settings());

        return response()->json(['draft' => $draft->id, 'revision' => $draft->revision]);
    }

    public function destroy(int $draft): RedirectResponse
    {
        $this->drafts->discard($this->person(), $draft);

        return back()->with('notice', 'The draft is gone.');
    }
}
