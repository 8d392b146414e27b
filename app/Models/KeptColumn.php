<?php

declare(strict_types=1);

namespace App\Models;

/**
 * A column as it stands in the database.
 */
final readonly class KeptColumn
{
    public function __construct(
        /** As the database knows it. */
        public string $name,
        /** As the source file says it. */
        public string $given,
        /** Of a source file: text, integer, … */
        public string $type,
        /** The type in words. */
        public string $label,
        public ?int $scale,
        /** Where it comes from, in words or as a JSONPath. */
        public string $from,
        public string $comment = '',
        /** none, hash, redact or encrypt */
        public string $mask = 'none',
        /** What people call it. */
        public string $title = '',
        public string $unit = '',
    ) {
    }

    /**
     * @param  array{name: string, given: string, type: string, label: string, scale: int|null, from: string, comment?: string, mask?: string, title?: string, unit?: string}  $column
     */
    public static function fromArray(array $column): self
    {
        return new self($column['name'], $column['given'], $column['type'], $column['label'], $column['scale'], $column['from'], $column['comment'] ?? '', $column['mask'] ?? 'none', $column['title'] ?? '', $column['unit'] ?? '');
    }

    /**
     * @return array{name: string, given: string, type: string, label: string, scale: int|null, from: string, comment: string, mask: string, title?: string, unit?: string}
     */
    public function toArray(): array
    {
        return ['name' => $this->name, 'given' => $this->given, 'type' => $this->type, 'label' => $this->label, 'scale' => $this->scale, 'from' => $this->from, 'comment' => $this->comment, 'mask' => $this->mask] + array_filter(['title' => $this->title, 'unit' => $this->unit], static fn (string $one): bool => $one !== '');
    }

    /**
     * Its title with its unit, or its name where it has none.
     */
    public function heading(): string
    {
        return ($this->title === '' ? $this->name : $this->title).($this->unit === '' ? '' : " ($this->unit)");
    }

    /**
     * What is known of it beside its name, in one line.
     */
    public function about(): string
    {
        $heading = $this->title === '' && $this->unit === '' ? '' : $this->heading();

        return implode(': ', array_filter([$heading, $this->comment], static fn (string $one): bool => $one !== ''));
    }

    public function isNumber(): bool
    {
        return in_array($this->type, ['integer', 'decimal', 'float'], true);
    }

    public function isText(): bool
    {
        return $this->type === 'text' || $this->type === 'json';
    }
}
