<?php

declare(strict_types=1);

namespace DeepSpring\OData\Model;

/**
 * An entity set or a singleton of the container, and what the service says can be done with it. What it
 * says nothing of is taken as possible.
 */
final readonly class EntitySet
{
    /**
     * @param  array<string, string>  $bindings  path of navigation → set
     * @param  array<string, mixed>  $facts
     */
    private function __construct(public string $name, public string $type, public bool $single, public string $container, public array $bindings, public string $label, public string $about, private array $facts)
    {
    }

    /**
     * @param  array<string, mixed>  $facts
     */
    public static function of(string $name, array $facts): self
    {
        return new self($name, $facts['type'], $facts['single'], $facts['container'], $facts['bindings'], $facts['label'] ?? '', $facts['about'] ?? '', $facts);
    }

    /**
     * @param  string  $what  filter, sort, count, expand, search, insert, update, delete, top, skip, select
     */
    public function can(string $what): bool
    {
        return $this->facts["can_$what"] ?? true;
    }

    /**
     * Whether the service says that it can, rather than saying nothing.
     */
    public function saysItCan(string $what): bool
    {
        return ($this->facts["can_$what"] ?? false) === true;
    }

    /**
     * Properties or navigation for which it cannot be done.
     *
     * @return list<string>
     */
    public function not(string $what): array
    {
        return $this->facts["no_$what"] ?? [];
    }

    public function needsFilter(): bool
    {
        return $this->facts['needs_filter'] ?? false;
    }

    /**
     * @return list<string> properties that a filter must name
     */
    public function requiredInFilter(): array
    {
        return $this->facts['required_filter'] ?? [];
    }

    /**
     * @return list<string>|null functions that a filter can use, when the service names them
     */
    public function functions(): ?array
    {
        return $this->facts['functions'] ?? null;
    }

    public function maxPage(): ?int
    {
        return $this->facts['max_page'] ?? null;
    }

    public function updateMethod(): ?string
    {
        return $this->facts['update_method'] ?? null;
    }

    /**
     * Whether changes are guarded by an ETag.
     */
    public function hasETag(): bool
    {
        return $this->facts['etag'] ?? false;
    }

    public function shortType(): string
    {
        return substr($this->type, (int) strrpos(".$this->type", '.'));
    }

    public function namespace(): string
    {
        return substr($this->type, 0, (int) strrpos($this->type, '.'));
    }
}
