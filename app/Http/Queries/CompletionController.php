<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Queries\IndexAdvisor;
use App\Queries\KnownTables;
use App\Queries\Live\LiveTables;
use DeepSpring\Sql\Completion;
use DeepSpring\Sql\Proposed;
use Illuminate\Http\JsonResponse;

/**
 * What can be written where the cursor is.
 */
final class CompletionController extends Controller
{
    public function __invoke(LiveTables $live, IndexAdvisor $advisor): JsonResponse
    {
        $sql = request()->input('sql');
        $sql = is_string($sql) ? mb_strcut($sql, 0, (int) config('spring.query.statement_bytes'), 'UTF-8') : '';
        $completion = new Completion($sql, min(strlen($sql), (int) $this->text('cursor')), new KnownTables($this->environment(), $live, $advisor));

        return response()->json([
            'length' => min(strlen($sql), (int) $this->text('cursor')) - $completion->from,
            'proposed' => array_map(static fn (Proposed $one): array => ['label' => $one->label, 'kind' => $one->kind, 'detail' => $one->detail, 'insert' => $one->text()], $completion->proposed),
        ]);
    }
}
