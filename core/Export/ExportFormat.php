<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * In which form rows are handed out.
 */
enum ExportFormat: string
{
    case Csv = 'csv';
    case Tsv = 'tsv';
    case Json = 'json';
    case Ndjson = 'ndjson';
    case Markdown = 'md';
    case Xlsx = 'xlsx';

    public function label(): string
    {
        return match ($this) {
            self::Csv => 'CSV', self::Tsv => 'TSV', self::Json => 'JSON', self::Ndjson => 'NDJSON', self::Markdown => 'Markdown', self::Xlsx => 'XLSX, for spreadsheets',
        };
    }

    /**
     * IANA media types; for NDJSON, which has none, what is in use.
     */
    public function mediaType(): string
    {
        return match ($this) {
            self::Csv => 'text/csv; charset=utf-8', self::Tsv => 'text/tab-separated-values; charset=utf-8', self::Json => 'application/json',
            self::Ndjson => 'application/x-ndjson', self::Markdown => 'text/markdown; charset=utf-8', self::Xlsx => 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        };
    }

    /**
     * @param  string  $path  of a file, or php://stdout, which XLSX cannot be written to
     */
    public function writer(string $path, ExportChoice $choice): ExportWriter
    {
        return match ($this) {
            self::Csv, self::Tsv => new DelimitedWriter($path, $this === self::Tsv ? "\t" : $choice->separator, $this === self::Csv && $choice->guard, $choice->encoding),
            self::Json, self::Ndjson => new JsonWriter($path, $this === self::Ndjson),
            self::Markdown => new MarkdownWriter($path),
            self::Xlsx => new XlsxWriter($path),
        };
    }
}
