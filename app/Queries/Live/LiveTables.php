<?php

declare(strict_types=1);

namespace App\Queries\Live;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Service;
use App\Models\Source;
use DeepSpring\SourceFile\Chosen;
use DeepSpring\Value\SafeNames;

/**
 * Tables of published OData endpoints that are not kept in an environment.
 */
final class LiveTables
{
    /**
     * @return array<string, LiveTable> by the name of the main table
     */
    public function of(Environment $environment): array
    {
        $kept = KeptTable::query()->where('environment_id', $environment->id)->pluck('name')->flip();
        $live = [];
        $sources = Source::query()->with('endpoints')->findMany(Service::query()->distinct()->pluck('source_id')->all());
        foreach ($sources->sortBy('slug') as $source) {
            $file = $source->published();
            if ($file === null || ! Chosen::isOData($file->document) || $file->source()->base($environment->slug) === null) {
                continue;
            }
            foreach ($file->endpoints() as $definition) {
                $row = $source->endpoints->firstWhere('slug', $definition->slug);
                if ($row === null || ! isset($definition->endpoint['entity_set'], $definition->endpoint['flatten']) || $definition->does()->writes() || $definition->does()->value !== 'list' || isset($definition->endpoint['operation'])) {
                    continue;
                }
                $plan = $definition->plan();
                $name = $plan === null ? '' : SafeNames::clean($plan->table->name);
                if ($plan !== null && ! isset($kept[$name]) && ! isset($live[$name]) && ! $plan->isMasked()) {
                    $live[$name] = new LiveTable($name, $source, $row, $file, $definition, $plan);
                }
            }
        }

        return $live;
    }
}
