<?php

declare(strict_types=1);

namespace DeepSpring\OData\Csdl;

use DeepSpring\OData\Model\Model;
use DeepSpring\OData\ODataVersion;

/**
 * What documents say → a model: associations become navigation, containers take in those they extend,
 * annotations come to stand where they belong.
 */
final readonly class Assembler
{
    public function __construct(private Collected $collected)
    {
    }

    /**
     * @throws UnreadableMetadata
     */
    public function model(): Model
    {
        if ($this->collected->containers === []) {
            throw UnreadableMetadata::hasNoContainer();
        }
        $this->refuseCircles();
        $sets = [];
        $imports = [];
        $containers = $this->containers();
        foreach ($containers as $name => $container) {
            foreach (self::named($container['sets']) as $set => $facts) {
                $sets[$set] ??= ['container' => $name, 'bindings' => $facts['bindings'] + $this->boundByAssociations($facts['type'], (string) $set)] + $facts + $this->facts($container['at'][$set] ?? "$name/$set", $name);
            }
            foreach (self::named($container['imports']) as $import => $facts) {
                $imports[$import] ??= ['container' => $name] + $facts + $this->facts($container['at'][$import] ?? "$name/$import");
            }
        }

        return new Model([
            'version' => ($this->collected->version === '' ? ODataVersion::V4 : ODataVersion::read($this->collected->version) ?? throw UnreadableMetadata::isOfVersion($this->collected->version))->value,
            'written' => $this->collected->version,
            'types' => $this->types(),
            'operations' => $this->operations(),
            'sets' => $sets,
            'imports' => $imports,
        ]);
    }

    /**
     * @throws UnreadableMetadata
     */
    private function refuseCircles(): void
    {
        $sound = [];
        foreach (array_keys($this->collected->types) as $name) {
            $way = [];
            for ($at = (string) $name; $at !== '' && ! isset($sound[$at]); $at = $this->collected->types[$at]['base'] ?? '') {
                if (isset($way[$at])) {
                    throw UnreadableMetadata::isCircle([...array_slice(array_map(strval(...), array_keys($way)), (int) array_search($at, array_map(strval(...), array_keys($way)), true)), $at]);
                }
                $way[$at] = true;
            }
            $sound += $way;
        }
    }

    /**
     * Containers with what those hold that they extend; one that is extended by another stands in it alone.
     *
     * @return array<string, array<string, mixed>>
     */
    private function containers(): array
    {
        $extended = array_filter(array_column($this->collected->containers, 'extends'));
        $containers = [];
        foreach ($this->collected->containers as $name => $container) {
            if (in_array($name, $extended, true) && count($this->collected->containers) > 1) {
                continue;
            }
            $container['at'] = [];
            $seen = [$name];
            for ($base = $container['extends']; $base !== '' && isset($this->collected->containers[$base]) && ! in_array($base, $seen, true); $base = $this->collected->containers[$base]['extends']) {
                $seen[] = $base;
                foreach (['sets', 'imports'] as $part) {
                    foreach (array_diff_key($this->collected->containers[$base][$part], $container[$part]) as $member => $facts) {
                        $container[$part][$member] = $facts;
                        $container['at'][$member] = "$base/$member";
                    }
                }
            }
            $containers[$name] = $container;
        }
        // The one that is marked as the default comes first, so that its names win.
        uasort($containers, static fn (array $a, array $b): int => ($b['default'] === 'true') <=> ($a['default'] === 'true'));

        return $containers;
    }

    /**
     * @return array<string, array<string, mixed>>
     */
    private function types(): array
    {
        $types = [];
        foreach ($this->collected->types as $name => $type) {
            foreach (['properties', 'navigation'] as $part) {
                if (isset($type[$part])) {
                    $type[$part] = self::named($type[$part]);
                }
            }
            // Only what something is said of elsewhere is made anew; the rest is the same in memory.
            foreach ($type['properties'] ?? [] as $property => $facts) {
                if (isset($this->collected->annotations["$name/$property"])) {
                    $type['properties'][$property] = $facts + $this->facts("$name/$property");
                }
            }
            foreach ($type['navigation'] ?? [] as $navigation => $facts) {
                $type['navigation'][$navigation] = (isset($facts['relationship']) ? $this->associated($facts) + $facts : $facts) + $this->facts("$name/$navigation");
            }
            $types[$name] = isset($this->collected->annotations[$name]) ? $type + $this->facts($name) : $type;
        }

        return $types;
    }

    /**
     * Without what has no name that can be asked for: a simple identifier (OData CSDL 4.01 §15.2).
     *
     * @param  array<array-key, array<string, mixed>>  $members
     * @return array<string, array<string, mixed>>
     */
    private static function named(array $members): array
    {
        foreach (array_keys($members) as $name) {
            if (preg_match('/^[\p{L}\p{Nl}_][\p{L}\p{N}\p{Mn}\p{Mc}\p{Pc}\p{Cf}.-]{0,127}$/Du', (string) $name) !== 1) {
                unset($members[$name]);
            }
        }

        return $members;
    }

    /**
     * @param  array<string, mixed>  $navigation
     * @return array<string, mixed>
     */
    private function associated(array $navigation): array
    {
        $association = $this->collected->associations[$navigation['relationship']] ?? null;
        $end = $association['ends'][$navigation['to']] ?? ['type' => '', 'many' => false, 'nullable' => true];
        $partner = '';
        foreach ($this->collected->types[$end['type']]['navigation'] ?? [] as $name => $back) {
            if (($back['relationship'] ?? '') === $navigation['relationship'] && $back['from'] === $navigation['to']) {
                $partner = (string) $name;
            }
        }

        return $end + ['partner' => $partner, 'contains' => false, 'constraints' => $association !== null && $association['dependent'] === $navigation['from'] ? $association['constraint'] : []];
    }

    /**
     * Where navigation of a set leads in versions 2 and 3, by the sets of its associations.
     *
     * @return array<string, string>
     */
    private function boundByAssociations(string $type, string $set): array
    {
        $bindings = [];
        for ($seen = []; $type !== '' && isset($this->collected->types[$type]) && ! isset($seen[$type]); $type = $this->collected->types[$type]['base'] ?? '') {
            $seen[$type] = true;
            foreach ($this->collected->types[$type]['navigation'] ?? [] as $name => $navigation) {
                $roles = $this->collected->associationSets[$navigation['relationship'] ?? ''] ?? [];
                if (($roles[$navigation['from'] ?? ''] ?? '') === $set && ($roles[$navigation['to']] ?? '') !== '') {
                    $bindings[$name] = $roles[$navigation['to']];
                }
            }
        }

        return $bindings;
    }

    /**
     * @return list<array<string, mixed>>
     */
    private function operations(): array
    {
        $operations = [];
        foreach ($this->collected->operations as $name => $overloads) {
            foreach ($overloads as $overload) {
                $operations[] = ['name' => $name] + $overload + $this->facts($name);
            }
        }

        return $operations;
    }

    /**
     * @return array<string, string|list<string>|bool|int>
     */
    private function facts(string $target, string $above = ''): array
    {
        $annotations = $this->collected->annotations[$target] ?? [];

        // What is said of the container holds for each set that says nothing else.
        return ($annotations === [] ? [] : Facts::of($annotations)) + ($above === '' ? [] : array_diff_key(($this->collected->containers[$above]['facts'] ?? []) + Facts::of($this->collected->annotations[$above] ?? []), ['label' => 1, 'about' => 1]));
    }
}
