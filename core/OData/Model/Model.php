<?php

declare(strict_types=1);

namespace DeepSpring\OData\Model;

use DeepSpring\OData\ODataVersion;

/**
 * What a service says of itself. It is made of plain arrays, so that it can be kept, and hands out
 * objects where it is asked; names are qualified and without aliases.
 */
final class Model
{
    public readonly ODataVersion $version;

    /** As the document writes it, like 4.01. */
    public readonly string $written;

    /** @var array<string, StructuredType|null> */
    private array $made = [];

    /**
     * @param  array{version: int, written: string, types: array<string, array<string, mixed>>, operations: list<array<string, mixed>>, sets: array<string, array<string, mixed>>, imports: array<string, array<string, mixed>>}  $facts
     */
    public function __construct(public readonly array $facts)
    {
        $this->version = ODataVersion::from($facts['version']);
        $this->written = $facts['written'];
    }

    /**
     * @return list<EntitySet> singletons among them
     */
    public function sets(): array
    {
        return array_map(fn (int|string $name): EntitySet => EntitySet::of((string) $name, $this->facts['sets'][$name]), array_keys($this->facts['sets']));
    }

    public function set(string $name): ?EntitySet
    {
        return isset($this->facts['sets'][$name]) ? EntitySet::of($name, $this->facts['sets'][$name]) : null;
    }

    /**
     * An entity or complex type with all that it has from the types it is based on.
     */
    public function type(string $name): ?StructuredType
    {
        return $this->made[$name] ??= $this->structured($name);
    }

    public function typeOf(EntitySet $set): ?StructuredType
    {
        return $this->type($set->type);
    }

    /**
     * The members of an enumeration, by name; null for what is none.
     *
     * @return array<string, int>|null
     */
    public function members(string $type): ?array
    {
        return ($this->facts['types'][$type]['kind'] ?? '') === 'enum' ? $this->facts['types'][$type]['members'] : null;
    }

    /**
     * The primitive type behind a type definition or an enumeration; the name itself for all others.
     */
    public function primitive(string $type): string
    {
        for ($depth = 0; $depth < 8 && in_array($this->facts['types'][$type]['kind'] ?? '', ['definition', 'enum'], true); $depth++) {
            $type = $this->facts['types'][$type]['underlying'];
        }

        return $type;
    }

    /**
     * Facets of a type definition, which hold where a property says nothing else.
     *
     * @return array<string, mixed>
     */
    public function facets(string $type): array
    {
        $facts = $this->facts['types'][$type] ?? [];

        return ($facts['kind'] ?? '') === 'definition' ? array_intersect_key($facts, ['length' => 1, 'precision' => 1, 'scale' => 1]) : [];
    }

    public function isEnum(string $type): bool
    {
        return ($this->facts['types'][$type]['kind'] ?? '') === 'enum';
    }

    /**
     * Where navigation from a set leads; null when the model does not say.
     */
    public function target(EntitySet $set, string $navigation): ?EntitySet
    {
        $name = $set->bindings[$navigation] ?? null;
        if ($name !== null) {
            return $this->set($name);
        }
        foreach ($set->bindings as $path => $target) {
            if (str_ends_with((string) $path, "/$navigation")) {
                return $this->set($target);
            }
        }
        // Without a binding, a set that is the only one of its type.
        $type = $this->typeOf($set)?->navigation($navigation)?->type;
        $sets = array_values(array_filter($this->sets(), static fn (EntitySet $one): bool => $one->type === $type && ! $one->single));

        return count($sets) === 1 ? $sets[0] : null;
    }

    /**
     * Functions and actions that stand alone, and those that are bound to a type.
     *
     * @return list<Operation>
     */
    public function operations(): array
    {
        $operations = [];
        $free = [];
        foreach ($this->facts['operations'] as $facts) {
            if ($facts['bound']) {
                $operations[] = Operation::of($facts['name'], $facts);
            } else {
                $free[$facts['name']][] = $facts;
            }
        }
        foreach ($this->facts['imports'] as $name => $import) {
            foreach (isset($import['operation']) ? $free[$import['operation']] ?? [] : [$import + ['bound' => false]] as $facts) {
                $operations[] = Operation::of((string) $name, array_filter($import) + $facts);
            }
        }

        return $operations;
    }

    /**
     * Types that are based on this one, itself first.
     *
     * @return list<string>
     */
    public function derived(string $type): array
    {
        $names = [$type];
        for ($place = 0; $place < count($names); $place++) {
            foreach ($this->facts['types'] as $name => $facts) {
                if (($facts['base'] ?? '') === $names[$place] && ! in_array($name, $names, true)) {
                    $names[] = (string) $name;
                }
            }
        }

        return $names;
    }

    private function structured(string $name): ?StructuredType
    {
        $chain = [];
        for ($at = $name; isset($this->facts['types'][$at]) && ! isset($chain[$at]); $at = $this->facts['types'][$at]['base'] ?? '') {
            if (! isset($this->facts['types'][$at]['properties'])) {
                return null;
            }
            $chain[$at] = $this->facts['types'][$at];
        }

        return $chain === [] ? null : StructuredType::of($name, array_reverse(array_values($chain)));
    }
}
