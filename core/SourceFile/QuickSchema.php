<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

/**
 * Says quickly what is sure to be right by a JSON Schema (draft 2020-12, the keywords named here), so that
 * the validator, which is much slower and says what is wrong, looks at the rest alone.
 *
 * Values are decoded JSON, objects as arrays or `stdClass`. An empty array is a list.
 */
final class QuickSchema
{
    /** Keywords that say nothing of a value. */
    private const SILENT = ['$schema', '$id', '$defs', 'title', 'description', '$comment'];

    private const KNOWN = ['$ref', 'type', 'properties', 'required', 'additionalProperties', 'propertyNames', 'enum', 'const', 'pattern', 'minLength', 'maxLength', 'minimum', 'maximum', 'items', 'minItems', 'maxItems', 'minProperties', 'maxProperties', 'allOf', 'anyOf', 'oneOf', 'not', 'if', 'then', 'else'];

    /** From how many items on a list is remembered, and how many lists. */
    private const LONG = 12;

    private const REMEMBERED = 20_000;

    /** @var array<string, self> by the text of the schema */
    private static array $made = [];

    /** @var array<string, true> long lists that were right, by a hash: large files have the same columns over and over */
    private array $right = [];

    /** @var array<string, array<string, mixed>|bool> by reference */
    private array $targets = [];

    /**
     * @param  array<string, mixed>  $schema
     */
    private function __construct(private readonly array $schema)
    {
    }

    public static function of(string $json): self
    {
        return self::$made[hash('xxh128', $json)] ??= new self(json_decode($json, true, 512, JSON_THROW_ON_ERROR));
    }

    /**
     * Whether a value is right for sure. What is not may be right all the same.
     *
     * @param  string  $reference  of the schema that is meant: `#/$defs/endpoint`
     */
    public function isSure(mixed $value, string $reference = '#'): bool
    {
        try {
            return $this->accepts($this->target($reference), $value);
        } catch (UnsureOfSchema) {
            return false;
        }
    }

    /**
     * @param  array<string, mixed>|bool  $schema
     *
     * @throws UnsureOfSchema
     */
    private function accepts(array|bool $schema, mixed $value): bool
    {
        if (is_bool($schema)) {
            return $schema;
        }
        if (isset($schema['$ref']) && ! $this->accepts($this->target($schema['$ref']), $value)
            || isset($schema['type']) && ! $this->isOfType((array) $schema['type'], $value)
            || isset($schema['enum']) && ! in_array($value, $schema['enum'], true)
            || array_key_exists('const', $schema) && $value !== $schema['const']) {
            return false;
        }
        $isRight = match (true) {
            is_string($value) => $this->acceptsText($schema, $value),
            is_int($value), is_float($value) => ! (isset($schema['minimum']) && $value < $schema['minimum'] || isset($schema['maximum']) && $value > $schema['maximum']),
            $value instanceof \stdClass => $this->acceptsObject($schema, get_object_vars($value)),
            is_array($value) => array_is_list($value) ? $this->acceptsList($schema, $value) : $this->acceptsObject($schema, $value),
            default => true,
        };

        return $isRight && $this->acceptsTogether($schema, $value);
    }

    /**
     * @param  array<array-key, mixed>  $types  names of types
     *
     * @throws UnsureOfSchema where whole numbers are written as floats
     */
    private function isOfType(array $types, mixed $value): bool
    {
        return match (true) {
            is_string($value) => in_array('string', $types, true),
            is_bool($value) => in_array('boolean', $types, true),
            is_int($value) => in_array('integer', $types, true) || in_array('number', $types, true),
            is_float($value) => in_array('number', $types, true) || throw new UnsureOfSchema,
            is_array($value) && array_is_list($value) => in_array('array', $types, true),
            is_array($value), $value instanceof \stdClass => in_array('object', $types, true),
            $value === null => in_array('null', $types, true),
            default => throw new UnsureOfSchema,
        };
    }

    /**
     * @param  array<string, mixed>  $schema
     *
     * @throws UnsureOfSchema where it is not UTF-8
     */
    private function acceptsText(array $schema, string $value): bool
    {
        if (! mb_check_encoding($value, 'UTF-8')) {
            throw new UnsureOfSchema;
        }
        $length = strlen($value);

        return ! (isset($schema['minLength']) && $length < 4 * $schema['minLength'] && mb_strlen($value, 'UTF-8') < $schema['minLength'])
            && ! (isset($schema['maxLength']) && $length > $schema['maxLength'] && mb_strlen($value, 'UTF-8') > $schema['maxLength'])
            && ! (isset($schema['pattern']) && preg_match("\x07{$schema['pattern']}\x07u", $value) !== 1);
    }

    /**
     * @param  array<string, mixed>  $schema
     * @param  list<mixed>  $value
     *
     * @throws UnsureOfSchema
     */
    private function acceptsList(array $schema, array $value): bool
    {
        $count = count($value);
        if (isset($schema['minItems']) && $count < $schema['minItems'] || isset($schema['maxItems']) && $count > $schema['maxItems']) {
            return false;
        }
        if (! isset($schema['items'])) {
            return true;
        }
        $long = $count < self::LONG ? null : hash('xxh128', serialize([$schema['items'], $value]));
        if ($long !== null && isset($this->right[$long])) {
            return true;
        }
        foreach ($value as $item) {
            if (! $this->accepts($schema['items'], $item)) {
                return false;
            }
        }
        if ($long !== null) {
            $this->right = count($this->right) < self::REMEMBERED ? $this->right : [];
            $this->right[$long] = true;
        }

        return true;
    }

    /**
     * @param  array<string, mixed>  $schema
     * @param  array<array-key, mixed>  $value
     *
     * @throws UnsureOfSchema
     */
    private function acceptsObject(array $schema, array $value): bool
    {
        foreach ($schema['required'] ?? [] as $name) {
            if (! array_key_exists($name, $value)) {
                return false;
            }
        }
        if (isset($schema['minProperties']) && count($value) < $schema['minProperties'] || isset($schema['maxProperties']) && count($value) > $schema['maxProperties']) {
            return false;
        }
        $properties = $schema['properties'] ?? [];
        $others = $schema['additionalProperties'] ?? true;
        foreach ($value as $name => $member) {
            if (isset($schema['propertyNames']) && ! $this->accepts($schema['propertyNames'], (string) $name)) {
                return false;
            }
            $its = $properties[$name] ?? $others;
            if ($its !== true && ! $this->accepts($its, $member)) {
                return false;
            }
        }

        return true;
    }

    /**
     * @param  array<string, mixed>  $schema
     *
     * @throws UnsureOfSchema
     */
    private function acceptsTogether(array $schema, mixed $value): bool
    {
        foreach ($schema['allOf'] ?? [] as $each) {
            if (! $this->accepts($each, $value)) {
                return false;
            }
        }
        foreach (['anyOf' => null, 'oneOf' => 1] as $choice => $most) {
            if (isset($schema[$choice])) {
                $count = count(array_filter($schema[$choice], fn (array|bool $one): bool => $this->accepts($one, $value)));
                if ($count === 0 || $most !== null && $count > $most) {
                    return false;
                }
            }
        }
        if (isset($schema['not']) && $this->accepts($schema['not'], $value)) {
            return false;
        }

        return ! isset($schema['if']) || $this->accepts($this->accepts($schema['if'], $value) ? $schema['then'] ?? true : $schema['else'] ?? true, $value);
    }

    /**
     * What a reference names; looked through once for keywords that are not known here.
     *
     * @return array<string, mixed>|bool
     *
     * @throws UnsureOfSchema
     */
    private function target(string $reference): array|bool
    {
        if (isset($this->targets[$reference])) {
            return $this->targets[$reference];
        }
        $schema = $this->schema;
        foreach (array_slice(explode('/', $reference), 1) as $step) {
            $schema = $schema[$step] ?? throw new UnsureOfSchema;
        }
        $this->lookThrough($schema);

        return $this->targets[$reference] = $schema;
    }

    /**
     * @throws UnsureOfSchema
     */
    private function lookThrough(mixed $schema): void
    {
        if (is_bool($schema)) {
            return;
        }
        if (! is_array($schema) || array_diff(array_keys($schema), self::KNOWN, self::SILENT) !== []) {
            throw new UnsureOfSchema;
        }
        foreach (['properties', 'allOf', 'anyOf', 'oneOf'] as $several) {
            array_map($this->lookThrough(...), $schema[$several] ?? []);
        }
        foreach (['items', 'additionalProperties', 'propertyNames', 'not', 'if', 'then', 'else'] as $one) {
            isset($schema[$one]) && $this->lookThrough($schema[$one]);
        }
    }
}
