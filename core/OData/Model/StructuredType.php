<?php

declare(strict_types=1);

namespace DeepSpring\OData\Model;

/**
 * An entity type or a complex type, with what it inherits.
 */
final readonly class StructuredType
{
    /**
     * @param  array<string, Property>  $properties
     * @param  array<string, Navigation>  $navigations
     * @param  list<KeyPart>  $key
     */
    public function __construct(
        public string $name,
        public bool $isEntity,
        /** Its records may hold members that it does not name. */
        public bool $open,
        public bool $abstract,
        public array $properties,
        public array $navigations,
        public array $key,
        public string $label = '',
        public string $about = '',
    ) {
    }

    /**
     * @param  non-empty-list<array<string, mixed>>  $chain  the root of the inheritance first
     */
    public static function of(string $name, array $chain): self
    {
        $properties = [];
        $navigations = [];
        $key = [];
        $open = false;
        foreach ($chain as $type) {
            foreach ($type['properties'] as $property => $facts) {
                $properties[(string) $property] = Property::of((string) $property, $facts);
            }
            foreach ($type['navigation'] as $navigation => $facts) {
                $navigations[(string) $navigation] = Navigation::of((string) $navigation, $facts);
            }
            $key = $type['key'] === [] ? $key : array_map(static fn (array $part): KeyPart => new KeyPart($part['path'], $part['alias'] ?? $part['path']), $type['key']);
            $open = $open || $type['open'];
        }
        $last = $chain[count($chain) - 1];

        return new self($name, $last['kind'] === 'entity', $open, $last['abstract'], $properties, $navigations, array_values($key), $last['label'] ?? '', $last['about'] ?? '');
    }

    public function property(string $name): ?Property
    {
        return $this->properties[$name] ?? null;
    }

    public function navigation(string $name): ?Navigation
    {
        return $this->navigations[$name] ?? null;
    }

    public function shortName(): string
    {
        return substr($this->name, (int) strrpos(".$this->name", '.'));
    }
}
