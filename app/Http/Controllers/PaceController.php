<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Source;
use App\Pace\PaceBook;
use Illuminate\Http\RedirectResponse;

/**
 * Closes the breaker of a source by hand.
 */
final class PaceController extends Controller
{
    public function __invoke(Source $source, PaceBook $book): RedirectResponse
    {
        $this->authorize('update', $source);
        $book->close($source->id, $this->environment()->id, $source->inHand()->source()->pace);

        return redirect()->route('sources.show', $source)->with('said', 'Requests go through again.');
    }
}
