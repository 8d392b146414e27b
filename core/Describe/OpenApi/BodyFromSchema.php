<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Ask\Body\BodyNode;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Describe\InputNames;

/**
 * A request body by media type → body and inputs. Objects become objects, scalars and lists of them
 * inputs; what is too deep, of any shape or in a circle is an input that takes JSON.
 */
final class BodyFromSchema
{
    private const DEEPEST = 4;

    private const MOST_INPUTS = 60;

    /** @var list<array<string, mixed>> */
    private array $inputs = [];

    /** @var list<string> */
    private array $optional = [];

    /** @var list<ImportNotice> */
    public array $mends = [];

    private int $leftOut = 0;

    private readonly InputNames $names;

    /**
     * @param  list<string>  $taken  names of the other inputs
     */
    public function __construct(private readonly Schemas $schemas, private readonly array $taken, private readonly MadeBodies $made)
    {
        $this->names = new InputNames($taken);
    }

    /**
     * @param  array<array-key, mixed>  $content  media type → schema and examples
     * @return array{array<string, mixed>|null, list<array<string, mixed>>, string|null} body, inputs, and the media type when it is not the usual one
     */
    public function of(array $content, string $file, string $place): array
    {
        if ($content === []) {
            return [null, [], null];
        }
        [$result, $notices] = $this->made->of([$content, $file, $this->taken], fn (): array => [$this->make($content, $file, $place), $this->mends]);
        $this->mends = array_map(static fn (ImportNotice $one): ImportNotice => $one->at("$place.requestBody"), $notices);

        return $result;
    }

    /**
     * @param  array<array-key, mixed>  $content
     * @return array{array<string, mixed>|null, list<array<string, mixed>>, string|null}
     */
    private function make(array $content, string $file, string $place): array
    {
        $type = self::choose(array_map(strval(...), array_keys($content)));
        if ($type === null) {
            return [null, [], null];
        }
        if (count($content) > 1) {
            $this->mends[] = ImportNotice::note("$place.requestBody", "$type was taken; it could also be ".implode(', ', array_diff(array_map(strval(...), array_keys($content)), [$type])).'.');
        }
        $media = is_array($content[$type]) ? $content[$type] : [];
        $plain = strtolower(trim(explode(';', $type)[0]));
        $schema = $this->schemas->of($media['schema'] ?? [], "$place.requestBody", $file);
        $example = $this->example($media, $schema);
        if ($plain === 'multipart/form-data' || $plain === 'application/x-www-form-urlencoded') {
            return [$this->fields($schema, $example, $plain === 'multipart/form-data', $place), $this->inputs, null];
        }
        if (str_contains($plain, 'json') || $plain === '*/*') {
            $tree = $this->node($schema, [], '$', $example, true, [], 0, $place);
            if ($this->leftOut > 0) {
                $this->mends[] = ImportNotice::leftOut("$place.requestBody", "The body has more members than can be filled in on a sheet: $this->leftOut that are not required were left out. Write those that you need into the body.");
            }

            return [['as' => 'json', 'of' => $tree] + ($this->optional === [] ? [] : ['optional' => $this->optional]), $this->inputs, in_array($plain, ['application/json', '*/*'], true) ? null : $type];
        }
        if (str_contains($plain, 'xml')) {
            return [['as' => 'xml', 'of' => $this->xml($schema, $example, $place)], $this->inputs, $plain === 'application/xml' ? null : $type];
        }
        $name = $this->names->take(['body']);
        $this->inputs[] = ['name' => $name, 'in' => 'body', 'required' => true] + ($schema->format === 'binary' || preg_match('~^(?:image|audio|video)/|octet-stream|pdf|zip~', $plain) === 1 ? ['type' => 'file'] : Parameters::try($example, 'text'));

        return [['as' => 'text', 'of' => "{{$name}}"], $this->inputs, $plain === 'text/plain' ? null : $type];
    }

    /**
     * @param  list<string>  $types
     */
    private static function choose(array $types): ?string
    {
        foreach (['~^application/json\b~i', '~json~i', '~^multipart/form-data~i', '~urlencoded~i', '~xml~i', '~^text/~i', '~.~'] as $like) {
            foreach ($types as $type) {
                if (preg_match($like, $type) === 1) {
                    return $type;
                }
            }
        }

        return null;
    }

    /**
     * @param  array<array-key, mixed>  $media
     */
    private function example(array $media, Schema $schema): mixed
    {
        $first = is_array($media['examples'] ?? null) ? reset($media['examples']) : null;
        $example = $media['example'] ?? (is_array($first) ? $first['value'] ?? null : null) ?? $schema->example();

        return is_string($example) && ($schema->type === 'object' || $schema->type === 'array') ? json_decode($example, true) ?? $example : $example;
    }

    /**
     * @param  list<string>  $path  names of members
     * @param  list<string>  $circle  names of schemas that this one stands in
     */
    private function node(Schema $schema, array $path, string $at, mixed $example, bool $required, array $circle, int $depth, string $place): mixed
    {
        $isCircle = $schema->name !== null && in_array($schema->name, $circle, true);
        if ($schema->type === 'object' && $schema->properties !== [] && ! $isCircle && $depth < self::DEEPEST && ! $this->isFull()) {
            $object = new \stdClass;
            $before = [$this->inputs, $this->optional];
            $circle = $schema->name === null ? $circle : [...$circle, $schema->name];
            foreach ($schema->properties as $name => [$raw, $file]) {
                $isNeeded = in_array((string) $name, $schema->required, true);
                if (! $isNeeded && $this->isFull()) {
                    $this->leftOut++;

                    continue;
                }
                $inner = $this->schemas->of($raw, "$place.$name", $file);
                if (($inner->raw['readOnly'] ?? false) === true) {
                    continue;
                }
                $step = $at.\DeepSpring\Flatten\Proposal\AnswerColumns::step((string) $name);
                $object->{$name} = $this->node($inner, [...$path, (string) $name], $step, is_array($example) ? $example[$name] ?? null : null, $isNeeded, $circle, $depth + 1, $place);
                if ($inner->type === 'object' && $inner->properties !== [] && ! $isNeeded && ! (isset($object->{$name}->input) && count(get_object_vars($object->{$name})) === 1)) {
                    $this->optional[] = $step;
                }
            }
            if (get_object_vars($object) !== [] && BodyNode::of($object)->kind === null && ! BodyNode::isDoubtful($object)) {
                return $object;
            }
            // Nothing to fill in, or an object of the API that a source file would read as something else.
            [$this->inputs, $this->optional] = $before;
        }
        $items = $schema->type === 'array' && $schema->items !== null ? $this->schemas->of($schema->items[0], $place, $schema->items[1]) : null;
        $isList = $items !== null && in_array($items->type, ['string', 'integer', 'number', 'boolean'], true) && $items->format !== 'binary';
        $typed = $isList ? Parameters::typed($items) + ['many' => 'comma'] : ($schema->type === 'any' && ! is_scalar($example) ? ['type' => 'json'] : Parameters::typed($schema));
        $example ??= $schema->example() ?? ($isList ? $items->example() : null);
        $default = $schema->raw['default'] ?? null;
        $name = $this->names->take($path);
        $this->inputs[] = ['name' => $name, 'in' => 'body'] + ($required && $path !== [] ? ['required' => true] : []) + Parameters::about([], $schema) + $typed + Parameters::try($example, $typed['type'] ?? 'text', $isList)
            + ($example === null && is_scalar($default) && ! $isList && ($typed['type'] ?? 'text') !== 'json' ? ['default' => $default] : []);

        return (object) ['input' => $name];
    }

    private function isFull(): bool
    {
        return count($this->inputs) >= self::MOST_INPUTS;
    }

    /**
     * @return array<string, mixed>
     */
    private function fields(Schema $schema, mixed $example, bool $isMultipart, string $place): array
    {
        $fields = new \stdClass;
        foreach ($schema->properties as $name => [$raw, $file]) {
            $inner = $this->schemas->of($raw, "$place.$name", $file);
            $items = $inner->type === 'array' && $inner->items !== null ? $this->schemas->of($inner->items[0], $place, $inner->items[1]) : null;
            $as = $this->names->take([(string) $name]);
            $typed = $items === null ? Parameters::typed($inner) : Parameters::typed($items) + ['many' => 'repeat'];
            $this->inputs[] = ['name' => $as, 'in' => 'body'] + (in_array((string) $name, $schema->required, true) ? ['required' => true] : []) + Parameters::about([], $inner) + $typed + Parameters::try(is_array($example) ? $example[$name] ?? null : $inner->example(), $typed['type'] ?? 'text', $items !== null);
            $fields->{$name} = (object) ['input' => $as];
        }

        return ['as' => $isMultipart ? 'multipart' : 'form', 'of' => $fields];
    }

    private function xml(Schema $schema, mixed $example, string $place): string
    {
        $root = is_string($schema->raw['xml']['name'] ?? null) ? $schema->raw['xml']['name'] : (preg_match('~/([A-Za-z_][\w.-]*)$~', (string) $schema->name, $part) === 1 ? $part[1] : 'request');
        $inside = '';
        foreach ($schema->properties as $name => [$raw, $file]) {
            $inner = $this->schemas->of($raw, "$place.$name", $file);
            $as = $this->names->take([(string) $name]);
            $this->inputs[] = ['name' => $as, 'in' => 'body'] + (in_array((string) $name, $schema->required, true) ? ['required' => true] : []) + ($inner->type === 'object' || $inner->type === 'array' ? [] : Parameters::typed($inner)) + Parameters::try(is_array($example) ? $example[$name] ?? null : $inner->example(), 'text');
            $inside .= "  <$name>{{$as}}</$name>\n";
        }

        return "<$root>\n$inside</$root>\n";
    }
}
