<?php

declare(strict_types=1);

namespace DeepSpring\OData\Model;

/**
 * The way from an entity to others.
 */
final readonly class Navigation
{
    /**
     * @param  array<string, string>  $constraints  property here → property there
     */
    public function __construct(public string $name, public string $type, public bool $many, public bool $nullable, public string $partner, public bool $contains, public array $constraints, public string $label = '')
    {
    }

    /**
     * @param  array<string, mixed>  $facts
     */
    public static function of(string $name, array $facts): self
    {
        return new self($name, $facts['type'], $facts['many'] ?? false, $facts['nullable'] ?? true, $facts['partner'], $facts['contains'], $facts['constraints'], $facts['label'] ?? '');
    }

    /**
     * How many there can be, as multiplicities are written.
     */
    public function multiplicity(): string
    {
        return $this->many ? '*' : ($this->nullable ? '0..1' : '1');
    }
}
