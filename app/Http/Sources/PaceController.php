<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Http\Controller;
use App\Models\Source;
use App\Pace\RateLimitStore;
use Illuminate\Http\RedirectResponse;

/**
 * Closes the breaker of a source by hand.
 */
final class PaceController extends Controller
{
    public function __invoke(Source $source, RateLimitStore $rates): RedirectResponse
    {
        $this->authorize('update', $source);
        $rates->close($source->id, $this->environment()->id, $source->current()->source()->pace);

        return redirect()->route('sources.show', $source)->with('said', 'Requests go through again.');
    }
}
