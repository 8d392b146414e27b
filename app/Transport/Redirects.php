<?php

declare(strict_types=1);

namespace App\Transport;

use GuzzleHttp\Promise\PromiseInterface;
use GuzzleHttp\Psr7\Request;
use GuzzleHttp\Psr7\Uri;
use GuzzleHttp\Psr7\UriComparator;
use GuzzleHttp\Psr7\UriResolver;
use Psr\Http\Message\RequestInterface;
use Psr\Http\Message\ResponseInterface;

/**
 * Follows a redirect of a reading request (RFC 9110 §15.4) within its origin. One that leads to
 * another origin is handed back as the answer, so that no credentials travel there; only a test
 * follows it, with a bare request.
 */
final readonly class Redirects
{
    private const MOST = 5;

    public static function middleware(): \Closure
    {
        return static fn (callable $handler): \Closure => self::follow($handler, self::MOST);
    }

    private static function follow(callable $handler, int $left): \Closure
    {
        return static function (RequestInterface $request, array $options) use ($handler, $left): PromiseInterface {
            return $handler($request, $options)->then(static function (ResponseInterface $response) use ($handler, $request, $options, $left): ResponseInterface|PromiseInterface {
                if (! in_array($response->getStatusCode(), [301, 302, 303, 307, 308], true) || ! $response->hasHeader('location') || $left === 0 || $request->getMethod() !== 'GET') {
                    return $response;
                }
                try {
                    $to = UriResolver::resolve($request->getUri(), new Uri($response->getHeaderLine('location')));
                } catch (\InvalidArgumentException) {
                    return $response;
                }
                $elsewhere = UriComparator::isCrossOrigin($request->getUri(), $to);
                if ($elsewhere && ! ($options['spring_cross_origin'] ?? false)) {
                    return $response;
                }
                $options['spring_trail']->hops[] = ['status' => $response->getStatusCode(), 'to' => (string) $to->withUserInfo('')];
                $options['sink'] = new CappedStream($options['spring_bytes']);
                if ($elsewhere) {
                    unset($options['curl'][CURLOPT_SSLCERT_BLOB], $options['curl'][CURLOPT_SSLKEY_BLOB], $options['curl'][CURLOPT_KEYPASSWD]);

                    return self::follow($handler, $left - 1)(new Request('GET', $to, ['accept' => $request->getHeaderLine('accept'), 'user-agent' => $request->getHeaderLine('user-agent')]), $options);
                }

                return self::follow($handler, $left - 1)($request->withUri($to), $options);
            });
        };
    }
}
