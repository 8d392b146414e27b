<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use Psr\Http\Message\RequestInterface;

/**
 * The Cookie header (RFC 6265 §4.2).
 */
final class Cookies
{
    /**
     * @param  list<array{string, string}>  $cookies  name and value
     */
    public static function add(RequestInterface $request, array $cookies): RequestInterface
    {
        $all = array_filter([$request->getHeaderLine('cookie')]);
        foreach ($cookies as [$name, $value]) {
            $all[] = $name.'='.HeaderValue::checked($value, 'cookie');
        }

        return $all === [] ? $request : $request->withHeader('cookie', implode('; ', $all));
    }
}
