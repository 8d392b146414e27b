<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use Closure;
use DeepSpring\Access\Origin;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/**
 * Forgets where somebody came from unless that was here, so that going back never leads elsewhere.
 */
final class OwnReferer
{
    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        $from = Origin::of((string) $request->headers->get('referer'));
        if ($from === null || $from !== Origin::of($request->getSchemeAndHttpHost())) {
            $request->headers->remove('referer');
        }

        return $next($request);
    }
}
