<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * A table of GitHub Flavored Markdown ("Tables (extension)"): numbers at the right, a bar in a text
 * escaped, a line end as <br>.
 */
final class MarkdownWriter implements ExportWriter
{
    /** @var resource */
    private $file;

    public function __construct(string $path)
    {
        $this->file = fopen($path, 'wb') ?: throw CannotExport::because('The file cannot be written.');
    }

    public function begin(array $columns): void
    {
        $this->row(array_map(static fn (ExportColumn $column): string => $column->name, $columns));
        fwrite($this->file, '|'.implode('|', array_map(static fn (ExportColumn $column): string => $column->type->isNumber() ? '---:' : '---', $columns))."|\n");
    }

    public function row(array $values): void
    {
        $cells = array_map(static fn (?string $value): string => $value === null ? '' : strtr($value, ['\\' => '\\\\', '|' => '\\|', '<' => '&lt;', '&' => '&amp;', '*' => '\\*', '_' => '\\_', '`' => '\\`', '[' => '\\[', "\r\n" => '<br>', "\n" => '<br>', "\r" => '<br>']), $values);
        fwrite($this->file, '| '.implode(' | ', $cells)." |\n");
    }

    public function end(): void
    {
        fclose($this->file);
    }

    public function said(): array
    {
        return [];
    }
}
