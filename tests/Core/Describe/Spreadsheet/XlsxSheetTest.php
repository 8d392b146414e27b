<?php

declare(strict_types=1);

namespace Tests\Core\Describe\Spreadsheet;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Spreadsheet\CellForm;
use DeepSpring\Describe\Spreadsheet\SheetCsv;
use DeepSpring\Describe\Spreadsheet\XlsxSheet;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * The two files beside this one were written by a library that nobody here wrote.
 */
final class XlsxSheetTest extends TestCase
{
    private string $made = '';

    protected function tearDown(): void
    {
        $this->made === '' || @unlink($this->made);
    }

    private function csv(string $file, ?string $sheet = null): string
    {
        $to = fopen('php://memory', 'w+');
        self::assertIsResource($to);
        (new SheetCsv)->write(new XlsxSheet($file, $sheet), $to);
        rewind($to);

        return (string) stream_get_contents($to);
    }

    public function test_every_cell_of_a_sheet_is_there_as_it_was_meant(): void
    {
        $file = __DIR__.'/valuations.xlsx';
        self::assertSame(<<<'CSV'
            Object,"Post code",Value,Valued,"Seen at",Opens,"On show",Note,"Value 2","column 10",Share
            1456.01,00704,13326.51,2030-05-03,2030-05-03T14:30:15,09:30:00,true,"Håløy · ""fragile"", two
            lines",1,x,0.1
            0956.03,20211,19.99,1900-01-01,2030-12-31T23:59:59,23:59:59,false,,2.5,,0.333333333333333
            5536.04,00007,0.3,2000-02-29,1999-12-31T00:00:00,00:00:00,,,1000000000000000000000,,0.0000001
            2563.05,99999,123456789012345,9999-12-31,2031-01-01T00:00:00.250,12:00:00,true,"  spaces  ",-3,last,12345678901234600000

            CSV, $this->csv($file));
        self::assertSame("a\n1\n", $this->csv($file, 'Second'));
        $sheet = new XlsxSheet($file);
        self::assertSame(['Valuations', 'Hidden', 'Second'], $sheet->sheets);
        foreach ($sheet->rows() as $row) {
        }
        self::assertSame(1, $sheet->errors);
        self::assertSame("day\n2030-05-03\n1904-01-02\n", $this->csv(__DIR__.'/since-1904.xlsx'));
    }

    /**
     * @return iterable<string, array{int, string|null, string, string}>
     */
    public static function cells(): iterable
    {
        yield 'a number' => [0, null, '42', '42'];
        yield 'a number that a double cannot hold' => [0, null, '19.989999999999998', '19.99'];
        yield 'a negative one' => [0, null, '-0.5', '-0.5'];
        yield 'with an exponent' => [0, null, '1.5E-3', '0.0015'];
        yield 'a very large one' => [0, null, '1E300', '1.0E+300'];
        yield 'a day' => [14, null, '47606', '2030-05-03'];
        yield 'a day with a time' => [22, null, '47606.5', '2030-05-03T12:00:00'];
        yield 'a day that has a time though its form shows none' => [14, null, '47606.25', '2030-05-03T06:00:00'];
        yield 'a time' => [20, null, '0.5', '12:00:00'];
        yield 'the last day of February that there was not' => [14, null, '59', '1900-02-28'];
        yield 'the first of March' => [14, null, '61', '1900-03-01'];
        yield 'the first day' => [14, null, '1', '1900-01-01'];
        yield 'before the first' => [14, null, '-1', '-1'];
        yield 'a form of the file' => [164, 'dd.mm.yyyy', '47606', '2030-05-03'];
        yield 'hours and minutes' => [164, 'hh:mm', '0.75', '18:00:00'];
        yield 'a month' => [164, 'mmm', '47606', '2030-05-03'];
        yield 'a text with letters that are no day' => [164, '0.00" days"', '3', '3'];
        yield 'a colour and a currency' => [164, '[Red]#,##0.00 [$kr-414]', '3.5', '3.5'];
        yield 'elapsed hours' => [164, '[h]:mm', '0.25', '06:00:00'];
        yield 'a post code' => [164, '00000', '704', '00704'];
        yield 'percent' => [10, null, '0.25', '0.25'];
        yield 'no number' => [0, null, 'x', 'x'];
    }

    #[DataProvider('cells')]
    public function test_a_number_is_what_its_form_makes_of_it(int $number, ?string $code, string $value, string $expected): void
    {
        self::assertSame($expected, CellForm::of($number, $code)->written($value));
    }

    /**
     * @param  array<string, string>  $parts
     */
    private function made(array $parts): string
    {
        $this->made = (string) tempnam(sys_get_temp_dir(), 'xlsx');
        $zip = new \ZipArchive;
        $zip->open($this->made, \ZipArchive::OVERWRITE);
        foreach ($parts as $name => $text) {
            $zip->addFromString($name, $text);
        }
        $zip->close();

        return $this->made;
    }

    /**
     * @return array<string, string>
     */
    private static function parts(string $sheet): array
    {
        return [
            'xl/_rels/workbook.xml.rels' => '<Relationships><Relationship Id="r1" Target="/xl/worksheets/one.xml"/></Relationships>',
            'xl/workbook.xml' => '<workbook xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="One" r:id="r1"/></sheets></workbook>',
            'xl/sharedStrings.xml' => '<sst><si><r><t>rich </t></r><r><t>text</t></r><rPh><t>spoken</t></rPh></si><si/><si><t>a_x000D_b</t></si></sst>',
            'xl/worksheets/one.xml' => $sheet,
        ];
    }

    public function test_texts_in_parts_gaps_and_rows_without_numbers(): void
    {
        self::assertSame("\"rich text\",\"column 2\",x\n\"a\rb\",,\n,,inside\n7,,\n", $this->csv($this->made(self::parts('<worksheet><sheetData><row><c t="s"><v>0</v></c><c/><c t="inlineStr"><is><t>x</t></is></c></row><row r="3"/><row r="4"><c r="A4" t="s"><v>2</v></c><c r="B4" t="s"><v>1</v></c></row><row r="5"><c r="C5" t="inlineStr"><is><r><t>in</t></r><r><t>side</t></r></is></c></row><row><c r="A6" t="str"><f>1+6</f><v>7</v></c></row></sheetData></worksheet>'))));
    }

    /**
     * @return iterable<string, array{array<string, string>|string, string}>
     */
    public static function hostile(): iterable
    {
        yield 'no zip' => ['Object,Value', 'it cannot be opened'];
        yield 'another zip' => [['readme.txt' => 'x'], 'it has no workbook'];
        yield 'a document type' => [['xl/worksheets/one.xml' => '<!DOCTYPE x [<!ENTITY e SYSTEM "file:///etc/passwd">]><worksheet><sheetData><row><c t="inlineStr"><is><t>&e;</t></is></c></row></sheetData></worksheet>'] + self::parts(''), 'declares a document type'];
        yield 'cut in the middle' => [self::parts('<worksheet><sheetData><row><c><v>1</v></c></row><row><c><v>'), 'The file is damaged'];
        yield 'without its sheet' => [array_diff_key(self::parts(''), ['xl/worksheets/one.xml' => 1]), 'The sheet is missing'];
        yield 'without sheets' => [['xl/workbook.xml' => '<workbook><sheets/></workbook>'] + self::parts(''), 'The file has no sheet.'];
    }

    /**
     * @param  array<string, string>|string  $parts
     */
    #[DataProvider('hostile')]
    public function test_what_is_no_spreadsheet_is_said_to_be_none(array|string $parts, string $expected): void
    {
        $file = is_string($parts) ? $this->made = (string) tempnam(sys_get_temp_dir(), 'xlsx') : $this->made($parts);
        is_string($parts) && file_put_contents($file, $parts);
        try {
            $said = $this->csv($file);
        } catch (CannotDescribe $cannot) {
            $said = implode(' ', $cannot->sentences);
        }
        self::assertStringContainsString($expected, $said);
    }

    public function test_a_sheet_that_is_not_there_is_named_with_those_that_are(): void
    {
        $this->expectExceptionMessage('There are: Valuations, Hidden, Second.');
        new XlsxSheet(__DIR__.'/valuations.xlsx', 'Prices');
    }

    public function test_a_large_sheet_takes_little_memory(): void
    {
        $sheet = '<worksheet><sheetData>';
        for ($row = 1; $row <= 60_000; $row++) {
            $sheet .= "<row r=\"$row\"><c r=\"A$row\"><v>$row</v></c><c r=\"B$row\" t=\"inlineStr\"><is><t>Crate $row</t></is></c></row>";
        }
        $file = $this->made(self::parts("$sheet</sheetData></worksheet>"));
        unset($sheet);
        memory_reset_peak_usage();
        $before = memory_get_usage();
        $rows = 0;
        foreach ((new XlsxSheet($file))->rows() as $row) {
            $rows++;
        }
        self::assertSame(60_000, $rows);
        self::assertLessThan(8 * 1024 * 1024, memory_get_peak_usage() - $before);
        // However small it is packed, it is not unpacked without end.
        $to = fopen('php://temp', 'w+');
        self::assertIsResource($to);
        $this->expectExceptionMessage('The sheet has more than 1 MB as CSV. Split it.');
        (new SheetCsv)->write(new XlsxSheet($file), $to, 1024 * 1024 + 1);
    }
}
