<?php

declare(strict_types=1);

namespace App\Http\Health;

use App\Http\Controller;
use App\Models\User;
use App\Operations\Figures;
use App\Operations\MetricsText;
use App\Operations\Readiness;
use App\Operations\RequestFigures;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\Gate;
use Illuminate\Support\Facades\Log;

/**
 * For the one who runs it: alive, ready, figures. Strangers learn no more than yes or no.
 */
final class HealthController extends Controller
{
    public function up(): Response
    {
        return $this->plain('up', 200);
    }

    public function ready(Readiness $readiness): Response
    {
        $wrong = array_filter($readiness->parts(), static fn (?string $trouble): bool => $trouble !== null);
        if ($wrong !== []) {
            Log::warning('not ready', $wrong);
        }

        // Which part it is stands in the log.
        return $wrong === [] ? $this->plain('ready', 200) : $this->plain('not ready', 503);
    }

    public function metrics(Request $request, Figures $figures, RequestFigures $requests): Response
    {
        $token = (string) config('spring.metrics_token');
        $given = (string) $request->bearerToken();
        $person = $request->user();
        abort_unless($token !== '' && hash_equals($token, $given) || $person instanceof User && ! $person->isOff() && Gate::allows('administer'), 403);

        return response(MetricsText::of($figures->all(), $requests->read()), 200, ['Content-Type' => 'text/plain; version=0.0.4; charset=utf-8']);
    }

    private function plain(string $word, int $status): Response
    {
        return response("$word\n", $status, ['Content-Type' => 'text/plain; charset=utf-8', 'Cache-Control' => 'no-store']);
    }
}
