<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Source;
use App\Models\Tryout;
use Illuminate\Http\Response;

/**
 * The raw body of one exchange, as text that no browser runs.
 */
final class TryController extends Controller
{
    public function body(Tryout $tryout, int $number): Response
    {
        $this->authorize('view', Source::query()->findOrFail($tryout->source_id));
        $exchange = $tryout->exchanges()->where('number', $number)->firstOrFail();

        return response($exchange->text() ?? 'The body of this answer is no longer kept.', 200, ['Content-Type' => 'text/plain; charset=utf-8']);
    }
}
