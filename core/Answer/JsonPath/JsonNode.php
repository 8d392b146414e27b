<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

/**
 * A value and where it is.
 */
final readonly class JsonNode
{
    public function __construct(public mixed $value, public Location $location)
    {
    }

    public function path(): string
    {
        return (string) $this->location;
    }
}
