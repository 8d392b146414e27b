<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Ask\EndpointRole;
use DeepSpring\Value\NearestName;

/**
 * What must fit together in how records are changed: endpoints that are there and do what they are named for, inputs
 * and columns that exist, a key by which a record is found.
 */
final readonly class ChangeCoherence
{
    /**
     * @param  array<string, mixed>  $document
     * @param  \Closure(string, string): void  $fault  told the place and what is wrong there
     */
    public function __construct(private array $document, private \Closure $fault, private PathFaults $paths)
    {
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @param  string  $at  its place
     */
    public function endpoint(array $endpoint, string $at): void
    {
        $change = $endpoint['change'] ?? [];
        // Which columns there are follows from a choice once the metadata is known.
        if ($change === [] || isset($endpoint['entity_set']) && ! isset($endpoint['flatten'])) {
            return;
        }
        if (($endpoint['flatten']['key'] ?? []) === []) {
            ($this->fault)("$at.change", 'Records are changed by their key, and the table has none: say under flatten which columns it is.');

            return;
        }
        $columns = array_column($endpoint['flatten']['columns'] ?? [], 'name');
        foreach ($this->bindings($change, true) as $place => $binding) {
            foreach ($binding['inputs'] ?? [] as $input => $column) {
                $mask = array_column($endpoint['flatten']['columns'] ?? [], 'mask', 'name')[$column] ?? 'none';
                $mask === 'none' || ($this->fault)("$at.change.$place.inputs.$input", "\"$column\" is kept with mask: $mask, so its mask would be sent to the service, and not its value.");
            }
        }
        foreach ($this->bindings($change, true) as $place => $binding) {
            $this->puts($binding['puts'] ?? [], str_starts_with($place, 'actions['), $endpoint['flatten'], "$at.change.$place.puts");
        }
        foreach ($this->bindings($change) as $place => $binding) {
            $this->binding($binding, EndpointRole::tryFrom($place), $columns, "$at.change.$place");
        }
        foreach ($change['together'] ?? [] as $role => $binding) {
            $this->binding($binding, EndpointRole::from($role), $columns, "$at.change.together.$role");
            $this->takesSeveral($binding['endpoint'], "$at.change.together.$role.endpoint");
            $unnamed = $role === 'create' ? [] : array_diff($endpoint['flatten']['key'], $binding['inputs'] ?? []);
            $unnamed === [] || ($this->fault)("$at.change.together.$role.inputs", 'Nothing in each record says which one it is: no input is filled by '.implode(' and ', $unnamed).', its key.');
        }
        if (isset($change['batch']) && ($this->document['source']['kind'] ?? '') !== 'odata') {
            ($this->fault)("$at.change.batch", 'Only an OData service takes a $batch. Of another one, name an endpoint that takes several records under together.');
        }
        foreach ($change['columns'] ?? [] as $number => $name) {
            $this->column($name, $columns, "$at.change.columns[$number]");
        }
        foreach (array_keys($change['offered'] ?? []) as $name) {
            $this->column((string) $name, $columns, "$at.change.offered.$name");
        }
        foreach ($change['approval']['in'] ?? [] as $number => $environment) {
            if (! isset($this->document['source']['environments'][$environment])) {
                ($this->fault)("$at.change.approval.in[$number]", "The source has no environment \"$environment\".");
            }
        }
    }

    /**
     * @param  array<string, mixed>  $change
     * @param  bool  $isAll  whether those that take several records are among them
     * @return array<string, array{endpoint: string, inputs?: array<string, string>, puts?: array<string, string>}> by their place: the role, or actions[0]
     */
    private function bindings(array $change, bool $isAll = false): array
    {
        $bindings = array_intersect_key($change, ['get' => 1, 'create' => 1, 'update' => 1, 'delete' => 1]);
        foreach ($change['actions'] ?? [] as $number => $action) {
            $bindings["actions[$number]"] = $action;
        }
        foreach ($isAll ? $change['together'] ?? [] : [] as $role => $binding) {
            $bindings["together.$role"] = $binding;
        }

        return $bindings;
    }

    /**
     * @param  array{endpoint: string, inputs?: array<string, string>}  $binding
     * @param  list<string>  $columns
     */
    private function binding(array $binding, ?EndpointRole $role, array $columns, string $at): void
    {
        $endpoints = array_column($this->document['endpoints'] ?? [], null, 'slug');
        $found = $endpoints[$binding['endpoint']] ?? null;
        if ($found === null) {
            ($this->fault)("$at.endpoint", "There is no endpoint \"{$binding['endpoint']}\"".self::meant($binding['endpoint'], array_map(strval(...), array_keys($endpoints))));

            return;
        }
        $does = (new EndpointDefinition($found))->does();
        if ($role !== null && $does !== $role) {
            ($this->fault)("$at.endpoint", "\"{$binding['endpoint']}\" is said to {$does->value}, and not to {$role->value}.");
        }
        if ($role === null && ! $does->writes()) {
            ($this->fault)("$at.endpoint", "\"{$binding['endpoint']}\" only reads: it is no action.");
        }
        $inputs = array_column($found['ask']['inputs'] ?? [], null, 'name');
        foreach ($binding['inputs'] ?? [] as $input => $column) {
            if (! isset($inputs[$input])) {
                ($this->fault)("$at.inputs.$input", "\"{$binding['endpoint']}\" has no input \"$input\"".self::meant((string) $input, array_map(strval(...), array_keys($inputs))));
            } elseif (isset($inputs[$input]['fixed'])) {
                ($this->fault)("$at.inputs.$input", "\"$input\" is fixed in \"{$binding['endpoint']}\", so no column can fill it.");
            }
            $this->column($column, $columns, "$at.inputs.$input");
        }
    }

    /**
     * @param  array<string, string>  $puts
     * @param  array<string, mixed>  $flatten
     */
    private function puts(array $puts, bool $isAction, array $flatten, string $at): void
    {
        if ($puts !== [] && ! $isAction) {
            ($this->fault)($at, 'Only the answer of an action fills columns; what becomes of the answer of a change says after.');
        }
        $columns = array_column($flatten['columns'] ?? [], null, 'name');
        foreach ($puts as $name => $path) {
            $this->column((string) $name, array_map(strval(...), array_keys($columns)), "$at.$name");
            $fault = $this->paths->of($path);
            $fault === null || ($this->fault)("$at.$name", $fault);
            if (in_array($name, $flatten['key'] ?? [], true)) {
                ($this->fault)("$at.$name", "\"$name\" is part of the key, by which the row is found.");
            } elseif (($columns[$name]['mask'] ?? 'none') !== 'none') {
                ($this->fault)("$at.$name", "\"$name\" is kept with mask: {$columns[$name]['mask']}, and an answer would stand there as it is.");
            }
        }
    }

    /**
     * An endpoint for several records says where in its body they stand.
     */
    private function takesSeveral(string $slug, string $at): void
    {
        $endpoint = array_column($this->document['endpoints'] ?? [], null, 'slug')[$slug] ?? null;
        if ($endpoint !== null && ! isset($endpoint['ask']['body']['each'])) {
            ($this->fault)($at, "\"$slug\" does not say where in its body several records stand: give its body each, like \$.changes.");
        }
        $input = $endpoint['answer']['parts']['match']['input'] ?? null;
        if ($input !== null && ! in_array($input, array_column($endpoint['ask']['inputs'] ?? [], 'name'), true)) {
            ($this->fault)($at, "\"$slug\" matches its answers by \"$input\", and has no such input.");
        }
    }

    /**
     * @param  list<string>  $columns
     */
    private function column(string $name, array $columns, string $at): void
    {
        if (! in_array($name, $columns, true)) {
            ($this->fault)($at, "The table has no column \"$name\"".self::meant($name, $columns));
        }
    }

    /**
     * @param  list<string>  $known
     */
    private static function meant(string $name, array $known): string
    {
        $near = NearestName::to($name, $known);

        return $near === null ? '.' : "; \"$near\" was probably meant.";
    }
}
