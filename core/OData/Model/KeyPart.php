<?php

declare(strict_types=1);

namespace DeepSpring\OData\Model;

/**
 * One property of a key; its path can lead into a complex property, and then it has an alias.
 */
final readonly class KeyPart
{
    public function __construct(public string $path, public string $alias)
    {
    }
}
