<?php

declare(strict_types=1);

namespace DeepSpring\OData\Csdl;

/**
 * Children of a Schema element → what they say.
 *
 * In one piece, since it has one method for each element (OData CSDL XML 4.01 §3 to §14).
 */
final readonly class XmlElements
{
    /** Attributes of another namespace that some services of versions 2 and 3 say these things by; known by their local names. */
    private const MORE = ['label', 'heading', 'quickinfo', 'filterable', 'sortable', 'creatable', 'updatable', 'deletable', 'searchable', 'pageable', 'countable', 'topable', 'addressable', 'requires-filter', 'required-in-filter', 'unit', 'semantics', 'filter-restriction'];

    public function __construct(private Collected $collected, private string $namespace)
    {
    }

    public function take(\DOMElement $element): void
    {
        match ($element->localName) {
            'EntityType' => $this->structured($element, 'entity'),
            'ComplexType' => $this->structured($element, 'complex'),
            'EnumType' => $this->enum($element),
            'TypeDefinition' => $this->definition($element),
            'Function', 'Action' => $this->operation($element),
            'Association' => $this->association($element),
            'EntityContainer' => $this->container($element),
            'Annotations' => $this->annotations($element),
            default => null,
        };
    }

    private function structured(\DOMElement $element, string $kind): void
    {
        $full = $this->full($element);
        $type = ['kind' => $kind, 'base' => $this->name($element, 'BaseType'), 'abstract' => $this->is($element, 'Abstract'), 'open' => $this->is($element, 'OpenType'), 'key' => [], 'properties' => [], 'navigation' => []];
        foreach ($this->children($element) as $child) {
            $name = $child->getAttribute('Name');
            if ($child->localName === 'Key') {
                foreach ($this->children($child) as $ref) {
                    $type['key'][] = array_filter(['path' => $ref->getAttribute('Name'), 'alias' => $ref->getAttribute('Alias')], static fn (string $one): bool => $one !== '');
                }
            } elseif ($child->localName === 'Property') {
                $type['properties'][$name] = $this->once($full, $name, $this->property($child) + $this->said($child), $type);
            } elseif ($child->localName === 'NavigationProperty') {
                $type['navigation'][$name] = $this->once($full, $name, $this->navigation($child) + $this->said($child), $type);
            }
        }
        $this->collected->types[$full] = $type + $this->said($element);
    }

    /**
     * A property, of which there is no other one of this name (OData CSDL 4.01 §6.1, [MC-CSDL] §2.1.8).
     *
     * @param  array<string, mixed>  $property
     * @param  array<string, mixed>  $type  as far as it was read
     * @return array<string, mixed>
     *
     * @throws UnreadableMetadata
     */
    private function once(string $full, string $name, array $property, array $type): array
    {
        $before = $type['properties'][$name] ?? $type['navigation'][$name] ?? $property;

        return $before == $property ? $property : throw UnreadableMetadata::hasTwice($full, $name);
    }

    /**
     * @return array<string, mixed>
     */
    private function property(\DOMElement $element): array
    {
        [$type, $many] = $this->type($element);
        // What is usual is left out: a large service has hundreds of thousands of these.
        $property = ['type' => $this->shared($type)];
        if ($many || strcasecmp($element->getAttribute('CollectionKind'), 'List') === 0) {
            $property['many'] = true;
        }
        if ($element->getAttribute('Nullable') === 'false') {
            $property['nullable'] = false;
        }
        foreach (['MaxLength' => 'length', 'Precision' => 'precision', 'Scale' => 'scale', 'SRID' => 'srid', 'DefaultValue' => 'default', 'ConcurrencyMode' => 'concurrency'] as $attribute => $name) {
            if ($element->hasAttribute($attribute)) {
                $property[$name] = $this->shared($element->getAttribute($attribute));
            }
        }

        return $property;
    }

    /**
     * @return array<string, mixed>
     */
    private function navigation(\DOMElement $element): array
    {
        if ($element->hasAttribute('Relationship')) {
            return ['relationship' => $this->collected->resolve($element->getAttribute('Relationship')), 'from' => $element->getAttribute('FromRole'), 'to' => $element->getAttribute('ToRole')];
        }
        [$type, $many] = $this->type($element);
        $constraints = [];
        foreach ($this->children($element, 'ReferentialConstraint') as $one) {
            $constraints[$one->getAttribute('Property')] = $one->getAttribute('ReferencedProperty');
        }

        return ['type' => $type, 'many' => $many, 'nullable' => $element->getAttribute('Nullable') !== 'false', 'partner' => $element->getAttribute('Partner'), 'contains' => $this->is($element, 'ContainsTarget'), 'constraints' => $constraints];
    }

    private function enum(\DOMElement $element): void
    {
        $full = $this->full($element);
        $members = [];
        $next = 0;
        foreach ($this->children($element, 'Member') as $member) {
            $next = $member->hasAttribute('Value') ? (int) $member->getAttribute('Value') : $next;
            $members[$member->getAttribute('Name')] = $next++;
        }
        $this->collected->types[$full] = ['kind' => 'enum', 'underlying' => $element->getAttribute('UnderlyingType') ?: 'Edm.Int32', 'flags' => $this->is($element, 'IsFlags'), 'members' => $members] + $this->said($element);
    }

    private function definition(\DOMElement $element): void
    {
        $full = $this->full($element);
        $this->collected->types[$full] = ['kind' => 'definition', 'underlying' => $element->getAttribute('UnderlyingType')] + array_diff_key($this->property($element), ['type' => 1, 'many' => 1, 'nullable' => 1]) + $this->said($element);
    }

    private function operation(\DOMElement $element): void
    {
        $full = $this->full($element);
        $parameters = [];
        $returns = null;
        foreach ($this->children($element) as $child) {
            if ($child->localName === 'Parameter') {
                $parameters[] = ['name' => $child->getAttribute('Name')] + $this->property($child);
            } elseif ($child->localName === 'ReturnType') {
                [$type, $many] = $this->type($child);
                $returns = ['type' => $type, 'many' => $many];
            }
        }
        $this->collected->operations[$full][] = ['kind' => strtolower((string) $element->localName), 'bound' => $this->is($element, 'IsBound'), 'composable' => $this->is($element, 'IsComposable'), 'parameters' => $parameters, 'returns' => $returns, 'set' => $element->getAttribute('EntitySetPath')] + $this->said($element);
    }

    private function association(\DOMElement $element): void
    {
        $ends = [];
        $constraint = [];
        $dependent = '';
        foreach ($this->children($element) as $child) {
            if ($child->localName === 'End') {
                $multiplicity = $child->getAttribute('Multiplicity');
                $ends[$child->getAttribute('Role')] = ['type' => $this->collected->resolve($child->getAttribute('Type')), 'many' => $multiplicity === '*', 'nullable' => $multiplicity === '0..1'];
            } elseif ($child->localName === 'ReferentialConstraint') {
                $names = [];
                foreach ($this->children($child) as $side) {
                    $names[(string) $side->localName] = array_map(static fn (\DOMElement $ref): string => $ref->getAttribute('Name'), $this->children($side));
                    $dependent = $side->localName === 'Dependent' ? $side->getAttribute('Role') : $dependent;
                }
                foreach ($names['Dependent'] ?? [] as $place => $name) {
                    $constraint[$name] = $names['Principal'][$place] ?? '';
                }
            }
        }
        $this->collected->associations[$this->full($element)] = ['ends' => $ends, 'constraint' => $constraint, 'dependent' => $dependent];
    }

    private function container(\DOMElement $element): void
    {
        $full = $this->full($element);
        $container = $this->collected->containers[$full] ?? ['sets' => [], 'imports' => []];
        $container['extends'] = $this->name($element, 'Extends');
        $container['default'] = $this->foreign($element)['IsDefaultEntityContainer'] ?? '';
        foreach ($this->children($element) as $child) {
            $name = $child->getAttribute('Name');
            switch ($child->localName) {
                case 'EntitySet':
                case 'Singleton':
                    $bindings = [];
                    foreach ($this->children($child, 'NavigationPropertyBinding') as $binding) {
                        $bindings[$this->collected->resolvePath($binding->getAttribute('Path'))] = basename($binding->getAttribute('Target'));
                    }
                    $container['sets'][$name] = ['type' => $this->name($child, $child->localName === 'Singleton' ? 'Type' : 'EntityType'), 'single' => $child->localName === 'Singleton', 'bindings' => $bindings, 'listed' => $child->getAttribute('IncludeInServiceDocument') !== 'false'] + $this->said($child);
                    break;
                case 'FunctionImport':
                case 'ActionImport':
                    $container['imports'][$name] = $this->import($child) + $this->said($child);
                    break;
                case 'AssociationSet':
                    $roles = [];
                    foreach ($this->children($child, 'End') as $end) {
                        $roles[$end->getAttribute('Role')] = $end->getAttribute('EntitySet');
                    }
                    $this->collected->associationSets[$this->collected->resolve($child->getAttribute('Association'))] = $roles;
                    break;
            }
        }
        $container['facts'] = ($container['facts'] ?? []) + $this->said($element);
        $this->collected->containers[$full] = $container;
    }

    /**
     * @return array<string, mixed>
     */
    private function import(\DOMElement $element): array
    {
        $set = basename($element->getAttribute('EntitySet'));
        foreach (['Function', 'Action'] as $kind) {
            if ($element->hasAttribute($kind)) {
                return ['operation' => $this->name($element, $kind), 'kind' => strtolower($kind), 'set' => $set];
            }
        }
        // Versions 2 and 3: the import is the operation.
        $method = $this->foreign($element)['HttpMethod'] ?? ($this->is($element, 'IsSideEffecting') ? 'POST' : 'GET');
        $returns = null;
        if ($element->hasAttribute('ReturnType')) {
            [$type, $many] = $this->unwrapped($element->getAttribute('ReturnType'));
            $returns = ['type' => $type, 'many' => $many];
        }
        $parameters = array_map(fn (\DOMElement $one): array => ['name' => $one->getAttribute('Name')] + $this->property($one), $this->children($element, 'Parameter'));

        return ['kind' => $method === 'GET' ? 'function' : 'action', 'method' => $method, 'set' => $set, 'parameters' => $parameters, 'returns' => $returns, 'bound' => $this->is($element, 'IsBindable')];
    }

    private function annotations(\DOMElement $element): void
    {
        $target = $this->collected->resolvePath($element->getAttribute('Target'));
        foreach ($this->children($element, 'Annotation') as $annotation) {
            $this->collected->annotate($target, $annotation->getAttribute('Term'), XmlValue::of($annotation), $annotation->getAttribute('Qualifier') ?: $element->getAttribute('Qualifier'));
        }
    }

    /**
     * What annotations inside an element, its documentation and attributes of other namespaces say of it.
     *
     * @return array<string, string|list<string>|bool|int>
     */
    private function said(\DOMElement $element): array
    {
        $annotations = [];
        foreach ($this->children($element) as $child) {
            if ($child->localName === 'Annotation') {
                $annotations[] = ['term' => $this->collected->resolve($child->getAttribute('Term')), 'qualifier' => $child->getAttribute('Qualifier'), 'value' => XmlValue::of($child)];
            } elseif ($child->localName === 'Documentation') {
                foreach ($this->children($child) as $text) {
                    $annotations[] = ['term' => $text->localName === 'Summary' ? 'Description' : 'LongDescription', 'qualifier' => '', 'value' => trim($text->textContent)];
                }
            }
        }
        foreach (array_intersect_key($this->foreign($element), array_flip(self::MORE)) as $name => $value) {
            $annotations[] = ['term' => "attribute:$name", 'qualifier' => '', 'value' => $value];
        }

        return $annotations === [] ? [] : Facts::of($annotations);
    }

    /**
     * The same text once in memory, however often it is written.
     */
    private function shared(string $text): string
    {
        return $this->collected->texts[$text] ??= $text;
    }

    /**
     * Attributes of other namespaces by their local names.
     *
     * @return array<string, string>
     */
    private function foreign(\DOMElement $element): array
    {
        $foreign = [];
        foreach ($element->attributes as $attribute) {
            if ((string) $attribute->namespaceURI !== '') {
                $foreign[(string) $attribute->localName] = $attribute->value;
            }
        }

        return $foreign;
    }

    /**
     * @return array{string, bool}
     */
    private function type(\DOMElement $element): array
    {
        foreach ($this->children($element, 'CollectionType') as $collection) {
            $inner = $collection->getAttribute('ElementType') ?: ($this->children($collection, 'TypeRef')[0] ?? null)?->getAttribute('Type');

            return [$this->collected->resolve((string) $inner), true];
        }

        return $this->unwrapped($element->getAttribute('Type'));
    }

    /**
     * @return array{string, bool} the type, and whether it is a collection of it
     */
    private function unwrapped(string $type): array
    {
        $type = $this->collected->resolve($type);

        return str_starts_with($type, 'Collection(') ? [substr($type, 11, -1), true] : [$type, false];
    }

    private function full(\DOMElement $element): string
    {
        return "{$this->namespace}.{$element->getAttribute('Name')}";
    }

    private function name(\DOMElement $element, string $attribute): string
    {
        return $this->collected->resolve($element->getAttribute($attribute));
    }

    private function is(\DOMElement $element, string $attribute): bool
    {
        return $element->getAttribute($attribute) === 'true';
    }

    /**
     * @return list<\DOMElement>
     */
    private function children(\DOMElement $element, ?string $name = null): array
    {
        $children = [];
        foreach ($element->childNodes as $child) {
            if ($child instanceof \DOMElement && ($name === null || $child->localName === $name)) {
                $children[] = $child;
            }
        }

        return $children;
    }
}
