<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * What a pager changes in a request: query members, or the whole address.
 */
final readonly class PageRequest
{
    /**
     * @param  array<string, string>  $query
     */
    public function __construct(public array $query = [], public ?string $uri = null)
    {
    }
}
