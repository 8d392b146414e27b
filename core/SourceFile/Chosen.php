<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\OData\Derive\Derived;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\SetChoice;
use DeepSpring\OData\Url\QueryOptions;

/**
 * Endpoints of a document that are chosen from an OData service, filled with what follows from the
 * choice, and written without it.
 */
final class Chosen
{
    /**
     * @param  array<string, mixed>  $document
     * @param  array<string, mixed>  $before  the document as it was
     * @param  Model|(\Closure(): ?Model)|null  $model
     * @return array<string, mixed>
     */
    public static function filled(array $document, array $before = [], Model|\Closure|null $model = null): array
    {
        if (! self::isOData($document)) {
            return $document;
        }
        $derived = null;
        $were = array_column(is_array($before['endpoints'] ?? null) ? $before['endpoints'] : [], null, 'slug');
        foreach (is_array($document['endpoints'] ?? null) ? $document['endpoints'] : [] as $number => $endpoint) {
            if (! is_array($endpoint) || ! Derived::isChosen($endpoint) || ! self::isSound($endpoint)) {
                continue;
            }
            $was = $were[$endpoint['slug'] ?? ''] ?? null;
            $parts = array_flip(Derived::PARTS);
            if ($was !== null && isset($endpoint['ask'], $endpoint['answer'], $endpoint['onward']) && array_intersect_key($was, $parts) == array_intersect_key($endpoint, $parts) && Derived::choice($was) === Derived::choice($endpoint)) {
                continue;
            }
            $derived ??= new Derived(Derived::versionOf($document['source']), $model instanceof \Closure ? $model() : $model);
            $document['endpoints'][$number] = $derived->filled($endpoint, $was !== null && Derived::isChosen($was) ? $was : $endpoint);
        }

        return $document;
    }

    /**
     * @param  array<string, mixed>  $document
     * @return array<string, mixed>
     */
    public static function short(array $document, ?Model $model): array
    {
        if (! self::isOData($document)) {
            return $document;
        }
        $derived = new Derived(Derived::versionOf($document['source']), $model);
        foreach ($document['endpoints'] ?? [] as $number => $endpoint) {
            if (Derived::isChosen($endpoint)) {
                $document['endpoints'][$number] = $derived->short($endpoint);
            }
        }

        return $document;
    }

    /**
     * What an endpoint asks for and the version of its service has no words for: it would be left out of the
     * request, and other rows would come. Endpoints that are as they were are not looked at.
     *
     * @param  array<string, mixed>  $document
     * @param  array<string, mixed>  $before
     * @return list<Fault>
     */
    public static function unsayable(array $document, array $before, ?Model $model): array
    {
        if (! self::isOData($document)) {
            return [];
        }
        $options = new QueryOptions($model->version ?? Derived::versionOf($document['source']));
        $were = array_column($before['endpoints'] ?? [], null, 'slug');
        $faults = [];
        foreach ($document['endpoints'] ?? [] as $number => $endpoint) {
            $was = $were[$endpoint['slug']] ?? null;
            if (! isset($endpoint['entity_set']) || $was !== null && Derived::choice($was) === Derived::choice($endpoint)) {
                continue;
            }
            foreach ($options->unsayable(SetChoice::of($endpoint)) as $sentence) {
                $faults[] = new Fault("endpoints[$number].expand", $sentence);
            }
        }

        return $faults;
    }

    /**
     * @param  array<string, mixed>  $document
     */
    public static function isOData(array $document): bool
    {
        return is_array($document['source'] ?? null) && ($document['source']['kind'] ?? '') === 'odata';
    }

    /**
     * Whether a choice has the shapes that deriving relies on; if not, the schema says what is wrong.
     *
     * @param  array<array-key, mixed>  $choice
     */
    private static function isSound(array $choice): bool
    {
        $kinds = ['entity_set' => is_string(...), 'operation' => is_string(...), 'slug' => is_string(...), 'does' => is_string(...), 'filter' => is_string(...), 'order' => is_string(...), 'search' => is_string(...), 'top' => is_int(...), 'skip' => is_int(...), 'select' => is_array(...), 'expand' => is_array(...), 'page' => is_array(...)];
        foreach ($kinds as $name => $isRight) {
            if (isset($choice[$name]) && ! $isRight($choice[$name])) {
                return false;
            }
        }
        if (array_filter($choice['select'] ?? [], is_string(...)) !== ($choice['select'] ?? [])) {
            return false;
        }
        foreach ($choice['expand'] ?? [] as $inner) {
            if ($inner !== null && (! is_array($inner) || ! self::isSound($inner))) {
                return false;
            }
        }

        return (! isset($choice['page']['size']) || is_int($choice['page']['size'])) && (! isset($choice['page']['stable']) || is_array($choice['page']['stable']));
    }
}
