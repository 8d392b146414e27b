<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Seen;

/**
 * What is left of a request when its secrets, and what the product or a browser sets by itself, are
 * taken out.
 */
final readonly class Left
{
    /**
     * @param  array<string, list<string>>  $headers  values by name in small letters, as often as they stood there
     * @param  list<array{string, string, bool}>  $query  name, value, and whether the name stands alone
     * @param  list<array{string, string}>  $cookies
     */
    public function __construct(public array $headers, public array $query, public array $cookies)
    {
    }

    public function contentType(): string
    {
        return $this->headers['content-type'][0] ?? '';
    }
}
