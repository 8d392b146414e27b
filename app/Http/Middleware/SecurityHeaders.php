<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use Closure;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Vite;
use Illuminate\Support\Str;
use Symfony\Component\HttpFoundation\Response;

/**
 * What a browser may do with our pages: nothing inline, nothing from elsewhere, no frame around us.
 */
final class SecurityHeaders
{
    /** Seconds for which a browser asks for no page of ours in clear text. */
    private const YEAR = 31_536_000;

    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        $nonce = Str::random(24);
        Vite::useCspNonce($nonce);
        view()->share('nonce', $nonce);
        $response = $next($request);
        $response->headers->set('Content-Security-Policy', "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-$nonce'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'");
        $response->headers->set('X-Content-Type-Options', 'nosniff');
        $response->headers->set('X-Frame-Options', 'DENY');
        $response->headers->set('Referrer-Policy', 'same-origin');
        $response->headers->set('Cross-Origin-Opener-Policy', 'same-origin');
        $response->headers->set('Permissions-Policy', 'camera=(), geolocation=(), microphone=()');
        if ($request->isSecure()) {
            $response->headers->set('Strict-Transport-Security', 'max-age='.self::YEAR);
        }
        if (! $response->headers->has('Cache-Control') || str_contains((string) $response->headers->get('Content-Type'), 'html')) {
            $response->headers->set('Cache-Control', 'no-store, private');
        }

        return $response;
    }
}
