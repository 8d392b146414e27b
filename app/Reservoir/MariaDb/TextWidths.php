<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

/**
 * How many characters text columns of a table hold: by what was seen, with room to grow. A text without
 * bounds is kept beside its row and compared more slowly, so short ones are VARCHAR.
 */
final class TextWidths
{
    /**
     * Characters. All of them have a length of two bytes, so that making one wider leaves the rows as they
     * are (MariaDB, Instant ADD COLUMN and changes of VARCHAR).
     */
    private const CLASSES = [64, 255, 1000, 4000];

    /** Bytes that the columns of a row may have together, of the 65,535 that the database allows. */
    private const ROW = 48_000;

    private const BYTES = 4;

    /**
     * @param  array<int, int|null>  $widths  by the place of the column; null for one without bounds
     */
    private function __construct(public readonly array $widths)
    {
    }

    /**
     * @param  array<int, int>  $longest  characters, or bytes, of the longest text seen, by the place of the column
     */
    public static function seen(array $longest): self
    {
        return self::bounded(array_map(self::withRoom(...), $longest));
    }

    /**
     * @param  array<int, int|null>  $widths  as the database has them
     */
    public static function there(array $widths): self
    {
        return new self($widths);
    }

    /**
     * With room for longer texts, too.
     *
     * @param  array<int, int>  $longer  characters by the place of the column
     */
    public function widened(array $longer): self
    {
        $widths = $this->widths;
        foreach ($longer as $place => $characters) {
            $widths[$place] = $widths[$place] === null || $characters <= $widths[$place] ? $widths[$place] : self::withRoom($characters);
        }

        return self::bounded($widths);
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

        return self::bounded($widths);
    }

    private static function withRoom(int $longest): ?int
    {
        foreach (self::CLASSES as $class) {
            if (2 * $longest <= $class) {
                return $class;
            }
        }

        return null;
    }

    /**
     * Where all together are too much for one row, the widest lose their bounds.
     *
     * @param  array<int, int|null>  $widths
     */
    private static function bounded(array $widths): self
    {
        asort($widths);
        $bytes = 0;
        foreach ($widths as $place => $width) {
            $bytes += $width === null ? 0 : self::BYTES * $width + 2;
            $widths[$place] = $bytes > self::ROW ? null : $width;
        }
        ksort($widths);

        return new self($widths);
    }
}
