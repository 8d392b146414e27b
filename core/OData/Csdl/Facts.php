<?php

declare(strict_types=1);

namespace DeepSpring\OData\Csdl;

/**
 * Annotations of one target → the few facts that matter here. Terms are known by their local names
 * (Core, Capabilities, Measures and Common vocabularies), and so are the attributes that documents of
 * versions 2 and 3 carry in other namespaces.
 *
 * @phpstan-import-type Annotation from Collected
 */
final class Facts
{
    private const ATTRIBUTE_CAN = ['filterable' => 'filter', 'sortable' => 'sort', 'creatable' => 'insert', 'updatable' => 'update', 'deletable' => 'delete', 'searchable' => 'search', 'countable' => 'count', 'topable' => 'top', 'pageable' => 'page'];

    /** @var array<string, string|list<string>|bool|int> */
    private array $facts = [];

    /**
     * @param  list<Annotation>  $annotations
     * @return array<string, string|list<string>|bool|int> label, about, unit; can_… and no_… (lists of paths) as far as something is said
     */
    public static function of(array $annotations): array
    {
        $self = new self;
        foreach ($annotations as $annotation) {
            $self->take($annotation['term'], $annotation['value']);
        }

        return $self->facts;
    }

    private function take(string $term, mixed $value): void
    {
        if (str_starts_with($term, 'attribute:')) {
            $this->attribute(substr($term, 10), is_string($value) ? $value : '');

            return;
        }
        $record = is_array($value) ? $value : [];
        match (substr($term, (int) strrpos(".$term", '.'))) {
            'Label' => $this->text('label', $value),
            'Heading' => $this->text('label', $value, false),
            'Description' => $this->text('about', $value),
            'LongDescription', 'QuickInfo' => $this->text('about', $value, false),
            'Unit', 'ISOCurrency' => $this->text('unit', $value),
            'Computed', 'ComputedDefaultValue' => $this->facts['computed'] = $value !== false,
            'Immutable' => $this->facts['immutable'] = $value !== false,
            'OptimisticConcurrency' => $this->facts['etag'] = true,
            'FilterRestrictions' => $this->restrictions('filter', $record, 'Filterable', 'NonFilterableProperties', 'RequiredProperties', 'RequiresFilter'),
            'SortRestrictions' => $this->restrictions('sort', $record, 'Sortable', 'NonSortableProperties'),
            'CountRestrictions' => $this->restrictions('count', $record, 'Countable', 'NonCountableProperties'),
            'ExpandRestrictions' => $this->restrictions('expand', $record, 'Expandable', 'NonExpandableProperties'),
            'SearchRestrictions' => $this->restrictions('search', $record, 'Searchable'),
            'InsertRestrictions' => $this->restrictions('insert', $record, 'Insertable', 'NonInsertableProperties'),
            'UpdateRestrictions' => $this->update($record),
            'DeleteRestrictions' => $this->restrictions('delete', $record, 'Deletable'),
            'ReadRestrictions' => $this->restrictions('read', $record, 'Readable'),
            'ChangeTracking' => $this->restrictions('track', $record + ['Supported' => true], 'Supported'),
            'SelectSupport' => $this->restrictions('select', $record, 'Supported'),
            'TopSupported' => $this->facts['can_top'] = $value !== false,
            'SkipSupported' => $this->facts['can_skip'] = $value !== false,
            'BatchSupported' => $this->facts['can_batch'] = $value !== false,
            'BatchSupport' => $this->restrictions('batch', $record + ['Supported' => true], 'Supported'),
            'FilterFunctions' => $this->facts['functions'] = $this->names($value),
            'MaxPageSize', 'MaxTop' => is_numeric($value) ? $this->facts['max_page'] = (int) $value : null,
            default => null,
        };
    }

    private function attribute(string $name, string $value): void
    {
        if (isset(self::ATTRIBUTE_CAN[$name])) {
            $this->facts['can_'.self::ATTRIBUTE_CAN[$name]] = $value !== 'false';

            return;
        }
        match ($name) {
            'label' => $this->text('label', $value),
            'heading' => $this->text('label', $value, false),
            'quickinfo' => $this->text('about', $value),
            'unit' => $this->text('unit', $value),
            'requires-filter', 'required-in-filter' => $this->facts['needs_filter'] = $value === 'true',
            'addressable' => $this->facts['can_read'] = $value !== 'false',
            default => null,
        };
    }

    private function text(string $fact, mixed $value, bool $wins = true): void
    {
        if (is_string($value) && trim($value) !== '' && ($wins || ! isset($this->facts[$fact]))) {
            $this->facts[$fact] = trim($value);
        }
    }

    /**
     * @param  array<array-key, mixed>  $record
     */
    private function restrictions(string $what, array $record, string $can, string $not = '', string $required = '', string $requires = ''): void
    {
        if (is_bool($record[$can] ?? null)) {
            $this->facts["can_$what"] = $record[$can];
        }
        if ($not !== '' && isset($record[$not])) {
            $this->facts["no_$what"] = $this->names($record[$not]);
        }
        if ($required !== '' && isset($record[$required])) {
            $this->facts["required_$what"] = $this->names($record[$required]);
        }
        if ($requires !== '' && ($record[$requires] ?? false) === true) {
            $this->facts['needs_filter'] = true;
        }
    }

    /**
     * @param  array<array-key, mixed>  $record
     */
    private function update(array $record): void
    {
        $this->restrictions('update', $record, 'Updatable', 'NonUpdatableProperties');
        $method = is_string($record['UpdateMethod'] ?? null) ? $record['UpdateMethod'] : '';
        if (str_ends_with($method, '/PUT') || $method === 'PUT') {
            $this->facts['update_method'] = 'PUT';
        }
    }

    /**
     * @return list<string>
     */
    private function names(mixed $value): array
    {
        return array_values(array_filter(is_array($value) ? $value : [], is_string(...)));
    }
}
