<?php

declare(strict_types=1);

namespace DeepSpring\OData;

use DeepSpring\OData\Model\KeyPart;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\StructuredType;

/**
 * What is chosen of an entity set, or of what navigation leads to.
 */
final readonly class SetChoice
{
    /**
     * @param  list<string>  $select  paths of properties; none for all
     * @param  array<string, self>  $expand  by navigation
     */
    public function __construct(
        public array $select = [],
        public string $filter = '',
        public string $order = '',
        public ?int $top = null,
        public array $expand = [],
        public string $search = '',
        public ?int $skip = null,
    ) {
    }

    /**
     * @param  array<string, mixed>  $choice  of a source file
     */
    public static function of(array $choice): self
    {
        return new self(
            array_values($choice['select'] ?? []),
            trim($choice['filter'] ?? ''),
            trim($choice['order'] ?? ''),
            $choice['top'] ?? null,
            array_map(static fn (?array $one): self => self::of($one ?? []), $choice['expand'] ?? []),
            trim($choice['search'] ?? ''),
            $choice['skip'] ?? null,
        );
    }

    /**
     * As a source file has it: nothing that is empty.
     *
     * @return array<string, mixed>
     */
    public function document(): array
    {
        return array_filter([
            'select' => $this->select,
            'filter' => $this->filter,
            'order' => $this->order,
            'top' => $this->top,
            'skip' => $this->skip,
            'search' => $this->search,
            'expand' => array_map(static fn (self $one): array => $one->document(), $this->expand),
        ], static fn (mixed $one): bool => $one !== '' && $one !== null && $one !== []);
    }

    /**
     * With the keys among what is selected: by them rows are told apart.
     */
    public function withKeys(Model $model, StructuredType $type): self
    {
        $select = $this->select;
        if ($select !== [] && ! in_array('*', $select, true)) {
            $key = array_map(static fn (KeyPart $part): string => $part->path, $type->key);
            $select = array_values(array_unique([...$key, ...$select]));
        }
        $expand = [];
        foreach ($this->expand as $name => $inner) {
            $target = $model->type($type->navigation((string) $name)->type ?? '');
            $expand[$name] = $target === null ? $inner : $inner->withKeys($model, $target);
        }

        return new self($select, $this->filter, $this->order, $this->top, $expand, $this->search, $this->skip);
    }

    public function isEmpty(): bool
    {
        return $this->document() === [];
    }

    /**
     * Names that an order begins with, without their direction.
     *
     * @return list<string>
     */
    public function orderedBy(): array
    {
        return $this->order === '' ? [] : array_map(static fn (string $one): string => (string) preg_replace('/\s+(?:asc|desc)$/i', '', trim($one)), explode(',', $this->order));
    }
}
