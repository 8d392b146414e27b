<?php

declare(strict_types=1);

namespace DeepSpring\OData\Csdl;

use DeepSpring\Answer\Duplicates;

/**
 * CSDL in JSON (OData CSDL JSON 4.01). What it leaves out has other defaults than in XML: a property is
 * of Edm.String, and not nullable.
 */
final class JsonReader implements MetadataReader
{
    private Collected $collected;

    public function read(string $document): Collected
    {
        try {
            $csdl = json_decode(ltrim($document, "\xEF\xBB\xBF"), true, 256, JSON_THROW_ON_ERROR);
        } catch (\JsonException $exception) {
            throw UnreadableMetadata::isNoJson(lcfirst($exception->getMessage()));
        }
        if (! is_array($csdl) || ! isset($csdl['$Version'])) {
            throw UnreadableMetadata::isNoJson('it has no $Version, as CSDL has');
        }
        // Nothing says which of two members of one name holds (RFC 8259 §4).
        $twice = Duplicates::areIn($document, json_decode(ltrim($document, "\xEF\xBB\xBF"), false, 256)) ? Duplicates::find($document)[0] ?? null : null;
        if ($twice !== null) {
            throw UnreadableMetadata::hasTwice(implode('/', $twice[0]), $twice[1]);
        }
        $this->collected = new Collected;
        $this->collected->version = $this->text($csdl['$Version']);
        $schemas = array_filter($csdl, static fn (mixed $schema, int|string $name): bool => is_array($schema) && ! str_starts_with((string) $name, '$'), ARRAY_FILTER_USE_BOTH);
        foreach ($this->map($csdl['$Reference'] ?? null) as $address => $reference) {
            $this->collected->references[$address] = [];
            foreach ($this->list($reference['$Include'] ?? null) as $include) {
                $namespace = $this->text($include['$Namespace'] ?? '');
                $this->collected->references[$address][] = $namespace;
                $this->alias($include['$Alias'] ?? null, $namespace);
            }
        }
        foreach ($schemas as $namespace => $schema) {
            $this->collected->namespaces[] = (string) $namespace;
            $this->alias($schema['$Alias'] ?? null, (string) $namespace);
        }
        foreach ($schemas as $namespace => $schema) {
            $this->schema((string) $namespace, $schema);
        }

        return $this->collected->namespaces === [] ? throw UnreadableMetadata::hasNoSchema() : $this->collected;
    }

    private function alias(mixed $alias, string $namespace): void
    {
        if (is_string($alias)) {
            $this->collected->aliases[$alias] = $namespace;
        }
    }

    /**
     * @param  array<array-key, mixed>  $schema
     */
    private function schema(string $namespace, array $schema): void
    {
        foreach ($schema as $name => $element) {
            $full = "$namespace.$name";
            if ($name === '$Annotations') {
                foreach ($this->map($element) as $target => $annotations) {
                    $this->describe($annotations, $this->collected->resolvePath((string) $target));
                }
            } elseif (is_array($element) && array_is_list($element)) {
                foreach ($element as $overload) {
                    is_array($overload) && $this->operation($full, $overload);
                }
            } elseif (is_array($element)) {
                match ($element['$Kind'] ?? '') {
                    'EntityType' => $this->structured($full, 'entity', $element),
                    'ComplexType' => $this->structured($full, 'complex', $element),
                    'EnumType' => $this->enum($full, $element),
                    'TypeDefinition' => $this->collected->types[$full] = ['kind' => 'definition', 'underlying' => $this->text($element['$UnderlyingType'] ?? '')] + $this->facets($element) + $this->said($element),
                    'EntityContainer' => $this->container($full, $element),
                    default => null,
                };
            }
        }
    }

    /**
     * @param  array<array-key, mixed>  $element
     */
    private function structured(string $full, string $kind, array $element): void
    {
        $type = ['kind' => $kind, 'base' => $this->name($element['$BaseType'] ?? ''), 'abstract' => ($element['$Abstract'] ?? false) === true, 'open' => ($element['$OpenType'] ?? false) === true, 'key' => [], 'properties' => [], 'navigation' => []];
        foreach ($this->list($element['$Key'] ?? null, false) as $key) {
            $type['key'][] = is_array($key) ? ['path' => $this->text(reset($key)), 'alias' => (string) array_key_first($key)] : ['path' => $this->text($key)];
        }
        foreach ($element as $name => $member) {
            if (! is_array($member) || in_array($name[0] ?? '', ['$', '@'], true)) {
                continue;
            }
            if (($member['$Kind'] ?? '') === 'NavigationProperty') {
                $type['navigation'][$name] = $this->typed($member) + ['partner' => $this->text($member['$Partner'] ?? ''), 'contains' => ($member['$ContainsTarget'] ?? false) === true, 'constraints' => array_filter(array_map($this->text(...), $this->map($member['$ReferentialConstraint'] ?? null, false)), static fn (string $one): bool => $one !== '')] + $this->said($member);
            } else {
                $type['properties'][$name] = $this->typed($member) + $this->facets($member) + $this->said($member);
            }
        }
        $this->collected->types[$full] = $type + $this->said($element);
    }

    /**
     * @param  array<array-key, mixed>  $element
     */
    private function enum(string $full, array $element): void
    {
        $members = array_filter($element, static fn (mixed $value, int|string $name): bool => is_int($value) && ! str_contains((string) $name, '@') && ! str_starts_with((string) $name, '$'), ARRAY_FILTER_USE_BOTH);
        $this->collected->types[$full] = ['kind' => 'enum', 'underlying' => $this->text($element['$UnderlyingType'] ?? 'Edm.Int32'), 'flags' => ($element['$IsFlags'] ?? false) === true, 'members' => $members] + $this->said($element);
    }

    /**
     * @param  array<array-key, mixed>  $element
     */
    private function operation(string $full, array $element): void
    {
        $parameters = array_map(fn (array $one): array => ['name' => $this->text($one['$Name'] ?? '')] + $this->typed($one) + $this->facets($one), $this->list($element['$Parameter'] ?? null));
        $returns = isset($element['$ReturnType']) && is_array($element['$ReturnType']) ? array_intersect_key($this->typed($element['$ReturnType']) + ['many' => false], ['type' => 1, 'many' => 1]) : null;
        $this->collected->operations[$full][] = ['kind' => strtolower($this->text($element['$Kind'] ?? '')), 'bound' => ($element['$IsBound'] ?? false) === true, 'composable' => ($element['$IsComposable'] ?? false) === true, 'parameters' => $parameters, 'returns' => $returns, 'set' => $this->text($element['$EntitySetPath'] ?? '')] + $this->said($element);
    }

    /**
     * @param  array<array-key, mixed>  $element
     */
    private function container(string $full, array $element): void
    {
        $container = ['sets' => [], 'imports' => [], 'extends' => $this->name($element['$Extends'] ?? ''), 'default' => ''];
        foreach ($element as $name => $child) {
            if (! is_array($child) || in_array($name[0] ?? '', ['$', '@'], true)) {
                continue;
            }
            $set = $this->text($child['$EntitySet'] ?? '');
            if (isset($child['$Function']) || isset($child['$Action'])) {
                $container['imports'][$name] = ['operation' => $this->name($child['$Function'] ?? $child['$Action']), 'kind' => isset($child['$Function']) ? 'function' : 'action', 'set' => basename($set)] + $this->said($child);
            } elseif (isset($child['$Type'])) {
                $bindings = [];
                foreach ($this->map($child['$NavigationPropertyBinding'] ?? null, false) as $path => $target) {
                    $bindings[$this->collected->resolvePath((string) $path)] = basename($this->text($target));
                }
                $container['sets'][$name] = ['type' => $this->name($child['$Type']), 'single' => ($child['$Collection'] ?? false) !== true, 'bindings' => $bindings, 'listed' => ($child['$IncludeInServiceDocument'] ?? true) !== false] + $this->said($child);
            }
        }
        $container['facts'] = $this->said($element);
        $this->collected->containers[$full] = $container;
    }

    /**
     * @param  array<array-key, mixed>  $member
     * @return array{type: string, many?: true, nullable?: false}
     */
    private function typed(array $member): array
    {
        return ['type' => $this->name($member['$Type'] ?? 'Edm.String')] + (($member['$Collection'] ?? false) === true ? ['many' => true] : []) + (($member['$Nullable'] ?? false) === true ? [] : ['nullable' => false]);
    }

    /**
     * @param  array<array-key, mixed>  $member
     * @return array<string, string>
     */
    private function facets(array $member): array
    {
        $facets = [];
        foreach (['$MaxLength' => 'length', '$Precision' => 'precision', '$Scale' => 'scale', '$SRID' => 'srid', '$DefaultValue' => 'default'] as $name => $facet) {
            if (is_scalar($member[$name] ?? null)) {
                $facets[$facet] = $this->text($member[$name]);
            }
        }

        return $facets;
    }

    /**
     * Annotations that stand apart from what they are of.
     *
     * @param  array<array-key, mixed>  $annotations
     */
    private function describe(array $annotations, string $target): void
    {
        foreach ($this->annotations($annotations) as $one) {
            $this->collected->annotate($target, $one['term'], $one['value'], $one['qualifier']);
        }
    }

    /**
     * @param  array<array-key, mixed>  $element
     * @return array<string, string|list<string>|bool|int>
     */
    private function said(array $element): array
    {
        $annotations = $this->annotations($element);

        return $annotations === [] ? [] : Facts::of($annotations);
    }

    /**
     * @param  array<array-key, mixed>  $element
     * @return list<array{term: string, qualifier: string, value: mixed}>
     */
    private function annotations(array $element): array
    {
        $annotations = [];
        foreach ($element as $name => $value) {
            if (str_starts_with((string) $name, '@')) {
                [$term, $qualifier] = explode('#', substr((string) $name, 1), 2) + [1 => ''];
                $annotations[] = ['term' => $this->collected->resolve($term), 'qualifier' => $qualifier, 'value' => $value];
            }
        }

        return $annotations;
    }

    private function name(mixed $name): string
    {
        return $this->collected->resolve($this->text($name));
    }

    private function text(mixed $value): string
    {
        return is_bool($value) ? ($value ? 'true' : 'false') : (is_scalar($value) ? (string) $value : '');
    }

    /**
     * @return ($ofArrays is true ? list<array<array-key, mixed>> : list<mixed>)
     */
    private function list(mixed $value, bool $ofArrays = true): array
    {
        return array_values(is_array($value) ? ($ofArrays ? array_filter($value, is_array(...)) : $value) : []);
    }

    /**
     * @return ($ofArrays is true ? array<string, array<array-key, mixed>> : array<string, mixed>)
     */
    private function map(mixed $value, bool $ofArrays = true): array
    {
        return is_array($value) ? ($ofArrays ? array_filter($value, is_array(...)) : $value) : [];
    }
}
