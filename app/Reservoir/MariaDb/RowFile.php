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

    /** @var array<int, int> characters of texts that are longer than their column, or bytes of all texts while nothing is known of the columns, by place */
    public array $longest = [];

    /**
     * @param  list<int>  $texts  places of the columns that hold text or JSON
     * @param  list<int>  $bounded  places of the columns whose width follows what is seen
     * @param  TextWidths|null  $widths  of those; null while nothing is known of them
     */
    public function __construct(public readonly string $path, private readonly array $texts, private readonly array $bounded = [], private readonly ?TextWidths $widths = null)
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
        if ($this->widths === null) {
            $longest = $this->longest + array_fill_keys($this->bounded, 0);
            foreach ($rows as $row) {
                foreach ($longest as $place => $most) {
                    if (isset($row[$place][$most])) {
                        $longest[$place] = strlen((string) $row[$place]);
                    }
                }
            }
            $this->longest = $longest;

            return;
        }
        $limits = array_filter($this->widths->widths, static fn (?int $width): bool => $width !== null);
        foreach ($rows as $row) {
            foreach ($limits as $place => $limit) {
                // More bytes than characters that fit: only then they are counted.
                if (isset($row[$place][$limit])) {
                    $this->longest[$place] = max($this->longest[$place] ?? 0, mb_strlen((string) $row[$place], 'UTF-8'));
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
