<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\KeepFailed;

/**
 * Rows in the form that LOAD DATA reads by default: tabs between, a line each, backslash escapes,
 * \N for null. Only columns that can hold such characters are looked at.
 */
final class RowFile
{
    /** Bytes after which a file is worth loading. */
    public const FULL = 8 * 1024 * 1024;

    private const ESCAPES = ['\\' => '\\\\', "\t" => '\\t', "\n" => '\\n', "\r" => '\\r', "\0" => '\\0'];

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
        $out = '';
        $tabs = count($rows[0] ?? []) - 1;
        foreach ($rows as $row) {
            // One look at the whole row; most need no escape.
            $line = implode("\t", $row);
            if (substr_count($line, "\t") !== $tabs || strpbrk($line, "\\\n\r\0") !== false) {
                $row = $this->escaped($row);
                $line = implode("\t", $row);
            }
            if (in_array(null, $row, true)) {
                foreach ($row as $place => $value) {
                    $row[$place] = $value ?? '\\N';
                }
                $line = implode("\t", $row);
            }
            $out .= $line."\n";
        }
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
     * @param  list<string|null>  $row
     * @return list<string|null>
     */
    private function escaped(array $row): array
    {
        foreach ($this->texts as $place) {
            $value = $row[$place];
            if ($value !== null && strpbrk($value, "\\\t\n\r\0") !== false) {
                $row[$place] = strtr($value, self::ESCAPES);
            }
        }

        return $row;
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
