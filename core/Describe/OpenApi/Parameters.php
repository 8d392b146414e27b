<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Describe\ImportNotice;

/**
 * Parameters, in all their styles (OpenAPI 3.1 §4.8.12.3) and in those of Swagger 2.0, → inputs and a path.
 */
final class Parameters
{
    /** @var list<ImportNotice> */
    public array $mends = [];

    public function __construct(private readonly References $references, private readonly Schemas $schemas)
    {
    }

    /**
     * Those of the path, overridden by those of the operation with the same name and place.
     *
     * @param  list<mixed>  $ofPath
     * @param  list<mixed>  $ofOperation
     * @return list<array{array<array-key, mixed>, string}> parameter and the file it stands in
     */
    public function merged(array $ofPath, array $ofOperation, string $place): array
    {
        $all = [];
        foreach ([...$ofPath, ...$ofOperation] as $number => $raw) {
            [$parameter, , $file] = $this->references->follow($raw, "$place.parameters");
            if (! is_string($parameter['name'] ?? null) || ! is_string($parameter['in'] ?? null)) {
                if ($parameter !== []) {
                    $this->mends[] = ImportNotice::leftOut("$place.parameters[$number]", 'A parameter without a name or a place was left out.');
                }

                continue;
            }
            $all[$parameter['in'].' '.$parameter['name']] = [$parameter, $file];
        }

        return array_values($all);
    }

    /**
     * @param  array<array-key, mixed>  $parameter
     * @return array{0: list<array<string, mixed>>, 1: string|null, 2?: string} inputs, what stands in the path before `{name}`, and what stands there instead of it
     */
    public function inputs(array $parameter, string $file, string $place): array
    {
        $name = (string) $parameter['name'];
        $in = (string) $parameter['in'];
        if (! in_array($in, ['path', 'query', 'header', 'cookie'], true)) {
            return [[], null];
        }
        if ($in === 'header' && in_array(strtolower($name), ['accept', 'content-type', 'authorization'], true)) {
            return [[], null];
        }
        $content = is_array($parameter['content'] ?? null) ? $parameter['content'] : null;
        $schema = $this->schemas->of($parameter['schema'] ?? ($content === null ? $parameter : (reset($content)['schema'] ?? [])), "$place.$name", $file);
        $common = ['in' => $in] + (($parameter['allowEmptyValue'] ?? false) === true && $in === 'query' ? ['send_empty' => true] : []) + (($parameter['required'] ?? false) === true || $in === 'path' ? ['required' => true] : []) + self::about($parameter, $schema);
        if ($content !== null) {
            return [[['name' => $name] + $common + ['type' => 'json'] + self::try(self::exampleOf($parameter, $schema), 'json')], null];
        }
        $style = is_string($parameter['style'] ?? null) ? $parameter['style'] : (['query' => 'form', 'cookie' => 'form'][$in] ?? 'simple');
        $explode = is_bool($parameter['explode'] ?? null) ? $parameter['explode'] : $style === 'form';
        if ($schema->type === 'object' && $schema->properties !== []) {
            return $this->object($name, $schema, $style, $explode, $common, $in, $parameter, $place);
        }
        $input = ['name' => self::nameIn($in, $name)] + $common + self::typed($schema->type === 'array' && $schema->items !== null ? $this->schemas->of($schema->items[0], "$place.$name", $schema->items[1]) : $schema);
        if ($schema->type === 'array') {
            $input['many'] = self::many($style, $explode, $in, is_string($parameter['collectionFormat'] ?? null) ? $parameter['collectionFormat'] : null, isset($parameter['schema']));
            if (in_array($style, ['label', 'matrix'], true) && $explode && $in === 'path') {
                $input['with'] = $style === 'label' ? '.' : ";$name=";
            }
        }
        $example = self::exampleOf($parameter, $schema);
        $input += self::try($example, $input['type'] ?? 'text', isset($input['many']));
        $default = $schema->raw['default'] ?? $parameter['default'] ?? null;
        if (is_scalar($default) && ! isset($input['try']) && $in === 'path') {
            $input['try'] = $default;
        } elseif (is_scalar($default) && ($schema->enum === [] || in_array($default, $schema->enum, true))) {
            $input['about'] = trim(($input['about'] ?? '').' ('.(is_bool($default) ? var_export($default, true) : $default).' when left out)');
        }

        return [[$input], $in === 'path' && $input['name'] !== $name || in_array($style, ['label', 'matrix'], true) ? ['label' => '.', 'matrix' => ";$name="][$style] ?? '' : null];
    }

    /**
     * @param  array<string, mixed>  $common
     * @param  array<array-key, mixed>  $parameter
     * @return array{0: list<array<string, mixed>>, 1: string|null, 2?: string}
     */
    private function object(string $name, Schema $schema, string $style, bool $explode, array $common, string $in, array $parameter, string $place): array
    {
        if ($in === 'query' && ($style === 'deepObject' || $style === 'form' && $explode)) {
            $example = self::exampleOf($parameter, $schema);
            $inputs = [];
            foreach ($schema->properties as $property => [$raw, $file]) {
                $inner = $this->schemas->of($raw, "$place.$name.$property", $file);
                $input = ['name' => $style === 'deepObject' ? "{$name}[$property]" : $property, 'in' => 'query'] + (isset($common['required']) && in_array($property, $schema->required, true) ? ['required' => true] : []) + self::about([], $inner) + self::typed($inner->type === 'array' && $inner->items !== null ? $this->schemas->of($inner->items[0], $place, $inner->items[1]) : $inner);
                $inputs[] = $input + ($inner->type === 'array' ? ['many' => 'repeat'] : []) + self::try(is_array($example) ? $example[$property] ?? null : $inner->example(), $input['type'] ?? 'text');
            }

            return [$inputs, null];
        }
        if ($in === 'path') {
            return $this->objectInPath($name, $schema, $style, $explode, $common, $parameter, $place);
        }
        $this->mends[] = ImportNotice::mended("$place.parameters.$name", "An object in the style \"$style\" is one text here, written ".($explode ? 'R=100,G=200' : 'R,100,G,200').'.');
        $example = self::exampleOf($parameter, $schema);
        $pairs = is_array($example) && ! array_is_list($example) ? array_map(static fn (string $key, mixed $value): string => $key.($explode ? '=' : ',').(is_scalar($value) ? $value : ''), array_map(strval(...), array_keys($example)), $example) : [];
        $several = array_merge(...array_map(static fn (string $pair): array => $explode ? [$pair] : explode(',', $pair), $pairs) ?: [[]]);

        return [[['name' => self::nameIn($in, $name)] + $common + ['many' => ['spaceDelimited' => 'space', 'pipeDelimited' => 'pipe'][$style] ?? 'comma'] + ($several === [] ? [] : ['try' => $several])], null];
    }

    /**
     * In a path each property is an input of its own, with what stands around it in the path.
     *
     * @param  array<string, mixed>  $common
     * @param  array<array-key, mixed>  $parameter
     * @return array{list<array<string, mixed>>, string, string} inputs, and what stands in the path for `{name}`: its beginning, and the rest
     */
    private function objectInPath(string $name, Schema $schema, string $style, bool $explode, array $common, array $parameter, string $place): array
    {
        $example = self::exampleOf($parameter, $schema);
        $inputs = [];
        $pairs = [];
        foreach ($schema->properties as $property => [$raw, $file]) {
            $inner = $this->schemas->of($raw, "$place.$name.$property", $file);
            $as = self::nameIn('path', (string) $property);
            $typed = self::typed($inner);
            $inputs[] = ['name' => $as] + $common + self::about([], $inner) + $typed + self::try(is_array($example) ? $example[$property] ?? null : $inner->example(), $typed['type'] ?? 'text');
            $pairs[] = rawurlencode((string) $property).($explode ? '=' : ',')."{{$as}}";
        }
        $parted = implode($explode ? ['label' => '.', 'matrix' => ';'][$style] ?? ',' : ',', $pairs);

        return [$inputs, ['label' => '.', 'matrix' => $explode ? ';' : ";$name="][$style] ?? '', $parted];
    }

    /**
     * The place of `{name}` in a path cannot hold every character that a name can.
     */
    public static function nameIn(string $in, string $name): string
    {
        return $in === 'path' ? (trim((string) preg_replace('/[{}?#\/\s*]+/', '_', $name), '_') ?: 'value') : $name;
    }

    /**
     * @return array<string, mixed> type and choices
     */
    public static function typed(Schema $schema): array
    {
        $type = match ($schema->type) {
            'integer' => 'integer',
            'number' => 'number',
            'boolean' => 'boolean',
            'string' => match (strtolower($schema->format)) {
                'date' => 'date',
                'date-time', 'datetime' => 'datetime',
                'binary' => 'file',
                default => 'text',
            },
            'any' => 'text',
            default => 'json',
        };
        $choices = array_values(array_filter($schema->enum, is_scalar(...)));

        return ($type === 'text' ? [] : ['type' => $type]) + ($choices === [] ? [] : ['choices' => $choices]);
    }

    /**
     * @param  array<array-key, mixed>  $parameter
     * @return array<string, string>
     */
    public static function about(array $parameter, Schema $schema): array
    {
        $text = $parameter['description'] ?? $schema->raw['description'] ?? $schema->raw['title'] ?? '';
        if (! is_string($text) || $text === '') {
            return [];
        }
        $text = strlen($text) > 400 ? mb_strcut($text, 0, 400, 'UTF-8') : $text;
        $text = trim((string) preg_replace('/\s+/', ' ', str_contains($text, '<') ? strip_tags($text) : $text));

        return $text === '' ? [] : ['about' => strlen($text) <= 300 ? $text : mb_strcut($text, 0, 297, 'UTF-8').'…'];
    }

    /**
     * @return array<string, mixed>
     */
    public static function try(mixed $example, string $type, bool $isMany = false): array
    {
        if ($example === null || $example === '') {
            return [];
        }
        if ($type === 'json') {
            return ['try' => (string) json_encode($example, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION)];
        }
        if (is_array($example)) {
            $scalars = array_values(array_filter($example, is_scalar(...)));

            return $scalars === [] || ! array_is_list($example) ? [] : ['try' => $isMany ? $scalars : $scalars[0]];
        }
        if (! is_scalar($example)) {
            return [];
        }
        // YAML reads an unquoted day as a number of seconds.
        if (is_int($example) && in_array($type, ['date', 'datetime'], true)) {
            return ['try' => gmdate($type === 'date' ? 'Y-m-d' : 'Y-m-d\TH:i:s\Z', $example)];
        }

        return ['try' => $example];
    }

    /**
     * @param  array<array-key, mixed>  $parameter
     */
    private static function exampleOf(array $parameter, Schema $schema): mixed
    {
        $examples = $parameter['examples'] ?? null;
        $first = is_array($examples) ? reset($examples) : null;

        return $parameter['example'] ?? $parameter['x-example'] ?? (is_array($first) ? $first['value'] ?? null : null) ?? $schema->example();
    }

    private static function many(string $style, bool $explode, string $in, ?string $collection, bool $isVersion3): string
    {
        if (! $isVersion3) {
            return ['multi' => 'repeat', 'ssv' => 'space', 'pipes' => 'pipe'][$collection ?? 'csv'] ?? 'comma';
        }

        return match (true) {
            $style === 'spaceDelimited' && ! $explode => 'space',
            $style === 'pipeDelimited' && ! $explode => 'pipe',
            $in === 'query' && $explode => 'repeat',
            default => 'comma',
        };
    }
}
