<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * CSV (RFC 4180) and TSV (IANA text/tab-separated-values, which holds no tabs and line ends: they are written
 * as \t, \n and \r, and a backslash as \\).
 */
final class DelimitedWriter implements ExportWriter
{
    private const BUFFER = 65536;

    /** @var resource */
    private $file;

    private readonly CsvWriter $csv;

    private string $buffer = '';

    private int $rows = 0;

    /** @var list<ExportColumn> */
    private array $columns = [];

    /** @var list<bool> */
    private array $isText = [];

    private readonly CellPlaces $guarded;

    private readonly CellPlaces $unwritable;

    public function __construct(string $path, private readonly string $separator, private readonly bool $guard, private readonly string $encoding)
    {
        $this->file = fopen($path, 'wb') ?: throw CannotExport::because('The file cannot be written.');
        $this->csv = new CsvWriter($guard, $separator);
        [$this->guarded, $this->unwritable] = [new CellPlaces, new CellPlaces];
    }

    public function begin(array $columns): void
    {
        $this->columns = $columns;
        $this->isText = array_map(static fn (ExportColumn $column): bool => $column->type === ExportType::Text, $columns);
        fwrite($this->file, match ($this->encoding) {
            'utf-8-bom' => "\xEF\xBB\xBF", 'utf-16' => "\xFF\xFE", default => ''
        });
        $this->line(array_map(static fn (ExportColumn $column): string => $column->name, $columns), []);
    }

    public function row(array $values): void
    {
        $this->rows++;
        if ($this->guard || $this->encoding === 'latin1') {
            $this->look($values);
        }
        $this->line($values, $this->isText);
    }

    public function end(): void
    {
        $this->flush();
        fclose($this->file);
    }

    public function said(): array
    {
        return [
            ...$this->guarded->said('text got an apostrophe in front, since a spreadsheet would run it', 'texts got an apostrophe in front, since a spreadsheet would run them'),
            ...$this->unwritable->said('text has characters that Windows-1252 lacks, written as "?"', 'texts have characters that Windows-1252 lacks, written as "?"'),
        ];
    }

    /**
     * @param  list<string|null>  $values
     */
    private function look(array $values): void
    {
        foreach ($values as $place => $value) {
            if ($value === null || $value === '' || ! $this->isText[$place]) {
                continue;
            }
            if ($this->guard && CsvWriter::wouldRun($value)) {
                $this->guarded->note($this->columns[$place]->name, $this->rows);
            }
            if ($this->encoding === 'latin1' && preg_match('/[^\x00-\x7f]/', $value) === 1 && mb_convert_encoding(mb_convert_encoding($value, 'Windows-1252', 'UTF-8'), 'UTF-8', 'Windows-1252') !== $value) {
                $this->unwritable->note($this->columns[$place]->name, $this->rows);
            }
        }
    }

    /**
     * @param  list<string|null>  $values
     * @param  list<bool>  $isText
     */
    private function line(array $values, array $isText): void
    {
        $this->buffer .= $this->separator === "\t" && ! $this->guard
            ? implode("\t", array_map(static fn (?string $value): string => $value === null ? '' : (strpbrk($value, "\\\t\r\n") === false ? $value : strtr($value, ['\\' => '\\\\', "\t" => '\\t', "\n" => '\\n', "\r" => '\\r'])), $values))."\n"
            : $this->csv->line($values, $isText);
        if (strlen($this->buffer) > self::BUFFER) {
            $this->flush();
        }
    }

    private function flush(): void
    {
        fwrite($this->file, match ($this->encoding) {
            'utf-16' => mb_convert_encoding($this->buffer, 'UTF-16LE', 'UTF-8'), 'latin1' => mb_convert_encoding($this->buffer, 'Windows-1252', 'UTF-8'), default => $this->buffer
        });
        $this->buffer = '';
    }
}
