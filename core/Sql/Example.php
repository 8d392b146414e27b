<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * A statement that runs as it stands, and what it answers.
 */
final readonly class Example
{
    public function __construct(public string $title, public string $sql)
    {
    }
}
