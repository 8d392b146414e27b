<?php

declare(strict_types=1);

namespace App\Changes;

use Psr\Http\Message\RequestInterface;

/**
 * A request that several changes share.
 */
final readonly class BundledRequest
{
    /**
     * @param  list<string>  $parts  what of it is about each change, in their order
     */
    public function __construct(public RequestInterface $request, public array $parts)
    {
    }
}
