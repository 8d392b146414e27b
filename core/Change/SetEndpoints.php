<?php

declare(strict_types=1);

namespace DeepSpring\Change;

use DeepSpring\Ask\EndpointRole;
use DeepSpring\OData\Model\Model;

/**
 * The endpoints by which records of an OData entity set are got, created, changed and deleted, as far as its service
 * says that it can be done: those that a source file does not have yet, in their short form.
 */
final class SetEndpoints
{
    /** What each needs of the service (Org.OData.Capabilities.V1); what it says nothing of is taken as possible. */
    private const NEEDS = ['get' => null, 'create' => 'insert', 'update' => 'update', 'delete' => 'delete'];

    private const VERBS = ['get' => 'Get', 'create' => 'Create', 'update' => 'Change', 'delete' => 'Delete'];

    /**
     * @param  array<string, mixed>  $document  of a source file
     * @param  array<string, mixed>  $list  the endpoint that lists the records
     * @return list<array<string, mixed>>
     */
    public static function missing(array $document, array $list, Model $model): array
    {
        $set = is_string($list['entity_set'] ?? null) ? $model->set($list['entity_set']) : null;
        $type = $set === null || $set->single ? null : $model->typeOf($set);
        if ($set === null || $type === null || $type->key === []) {
            return [];
        }
        $endpoints = $document['endpoints'] ?? [];
        $there = array_map(static fn (array $one): string => $one['does'] ?? EndpointRole::List->value, array_filter($endpoints, static fn (array $one): bool => ($one['entity_set'] ?? null) === $set->name));
        $taken = array_column($endpoints, 'slug');
        $word = strtolower((string) preg_replace('/(?<=[a-z\d])(?=[A-Z])/', ' ', $set->shortType()));
        $missing = [];
        foreach (self::NEEDS as $does => $what) {
            if (in_array($does, $there, true) || $what !== null && ! $set->can($what)) {
                continue;
            }
            $slug = trim((string) preg_replace('/[^a-z0-9]+/', '-', strtolower(self::VERBS[$does]).'-'.$word), '-');
            for ($free = $slug, $number = 2; in_array($free, $taken, true); $number++) {
                $free = "$slug-$number";
            }
            $taken[] = $free;
            $missing[] = ['slug' => $free, 'name' => self::VERBS[$does].(preg_match('/^[aeiou]/', $word) === 1 ? ' an ' : ' a ').$word, 'does' => $does, 'entity_set' => $set->name];
        }

        return $missing;
    }
}
