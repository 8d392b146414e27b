<?php

declare(strict_types=1);

namespace App\Http\Sheets;

use App\Access\TokenStore;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Source;
use App\Models\User;
use App\Pace\RateLimitStore;
use App\Pipeline\SourceConnections;
use App\Secrets\Vault;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Http\Request;

/**
 * Makes the sheets, with what each of them needs.
 */
final readonly class Sheets
{
    public function __construct(private SourceConnections $connections, private Vault $vault, private RateLimitStore $rates, private TokenStore $tokens)
    {
    }

    /**
     * @param  list<Fault>  $faults  of what was just sent and not saved
     */
    public function endpoint(Endpoint $row, SourceFile $file, EndpointDefinition $definition, Environment $environment, array $faults = []): EndpointSheet
    {
        return new EndpointSheet($this->vault->masks(), $this->preview($row, $file, $definition, $environment, $faults), $row, $file, $definition, $environment, $faults);
    }

    /**
     * @param  list<Fault>  $faults
     */
    public function preview(Endpoint $row, SourceFile $file, EndpointDefinition $definition, Environment $environment, array $faults = []): AskPreview
    {
        return new AskPreview($this->connections, $row, $file, $definition, $environment, $faults);
    }

    public function edit(Request $request, Endpoint $row, SourceFile $file, Environment $environment): EndpointEdit
    {
        return new EndpointEdit($this, $request, $row, $file, $environment);
    }

    public function shape(Endpoint $row, SourceFile $file, EndpointDefinition $definition, Environment $environment): ShapeSheet
    {
        return new ShapeSheet($this->vault->masks(), $row, $file, $definition, $environment);
    }

    /**
     * @param  list<Fault>  $faults
     * @param  array<string, mixed>|null  $form  what was sent and could not be saved
     */
    public function source(Source $source, SourceFile $file, Environment $environment, User $person, array $faults, ?array $form): SourceSheet
    {
        return new SourceSheet($this->rates, $this->tokens, $source, $file, $environment, $person, $faults, $form);
    }
}
