<?php

declare(strict_types=1);

namespace App\Http\Watershed;

use App\Http\Controller;
use App\Notes\NoteBook;
use App\Runs\Runs;
use App\View\WatershedMap;
use Illuminate\Contracts\View\View;

final class WatershedController extends Controller
{
    public function __invoke(Runs $runs, NoteBook $notes): View
    {
        $runs->rescue();
        $notes->align($this->environment());

        return view('watershed', [
            'map' => new WatershedMap($this->environment(), $this->person()->role, $this->text('q'), $this->text('open'), max(1, (int) $this->text('page'))),
            'search' => $this->text('q'),
            'open' => $this->text('open'),
        ]);
    }
}
