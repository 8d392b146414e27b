<?php

declare(strict_types=1);

namespace DeepSpring\OData\Url;

use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\SetChoice;

/**
 * A choice → system query options, not yet percent-encoded. Version 4 nests what belongs to an
 * expansion in it (URL conventions 4.01 §5.1.3); before, `$select` names paths through it and an
 * expansion can be neither filtered, ordered nor cut ([URI conventions 2.0] §4.6, §4.8).
 */
final readonly class QueryOptions
{
    public function __construct(private ODataVersion $version)
    {
    }

    /**
     * @return array<string, string>
     */
    public function of(SetChoice $choice): array
    {
        $options = [
            '$filter' => $choice->filter,
            '$search' => $this->version->isV4() ? $choice->search : '',
            '$orderby' => $choice->order,
            '$skip' => (string) $choice->skip,
            '$top' => (string) $choice->top,
        ];
        $options = $this->version->isV4() ? ['$select' => implode(',', $choice->select), '$expand' => $this->nested($choice->expand)] + $options : $this->flat($choice) + $options;
        if (! $this->version->isV4()) {
            $options['$format'] = 'json';
        }

        return array_filter($options, static fn (string $option): bool => $option !== '');
    }

    /**
     * What of a choice this version has no words for.
     *
     * @return list<string> sentences
     */
    public function unsayable(SetChoice $choice): array
    {
        if ($this->version->isV4()) {
            return [];
        }
        $faults = $choice->search === '' ? [] : ["Version {$this->version->value} has no search over a set."];
        foreach ($choice->expand as $name => $inner) {
            foreach (['filter' => $inner->filter, 'order' => $inner->order, 'top' => (string) $inner->top] as $what => $value) {
                if ($value !== '') {
                    $faults[] = "Version {$this->version->value} cannot ".['filter' => 'filter', 'order' => 'order', 'top' => 'cut'][$what]." what is expanded, as $name is here. Leave it out there; a query over the table of $name can do it.";
                }
            }
            array_push($faults, ...$this->unsayable($inner));
        }

        return $faults;
    }

    /**
     * @param  array<string, SetChoice>  $expand
     */
    private function nested(array $expand): string
    {
        $items = [];
        foreach ($expand as $name => $choice) {
            $options = array_filter([
                '$select' => implode(',', $choice->select),
                '$filter' => $choice->filter,
                '$search' => $choice->search,
                '$orderby' => $choice->order,
                '$skip' => (string) $choice->skip,
                '$top' => (string) $choice->top,
                '$expand' => $this->nested($choice->expand),
            ], static fn (string $option): bool => $option !== '');
            $items[] = $name.($options === [] ? '' : '('.implode(';', array_map(static fn (string $option, string $value): string => "$option=$value", array_keys($options), $options)).')');
        }

        return implode(',', $items);
    }

    /**
     * @return array{'$select': string, '$expand': string}
     */
    private function flat(SetChoice $choice): array
    {
        $select = [];
        $expand = [];
        $this->gather($choice, '', $select, $expand);
        // Where something is selected at any level, each level has to say what it wants.
        $isSelective = array_filter($select, static fn (string $path): bool => ! str_ends_with($path, '*')) !== [];

        return ['$select' => $isSelective ? implode(',', $select) : '', '$expand' => implode(',', $expand)];
    }

    /**
     * @param  list<string>  $select
     * @param  list<string>  $expand
     */
    private function gather(SetChoice $choice, string $before, array &$select, array &$expand): void
    {
        // A path into a complex property cannot be selected, only the whole of it.
        $names = array_values(array_unique(array_map(static fn (string $path): string => explode('/', $path)[0], $choice->select)));
        foreach ($names === [] ? ['*'] : $names as $name) {
            $select[] = $before.$name;
        }
        foreach ($choice->expand as $name => $inner) {
            if ($inner->expand === []) {
                $expand[] = $before.$name;
            }
            $this->gather($inner, "$before$name/", $select, $expand);
        }
    }
}
