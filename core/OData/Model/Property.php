<?php

declare(strict_types=1);

namespace DeepSpring\OData\Model;

final readonly class Property
{
    public function __construct(
        public string $name,
        /** Qualified, like Edm.String. */
        public string $type,
        public bool $many,
        public bool $nullable,
        public ?int $length,
        public ?int $precision,
        /** Decimals; null when nothing is said, or when it is variable. */
        public ?int $scale,
        /** Whether the number of decimals is said to vary. */
        public bool $scaleVaries,
        public string $label,
        public string $about,
        public string $unit,
        /** False where the service says so. */
        public bool $filterable,
        public bool $sortable,
        public bool $creatable,
        public bool $updatable,
        /** The service fills it. */
        public bool $computed,
        public bool $needsFilter,
        public ?string $default,
        /** It is the ETag, or part of it (versions 2 and 3). */
        public bool $isETag,
    ) {
    }

    /**
     * @param  array<string, mixed>  $facts
     */
    public static function of(string $name, array $facts): self
    {
        $number = static fn (mixed $value): ?int => is_scalar($value) && ctype_digit((string) $value) ? (int) $value : null;

        return new self(
            $name,
            $facts['type'],
            $facts['many'] ?? false,
            $facts['nullable'] ?? true,
            $number($facts['length'] ?? null),
            $number($facts['precision'] ?? null),
            $number($facts['scale'] ?? null),
            in_array(strtolower($facts['scale'] ?? ''), ['variable', 'floating'], true),
            $facts['label'] ?? '',
            $facts['about'] ?? '',
            $facts['unit'] ?? '',
            $facts['can_filter'] ?? true,
            $facts['can_sort'] ?? true,
            $facts['can_insert'] ?? true,
            ($facts['can_update'] ?? true) && ! ($facts['immutable'] ?? false),
            $facts['computed'] ?? false,
            $facts['needs_filter'] ?? false,
            $facts['default'] ?? null,
            ($facts['concurrency'] ?? '') === 'Fixed',
        );
    }

    /**
     * Type and facets, as a person writes them.
     */
    public function typed(): string
    {
        $type = str_starts_with($this->type, 'Edm.') ? substr($this->type, 4) : substr($this->type, (int) strrpos(".$this->type", '.'));
        $facets = $this->length !== null ? "($this->length)" : ($this->precision !== null && $this->scale !== null ? "($this->precision, $this->scale)" : ($this->precision !== null && $this->precision > 0 ? "($this->precision)" : ''));

        return $this->many ? "list of $type$facets" : $type.$facets;
    }
}
