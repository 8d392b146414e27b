<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * A column by which rows are sorted. Rows in which it is empty come before all others, or after them where it
 * runs from the end (OData 4.01 protocol §11.2.6.2), as the database does it too.
 */
final readonly class OrderPart
{
    public function __construct(public FeedColumn $column, public bool $fromTheEnd = false)
    {
    }

    public function sql(): string
    {
        return $this->column->sql().($this->fromTheEnd ? ' DESC' : '');
    }

    /**
     * A value of the column as the database gave it, to be compared with the column.
     */
    public function term(string $value): Term
    {
        [$sql, $kind] = match ($this->column->type) {
            'integer', 'boolean' => ['CAST(? AS SIGNED)', TermKind::Number],
            'decimal' => ['CAST(? AS DECIMAL(65,'.($this->column->scale ?? 30).'))', TermKind::Number],
            'float' => ['CAST(? AS DOUBLE)', TermKind::Float],
            'date' => ['CAST(? AS DATE)', TermKind::Date],
            'datetime' => ['CAST(? AS DATETIME(6))', TermKind::Moment],
            'time' => ['CAST(? AS TIME(6))', TermKind::Time],
            default => ['? COLLATE '.LiteralTerm::COLLATION, TermKind::Text],
        };

        return new Term($sql, [$value], $kind, false);
    }
}
