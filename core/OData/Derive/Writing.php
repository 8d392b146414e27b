<?php

declare(strict_types=1);

namespace DeepSpring\OData\Derive;

use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\KeyPart;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\Property;
use DeepSpring\OData\Model\StructuredType;
use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\Url\KeyPredicate;

/**
 * One entity: got by its key, created, changed or deleted, with an input for each property that can be
 * given (OData 4.01 part 1 §11.4; [Operations 2.0]).
 */
final readonly class Writing
{
    private const DEEPEST = 3;

    public function __construct(private ODataVersion $version, private ?Model $model)
    {
    }

    /**
     * @param  array<string, mixed>  $endpoint  does: get, create, update or delete
     * @return array{ask: array<string, mixed>, answer: array<string, mixed>, onward: array<string, mixed>}
     */
    public function of(array $endpoint): array
    {
        $set = $this->model?->set($endpoint['entity_set']);
        $type = $this->model === null || $set === null ? null : $this->model->typeOf($set);
        $does = $endpoint['does'];
        $path = "/{$endpoint['entity_set']}";
        $inputs = [];
        $body = null;
        if ($does !== 'create' && $set?->single !== true) {
            $key = $type === null || $type->key === [] ? [new KeyPart('key', 'key')] : $type->key;
            $path .= KeyPredicate::template($key);
            array_push($inputs, ...array_map(fn (KeyPart $part): array => $this->keyInput($part, $type), $key));
        }
        if (in_array($does, ['create', 'update'], true)) {
            [$body, $given] = $this->body($type, $does === 'create', $this->method($endpoint, $set) === 'PUT', array_column($inputs, 'name'));
            array_push($inputs, ...$given);
        }
        if (in_array($does, ['update', 'delete'], true)) {
            $inputs[] = ['name' => 'If-Match', 'in' => 'header'] + ($this->isGuarded($set, $type) ? ['required' => true] : []) + ['about' => 'The ETag of the record as you last saw it. If somebody changed it since, the service refuses with 412, and nothing is overwritten. * means: whatever it is now.'];
        }
        $ask = ['method' => $this->method($endpoint, $set), 'path' => $path] + ($inputs === [] ? [] : ['inputs' => $inputs]) + ['headers' => ['accept' => $this->version->accept()] + $this->version->headers() + ($does === 'create' && $this->version->isV4() ? ['prefer' => 'return=representation'] : [])] + ($body === null ? [] : ['body' => $body]);

        return ['ask' => $ask, 'answer' => ['format' => 'json'] + ($this->version->isV4() || $does === 'delete' ? [] : ['records' => '$.d']), 'onward' => ['style' => 'none']];
    }

    /**
     * PATCH, MERGE before version 4, or PUT where that is chosen or the only way.
     *
     * @param  array<string, mixed>  $endpoint
     */
    private function method(array $endpoint, ?EntitySet $set): string
    {
        return match ($endpoint['does']) {
            'get' => 'GET',
            'create' => 'POST',
            'delete' => 'DELETE',
            default => ($endpoint['whole'] ?? false) === true || $set?->updateMethod() === 'PUT' ? 'PUT' : ($this->version->isV4() ? 'PATCH' : 'MERGE'),
        };
    }

    private function isGuarded(?EntitySet $set, ?StructuredType $type): bool
    {
        return $set?->hasETag() === true || array_filter($type->properties ?? [], static fn (Property $one): bool => $one->isETag) !== [];
    }

    /**
     * @return array<string, mixed>
     */
    private function keyInput(KeyPart $part, ?StructuredType $type): array
    {
        $property = $type === null ? null : $this->at($type, explode('/', $part->path));

        return ['name' => $part->alias, 'in' => 'path', 'required' => true] + ($property === null ? [] : ['edm' => $this->edm($property)]) + array_filter(['about' => $property->label ?? '']);
    }

    /**
     * @param  list<string>  $steps
     */
    private function at(StructuredType $type, array $steps): ?Property
    {
        $property = $type->property($steps[0]);
        $inner = count($steps) > 1 && $property !== null ? $this->model?->type($property->type) : null;

        return $inner === null ? $property : $this->at($inner, array_slice($steps, 1));
    }

    /**
     * @return array{type: string, version: int}
     */
    private function edm(Property $property): array
    {
        $type = $this->model?->isEnum($property->type) === true ? $property->type : ($this->model?->primitive($property->type) ?? $property->type);

        return ['type' => $type, 'version' => $this->version->value];
    }

    /**
     * @param  list<string>  $taken  names of inputs
     * @return array{array<string, mixed>, list<array<string, mixed>>}
     */
    private function body(?StructuredType $type, bool $isCreate, bool $isWhole, array $taken): array
    {
        if ($type === null) {
            return [['as' => 'json', 'of' => (object) ['input' => 'record']], [['name' => 'record', 'in' => 'body', 'type' => 'json', 'required' => true]]];
        }
        $inputs = [];
        $optional = [];
        $tree = $this->tree($type, $isCreate, $isWhole, '', '$', $taken, $inputs, $optional, 0);

        return [['as' => 'json', 'of' => $tree] + ($optional === [] ? [] : ['optional' => $optional]), $inputs];
    }

    /**
     * @param  list<string>  $taken
     * @param  list<array<string, mixed>>  $inputs
     * @param  list<string>  $optional
     */
    private function tree(StructuredType $type, bool $isCreate, bool $isWhole, string $prefix, string $path, array $taken, array &$inputs, array &$optional, int $depth): \stdClass
    {
        $tree = new \stdClass;
        $key = array_map(static fn (KeyPart $part): string => $part->path, $type->key);
        foreach ($type->properties as $property) {
            $isKey = $prefix === '' && in_array($property->name, $key, true);
            $primitive = $this->model?->primitive($property->type) ?? $property->type;
            if ($property->computed || $primitive === 'Edm.Stream' || ($isCreate ? ! $property->creatable : $isKey || ! $property->updatable)) {
                continue;
            }
            $complex = str_starts_with($primitive, 'Edm.') ? null : $this->model?->type($property->type);
            if ($complex !== null && ! $property->many && $depth < self::DEEPEST) {
                $inner = $this->tree($complex, $isCreate, $isWhole, "$prefix{$property->name}_", "$path.{$property->name}", $taken, $inputs, $optional, $depth + 1);
                if (get_object_vars($inner) !== []) {
                    $tree->{$property->name} = $inner;
                    $optional[] = "$path.{$property->name}";
                }

                continue;
            }
            $name = $this->free($prefix.$property->name, [...$taken, ...array_column($inputs, 'name')]);
            $required = ! $property->nullable && $property->default === null && ($isCreate || $isWhole);
            $inputs[] = ['name' => $name, 'in' => 'body'] + $this->typed($property, $primitive, $complex !== null) + ($required ? ['required' => true] : []) + array_filter(['about' => trim($property->label.($property->about === '' || $property->about === $property->label ? '' : ": $property->about"), ': ')]);
            $tree->{$property->name} = (object) ['input' => $name];
        }
        if ($isCreate && $prefix === '') {
            $this->related($type, $tree, $taken, $inputs);
        }

        return $tree;
    }

    /**
     * Deep insert of collections, and references to what exists already (OData 4.01 part 1 §11.4.2.1,
     * §11.4.2.2).
     *
     * @param  list<string>  $taken
     * @param  list<array<string, mixed>>  $inputs
     */
    private function related(StructuredType $type, \stdClass $tree, array $taken, array &$inputs): void
    {
        foreach ($type->navigations as $navigation) {
            $name = $this->free($navigation->name, [...$taken, ...array_column($inputs, 'name')]);
            if ($navigation->many) {
                $inputs[] = ['name' => $name, 'in' => 'body', 'type' => 'json', 'about' => 'Created along with it: a list of objects.'];
                $tree->{$navigation->name} = (object) ['input' => $name];
            } elseif ($this->version->isV4()) {
                $inputs[] = ['name' => $name, 'in' => 'body', 'about' => 'One that exists already: its set and key, like Venues(\'north-quay\').'];
                $tree->{"$navigation->name@odata.bind"} = (object) ['input' => $name];
            } else {
                $inputs[] = ['name' => $name, 'in' => 'body', 'about' => 'One that exists already: its set and key, like Venues(\'north-quay\').'];
                $tree->{$navigation->name} = (object) ['__metadata' => (object) ['uri' => (object) ['input' => $name]]];
            }
        }
    }

    /**
     * @return array<string, mixed>
     */
    private function typed(Property $property, string $primitive, bool $isComplex): array
    {
        if ($isComplex || $property->many) {
            return ['type' => 'json'];
        }
        $members = $this->model?->members($property->type);
        if ($members !== null) {
            return ['choices' => array_map(strval(...), array_keys($members))];
        }

        return match ($primitive) {
            'Edm.Boolean' => ['type' => 'boolean'],
            'Edm.Byte', 'Edm.SByte', 'Edm.Int16', 'Edm.Int32' => ['type' => 'integer'],
            'Edm.Int64' => ['type' => 'integer', 'edm' => $this->edm($property)],
            'Edm.Single', 'Edm.Double' => ['type' => 'number'],
            'Edm.Decimal' => ['type' => 'number', 'edm' => $this->edm($property)],
            'Edm.Date' => ['type' => 'date'],
            'Edm.DateTimeOffset' => $this->version === ODataVersion::V2 ? [] : ['type' => 'datetime'],
            'Edm.DateTime' => ['edm' => $this->edm($property)],
            default => str_starts_with($primitive, 'Edm.Geo') ? ['type' => 'json'] : [],
        };
    }

    /**
     * @param  list<string>  $taken
     */
    private function free(string $name, array $taken): string
    {
        for ($try = $name, $number = 2; in_array($try, $taken, true); $number++) {
            $try = "{$name}_$number";
        }

        return $try;
    }
}
