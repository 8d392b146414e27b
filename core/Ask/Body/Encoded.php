<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

final readonly class Encoded
{
    public function __construct(public string $contentType, public string $bytes)
    {
    }
}
