<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Describe\ImportNotice;

/**
 * Raw schemas → `Schema`. Named ones are read once.
 */
final class Schemas
{
    private const DEEPEST = 250;

    /** Members that make a schema more than a plain value. */
    private const MORE = ['properties' => 1, 'items' => 1, 'prefixItems' => 1, 'enum' => 1, 'const' => 1, 'allOf' => 1, 'oneOf' => 1, 'anyOf' => 1, 'additionalProperties' => 1, 'patternProperties' => 1, 'required' => 1];

    /** Formats of JSON Schema, of the format registry of OpenAPI, and words for them that need no saying. */
    private const FORMATS = ' int int8 int16 int32 int64 uint8 uint16 uint32 uint64 integer long double-int float double decimal decimal128 money number byte binary date date-time datetime date-time-local time time-local timestamp duration password email idn-email hostname idn-hostname ipv4 ipv6 ip uri url uri-reference uri-template iri iri-reference uuid guid json-pointer relative-json-pointer regex char commonmark markdown html base64 base64url media-range http-date sf-string sf-token sf-integer sf-decimal sf-boolean sf-binary unixtime phone string boolean ';

    /** @var list<ImportNotice> */
    public array $mends = [];

    /** @var array<string, true> formats that were told of */
    private array $told = [];

    /** @var array<string, Schema> by reference, and by what stands beside it */
    private array $known = [];

    /** @var array<string, true> references that are being read */
    private array $open = [];

    /** Members beside a `$ref` that change nothing of what it names. */
    private const WORDS = ['description' => 1, 'summary' => 1, 'title' => 1, 'example' => 1, 'examples' => 1, 'deprecated' => 1, 'readOnly' => 1, 'writeOnly' => 1, 'externalDocs' => 1, 'xml' => 1, 'default' => 1];

    public function __construct(private readonly References $references)
    {
    }

    public function of(mixed $raw, string $place, string $file = '', int $depth = 0): Schema
    {
        $beside = is_array($raw) && is_string($raw['$ref'] ?? null) ? array_diff_key($raw, ['$ref' => 1]) : [];
        $words = array_intersect_key($beside, self::WORDS);
        [$node, $name, $file] = $this->references->follow($words === [] ? $raw : array_diff_key((array) $raw, $words), $place, $file);
        if ($name === null) {
            return $this->read($node, null, $place, $file, $depth);
        }
        // What is named is read once, and not while it is being read: a schema may stand in itself.
        $key = $beside === $words ? $name : $name.' '.hash('xxh128', serialize(array_diff_key($beside, $words)));
        if (! isset($this->known[$key])) {
            if (isset($this->open[$key])) {
                return new Schema('any', '', [], [], null, [], $words, $name, false, false);
            }
            $this->open[$key] = true;
            $this->known[$key] = $this->read($node, $name, $place, $file, $depth);
            unset($this->open[$key]);
        }

        return $words === [] ? $this->known[$key] : $this->known[$key]->with($words);
    }

    /**
     * In one piece, since each member fills what those before it left open.
     *
     * @param  array<array-key, mixed>  $node
     */
    private function read(array $node, ?string $name, string $place, string $file, int $depth): Schema
    {
        $this->tellOfFormat($node, $place);
        $nullable = ($node['nullable'] ?? $node['x-nullable'] ?? false) === true;
        // Nearly all schemas of a file are this plain.
        if (isset($node['type']) && in_array($node['type'], ['string', 'integer', 'number', 'boolean'], true) && array_intersect_key($node, self::MORE) === []) {
            return new Schema($node['type'], is_string($node['format'] ?? null) ? $node['format'] : '', [], [], null, [], $node, $name, false, $nullable);
        }
        $properties = [];
        foreach (is_array($node['properties'] ?? null) ? $node['properties'] : [] as $property => $schema) {
            $properties[(string) $property] = [$schema, $file];
        }
        $required = array_values(array_filter(is_array($node['required'] ?? null) ? $node['required'] : [], is_string(...)));
        $items = isset($node['items']) ? [$node['items'], $file] : (is_array($node['prefixItems'] ?? null) ? [$node['prefixItems'][0] ?? [], $file] : null);
        $types = array_values(array_filter((array) ($node['type'] ?? []), is_string(...)));
        $nullable = $nullable || in_array('null', $types, true);
        $type = self::together(array_values(array_diff($types, ['null']))) ?? array_values(array_diff($types, ['null']))[0] ?? null;
        $enum = is_array($node['enum'] ?? null) ? array_values($node['enum']) : (isset($node['const']) ? [$node['const']] : []);
        $isMap = isset($node['additionalProperties']) && $node['additionalProperties'] !== false || isset($node['patternProperties']);
        $format = is_string($node['format'] ?? null) ? $node['format'] : '';
        $from = $name;
        if ($depth < self::DEEPEST) {
            foreach (is_array($node['allOf'] ?? null) ? $node['allOf'] : [] as $number => $part) {
                $one = $this->of($part, "$place.allOf[$number]", $file, $depth + 1);
                $properties += $one->properties;
                $required = [...$required, ...$one->required];
                $items ??= $one->items;
                $type ??= $one->type === 'any' ? null : $one->type;
                $enum = $enum === [] ? $one->enum : $enum;
                $format = $format === '' ? $one->format : $format;
                $isMap = $isMap || $one->isMap;
                $nullable = $nullable || $one->isNullable;
                $node += array_diff_key($one->raw, ['allOf' => 1]);
                $from ??= count($node['allOf']) === 1 ? $one->name : null;
            }
            foreach (['oneOf', 'anyOf'] as $choice) {
                $options = is_array($node[$choice] ?? null) ? $node[$choice] : [];
                $type ??= self::together(array_values(array_diff(array_map(static fn (mixed $option): string => is_array($option) && is_string($option['type'] ?? null) ? $option['type'] : '', $options), ['null'])));
                foreach ($options as $number => $option) {
                    if (is_array($option) && ($option['type'] ?? null) === 'null') {
                        $nullable = true;

                        continue;
                    }
                    if ($type !== null && $properties !== []) {
                        break;
                    }
                    $one = $this->of($option, "$place.{$choice}[$number]", $file, $depth + 1);
                    $properties += $one->properties;
                    // Only what all of them need is needed for sure, and the others are not looked at.
                    $required = count($options) <= 2 ? [...$required, ...$one->required] : $required;
                    $items ??= $one->items;
                    $type ??= $one->type;
                    $format = $format === '' ? $one->format : $format;
                    $enum = $enum === [] ? $one->enum : $enum;
                    $isMap = $isMap || $one->isMap;
                    $from ??= $one->name;

                    break;
                }
            }
        }
        $type ??= $properties !== [] || $isMap ? 'object' : ($items !== null ? 'array' : ($enum !== [] ? self::typeOf($enum[0]) : 'any'));
        if (! in_array($type, ['object', 'array', 'string', 'integer', 'number', 'boolean', 'any'], true)) {
            $format = $type === 'file' ? 'binary' : $format;
            $type = ['file' => 'string', 'int' => 'integer', 'long' => 'integer', 'float' => 'number', 'double' => 'number', 'bool' => 'boolean', 'date' => 'string', 'datetime' => 'string'][$type] ?? 'any';
        }

        return new Schema($type, $format, $properties, array_values(array_unique($required)), $items, $enum, $node, $from, $isMap, $nullable);
    }

    /**
     * @param  array<array-key, mixed>  $node
     */
    private function tellOfFormat(array $node, string $place): void
    {
        $format = $node['format'] ?? null;
        if (! is_string($format) || $format === '' || isset($this->told[$format]) || str_contains(self::FORMATS, ' '.strtolower($format).' ')) {
            return;
        }
        $this->told[$format] = true;
        $type = is_string($node['type'] ?? null) ? $node['type'] : 'any type';
        $this->mends[] = ImportNotice::mended($place, 'The format "'.mb_strimwidth($format, 0, 60, '…', 'UTF-8')."\" is unknown; it is read as $type alone, here and elsewhere.");
    }

    /**
     * The type that holds values of several simple ones: text, where one of them is text. Null where there
     * are not several, or some that are not simple.
     *
     * @param  list<string>  $types
     */
    private static function together(array $types): ?string
    {
        $types = array_values(array_unique($types));
        if (count($types) < 2 || array_diff($types, ['string', 'integer', 'number', 'boolean']) !== []) {
            return null;
        }

        return array_diff($types, ['integer', 'number']) === [] ? 'number' : 'string';
    }

    private static function typeOf(mixed $value): string
    {
        return match (true) {
            is_int($value) => 'integer',
            is_float($value) => 'number',
            is_bool($value) => 'boolean',
            is_string($value) => 'string',
            default => 'any',
        };
    }
}
