<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Http\Controller;
use App\Models\Consumer;
use App\Models\Run;
use App\Outlets\CallLimits;
use App\Outlets\FeedProblem;
use App\Outlets\OutsideControl;
use App\Outlets\RefusedKeys;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/**
 * Refreshes as another system starts and follows them.
 */
final class ControlController extends Controller
{
    /** Characters of an idempotency key (draft-ietf-httpapi-idempotency-key-header). */
    private const LONGEST_KEY = 200;

    public function __construct(private readonly OutsideControl $control, private readonly CallLimits $limits, private readonly RefusedKeys $refused)
    {
    }

    public function refresh(Request $request): Response
    {
        return $this->answered($request, function (Consumer $consumer) use ($request): Response {
            $key = $request->headers->get('idempotency-key');
            if ($key !== null && (trim($key) === '' || strlen($key) > self::LONGEST_KEY)) {
                throw new FeedProblem(400, 'Idempotency-Key has between 1 and '.self::LONGEST_KEY.' characters.');
            }
            $environment = $request->query('environment');
            $run = $this->control->refresh($consumer, (string) $request->route('table'), is_string($environment) && $environment !== '' ? $environment : null, $key);

            return $this->written($run, 202, ['Location' => route('control.run', $run->id)]);
        });
    }

    public function run(Request $request): Response
    {
        return $this->answered($request, function (Consumer $consumer) use ($request): Response {
            $run = $this->control->run($consumer, (int) $request->route('run'));

            return $this->written($run, 200, in_array($run->state->value, ['queued', 'running'], true) ? ['Retry-After' => '2'] : []);
        });
    }

    /**
     * @param  array<string, string>  $headers
     */
    private function written(Run $run, int $status, array $headers): Response
    {
        return new Response((string) json_encode(OutsideControl::written($run, route('control.run', $run->id)), JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE), $status, $headers + ['Content-Type' => 'application/json', 'Cache-Control' => 'no-store']);
    }

    /**
     * @param  \Closure(Consumer): Response  $answer
     */
    private function answered(Request $request, \Closure $answer): Response
    {
        $headers = [];
        try {
            $reader = KnownReader::of($request);
            $reader instanceof Consumer || throw ($reader === null ? $this->refused->problem(KnownReader::key($request), (string) $request->ip()) : new FeedProblem(403, 'Refreshes are started from outside with a key. Whoever is signed in starts them on the page of the table.'));
            $headers = $this->limits->take($reader);
            $response = $answer($reader);
        } catch (FeedProblem $problem) {
            $response = FeedController::problem($problem);
        }
        $response->headers->add($headers);

        return $response;
    }
}
