<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * One worksheet on the disk. The widths of its columns stand before its rows, so the first rows are held
 * back until enough of them are there to say.
 */
final class XlsxSheetFile
{
    /** Rows that say how wide columns are. */
    private const LOOKED_AT = 100;

    private const BUFFER = 262_144;

    private const NARROWEST = 6;

    private const WIDEST = 60;

    /** @var resource */
    private $file;

    private string $buffer = '';

    /** @var array<int, int> characters */
    private array $widths = [];

    private bool $isBegun = false;

    private int $rows = 1;

    /**
     * @param  list<ExportColumn>  $columns
     */
    public function __construct(string $path, private readonly array $columns)
    {
        $this->file = fopen($path, 'wb') ?: throw CannotExport::because('The file cannot be written.');
        $this->widths = array_map(static fn (ExportColumn $column): int => mb_strwidth($column->name) + 2, $columns);
        $cells = '';
        foreach ($columns as $place => $column) {
            $cells .= '<c r="'.XlsxParts::letters($place).'1" s="'.XlsxParts::HEAD.'" t="inlineStr"><is><t xml:space="preserve">'.htmlspecialchars((string) preg_replace('/[\x00-\x1f]/', ' ', $column->name), ENT_NOQUOTES | ENT_XML1 | ENT_SUBSTITUTE, 'UTF-8').'</t></is></c>';
        }
        $this->buffer = "<row r=\"1\">$cells</row>";
    }

    /**
     * @param  string  $cells  as XML
     * @param  list<string|null>  $values
     */
    public function row(int $number, string $cells, array $values): void
    {
        $this->buffer .= "<row r=\"$number\">$cells</row>";
        $this->rows = $number;
        if (! $this->isBegun) {
            foreach ($values as $place => $value) {
                $this->widths[$place] = max($this->widths[$place], mb_strwidth(strtok((string) $value, "\n") ?: '') + 1);
            }
            if ($number > self::LOOKED_AT) {
                $this->begin();
            }
        }
        if (strlen($this->buffer) > self::BUFFER && $this->isBegun) {
            fwrite($this->file, $this->buffer);
            $this->buffer = '';
        }
    }

    public function close(): void
    {
        $this->isBegun || $this->begin();
        $last = XlsxParts::letters(max(0, count($this->columns) - 1)).$this->rows;
        fwrite($this->file, "$this->buffer</sheetData><autoFilter ref=\"A1:$last\"/></worksheet>");
        fclose($this->file);
    }

    private function begin(): void
    {
        $this->isBegun = true;
        $columns = '';
        foreach ($this->widths as $place => $width) {
            $columns .= '<col min="'.($place + 1).'" max="'.($place + 1).'" width="'.max(self::NARROWEST, min(self::WIDEST, $width)).'" customWidth="1"/>';
        }
        fwrite($this->file, XlsxParts::XML.'<worksheet xmlns="'.XlsxParts::MAIN.'"><sheetViews><sheetView workbookViewId="0"><pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews>'
            .($columns === '' ? '' : "<cols>$columns</cols>").'<sheetData>');
    }
}
