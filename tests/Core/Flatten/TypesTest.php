<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\Type\BooleanType;
use DeepSpring\Flatten\Type\ColumnType;
use DeepSpring\Flatten\Type\DateTimeType;
use DeepSpring\Flatten\Type\DateType;
use DeepSpring\Flatten\Type\DecimalType;
use DeepSpring\Flatten\Type\FloatType;
use DeepSpring\Flatten\Type\IntegerType;
use DeepSpring\Flatten\Type\JsonType;
use DeepSpring\Flatten\Type\TextType;
use DeepSpring\Flatten\Type\Unfit;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class TypesTest extends TestCase
{
    private const UNFIT = false;

    /**
     * A type, JSON, and the text that is kept (false: it does not fit).
     *
     * @return iterable<string, array{ColumnType, string, string|false}>
     */
    public static function values(): iterable
    {
        $no = self::UNFIT;
        $tables = [
            ['text', new TextType, ['"a"' => 'a', '""' => '', '"01450"' => '01450', '"+4704149583"' => '+4704149583', '5' => '5', '-0' => '0', '1.5' => '1.5', '48000.00' => '48000', '1e3' => '1000', 'true' => 'true', 'false' => 'false', '9007199254740993' => '9007199254740993', '99999999999999999999' => '99999999999999999999', '"渡辺 澪"' => '渡辺 澪', '"a\u0000b"' => "a\0b", '"\ud83d\ude00"' => '😀', '[]' => $no, '{}' => $no, '["a"]' => $no]],
            ['key text', new TextType(5), ['"12345"' => '12345', '"123456"' => $no, '"éééée"' => 'éééée', '"éééééé"' => $no, '12345' => '12345', '123456' => $no]],
            ['integer', new IntegerType, ['0' => '0', '7' => '7', '-7' => '-7', '"7"' => '7', '"-7"' => '-7', '"0"' => '0', '"-0"' => '0', '9007199254740993' => '9007199254740993', '9223372036854775807' => '9223372036854775807', '-9223372036854775808' => '-9223372036854775808', '"9223372036854775807"' => '9223372036854775807', '9223372036854775808' => $no, '"9223372036854775808"' => $no, '"007"' => $no, '"+7"' => $no, '"7.0"' => $no, '7.0' => '7', '7.5' => $no, '1e3' => '1000', '1e300' => $no, '9007199254740993.0' => $no, '""' => $no, '" 7"' => $no, '"7\n"' => $no, '"abc"' => $no, '"1e3"' => $no, '"٣"' => $no, 'true' => $no, '[1]' => $no, '{"a":1}' => $no]],
            ['decimal 2', new DecimalType(2), ['12' => '12', '12.5' => '12.5', '12.50' => '12.5', '12.34' => '12.34', '-0.01' => '-0.01', '12.345' => $no, '"12.30"' => '12.30', '"12.300"' => '12.300', '"12.345"' => $no, '"0012.30"' => $no, '"+12.30"' => $no, '"12,30"' => $no, '"1 200.00"' => $no, '"€12"' => $no, '""' => $no, '1e2' => '100', '"1e2"' => '100', '1.5e-1' => '0.15', '1e-7' => $no, '1e40' => $no, '"123456789012345678901234567890123456"' => '123456789012345678901234567890123456', '"1234567890123456789012345678901234567"' => $no, '90071992547409.93' => $no, '9007199254740.93' => '9007199254740.93', '0.1' => '0.1', '99999999999999999999' => '99999999999999999999', 'true' => $no, '[]' => $no, '"."' => $no, '".5"' => $no, '"5."' => $no, '"-"' => $no, '"NaN"' => $no]],
            ['decimal 0', new DecimalType(0), ['5' => '5', '5.0' => '5', '5.5' => $no, '"5"' => '5', '"5.0"' => '5.0']],
            ['decimal 8', new DecimalType(8), ['0.00000001' => '0.00000001', '1e-8' => '0.00000001', '0.000000001' => $no, '"0.12345678"' => '0.12345678']],
            ['float', new FloatType, ['1' => '1', '1.5' => '1.5', '0.1' => '0.1', '1e300' => '1.0e+300', '-2.5e-10' => '-2.5e-10', '"1.5"' => '1.5', '"1e5"' => '100000', '9007199254740993' => $no, '1e999' => $no, '"abc"' => $no, '""' => $no, 'true' => $no, '[]' => $no, '"01.5"' => $no]],
            ['boolean', new BooleanType, ['true' => '1', 'false' => '0', '1' => '1', '0' => '0', '"true"' => '1', '"false"' => '0', '"1"' => '1', '"0"' => '0', '"yes"' => $no, '2' => $no, '""' => $no, '"TRUE"' => $no, '1.0' => $no, '[]' => $no, '{}' => $no]],
            ['date', new DateType, ['"2031-03-02"' => '2031-03-02', '"2028-02-29"' => '2028-02-29', '"2031-02-29"' => $no, '"2031-13-01"' => $no, '"2031-00-10"' => $no, '"2031-3-2"' => $no, '"2031-03-02T00:00:00Z"' => '2031-03-02', '"2031-03-02 00:00:00"' => '2031-03-02', '"2031-03-02T00:00"' => '2031-03-02', '"2031-03-02T09:00:00Z"' => $no, '"2031-03-02T00:00:00+02:00"' => $no, '"02.03.2031"' => $no, '"03/02/2031"' => $no, '20310302' => $no, '""' => $no, '"2031-03-02 "' => $no, '[]' => $no, '"0000-00-00"' => $no]],
            ['datetime', new DateTimeType, ['"2031-03-02T09:30:00Z"' => '2031-03-02 09:30:00', '"2031-03-02T09:30:00.5Z"' => '2031-03-02 09:30:00.5', '"2031-03-02T09:30:00.123456Z"' => '2031-03-02 09:30:00.123456', '"2031-03-02T09:30:00.123456789Z"' => '2031-03-02 09:30:00.123456', '"2031-03-02T09:30:00+02:00"' => '2031-03-02 07:30:00', '"2031-03-02T09:30:00-03:30"' => '2031-03-02 13:00:00', '"2031-03-02T00:30:00+01:00"' => '2031-03-01 23:30:00', '"2031-12-31T23:30:00-01:00"' => '2032-01-01 00:30:00', '"2031-03-02T09:30:00+0200"' => '2031-03-02 07:30:00', '"2031-03-02T09:30:00+02"' => '2031-03-02 07:30:00', '"2031-03-02T09:30Z"' => '2031-03-02 09:30:00', '"2031-03-02T09:30:00"' => '2031-03-02 09:30:00', '"2031-03-02 09:30:00"' => '2031-03-02 09:30:00', '"2031-03-02t09:30:00z"' => '2031-03-02 09:30:00', '"2031-03-02"' => '2031-03-02 00:00:00', '"2031-06-30T23:59:60Z"' => '2031-07-01 00:00:00', '"2031-03-02T24:00:00Z"' => $no, '"2031-03-02T09:61:00Z"' => $no, '"2031-02-30T09:30:00Z"' => $no, '"0999-03-02T09:30:00Z"' => $no, '"2031-03-02T09:30:00,25Z"' => '2031-03-02 09:30:00.250000', '1893456000' => $no, '""' => $no, '"now"' => $no, '"tomorrow"' => $no, '[]' => $no]],
            ['datetime in a zone', new DateTimeType('iso', '+02:00'), ['"2031-03-02T09:30:00"' => '2031-03-02 07:30:00', '"2031-03-02T09:30:00Z"' => '2031-03-02 09:30:00', '"2031-03-02"' => '2031-03-01 22:00:00']],
            ['epoch', new DateTimeType('epoch'), ['0' => '1970-01-01 00:00:00', '1893456000' => '2030-01-01 00:00:00', '"1893456000"' => '2030-01-01 00:00:00', '1893456000.25' => '2030-01-01 00:00:00.250000', '-1' => '1969-12-31 23:59:59', '1e300' => $no, '999999999999999' => $no, '"abc"' => $no, 'true' => $no]],
            ['epoch-ms', new DateTimeType('epoch-ms'), ['1893456000123' => '2030-01-01 00:00:00.123000', '-1' => '1969-12-31 23:59:59.999000', '0' => '1970-01-01 00:00:00']],
            ['json', new JsonType, ['{"a":[1,2.0,"é/"]}' => '{"a":[1,2.0,"é/"]}', '[]' => '[]', '{}' => '{}', '"x"' => '"x"', 'true' => 'true', '1.50' => '1.5', '{"0":1}' => '{"0":1}']],
        ];
        foreach ($tables as [$name, $type, $rows]) {
            foreach ($rows as $json => $kept) {
                yield "$name: $json" => [$type, (string) $json, $kept];
            }
        }
    }

    #[DataProvider('values')]
    public function test_a_value_is_kept_exactly_or_rejected(ColumnType $type, string $json, string|false $kept): void
    {
        $value = json_decode($json, false, 16, JSON_BIGINT_AS_STRING | JSON_THROW_ON_ERROR);
        $fit = $type->convert($value);
        if ($kept === self::UNFIT) {
            self::assertInstanceOf(Unfit::class, $fit, is_string($fit) ? "kept as $fit" : '');
            self::assertNotSame('', $fit->reason);
        } else {
            self::assertSame($kept, $fit instanceof Unfit ? "unfit: {$fit->reason}" : $fit);
        }
        self::assertEquals($fit, $type->convert($value), 'asked twice, it says the same');
    }

    public function test_a_text_of_more_than_16_megabytes_is_rejected(): void
    {
        self::assertInstanceOf(Unfit::class, (new TextType)->convert(str_repeat('a', TextType::LONGEST + 1)));
        self::assertIsString((new TextType)->convert(str_repeat('a', TextType::LONGEST)));
    }
}
