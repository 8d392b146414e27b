<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Queries\IndexAdvisor;
use App\Queries\JoinCoverage;
use App\Queries\KnownTables;
use App\Queries\Live\LiveTables;
use App\Queries\QueryRefused;
use App\Queries\SqlGuard;
use Illuminate\Contracts\View\View;

/**
 * What the joins of a statement that was run leave over.
 */
final class CoverageController extends Controller
{
    public function __invoke(JoinCoverage $coverage, LiveTables $live, IndexAdvisor $advisor): View
    {
        $sql = $this->text('sql');
        $whole = $this->text('whole') === '1';
        try {
            $sql = SqlGuard::checked($sql);
        } catch (QueryRefused) {
            return view('queries.coverage', ['joins' => [], 'sql' => $sql, 'whole' => $whole]);
        }

        return view('queries.coverage', ['joins' => $coverage->of($this->person(), $this->environment(), $sql, new KnownTables($this->environment(), $live, $advisor), $whole), 'sql' => $sql, 'whole' => $whole]);
    }
}
