<?php

declare(strict_types=1);

namespace DeepSpring\Value\Kind;

/**
 * One setting of a kind.
 */
final readonly class Field
{
    /**
     * @param  string  $label  as a form names it
     * @param  string  $help  one line for the documentation
     * @param  mixed  $default  what holds when it is left out, and need not be written down
     * @param  array<int|string, string>  $choices  value → label
     * @param  mixed  $start  what a new one begins with
     * @param  string  $example  what a form shows in an empty field
     * @param  bool  $isAdvanced  whether a form folds it away
     * @param  bool  $isSecret  whether it is always the name of a secret
     * @param  array<string, mixed>|null  $shape  JSON Schema, where the type does not say it
     * @param  list<Field>  $parts  what a form asks for instead of the whole
     * @param  list<string>  $at  where a part stands in the entry
     */
    public function __construct(
        public string $name,
        public FieldType $type,
        public string $label,
        public string $help,
        public bool $isRequired = false,
        public mixed $default = null,
        public array $choices = [],
        public mixed $start = null,
        public string $example = '',
        public bool $isAdvanced = false,
        public bool $isSecret = false,
        public ?array $shape = null,
        public array $parts = [],
        public array $at = [],
    ) {
    }

    /**
     * @return array<string, mixed> JSON Schema
     */
    public function schema(): array
    {
        return $this->shape ?? $this->type->schema($this->choices);
    }

    /**
     * What may stand in it, for the documentation.
     */
    public function allowed(): string
    {
        return $this->choices === [] || $this->type === FieldType::Flag ? $this->type->value : implode(', ', array_map(static fn (int|string $choice): string => "`$choice`", array_filter(array_keys($this->choices), static fn (int|string $choice): bool => $choice !== '')));
    }
}
