<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use Closure;
use Illuminate\Http\Request;
use Illuminate\Routing\UrlGenerator;
use Symfony\Component\HttpFoundation\Exception\SuspiciousOperationException;
use Symfony\Component\HttpFoundation\Response;

/**
 * Answers under the names of this installation alone: whoever asks under another gets no page and no
 * link made from it. Where people use https in front of us, links say so whatever the proxy says.
 */
final readonly class KnownHost
{
    /** Of this machine, which a name that somebody registers cannot pretend to be. */
    private const LOCAL = ['127.0.0.1', 'localhost', '[::1]'];

    public function __construct(private UrlGenerator $addresses)
    {
    }

    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        $url = (string) config('app.url');
        $known = [...self::LOCAL, strtolower((string) parse_url($url, PHP_URL_HOST)), ...array_map(strtolower(...), config('spring.hosts'))];
        try {
            $host = $request->getHost();
        } catch (SuspiciousOperationException) {
            $host = '';
        }
        if (! in_array($host, $known, true)) {
            return response('This installation does not answer under that name. Its administrator can add it to SPRING_HOSTS.', 400, ['Content-Type' => 'text/plain; charset=utf-8']);
        }
        $isPublic = $host === strtolower((string) parse_url($url, PHP_URL_HOST)) && ! in_array($host, self::LOCAL, true);
        if ($isPublic) {
            $this->addresses->useOrigin(rtrim($url, '/'));
            $this->addresses->forceScheme((string) parse_url($url, PHP_URL_SCHEME));
            if (str_starts_with($url, 'https:')) {
                $request->server->set('HTTPS', 'on');
            }
        }

        return $next($request);
    }
}
