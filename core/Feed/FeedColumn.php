<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * A column as readers of a feed see it.
 */
final readonly class FeedColumn
{
    /**
     * @param  string  $name  in answers, filters and addresses
     * @param  string  $type  text, integer, decimal, float, boolean, date, datetime, time, uuid or json
     * @param  int|null  $scale  digits behind the point, of a decimal
     * @param  bool  $isKey  whether it is part of what tells rows apart, and so is never empty
     */
    public function __construct(
        public string $name,
        public string $type,
        public ?int $scale = null,
        public bool $isKey = false,
        public string $title = '',
        public string $unit = '',
        public string $about = '',
    ) {
    }

    public function kind(): TermKind
    {
        return match ($this->type) {
            'integer', 'decimal' => TermKind::Number,
            'float' => TermKind::Float,
            'boolean' => TermKind::Boolean,
            'date' => TermKind::Date,
            'datetime' => TermKind::Moment,
            'time' => TermKind::Time,
            'uuid' => TermKind::Guid,
            'json' => TermKind::Json,
            default => TermKind::Text,
        };
    }

    /**
     * Its type in the entity data model (OData CSDL 4.01 §3.3).
     */
    public function edm(): string
    {
        return match ($this->type) {
            'integer' => 'Edm.Int64',
            'decimal' => 'Edm.Decimal',
            'float' => 'Edm.Double',
            'boolean' => 'Edm.Boolean',
            'date' => 'Edm.Date',
            'datetime' => 'Edm.DateTimeOffset',
            'time' => 'Edm.TimeOfDay',
            'uuid' => 'Edm.Guid',
            default => 'Edm.String',
        };
    }

    /**
     * Quoted for a statement.
     */
    public function sql(): string
    {
        return '`'.str_replace('`', '``', $this->name).'`';
    }
}
