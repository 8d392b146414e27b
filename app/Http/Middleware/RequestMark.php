<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Operations\RequestFigures;
use Closure;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Log;
use Symfony\Component\HttpFoundation\Response;

/**
 * Gives each request an id, which stands in its answer and in every line of the log that it causes,
 * and notes how long it took.
 */
final readonly class RequestMark
{
    private const NAME = 'x-request-id';

    public function __construct(private RequestFigures $figures)
    {
    }

    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        // One that a proxy gave is kept, so that both logs speak of the same.
        $given = (string) $request->headers->get(self::NAME);
        $id = preg_match('/^[A-Za-z0-9._-]{8,64}$/D', $given) === 1 ? $given : bin2hex(random_bytes(8));
        $request->attributes->set('id', $id);
        Log::withContext(['request' => $id]);
        $response = $next($request);
        $response->headers->set(self::NAME, $id);

        return $response;
    }

    public function terminate(Request $request, Response $response): void
    {
        $begun = (float) $request->server->get('REQUEST_TIME_FLOAT', microtime(true));
        $this->figures->count((string) $request->server->get('SPRING_POOL', 'pages'), $response->getStatusCode(), max(0.0, microtime(true) - $begun));
    }
}
