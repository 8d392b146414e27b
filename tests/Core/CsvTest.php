<?php

declare(strict_types=1);

namespace Tests\Core;

use DeepSpring\Export\CsvWriter;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class CsvTest extends TestCase
{
    /**
     * @return iterable<string, array{string|int|float|null, bool, string, string}>
     */
    public static function cells(): iterable
    {
        $table = [
            ['a', true, 'a', 'a'], ['', true, '""', '""'], [null, true, '', ''], ['a,b', true, '"a,b"', '"a,b"'], ['say "no"', true, '"say ""no"""', '"say ""no"""'], ["two\nlines", true, "\"two\nlines\"", "\"two\nlines\""], [' a ', true, '" a "', '" a "'],
            ['=1+1', true, '=1+1', "'=1+1"], ['+4704149583', true, '+4704149583', '+4704149583'], ['+47 22 33', true, '+47 22 33', '+47 22 33'], ['+47-22-33', true, '+47-22-33', "'+47-22-33"], ['-5+3', true, '-5+3', "'-5+3"], ['+1;cmd', true, '+1;cmd', "'+1;cmd"], ['-a', true, '-a', "'-a"], ['@x', true, '@x', "'@x"], ["\tx", true, "\tx", "'\tx"], ["\rx", true, "\"\rx\"", "\"'\rx\""], ['＝1', true, '＝1', "'＝1"], ['=A1,"x"', true, '"=A1,""x"""', '"\'=A1,""x"""'],
            ['-5.25', false, '-5.25', '-5.25'], [-5, false, '-5', '-5'], ['01450', true, '01450', '01450'], ['2031-03-02', false, '2031-03-02', '2031-03-02'],
        ];
        foreach ($table as [$value, $isText, $exact, $guarded]) {
            yield json_encode($value).($isText ? ' text' : '') => [$value, $isText, $exact, $guarded];
        }
    }

    #[DataProvider('cells')]
    public function test_a_cell_is_quoted_and_guarded(string|int|float|null $value, bool $isText, string $exact, string $guarded): void
    {
        self::assertSame("$exact\r\n", (new CsvWriter(false))->line([$value], [$isText]));
        self::assertSame("$guarded\r\n", (new CsvWriter(true))->line([$value], [$isText]));
    }

    public function test_a_line_reads_back_as_it_was(): void
    {
        $values = ['a', '', 'x,"y"', "l1\r\nl2", ' s ', '渡辺', '\\', "\t"];
        $back = str_getcsv(rtrim((new CsvWriter(false))->line($values), "\r\n"), escape: '');
        self::assertSame($values, $back);
    }
}
