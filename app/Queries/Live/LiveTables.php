<?php

declare(strict_types=1);

namespace App\Queries\Live;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Service;
use App\Models\Source;
use DeepSpring\Ask\Input;
use DeepSpring\SourceFile\Chosen;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\Value\SafeNames;

/**
 * Tables of published endpoints that are not kept in an environment: of OData sets, and of lists with inputs that stand
 * for a part of a query.
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
        $ids = [...Service::query()->distinct()->pluck('source_id')->all(), ...Endpoint::query()->where('stands', true)->distinct()->pluck('source_id')->all()];
        $sources = Source::query()->with('endpoints')->where('of_query', false)->findMany($ids);
        foreach ($sources->sortBy('slug') as $source) {
            $file = $source->published();
            if ($file === null || $file->source()->base($environment->slug) === null) {
                continue;
            }
            foreach ($file->endpoints() as $definition) {
                $row = $source->endpoints->firstWhere('slug', $definition->slug);
                $isSet = Chosen::isOData($file->document) && isset($definition->endpoint['entity_set']);
                if ($row === null || ! $isSet && ! self::stands($definition) || ! isset($definition->endpoint['flatten']) || $definition->does()->writes() || $definition->does()->value !== 'list' || isset($definition->endpoint['operation'])) {
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

    /**
     * Whether an input of an endpoint stands for a part of a query; none that has its rows from a table.
     */
    public static function stands(EndpointDefinition $definition): bool
    {
        return array_filter($definition->ask()->inputs, static fn (Input $input): bool => $input->standsFor !== null) !== [] && array_filter($definition->endpoint['keep']['inputs'] ?? [], is_array(...)) === [];
    }
}
