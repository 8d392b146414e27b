<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

/**
 * How wide the columns of a table are: by what was seen, with room to grow. A text without bounds is kept
 * beside its row and compared more slowly, so short ones are VARCHAR; short numbers make rows short.
 */
final class ColumnWidths
{
    /** Bytes that the texts of a row may have together, of the 65,535 that the database allows. */
    private const ROW = 48_000;

    private const BYTES = 4;

    /**
     * @param  array<int, GrowingColumn>  $columns  by their place
     * @param  array<int, int|null>  $widths  by the place of the column; null for one that holds all that its type can
     */
    private function __construct(private readonly array $columns, public readonly array $widths)
    {
    }

    /**
     * @param  array<int, GrowingColumn>  $columns
     */
    public static function unbounded(array $columns): self
    {
        return new self($columns, array_map(static fn (): ?int => null, $columns));
    }

    /**
     * @param  array<int, GrowingColumn>  $columns
     * @param  array<int, int>  $most  characters or digits of the longest value seen, by the place of the column
     */
    public static function seen(array $columns, array $most): self
    {
        return self::bounded($columns, array_map(static fn (GrowingColumn $column, int $place): ?int => $column->room($most[$place] ?? 0), $columns, array_keys($columns)));
    }

    /**
     * @param  array<int, GrowingColumn>  $columns
     * @param  array<int, int|null>  $widths  as the database has them
     */
    public static function there(array $columns, array $widths): self
    {
        return new self($columns, $widths);
    }

    /**
     * With room for longer values, too.
     *
     * @param  array<int, int>  $longer  characters or digits by the place of the column
     */
    public function widened(array $longer): self
    {
        $widths = $this->widths;
        foreach ($longer as $place => $most) {
            $widths[$place] = $widths[$place] === null || $most <= $widths[$place] ? $widths[$place] : $this->columns[$place]->room($most);
        }

        return self::bounded($this->columns, $widths);
    }

    /**
     * At least as wide as others.
     */
    public function atLeast(self $other): self
    {
        $widths = $this->widths;
        foreach ($other->widths as $place => $width) {
            $widths[$place] = ! array_key_exists($place, $widths) || $widths[$place] === null || $width === null ? null : max($widths[$place], $width);
        }

        return self::bounded($this->columns, $widths);
    }

    /**
     * The type of each column that is wider here than there.
     *
     * @return array<int, string> by its place
     */
    public function changesOf(self $other): array
    {
        $types = [];
        foreach ($this->widths as $place => $width) {
            if ($other->widths[$place] !== $width) {
                $types[$place] = $this->columns[$place]->sql($width);
            }
        }

        return $types;
    }

    /**
     * Bytes above which a value is looked at, by the place of the column.
     *
     * @return array<int, int>
     */
    public function limits(): array
    {
        return array_filter($this->widths, static fn (?int $width): bool => $width !== null);
    }

    /**
     * Where all texts together are too much for one row, the widest lose their bounds.
     *
     * @param  array<int, GrowingColumn>  $columns
     * @param  array<int, int|null>  $widths
     */
    private static function bounded(array $columns, array $widths): self
    {
        $widths = array_combine(array_keys($columns), $widths);
        asort($widths);
        $bytes = 0;
        foreach ($widths as $place => $width) {
            if ($width !== null && $columns[$place]->isText()) {
                $bytes += self::BYTES * $width + 2;
                $widths[$place] = $bytes > self::ROW ? null : $width;
            }
        }
        ksort($widths);

        return new self($columns, $widths);
    }
}
