<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * Office Open XML Spreadsheet (ECMA-376): real numbers and dates, a frozen head, widths by the first rows, a
 * sheet for each result, and another sheet where one is full. Sheets are written to files as rows come, and
 * zipped at the end. What a cell would not keep exactly is written as text: more than 15 digits, days before
 * March 1900, moments finer than a millisecond.
 */
final class XlsxWriter implements ExportWriter
{
    /** Of a sheet, with its head. */
    public const MOST_ROWS = 1_048_576;

    public const MOST_COLUMNS = 16_384;

    /** Characters of a cell, in units of UTF-16. */
    public const LONGEST = 32_767;

    private readonly string $folder;

    private ?XlsxSheetFile $sheet = null;

    /** @var list<string> names of sheets */
    private array $names = [];

    /** @var list<ExportColumn> */
    private array $columns = [];

    private int $row = 0;

    private int $rows = 0;

    private string $name = 'Rows';

    private readonly CellPlaces $cut;

    private readonly CellPlaces $asText;

    /**
     * @param  int  $most  rows of a sheet
     */
    public function __construct(private readonly string $path, private readonly int $most = self::MOST_ROWS)
    {
        if (str_starts_with($path, 'php:')) {
            throw CannotExport::because('XLSX has to go into a file.');
        }
        $this->folder = "$path.parts";
        @mkdir($this->folder, 0700);
        is_dir($this->folder) || throw CannotExport::because('The file cannot be written.');
        [$this->cut, $this->asText] = [new CellPlaces, new CellPlaces];
    }

    /**
     * How the next result is called.
     */
    public function named(string $name): void
    {
        $this->name = $name;
    }

    public function begin(array $columns): void
    {
        if (count($columns) > self::MOST_COLUMNS) {
            throw CannotExport::because('A sheet of XLSX has '.self::MOST_COLUMNS.' columns at most.');
        }
        $this->columns = $columns;
        $this->rows = 0;
        $this->open();
    }

    public function row(array $values): void
    {
        if ($this->row === $this->most) {
            $this->open();
        }
        $this->rows++;
        $this->row++;
        $cells = '';
        foreach ($values as $place => $value) {
            if ($value !== null) {
                $cells .= $this->cell($place, $value);
            }
        }
        $this->sheet?->row($this->row, $cells, $values);
    }

    public function end(): void
    {
        $this->sheet?->close();
        $zip = new \ZipArchive;
        if ($this->names === [] || $zip->open($this->path, \ZipArchive::CREATE | \ZipArchive::OVERWRITE) !== true) {
            throw CannotExport::because('The file cannot be written.');
        }
        foreach (XlsxParts::around($this->names) as $name => $text) {
            $zip->addFromString($name, $text);
        }
        foreach (array_keys($this->names) as $number) {
            $zip->addFile("$this->folder/$number.xml", 'xl/worksheets/sheet'.($number + 1).'.xml');
            $zip->setCompressionName('xl/worksheets/sheet'.($number + 1).'.xml', \ZipArchive::CM_DEFLATE, 3);
        }
        $isDone = $zip->close();
        $this->tidy();
        $isDone || throw CannotExport::because('The file cannot be written: is the disk full?');
    }

    /**
     * Gives up what was written so far.
     */
    public function tidy(): void
    {
        array_map(unlink(...), glob("$this->folder/*") ?: []);
        @rmdir($this->folder);
    }

    public function said(): array
    {
        return [
            ...$this->cut->said('text is longer than the 32,767 characters of a cell and was cut', 'texts are longer than the 32,767 characters of a cell and were cut'),
            ...$this->asText->said('value is written as text, since a cell would not keep it exactly', 'values are written as text, since a cell would not keep them exactly'),
        ];
    }

    private function open(): void
    {
        $this->sheet?->close();
        $this->names[] = XlsxParts::sheetName($this->name, $this->names);
        $this->sheet = new XlsxSheetFile($this->folder.'/'.(count($this->names) - 1).'.xml', $this->columns);
        $this->row = 1;
    }

    private function cell(int $place, string $value): string
    {
        $type = $this->columns[$place]->type;
        $at = XlsxParts::letters($place).$this->row;
        $number = match ($type) {
            ExportType::Text => null,
            ExportType::Integer, ExportType::Decimal => self::isExact($value) ? $value : null,
            ExportType::Float => is_numeric($value) ? $value : null,
            default => SerialDate::of($value, $type),
        };
        if ($number !== null) {
            return "<c r=\"$at\" s=\"".XlsxParts::style($this->columns[$place], $value)."\"><v>$number</v></c>";
        }
        if ($type !== ExportType::Text) {
            $this->asText->note($this->columns[$place]->name, $this->rows);
        }

        return "<c r=\"$at\" t=\"inlineStr\"><is><t xml:space=\"preserve\">".$this->text($place, $value).'</t></is></c>';
    }

    private static function isExact(string $value): bool
    {
        return strlen(ltrim(str_replace(['-', '.'], '', $value), '0')) <= 15 && preg_match('/^-?\d+(?:\.\d+)?$/D', $value) === 1;
    }

    /**
     * Characters that XML cannot hold are written as _x0001_ (ECMA-376 part 1, 22.9.2.19), and what would be
     * read as one of these with its first sign written so.
     */
    private function text(int $place, string $value): string
    {
        if (strlen($value) > self::LONGEST) {
            $units = mb_convert_encoding($value, 'UTF-16LE', 'UTF-8');
            if (strlen($units) > 2 * self::LONGEST) {
                $this->cut->note($this->columns[$place]->name, $this->rows);
                // Not in the middle of a character that takes two units.
                $isHalf = (ord($units[2 * self::LONGEST - 1]) & 0xFC) === 0xD8;
                $value = mb_convert_encoding(substr($units, 0, 2 * (self::LONGEST - ($isHalf ? 1 : 0))), 'UTF-8', 'UTF-16LE');
            }
        }
        if (preg_match('/[\x00-\x08\x0b-\x1f]|_x[0-9A-Fa-f]{4}_|\xEF\xBF[\xBE\xBF]/', $value) === 1) {
            $value = (string) preg_replace('/_(?=x[0-9A-Fa-f]{4}_)/', '_x005F_', $value);
            $value = (string) preg_replace_callback('/[\x00-\x08\x0b-\x1f]/', static fn (array $found): string => sprintf('_x%04X_', ord($found[0])), $value);
            $value = strtr($value, ["\u{FFFE}" => '_xFFFE_', "\u{FFFF}" => '_xFFFF_']);
        }

        return htmlspecialchars($value, ENT_NOQUOTES | ENT_XML1 | ENT_SUBSTITUTE, 'UTF-8');
    }
}
