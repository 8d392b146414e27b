<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Spreadsheet;

use DeepSpring\Describe\CannotDescribe;

/**
 * The cells of one sheet of an XLSX file (ECMA-376 Part 1, SpreadsheetML), a row at a time, as texts: numbers with
 * the fifteen digits that a sheet holds, days and times as ISO 8601 writes them, results in place of formulas. Only
 * the texts that cells share are held in memory.
 */
final class XlsxSheet
{
    /** Bytes of a part of the file after decompression. */
    private const LARGEST = 512 * 1024 * 1024;

    /** Characters of all texts that cells share. */
    private const SHARED = 100 * 1024 * 1024;

    /** Columns of a sheet (§18.3.1.13). */
    private const COLUMNS = 16_384;

    /** @var list<string> */
    private array $shared = [];

    /** @var list<CellForm> by the number of the style */
    private array $forms = [];

    private bool $counts1904 = false;

    /** @var list<string> names of all sheets, in their order */
    public array $sheets = [];

    /** Name of the sheet that is read. */
    public string $read = '';

    /** Cells that hold an error, #N/A for one, and count as empty. */
    public int $errors = 0;

    private readonly PackedXml $parts;

    private string $part = '';

    /**
     * @param  string  $file  path
     * @param  string|null  $sheet  its name; the first that is not hidden, when null
     *
     * @throws CannotDescribe with a sentence
     */
    public function __construct(string $file, ?string $sheet = null)
    {
        $zip = new \ZipArchive;
        if ($zip->open($file, \ZipArchive::RDONLY) !== true) {
            throw CannotDescribe::because('This is no XLSX file: it cannot be opened.');
        }
        for ($number = 0; $number < $zip->numFiles; $number++) {
            $stat = $zip->statIndex($number);
            if (is_array($stat) && $stat['size'] > self::LARGEST) {
                throw CannotDescribe::because('A part of the file is larger than 512 MB once it is unpacked. Save the sheet as CSV.');
            }
        }
        $zip->close();
        $this->parts = new PackedXml($file);
        $targets = $this->targets('xl/_rels/workbook.xml.rels');
        $this->workbook($targets, $sheet);
        $this->styles();
        $this->sharedTexts();
    }

    /**
     * @return \Generator<int, list<string|null>> by the number of the row, from 1; rows and cells that are empty at the end are left out
     *
     * @throws CannotDescribe
     */
    public function rows(): \Generator
    {
        $reader = $this->parts->open($this->part) ?? throw CannotDescribe::because('The sheet is missing in the file.');
        $number = $next = 0;
        $row = [];
        while (PackedXml::advance($reader)) {
            if ($reader->nodeType === \XMLReader::ELEMENT && $reader->localName === 'row') {
                $number = (int) ($reader->getAttribute('r') ?? $number + 1);
                $row = [];
                $next = 0;
            }
            if ($reader->nodeType === \XMLReader::ELEMENT && $reader->localName === 'c') {
                $at = self::column((string) $reader->getAttribute('r')) ?? $next;
                $next = $at + 1;
                $value = $this->cell($reader);
                if ($value !== null) {
                    $row = $row + array_fill(0, $at, null);
                    ksort($row);
                    $row[$at] = $value;
                }
            }
            if ($reader->nodeType === \XMLReader::END_ELEMENT && $reader->localName === 'row' && $row !== []) {
                yield $number => array_values($row);
            }
        }
        $reader->close();
    }

    private function cell(\XMLReader $reader): ?string
    {
        $type = $reader->getAttribute('t') ?? 'n';
        $form = $this->forms[(int) ($reader->getAttribute('s') ?? 0)] ?? CellForm::plain();
        $value = null;
        $text = '';
        if (! $reader->isEmptyElement) {
            for ($depth = $reader->depth; PackedXml::advance($reader) && $reader->depth > $depth;) {
                if ($reader->nodeType !== \XMLReader::ELEMENT) {
                    continue;
                }
                if ($reader->localName === 'v') {
                    $value = PackedXml::text($reader);
                } elseif ($reader->localName === 't') {
                    $text .= PackedXml::text($reader);
                }
            }
        }

        return match ($type) {
            's' => in_array($value, [null, ''], true) ? null : self::filled($this->shared[(int) $value] ?? ''),
            'inlineStr' => self::filled(self::unescaped($text)),
            'str' => $value === null ? null : self::filled(self::unescaped($value)),
            'b' => in_array($value, [null, ''], true) ? null : ($value === '1' ? 'true' : 'false'),
            'e' => $this->error(),
            'd' => self::filled((string) $value),
            default => in_array($value, [null, ''], true) ? null : $form->written((string) $value, $this->counts1904),
        };
    }

    private function error(): null
    {
        $this->errors++;

        return null;
    }

    private static function filled(string $text): ?string
    {
        return $text === '' ? null : $text;
    }

    /**
     * Characters that XML cannot hold stand as _x000D_ (§22.9.2.19).
     */
    private static function unescaped(string $text): string
    {
        return str_contains($text, '_x') ? (string) preg_replace_callback('/_x([0-9A-Fa-f]{4})_/', static fn (array $part): string => (string) mb_chr((int) hexdec($part[1]), 'UTF-8'), $text) : $text;
    }

    /**
     * "C5" → 2
     */
    private static function column(string $reference): ?int
    {
        if (preg_match('/^([A-Z]{1,3})\d*$/D', $reference, $part) !== 1) {
            return null;
        }
        $number = 0;
        foreach (str_split($part[1]) as $letter) {
            $number = 26 * $number + ord($letter) - 64;
        }

        return $number > self::COLUMNS ? null : $number - 1;
    }

    /**
     * @return array<string, string> id of a relation → the part it leads to
     */
    private function targets(string $part): array
    {
        $targets = [];
        $this->parts->each($part, 'Relationship', static function (\XMLReader $at) use (&$targets): void {
            $to = (string) $at->getAttribute('Target');
            $targets[(string) $at->getAttribute('Id')] = str_starts_with($to, '/') ? ltrim($to, '/') : "xl/$to";
        }) || throw CannotDescribe::because('This is no XLSX file: it has no workbook.');

        return $targets;
    }

    /**
     * @param  array<string, string>  $targets
     */
    private function workbook(array $targets, ?string $sheet): void
    {
        $all = [];
        $this->parts->each('xl/workbook.xml', 'sheet', static function (\XMLReader $at) use (&$all): void {
            $all[] = [(string) $at->getAttribute('name'), (string) $at->getAttributeNs('id', 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'), ($at->getAttribute('state') ?? 'visible') === 'visible'];
        });
        $this->parts->each('xl/workbook.xml', 'workbookPr', function (\XMLReader $at): void {
            $this->counts1904 = in_array($at->getAttribute('date1904'), ['1', 'true'], true);
        });
        $this->sheets = array_column($all, 0);
        $found = array_values(array_filter($all, static fn (array $one): bool => $sheet === null ? $one[2] : $one[0] === $sheet))[0] ?? null;
        if ($found === null) {
            throw CannotDescribe::because($sheet === null ? 'The file has no sheet.' : "The file has no sheet \"$sheet\". There are: ".implode(', ', $this->sheets).'.');
        }
        $this->read = $found[0];
        $this->part = $targets[$found[1]] ?? '';
    }

    private function styles(): void
    {
        $codes = [];
        $this->parts->each('xl/styles.xml', 'numFmt', static function (\XMLReader $at) use (&$codes): void {
            $codes[(int) $at->getAttribute('numFmtId')] = (string) $at->getAttribute('formatCode');
        });
        $isOfCells = false;
        $this->parts->each('xl/styles.xml', null, function (\XMLReader $at) use (&$isOfCells, $codes): void {
            if ($at->localName === 'cellXfs') {
                $isOfCells = true;
            } elseif ($at->localName === 'cellStyles' || $at->localName === 'dxfs') {
                $isOfCells = false;
            } elseif ($at->localName === 'xf' && $isOfCells) {
                $number = (int) $at->getAttribute('numFmtId');
                $this->forms[] = CellForm::of($number, $codes[$number] ?? null);
            }
        });
    }

    private function sharedTexts(): void
    {
        $reader = $this->parts->open('xl/sharedStrings.xml');
        if ($reader === null) {
            return;
        }
        $size = 0;
        $text = '';
        $isAside = false;
        while (PackedXml::advance($reader)) {
            $isElement = $reader->nodeType === \XMLReader::ELEMENT;
            if ($isElement && $reader->localName === 'si') {
                $text = '';
                $reader->isEmptyElement && $this->shared[] = '';
            } elseif ($reader->localName === 'rPh') {
                // How a word is spoken is no part of it.
                $isAside = $isElement && ! $reader->isEmptyElement;
            } elseif ($isElement && $reader->localName === 't' && ! $isAside) {
                $text .= PackedXml::text($reader);
            } elseif ($reader->nodeType === \XMLReader::END_ELEMENT && $reader->localName === 'si') {
                $this->shared[] = self::unescaped($text);
                $size += strlen($text);
                if ($size > self::SHARED) {
                    throw CannotDescribe::because('The texts of the file are larger than 100 MB. Save the sheet as CSV.');
                }
            }
        }
        $reader->close();
    }
}
