<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

/**
 * A schema with its dialect taken out: references followed, `allOf` put together, the first real one
 * of `oneOf` and `anyOf` taken, `nullable` and type arrays read alike.
 */
final readonly class Schema
{
    /**
     * @param  string  $type  object, array, string, integer, number, boolean, any
     * @param  array<string, array{mixed, string}>  $properties  raw schema and the file it stands in
     * @param  list<string>  $required
     * @param  array{mixed, string}|null  $items
     * @param  list<mixed>  $enum
     * @param  array<array-key, mixed>  $raw
     */
    public function __construct(
        public string $type,
        public string $format,
        public array $properties,
        public array $required,
        public ?array $items,
        public array $enum,
        public array $raw,
        /** By which a circle is known; null for one without a name. */
        public ?string $name,
        /** Whether members of any name are allowed. */
        public bool $isMap,
        public bool $isNullable,
    ) {
    }

    /**
     * The same with other words about it, as they stand beside a reference to it.
     *
     * @param  array<array-key, mixed>  $words
     */
    public function with(array $words): self
    {
        return new self($this->type, $this->format, $this->properties, $this->required, $this->items, $this->enum, $words + $this->raw, $this->name, $this->isMap, $this->isNullable);
    }

    /**
     * A value that the description gives for it.
     */
    public function example(): mixed
    {
        $examples = $this->raw['examples'] ?? null;

        return $this->raw['example'] ?? $this->raw['x-example'] ?? (is_array($examples) && array_is_list($examples) ? $examples[0] ?? null : null);
    }
}
