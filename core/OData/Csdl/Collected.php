<?php

declare(strict_types=1);

namespace DeepSpring\OData\Csdl;

/**
 * What one or more metadata documents say, gathered as it is read: names already without aliases,
 * annotations not yet in their places.
 *
 * @phpstan-type Annotation array{term: string, qualifier: string, value: mixed}
 */
final class Collected
{
    public string $version = '';

    /** @var array<string, array<string, mixed>> by full name */
    public array $types = [];

    /** @var array<string, list<array<string, mixed>>> overloads by full name */
    public array $operations = [];

    /** @var array<string, array<string, mixed>> by full name */
    public array $containers = [];

    /** @var array<string, list<Annotation>> by target, like "NS.Type/Property" */
    public array $annotations = [];

    /** @var array<string, array{ends: array<string, array{type: string, many: bool, nullable: bool}>, constraint: array<string, string>, dependent: string}> of versions 2 and 3 */
    public array $associations = [];

    /** @var array<string, array<string, string>> association set → role → entity set, by container/name */
    public array $associationSets = [];

    /** @var array<string, list<string>> address of another document → namespaces taken from it */
    public array $references = [];

    /** @var array<string, string> alias → namespace */
    public array $aliases = [];

    /** @var list<string> */
    public array $namespaces = [];

    /** @var array<string, string> types and facets that were met, which stand again and again */
    public array $texts = [];

    /**
     * A qualified name without its alias; also inside Collection(…).
     */
    public function resolve(string $name): string
    {
        if (str_starts_with($name, 'Collection(') && str_ends_with($name, ')')) {
            return 'Collection('.$this->resolve(substr($name, 11, -1)).')';
        }
        $dot = strrpos($name, '.');
        $alias = $dot === false ? '' : substr($name, 0, $dot);

        return isset($this->aliases[$alias]) ? $this->aliases[$alias].'.'.substr($name, (int) $dot + 1) : $name;
    }

    /**
     * A path whose first segment is a qualified name.
     */
    public function resolvePath(string $path): string
    {
        $parts = explode('/', $path);
        $parts[0] = str_contains($parts[0], '(') ? preg_replace_callback('/^[^(]+/', fn (array $name): string => $this->resolve($name[0]), $parts[0]) ?? $parts[0] : $this->resolve($parts[0]);

        return implode('/', $parts);
    }

    public function annotate(string $target, string $term, mixed $value, string $qualifier = ''): void
    {
        $this->annotations[$target][] = ['term' => $this->resolve($term), 'qualifier' => $qualifier, 'value' => $value];
    }

    public function add(self $other): void
    {
        $this->version = $this->version === '' ? $other->version : $this->version;
        $this->types += $other->types;
        $this->operations += $other->operations;
        $this->containers += $other->containers;
        $this->associations += $other->associations;
        $this->associationSets += $other->associationSets;
        foreach ($other->annotations as $target => $annotations) {
            $this->annotations[$target] = [...$this->annotations[$target] ?? [], ...$annotations];
        }
        $this->references += $other->references;
        $this->namespaces = array_values(array_unique([...$this->namespaces, ...$other->namespaces]));
    }
}
