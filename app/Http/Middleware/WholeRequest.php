<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/**
 * Refuses an address that no page has: with control characters, or in no encoding.
 */
final class WholeRequest
{
    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        $path = rawurldecode($request->getPathInfo());
        if (preg_match('/[\x00-\x1f\x7f]/', $path) === 1 || ! mb_check_encoding($path, 'UTF-8')) {
            abort(404);
        }

        return $next($request);
    }
}
