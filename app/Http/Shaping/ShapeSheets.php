<?php

declare(strict_types=1);

namespace App\Http\Shaping;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Secrets\Vault;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;

/**
 * Makes what the shaping page shows.
 */
final readonly class ShapeSheets
{
    public function __construct(private Vault $vault)
    {
    }

    public function shape(Endpoint $row, SourceFile $file, EndpointDefinition $definition, Environment $environment): ShapeSheet
    {
        return new ShapeSheet($this->vault->masks(), $row, $file, $definition, $environment);
    }
}
