<?php

declare(strict_types=1);

namespace App\Queries\Live;

use App\Models\Endpoint;
use App\Models\Source;
use DeepSpring\Flatten\Plan;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;

/**
 * A table that is not kept, but can be read from its service when a query asks for it.
 */
final readonly class LiveTable
{
    public function __construct(public string $name, public Source $source, public Endpoint $endpoint, public SourceFile $file, public EndpointDefinition $definition, public Plan $plan)
    {
    }
}
