<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Pipeline\SourceConnections;
use App\Reservoir\TableStore;
use App\Secrets\Vault;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\SourceFile;

/**
 * Makes what the sheet of an endpoint shows.
 */
final readonly class EndpointSheets
{
    public function __construct(private SourceConnections $connections, private Vault $vault, private TableStore $store)
    {
    }

    /**
     * @param  list<Fault>  $faults  of what was just sent and not saved
     */
    public function endpoint(Endpoint $row, SourceFile $file, EndpointDefinition $definition, Environment $environment, array $faults = []): EndpointSheet
    {
        return new EndpointSheet($this->vault->masks(), $this->preview($row, $file, $definition, $environment, $faults), $row, $file, $definition, $environment, $faults, fn (): bool => $this->canRebuild($row, $file, $environment));
    }

    /**
     * Whether its tables can be made anew from the pages that are kept: there are some, and the draft asks
     * for what was asked for them.
     */
    public function canRebuild(Endpoint $row, SourceFile $file, Environment $environment): bool
    {
        $asked = static fn (?SourceFile $one): ?array => ($definition = $one?->endpoint($row->slug)) === null ? null : [$definition->endpoint['ask'] ?? [], $definition->endpoint['onward'] ?? [], $definition->endpoint['keep']['inputs'] ?? [], $one->source()->base($environment->slug)];
        $published = $row->source->published();

        return $published !== null && isset($file->endpoint($row->slug)->endpoint['flatten']) && $asked($published) === $asked($file) && $this->store->pages($environment, "e$row->id")->about() !== null;
    }

    /**
     * @param  list<Fault>  $faults
     */
    public function preview(Endpoint $row, SourceFile $file, EndpointDefinition $definition, Environment $environment, array $faults = []): AskPreview
    {
        return new AskPreview($this->connections, $row, $file, $definition, $environment, $faults);
    }
}
