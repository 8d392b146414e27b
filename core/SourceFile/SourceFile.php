<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Value\JsonSubtrees;
use Symfony\Component\Yaml\Yaml;

/**
 * A valid document of version 1 (`docs/schema/source-1.json`).
 */
final readonly class SourceFile
{
    /**
     * @param  array<string, mixed>  $document
     */
    private function __construct(public array $document)
    {
    }

    /**
     * @param  array<string, mixed>  $document
     *
     * @throws InvalidSourceFile
     */
    public static function of(array $document): self
    {
        $document = JsonSubtrees::normal(Chosen::filled($document));
        $faults = (new DocumentValidator)->faults($document);

        return $faults === [] ? new self($document) : throw InvalidSourceFile::because($faults);
    }

    /**
     * The JSON that `json` wrote. It was valid then, so it is not looked at again.
     *
     * @throws \JsonException
     */
    public static function stored(string $json): self
    {
        return new self(JsonSubtrees::decoded($json));
    }

    /**
     * A document that is known to be valid.
     *
     * @param  array<string, mixed>  $document
     */
    public static function trusted(array $document): self
    {
        return new self($document);
    }

    /**
     * This file, changed. Only what differs is looked at.
     *
     * @param  array<string, mixed>  $document
     *
     * @throws InvalidSourceFile
     */
    public function changed(array $document): self
    {
        $document = JsonSubtrees::normal(Chosen::filled($document, $this->document));
        $faults = (new DocumentValidator)->faults($document, $this->document);

        return $faults === [] ? new self($document) : throw InvalidSourceFile::because($faults);
    }

    public function json(): string
    {
        return json_encode($this->document, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION | JSON_THROW_ON_ERROR);
    }

    /**
     * YAML or JSON.
     *
     * @throws InvalidSourceFile
     */
    public static function read(string $text): self
    {
        return (new Reader)->read($text);
    }

    public function slug(): string
    {
        return $this->document['source']['slug'];
    }

    public function source(): SourceDefinition
    {
        return new SourceDefinition($this->document['source'], array_values(array_filter(array_map(static fn (array $endpoint): array => $endpoint['ask'] ?? [], $this->document['endpoints'] ?? []), static fn (array $ask): bool => isset($ask['base']))));
    }

    /**
     * @return list<EndpointDefinition>
     */
    public function endpoints(): array
    {
        return array_values(array_map(static fn (array $endpoint): EndpointDefinition => new EndpointDefinition($endpoint), $this->document['endpoints'] ?? []));
    }

    public function endpoint(string $slug): ?EndpointDefinition
    {
        foreach ($this->endpoints() as $endpoint) {
            if ($endpoint->slug === $slug) {
                return $endpoint;
            }
        }

        return null;
    }

    /**
     * Names of all secrets that are asked for.
     *
     * @return list<string>
     */
    public function secretNames(): array
    {
        return $this->source()->secretNames();
    }

    /**
     * Whether both say the same, in whatever order their members stand.
     */
    public function says(self $other): bool
    {
        return self::same($this->document, $other->document);
    }

    private static function same(mixed $left, mixed $right): bool
    {
        if ($left instanceof \stdClass && $right instanceof \stdClass) {
            return self::same(get_object_vars($left), get_object_vars($right));
        }
        if (! is_array($left) || ! is_array($right)) {
            return $left === $right;
        }
        if (count($left) !== count($right)) {
            return false;
        }
        foreach ($left as $name => $value) {
            if (! array_key_exists($name, $right) || ! self::same($value, $right[$name])) {
                return false;
            }
        }

        return true;
    }

    public function yaml(): string
    {
        return Yaml::dump($this->document, 8, 2, Yaml::DUMP_EMPTY_ARRAY_AS_SEQUENCE | Yaml::DUMP_OBJECT_AS_MAP | Yaml::DUMP_MULTI_LINE_LITERAL_BLOCK | Yaml::DUMP_COMPACT_NESTED_MAPPING);
    }
}
