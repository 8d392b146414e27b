<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\KeepFailed;

/**
 * Rows in a form that LOAD DATA reads: values end with the unit separator, rows with the record separator
 * (ECMA-48 §8.3.34, IS1 and IS2), which texts hardly ever hold; backslash escapes, \N for null.
 */
final class RowFile
{
    /** Bytes after which a file is loaded, and what is being loaded is waited for. */
    public const FULL = 8 * 1024 * 1024;

    /** Bytes after which it is worth loading, where nothing has to be waited for. */
    public const WORTH = 2 * 1024 * 1024;

    private const NULL = '\\N';

    private const VALUE = "\x1F";

    private const ROW = "\x1E";

    /** How they are said in SQL. */
    public const FORM = "FIELDS TERMINATED BY x'1f' ESCAPED BY x'5c' LINES TERMINATED BY x'1e'";

    private const ESCAPES = ['\\' => '\\\\', self::VALUE => '\\'.self::VALUE, self::ROW => '\\'.self::ROW];

    /** @var resource|null */
    private $handle = null;

    public int $bytes = 0;

    public int $rows = 0;

    /** @var array<int, int> characters or digits of values that are longer than their column, or of all values while nothing is known of the columns, by place */
    public array $longest = [];

    /**
     * @param  list<int>  $texts  places of the columns that hold text or JSON
     * @param  array<int, GrowingColumn>  $growing  columns whose width follows what is seen, by place
     * @param  ColumnWidths|null  $widths  of those; null while nothing is known of them
     */
    public function __construct(public readonly string $path, private readonly array $texts, private readonly array $growing = [], private readonly ?ColumnWidths $widths = null)
    {
    }

    /**
     * @param  list<list<string|null>>  $rows
     */
    public function add(array $rows): void
    {
        $this->measure($rows);
        $lines = [];
        $nulls = 0;
        foreach ($rows as $row) {
            foreach (array_keys($row, null, true) as $place) {
                $row[$place] = self::NULL;
                $nulls++;
            }
            $lines[] = implode(self::VALUE, $row);
        }
        $out = implode(self::ROW, $lines).self::ROW;
        if (! self::isPlain($out, count($rows), count($rows[0] ?? []), $nulls)) {
            foreach ($lines as $number => $line) {
                if (strpbrk($line, '\\'.self::ROW) !== false || substr_count($line, self::VALUE) !== count($rows[$number]) - 1) {
                    $lines[$number] = $this->line($rows[$number]);
                }
            }
            $out = implode(self::ROW, $lines).self::ROW;
        }
        unset($lines);
        $this->rows += count($rows);
        $this->bytes += strlen($out);
        $this->handle ??= @fopen($this->path, 'wb') ?: null;
        if ($this->handle === null || @fwrite($this->handle, $out) !== strlen($out)) {
            throw KeepFailed::because('Rows cannot be written to the disk of this server: is it full?');
        }
    }

    /**
     * @param  list<list<string|null>>  $rows
     */
    private function measure(array $rows): void
    {
        // While nothing is known of the columns, the longest so far is the limit.
        $limits = $this->widths?->limits() ?? $this->longest + array_map(static fn (): int => 0, $this->growing);
        foreach ($rows as $row) {
            foreach ($limits as $place => $limit) {
                // More bytes than characters or digits that fit: only then they are counted.
                if (isset($row[$place][$limit])) {
                    $most = $this->growing[$place]->measure((string) $row[$place]);
                    if ($most > ($this->longest[$place] ?? 0)) {
                        $this->longest[$place] = $most;
                        $limits[$place] = $this->widths === null ? $most : $limit;
                    }
                }
            }
        }
    }

    /**
     * Whether nothing in the text of some rows needs an escape: it has no more of what has a meaning than the
     * rows alone give it.
     */
    private static function isPlain(string $text, int $rows, int $columns, int $nulls): bool
    {
        return substr_count($text, self::VALUE) === $rows * ($columns - 1) && substr_count($text, self::ROW) === $rows && substr_count($text, '\\') === $nulls;
    }

    /**
     * @param  list<string|null>  $row
     */
    private function line(array $row): string
    {
        foreach ($this->texts as $place) {
            if ($row[$place] !== null) {
                $row[$place] = strtr($row[$place], self::ESCAPES);
            }
        }

        return implode(self::VALUE, array_map(static fn (?string $value): string => $value ?? self::NULL, $row));
    }

    public function close(): void
    {
        if ($this->handle !== null) {
            fclose($this->handle);
            $this->handle = null;
        }
    }

    public function clear(): void
    {
        $this->close();
        @unlink($this->path);
        $this->bytes = 0;
        $this->rows = 0;
    }
}
