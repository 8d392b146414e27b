<?php

declare(strict_types=1);

namespace App\Http\Find;

use App\Http\Controller;
use Illuminate\Contracts\View\View;

/**
 * Everything by a part of its name: as a page, and as the list of the palette.
 */
final class FindController extends Controller
{
    public function __invoke(Finder $finder): View
    {
        $search = mb_substr($this->text('q'), 0, 100);
        $found = $finder->find($this->person(), $this->environment(), $search, mb_substr($this->text('here'), 0, 300));

        return view($this->text('as') === 'list' ? 'find.list' : 'find.page', ['search' => $search, 'found' => $found]);
    }
}
