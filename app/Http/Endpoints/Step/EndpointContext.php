<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Endpoints\EndpointSheet;
use App\Http\Endpoints\EndpointSheets;
use App\Models\Endpoint;
use App\Models\Environment;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;

/**
 * Where a step is taken: the endpoint, its source file and the environment.
 */
final readonly class EndpointContext
{
    public function __construct(private EndpointSheets $sheets, public Endpoint $row, public SourceFile $file, public Environment $environment)
    {
    }

    /**
     * What the sheet would show of an endpoint as it is being changed.
     *
     * @param  array<string, mixed>  $endpoint
     */
    public function sheet(array $endpoint): EndpointSheet
    {
        return $this->sheets->endpoint($this->row, $this->file, new EndpointDefinition($endpoint), $this->environment);
    }
}
