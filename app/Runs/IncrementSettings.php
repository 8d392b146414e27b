<?php

declare(strict_types=1);

namespace App\Runs;

use App\Reservoir\MergeRule;
use DeepSpring\Ask\InputSets;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\Plan;
use DeepSpring\Increment\Increment;
use DeepSpring\Increment\Increments;
use DeepSpring\Increment\InvalidIncrement;
use DeepSpring\Increment\RecordKey;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * How changes of an endpoint are asked for, and how they go into its tables.
 */
final readonly class IncrementSettings
{
    private function __construct(public Increment $way, public MergeRule $rule, private EndpointDefinition $endpoint)
    {
    }

    /**
     * @return self|null null where everything is read
     *
     * @throws InvalidIncrement
     */
    public static function of(EndpointDefinition $endpoint, Plan $plan): ?self
    {
        $refresh = $endpoint->endpoint['keep']['refresh'] ?? [];
        $way = Increments::of($refresh, $plan->table);
        if ($way === null) {
            return null;
        }
        $names = array_map(static fn (Column $column): string => $column->name, $plan->table->columns);
        $place = static fn (string $name): int => (int) array_search($name, $names, true);
        $deleted = Increments::deleted($refresh, $plan->table);

        return new self($way, new MergeRule(
            RecordKey::of($plan->table)->places,
            $way->tellsStates() ? $place((string) $way->column()) : null,
            $deleted === null ? null : [$place($deleted[0]), $deleted[1]],
        ), $endpoint);
    }

    /**
     * The endpoint with what is sent for an increment beside all else.
     *
     * @param  array<string, string>  $sent  name of the parameter → value
     */
    public function asking(array $sent): EndpointDefinition
    {
        $endpoint = $this->endpoint->endpoint;
        $there = array_column($endpoint['ask']['inputs'] ?? [], 'name');
        foreach (array_diff(array_keys($sent), $there) as $name) {
            $endpoint['ask']['inputs'][] = ['name' => $name, 'in' => $endpoint['keep']['refresh']['since']['in'] ?? 'query'];
        }
        $endpoint['keep']['inputs'] = $sent + ($endpoint['keep']['inputs'] ?? []);

        return new EndpointDefinition($endpoint, $this->endpoint->isRefuted);
    }

    /**
     * @param  array<string, string>  $sent
     *
     * @throws InvalidInput
     */
    public function sets(array $sent): InputSets
    {
        return $this->asking($sent)->keptWith();
    }
}
