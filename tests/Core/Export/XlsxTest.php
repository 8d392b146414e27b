<?php

declare(strict_types=1);

namespace Tests\Core\Export;

use DeepSpring\Export\ExportColumn;
use DeepSpring\Export\ExportType;
use DeepSpring\Export\XlsxWriter;
use PHPUnit\Framework\TestCase;

/**
 * Workbooks, read back by programs that nobody here wrote: openpyxl and LibreOffice.
 */
final class XlsxTest extends TestCase
{
    /** Type, value, what openpyxl finds (type and value; it leaves escapes as they are), and what LibreOffice shows. */
    private const CELLS = [
        [ExportType::Text, 'plain', 'str:plain', 'plain'],
        [ExportType::Text, '', 'str:', ''],
        [ExportType::Text, '=1+1', 'str:=1+1', '=1+1'],
        [ExportType::Text, '00731', 'str:00731', '00731'],
        [ExportType::Text, '+4704149583', 'str:+4704149583', '+4704149583'],
        [ExportType::Text, ' blanks ', 'str: blanks ', ' blanks '],
        [ExportType::Text, "two\nlines", "str:two\nlines", "two\nlines"],
        [ExportType::Text, '<b>&amp; "quotes" \'', "str:<b>&amp; \"quotes\" '", '<b>&amp; "quotes" \''],
        [ExportType::Text, 'emoji 🦪 and عربي and 東京', 'str:emoji 🦪 and عربي and 東京', 'emoji 🦪 and عربي and 東京'],
        [ExportType::Text, '_x0041_', 'str:_x005F_x0041_', '_x0041_'],
        [ExportType::Text, '2031-04-09', 'str:2031-04-09', '2031-04-09'],
        [ExportType::Integer, '42', 'int:42', '42'],
        [ExportType::Integer, '-7', 'int:-7', '-7'],
        [ExportType::Integer, '123456789012345', 'int:123456789012345', '123456789012345'],
        [ExportType::Integer, '9007199254740993', 'str:9007199254740993', '9007199254740993'],
        [ExportType::Decimal, '12.50', 'float:12.5', '12.50'],
        [ExportType::Decimal, '0.00', 'float:0.0', '0.00'],
        [ExportType::Decimal, '12345678901234567.25', 'str:12345678901234567.25', '12345678901234567.25'],
        [ExportType::Float, '1.5e-7', 'float:1.5e-07', '0.00000015'],
        [ExportType::Date, '2031-04-09', 'datetime:2031-04-09 00:00:00', '2031-04-09'],
        [ExportType::Date, '1900-03-01', 'datetime:1900-03-01 00:00:00', '1900-03-01'],
        [ExportType::Date, '1900-02-28', 'str:1900-02-28', '1900-02-28'],
        [ExportType::Date, '1066-10-14', 'str:1066-10-14', '1066-10-14'],
        [ExportType::Date, '9999-12-31', 'datetime:9999-12-31 00:00:00', '9999-12-31'],
        [ExportType::DateTime, '2031-04-09 14:30:05.000000', 'datetime:2031-04-09 14:30:05', '2031-04-09 14:30:05'],
        [ExportType::DateTime, '2031-04-09 23:59:59.999000', 'datetime:2031-04-09 23:59:59.999000', '2031-04-09 23:59:59.999'],
        [ExportType::DateTime, '2031-04-09 14:30:05.123456', 'str:2031-04-09 14:30:05.123456', '2031-04-09 14:30:05.123456'],
        [ExportType::Time, '09:30:00.000000', 'time:09:30:00', '09:30:00'],
        [ExportType::Text, null, 'NoneType:None', ''],
    ];

    private string $folder;

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir().'/spring-xlsx-'.bin2hex(random_bytes(4));
        mkdir($this->folder);
    }

    protected function tearDown(): void
    {
        foreach (glob("$this->folder/*") ?: [] as $file) {
            is_dir($file) ? rmdir($file) : unlink($file);
        }
        rmdir($this->folder);
    }

    public function test_every_cell_is_found_again_by_other_programs(): void
    {
        $path = $this->written();
        $found = $this->python('import openpyxl, sys, json; book = openpyxl.load_workbook(sys.argv[1]); sheet = book.active; print(json.dumps({"frozen": sheet.freeze_panes, "names": book.sheetnames, "head": [[c.value, c.font.b] for c in sheet[1]], "widths": [sheet.column_dimensions[c].width for c in "AB"], "cells": ["%s:%s" % (type(v).__name__, v) for v in (next((c.value for c in r[1:] if c.value is not None), None) for r in sheet.iter_rows(min_row=2))], "types": [c.data_type for r in sheet.iter_rows(min_row=2) for c in r]}))', $path);
        self::assertSame('A2', $found['frozen']);
        self::assertSame(['Every cell'], $found['names']);
        self::assertSame([['no', true], ['Text', true]], array_slice($found['head'], 0, 2));
        self::assertSame(array_column(self::CELLS, 2), $found['cells']);
        self::assertNotContains('f', $found['types'], 'No text became a formula.');
        self::assertGreaterThan($found['widths'][0], $found['widths'][1]);
        self::assertSame(array_column(self::CELLS, 3), array_map(static fn (array $line): string => implode('', array_slice($line, 1)), array_slice($this->libreOffice($path), 1)));
    }

    public function test_what_is_written_otherwise_is_said_with_its_place(): void
    {
        $writer = new XlsxWriter("$this->folder/said.xlsx");
        $writer->begin([new ExportColumn('long', ExportType::Text), new ExportColumn('id', ExportType::Integer)]);
        $writer->row([str_repeat('ä', 32_767), '1']);
        $writer->row([str_repeat('ä', 32_768), '9007199254740993']);
        $writer->row([str_repeat('🦪', 16_384), null]);
        $writer->end();
        self::assertSame(['2 texts are longer than the 32,767 characters of a cell and were cut: long in row 2, long in row 3.', '1 value is written as text, since a cell would not keep it exactly: id in row 2.'], $writer->said());
        $found = $this->python('import openpyxl, sys, json; print(json.dumps([len(r[0].value.encode("utf-16-le")) // 2 for r in openpyxl.load_workbook(sys.argv[1]).active.iter_rows(min_row=2)]))', "$this->folder/said.xlsx");
        self::assertSame([32_767, 32_767, 32_766], $found);
        self::assertSame([], glob("$this->folder/*.parts"), 'What it was made from is gone.');
    }

    public function test_several_results_have_sheets_of_their_own_and_a_full_one_goes_on_in_the_next(): void
    {
        $writer = new XlsxWriter("$this->folder/many.xlsx", 4);
        foreach (['Loans [open]', 'loans (open)', 'History', str_repeat('x', 40)] as $number => $name) {
            $writer->named($name);
            $writer->begin([new ExportColumn('n', ExportType::Integer)]);
            for ($row = 1; $row <= ($number === 0 ? 7 : 1); $row++) {
                $writer->row([(string) $row]);
            }
        }
        $writer->end();
        $found = $this->python('import openpyxl, sys, json; print(json.dumps([[s.title, [r[0].value for r in s.iter_rows()]] for s in openpyxl.load_workbook(sys.argv[1])]))', "$this->folder/many.xlsx");
        self::assertSame([['Loans  open', ['n', 1, 2, 3]], ['Loans  open 2', ['n', 4, 5, 6]], ['Loans  open 3', ['n', 7]], ['loans (open)', ['n', 1]], ['Rows', ['n', 1]], [str_repeat('x', 31), ['n', 1]]], $found);
        self::assertSame([['n'], ['1'], ['2'], ['3']], $this->libreOffice("$this->folder/many.xlsx"));
    }

    private function written(): string
    {
        $path = "$this->folder/cells.xlsx";
        $writer = new XlsxWriter($path);
        $writer->named('Every cell');
        // A column has one type, so each row has its value in the column of that.
        $columns = [new ExportColumn('no', ExportType::Integer)];
        $types = [];
        foreach (array_unique(array_map(static fn (array $one): string => $one[0]->name, self::CELLS)) as $name) {
            $types[$name] = count($columns);
            $columns[] = new ExportColumn($name, constant(ExportType::class."::$name"), $name === 'Decimal' ? 2 : null);
        }
        $writer->begin($columns);
        foreach (self::CELLS as $number => [$type, $value]) {
            $row = array_fill(0, count($columns), null);
            $row[0] = (string) ($number + 1);
            $row[$types[$type->name]] = $value;
            $writer->row($row);
        }
        $writer->end();

        return $path;
    }

    private function python(string $code, string ...$arguments): mixed
    {
        exec('/usr/bin/python3 -c '.escapeshellarg($code).' '.implode(' ', array_map(escapeshellarg(...), $arguments)).' 2>&1', $out, $status);
        self::assertSame(0, $status, implode("\n", $out));

        return json_decode(implode("\n", $out), true, flags: JSON_THROW_ON_ERROR);
    }

    /**
     * @return list<list<string>> cells of the first sheet as they are shown
     */
    private function libreOffice(string $path): array
    {
        exec('soffice --headless -env:UserInstallation=file://'.escapeshellarg("$this->folder-profile").' --convert-to '.escapeshellarg('csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,true,true,false').' --outdir '.escapeshellarg($this->folder).' '.escapeshellarg($path).' 2>&1', $out, $status);
        self::assertSame(0, $status, implode("\n", $out));
        self::assertDoesNotMatchRegularExpression('/corrupt|repair|error/i', implode("\n", $out));
        $lines = [];
        $file = fopen((string) preg_replace('/xlsx$/', 'csv', $path), 'rb') ?: self::fail('LibreOffice wrote nothing.');
        while (($line = fgetcsv($file, escape: '')) !== false) {
            $lines[] = array_map(strval(...), $line);
        }
        exec('rm -rf '.escapeshellarg("$this->folder-profile"));

        return $lines;
    }
}
