<?php

declare(strict_types=1);

namespace DeepSpring\OData\Derive;

use DeepSpring\OData\Model\KeyPart;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\Operation;
use DeepSpring\OData\Model\Property;
use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\Url\KeyPredicate;

/**
 * Functions and actions (OData 4.01 part 1 §11.5; function imports of [URI conventions 2.0] §3.5).
 */
final readonly class Calling
{
    public function __construct(private ODataVersion $version, private Model $model)
    {
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array{ask: array<string, mixed>, answer: array<string, mixed>, onward: array<string, mixed>}|null null when the model has no such operation
     */
    public function of(array $endpoint): ?array
    {
        $operation = $this->find($endpoint);
        if ($operation === null) {
            return null;
        }
        $path = '';
        $inputs = [];
        $set = isset($endpoint['entity_set']) ? $this->model->set($endpoint['entity_set']) : null;
        if ($operation->on !== null && $set !== null) {
            $path = "/$set->name";
            $key = $operation->onMany || $set->single ? [] : $this->model->typeOf($set)->key ?? [];
            $path .= $key === [] ? '' : KeyPredicate::template($key);
            array_push($inputs, ...array_map(fn (KeyPart $part): array => ['name' => $part->alias, 'in' => 'path', 'required' => true] + $this->edm($this->model->typeOf($set)?->property($part->path)), $key));
        }
        $path .= "/$operation->name";
        $body = null;
        if ($this->version->isV4() && ! $operation->isAction) {
            $path .= '('.implode(',', array_map(static fn (Property $one): string => "$one->name={{$one->name}}", $operation->parameters)).')';
        }
        $tree = new \stdClass;
        foreach ($operation->parameters as $parameter) {
            $isInBody = $this->version->isV4() && $operation->isAction;
            $inputs[] = ['name' => $parameter->name, 'in' => $isInBody ? 'body' : ($this->version->isV4() ? 'path' : 'query')] + ($isInBody ? $this->typed($parameter) : $this->edm($parameter)) + ($parameter->nullable && $isInBody ? [] : ['required' => true]) + array_filter(['about' => $parameter->about]);
            $tree->{$parameter->name} = (object) ['input' => $parameter->name];
        }
        if ($this->version->isV4() && $operation->isAction) {
            $body = ['as' => 'json', 'of' => $tree];
        }
        $ask = ['method' => $operation->method, 'path' => $path] + ($inputs === [] ? [] : ['inputs' => $inputs]) + ['headers' => ['accept' => $this->version->accept()] + $this->version->headers()] + ($body === null ? [] : ['body' => $body]);
        $records = $operation->returnsMany ? ($this->version->isV4() ? '$.value[*]' : '$.d.results[*]') : ($this->version->isV4() ? null : '$.d');

        return [
            'ask' => $ask,
            'answer' => ['format' => 'json'] + ($records === null ? [] : ['records' => $records]) + ($operation->returns === null || $operation->isAction ? ['ok' => [200, 201, 202, 204]] : []),
            'onward' => $operation->returnsMany ? ['style' => 'next-link', 'link' => $this->version->isV4() ? "$['@odata.nextLink','@nextLink']" : '$.d.__next'] : ['style' => 'none'],
        ];
    }

    /**
     * @param  array<string, mixed>  $endpoint
     */
    public function find(array $endpoint): ?Operation
    {
        $set = isset($endpoint['entity_set']) ? $this->model->set($endpoint['entity_set']) : null;
        $types = $set === null ? [] : array_filter([$set->type, ...$this->bases($set->type)]);
        foreach ($this->model->operations() as $operation) {
            if (in_array($endpoint['operation'], [$operation->name, $operation->shortName()], true) && ($set === null ? $operation->on === null : in_array($operation->on, $types, true))) {
                return $operation;
            }
        }

        return null;
    }

    /**
     * @return list<string>
     */
    private function bases(string $type): array
    {
        $bases = [];
        for ($at = $this->model->facts['types'][$type]['base'] ?? ''; $at !== '' && ! in_array($at, $bases, true); $at = $this->model->facts['types'][$at]['base'] ?? '') {
            $bases[] = $at;
        }

        return $bases;
    }

    /**
     * @return array{edm?: array{type: string, version: int}}
     */
    private function edm(?Property $property): array
    {
        return $property === null || $property->many ? [] : ['edm' => ['type' => $this->model->isEnum($property->type) ? $property->type : $this->model->primitive($property->type), 'version' => $this->version->value]];
    }

    /**
     * @return array<string, mixed>
     */
    private function typed(Property $parameter): array
    {
        $members = $this->model->members($parameter->type);
        $primitive = $this->model->primitive($parameter->type);

        return match (true) {
            $parameter->many => ['type' => 'json'],
            $members !== null => ['choices' => array_map(strval(...), array_keys($members))],
            $primitive === 'Edm.Boolean' => ['type' => 'boolean'],
            in_array($primitive, ['Edm.Byte', 'Edm.SByte', 'Edm.Int16', 'Edm.Int32', 'Edm.Int64'], true) => ['type' => 'integer'],
            in_array($primitive, ['Edm.Single', 'Edm.Double', 'Edm.Decimal'], true) => ['type' => 'number'],
            $primitive === 'Edm.Date' => ['type' => 'date'],
            $primitive === 'Edm.DateTimeOffset' => ['type' => 'datetime'],
            str_starts_with($primitive, 'Edm.') && ! str_starts_with($primitive, 'Edm.Geo') => [],
            default => ['type' => 'json'],
        };
    }
}
