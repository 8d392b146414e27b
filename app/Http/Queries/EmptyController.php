<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Queries\EmptyResult;
use App\Queries\QueryRefused;
use App\Queries\SqlGuard;
use Illuminate\Contracts\View\View;

/**
 * Why a statement has no rows.
 */
final class EmptyController extends Controller
{
    public function __invoke(EmptyResult $empty): View
    {
        try {
            $reasons = $empty->reasons($this->person(), $this->environment(), SqlGuard::checked($this->text('sql')));
        } catch (QueryRefused) {
            $reasons = [];
        }

        return view('queries.empty', ['reasons' => $reasons]);
    }
}
