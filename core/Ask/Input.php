<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * One thing that varies in a request, or is fixed in it.
 */
final readonly class Input
{
    /**
     * @param  list<string>|null  $fixed
     * @param  list<string>|null  $try
     * @param  list<string>|null  $default
     * @param  list<string>|null  $choices
     */
    public function __construct(
        public string $name,
        public Place $in,
        public InputType $type,
        public bool $required,
        public ?array $fixed,
        public ?array $try,
        public ?array $default,
        public ?array $choices,
        public ?Many $many,
        public bool $sendEmpty,
    ) {
    }

    /**
     * @param  array<string, mixed>  $input  valid by the schema
     */
    public static function of(array $input): self
    {
        return new self(
            $input['name'],
            Place::from($input['in']),
            InputType::from($input['type'] ?? 'text'),
            $input['required'] ?? ($input['in'] === 'path'),
            self::texts($input['fixed'] ?? null),
            self::texts($input['try'] ?? null),
            self::texts($input['default'] ?? null),
            self::texts($input['choices'] ?? null),
            isset($input['many']) ? Many::from($input['many']) : null,
            $input['send_empty'] ?? false,
        );
    }

    /**
     * The values to send: the fixed ones, the given ones, or the default.
     *
     * @param  list<string>|null  $given
     * @return list<string>
     *
     * @throws InvalidInput
     */
    public function values(?array $given): array
    {
        $given = $given === [] || $given === [''] ? null : $given;
        $values = $this->fixed ?? $given ?? $this->default ?? [];
        if ($values === []) {
            return $this->required ? throw InvalidInput::missing($this->name) : ($this->sendEmpty ? [''] : []);
        }
        if ($this->many === null && count($values) > 1) {
            throw InvalidInput::because($this->name, 'takes one value; to send several, say how they are joined');
        }
        foreach ($values as $value) {
            $fault = $this->type->fault($value)
                ?? ($this->choices !== null && ! in_array($value, $this->choices, true) ? "\"$value\" is none of ".implode(', ', $this->choices) : null)
                ?? ($this->in === Place::Path && in_array($value, ['', '.', '..'], true) ? "\"$value\" cannot stand in a path, where it would mean another address" : null)
                ?? ($this->in === Place::Header && preg_match('/[\x00-\x08\x0a-\x1f\x7f]/', $value) === 1 ? 'a header value cannot hold a line break' : null);
            if ($fault !== null) {
                throw InvalidInput::because($this->name, $fault);
            }
        }

        return $values;
    }

    /**
     * @return list<string>|null
     */
    private static function texts(mixed $value): ?array
    {
        if ($value === null) {
            return null;
        }

        return array_map(
            static fn (mixed $one): string => is_bool($one) ? ($one ? 'true' : 'false') : (is_float($one) ? (string) json_encode($one) : (string) $one),
            is_array($value) ? array_values($value) : [$value],
        );
    }
}
