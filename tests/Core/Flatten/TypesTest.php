<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Type\BooleanType;
use DeepSpring\Flatten\Type\ColumnType;
use DeepSpring\Flatten\Type\DateTimeType;
use DeepSpring\Flatten\Type\DateType;
use DeepSpring\Flatten\Type\DecimalType;
use DeepSpring\Flatten\Type\FloatType;
use DeepSpring\Flatten\Type\IntegerType;
use DeepSpring\Flatten\Type\JsonType;
use DeepSpring\Flatten\Type\TextType;
use DeepSpring\Flatten\Type\TimeType;
use DeepSpring\Flatten\Type\UuidType;
use DeepSpring\Value\Moment\UnusablePattern;
use DeepSpring\Value\Unfit;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
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
            ['datetime', new DateTimeType, ['"2031-03-02T09:30:00Z"' => '2031-03-02 09:30:00', '"2031-03-02T09:30:00.5Z"' => '2031-03-02 09:30:00.5', '"2031-03-02T09:30:00.123456Z"' => '2031-03-02 09:30:00.123456', '"2031-03-02T09:30:00.123456789Z"' => '2031-03-02 09:30:00.123456', '"2031-03-02T09:30:00+02:00"' => '2031-03-02 07:30:00', '"2031-03-02T09:30:00-03:30"' => '2031-03-02 13:00:00', '"2031-03-02T00:30:00+01:00"' => '2031-03-01 23:30:00', '"2031-12-31T23:30:00-01:00"' => '2032-01-01 00:30:00', '"2031-03-02T09:30:00+0200"' => '2031-03-02 07:30:00', '"2031-03-02T09:30:00+02"' => '2031-03-02 07:30:00', '"2031-03-02T09:30Z"' => '2031-03-02 09:30:00', '"2031-03-02T09:30:00"' => '2031-03-02 09:30:00', '"2031-03-02 09:30:00"' => '2031-03-02 09:30:00', '"2031-03-02t09:30:00z"' => '2031-03-02 09:30:00', '"2031-03-02"' => '2031-03-02 00:00:00', '"2031-06-30T23:59:60Z"' => '2031-07-01 00:00:00', '"2031-03-02T24:00:00Z"' => '2031-03-03 00:00:00', '"2031-03-02T24:00:01Z"' => $no, '"2031-03-02T09:61:00Z"' => $no, '"2031-02-30T09:30:00Z"' => $no, '"0999-03-02T09:30:00Z"' => $no, '"2031-03-02T09:30:00,25Z"' => '2031-03-02 09:30:00.25', '1893456000' => $no, '""' => $no, '"now"' => $no, '"tomorrow"' => $no, '[]' => $no]],
            ['datetime in a zone', new DateTimeType('iso', '+02:00'), ['"2031-03-02T09:30:00"' => '2031-03-02 07:30:00', '"2031-03-02T09:30:00Z"' => '2031-03-02 09:30:00', '"2031-03-02"' => '2031-03-01 22:00:00']],
            ['epoch', new DateTimeType('epoch'), ['0' => '1970-01-01 00:00:00', '1893456000' => '2030-01-01 00:00:00', '"1893456000"' => '2030-01-01 00:00:00', '1893456000.25' => '2030-01-01 00:00:00.250000', '-1' => '1969-12-31 23:59:59', '1e300' => $no, '999999999999999' => $no, '"abc"' => $no, 'true' => $no]],
            ['epoch-ms', new DateTimeType('epoch-ms'), ['1893456000123' => '2030-01-01 00:00:00.123000', '-1' => '1969-12-31 23:59:59.999000', '0' => '1970-01-01 00:00:00']],
            ['ISO 8601 in all forms', new DateTimeType, ['"20310302T093000Z"' => '2031-03-02 09:30:00', '"20310302T0930+0100"' => '2031-03-02 08:30:00', '"20310302"' => '2031-03-02 00:00:00', '"2031-061T09:30:00Z"' => '2031-03-02 09:30:00', '"2031061T093000Z"' => '2031-03-02 09:30:00', '"2031-366"' => $no, '"2032-366"' => '2032-12-31 00:00:00', '"2031-000"' => $no, '"2031-W09-7T09:30:00Z"' => '2031-03-02 09:30:00', '"2031W097"' => '2031-03-02 00:00:00', '"2031-W53-1"' => $no, '"2032-W53-5"' => '2032-12-31 00:00:00', '"2031-W00-1"' => $no, '"2031-W09-8"' => $no, '"2031-03-02T09"' => '2031-03-02 09:00:00', '"2031-03-02T09+02"' => '2031-03-02 07:00:00', '"2031-03-02T09:30:00 +02:00"' => '2031-03-02 07:30:00', '"2031-03-02 09:30:00+05:45"' => '2031-03-02 03:45:00', '"2031-03-02T09:30:00-00:00"' => '2031-03-02 09:30:00', '"2031-03-02T09:30:00+18:00"' => '2031-03-01 15:30:00', '"2031-03-02T09:30:00+19:00"' => $no, '"2031-03-02T09:30:00+01:60"' => $no, '"2031-03-02T09:30:00+01:00[Europe/Oslo]"' => '2031-03-02 08:30:00', '"2031-03-02T09:30:00Z[UTC][u-ca=gregory]"' => '2031-03-02 09:30:00', '"2031-03-02T09:30:00[bad zone]"' => $no, '"2031-03-02T24:00:00.5Z"' => $no, '"9999-12-31T23:59:59-01:00"' => $no, '"1000-01-01T00:30:00+01:00"' => $no, '"+2031-03-02"' => $no, '"31-03-02"' => $no, '"2031-3-2"' => $no, '"2031-03"' => $no, '"2031"' => $no, '"2031-03-02T"' => $no, '"2031-03-02T9:30"' => $no, '"2031-03-02T09:30:00.Z"' => $no, '"2031-03-02T09:30:00.1234567890Z"' => $no, '"2031-03-02T09:30:00Z\n"' => $no, '"2031-02-29T00:00:00Z"' => $no, '"2032-02-29T00:00:00Z"' => '2032-02-29 00:00:00', '"P3D"' => $no, 'true' => $no, '20310302' => $no]],
            ['datetime in a zone with summer time', new DateTimeType('iso', 'Europe/Berlin'), ['"2031-01-02T09:30:00"' => '2031-01-02 08:30:00', '"2031-07-02T09:30:00"' => '2031-07-02 07:30:00', '"2031-07-02T09:30:00Z"' => '2031-07-02 09:30:00', '"2031-07-02T09:30:00+00:00"' => '2031-07-02 09:30:00', '"2031-10-26T12:00:00"' => '2031-10-26 11:00:00', '"2031-07-02"' => '2031-07-01 22:00:00']],
            ['OData 2', new DateTimeType('odata-v2'), ['"/Date(1893456000000)/"' => '2030-01-01 00:00:00', '"/Date(1893456000123)/"' => '2030-01-01 00:00:00.123000', '"/Date(1893456000000+0120)/"' => '2030-01-01 00:00:00', '"/Date(1893456000000-60)/"' => '2030-01-01 00:00:00', '"/Date(-1)/"' => '1969-12-31 23:59:59.999000', '"/Date(1e9)/"' => $no, '"/Date()/"' => $no, '"Date(1893456000000)"' => $no, '"\\/Date(0)\\/"' => '1970-01-01 00:00:00', '1893456000000' => $no, '""' => $no, '"/Date(99999999999999999)/"' => $no]],
            ['OData 2 as a day', new DateType('odata-v2'), ['"/Date(1893456000000)/"' => '2030-01-01', '"/Date(1893456000001)/"' => $no]],
            ['mail', new DateTimeType('rfc2822'), ['"Sun, 02 Mar 2031 09:30:00 +0100"' => '2031-03-02 08:30:00', '"2 Mar 2031 09:30 GMT"' => '2031-03-02 09:30:00', '"Sun, 02 Mar 2031 09:30:00 GMT"' => '2031-03-02 09:30:00', '"02 mar 2031 09:30:00 EST"' => '2031-03-02 14:30:00', '"Sun, 02 Mar 2031 09:30:00 +0100 (CET)"' => '2031-03-02 08:30:00', '"Sun, 30 Feb 2031 09:30:00 +0100"' => $no, '"Sun, 02 March 2031 09:30:00 +0100"' => $no, '"02/03/2031 09:30"' => $no, '"Sun, 02 Mar 2031 25:30:00 GMT"' => $no, '"Sun, 02 Mar 2031 09:30:00"' => $no, '""' => $no, '5' => $no]],
            ['dd.MM.yyyy', new DateType('dd.MM.yyyy'), ['"02.03.2031"' => '2031-03-02', '"31.12.2031"' => '2031-12-31', '"31.02.2031"' => $no, '"12.31.2031"' => $no, '"2.3.2031"' => $no, '"2031-03-02"' => $no, '"02.03.31"' => $no, '""' => $no, '"02.03.2031 "' => $no, 'true' => $no, '[]' => $no]],
            ['M/d/yyyy', new DateType('M/d/yyyy'), ['"3/2/2031"' => '2031-03-02', '"03/02/2031"' => '2031-03-02', '"12/31/2031"' => '2031-12-31', '"31/12/2031"' => $no, '"0/1/2031"' => $no]],
            ['yyyyMMdd', new DateType('yyyyMMdd'), ['20310302' => '2031-03-02', '"20310302"' => '2031-03-02', '20310230' => $no, '2031032' => $no]],
            ['d MMM yy', new DateType('d MMM yy'), ['"2 Mar 31"' => '2031-03-02', '"02 MAR 70"' => '1970-03-02', '"2 Mrz 31"' => $no, '"2 Foo 31"' => $no]],
            ['MMMM d, yyyy', new DateType('MMMM d, yyyy'), ['"March 2, 2031"' => '2031-03-02', '"May 2, 2031"' => '2031-05-02', '"Marchy 2, 2031"' => $no, '"march 2, 2031"' => '2031-03-02']],
            ['dd/MM/yyyy HH:mm', new DateTimeType('dd/MM/yyyy HH:mm', 'Europe/Berlin'), ['"02/03/2031 09:30"' => '2031-03-02 08:30:00', '"02/07/2031 09:30"' => '2031-07-02 07:30:00', '"02/03/2031 24:30"' => $no, '"02/03/2031"' => $no]],
            ['M/d/yyyy h:mm a', new DateTimeType('M/d/yyyy h:mm a'), ['"3/2/2031 9:30 PM"' => '2031-03-02 21:30:00', '"3/2/2031 12:00 AM"' => '2031-03-02 00:00:00', '"3/2/2031 12:00 pm"' => '2031-03-02 12:00:00', '"3/2/2031 13:00 PM"' => $no, '"3/2/2031 9:30 p.m."' => '2031-03-02 21:30:00']],
            ['a pattern with an offset and a text', new DateTimeType("yyyy-MM-dd'T'HH:mm:ss.SSSXXX"), ['"2031-03-02T09:30:00.250+01:00"' => '2031-03-02 08:30:00.250', '"2031-03-02T09:30:00.250Z"' => '2031-03-02 09:30:00.250', '"2031-03-02T09:30:00Z"' => $no]],
            ['time', new TimeType, ['"09:30"' => '09:30:00', '"09:30:15"' => '09:30:15', '"09:30:15.25"' => '09:30:15.25', '"T0930"' => '09:30:00', '"093015"' => '09:30:15', '"24:00"' => $no, '"9:30"' => $no, '"09:60"' => $no, '"09:30Z"' => $no, '"09:30+01:00"' => $no, '"2031-03-02T09:30:00"' => $no, '""' => $no, '930' => $no, '[]' => $no]],
            ['time by a pattern', new TimeType('h:mm a'), ['"9:30 PM"' => '21:30:00', '"09:30"' => $no]],
            ['uuid', new UuidType, ['"0f4a9e02-7c1b-4d39-9a55-31b0c2d4e6f8"' => '0f4a9e02-7c1b-4d39-9a55-31b0c2d4e6f8', '"0F4A9E02-7C1B-4D39-9A55-31B0C2D4E6F8"' => '0f4a9e02-7c1b-4d39-9a55-31b0c2d4e6f8', '"{0f4a9e02-7c1b-4d39-9a55-31b0c2d4e6f8}"' => '0f4a9e02-7c1b-4d39-9a55-31b0c2d4e6f8', '"urn:uuid:0f4a9e02-7c1b-4d39-9a55-31b0c2d4e6f8"' => '0f4a9e02-7c1b-4d39-9a55-31b0c2d4e6f8', '"0f4a9e027c1b4d399a5531b0c2d4e6f8"' => '0f4a9e02-7c1b-4d39-9a55-31b0c2d4e6f8', '"0f4a9e02-7c1b-4d39-9a55"' => $no, '"0f4a9e02-7c1b-4d39-9a55-31b0c2d4e6fg"' => $no, '""' => $no, '5' => $no, '[]' => $no]],
            ['yes and no', new BooleanType('yes/no'), ['"yes"' => '1', '"No"' => '0', '"YES "' => '1', 'true' => '1', '0' => '0', '"y"' => $no, '""' => $no, '"maybe"' => $no]],
            ['ja and nein', new BooleanType('ja/nein'), ['"Ja"' => '1', '"NEIN"' => '0', '"ja, bitte"' => $no]],
            ['decimal with grouping commas', new DecimalType(2, '1,234.5'), ['"1,234.50"' => '1234.50', '"1,234,567.5"' => '1234567.5', '"12.30"' => '12.30', '"-1,234.50"' => '-1234.50', '"1,23.50"' => $no, '"1.234,50"' => $no, '"1,234.505"' => $no, '12.5' => '12.5', '"€ 12"' => $no, '""' => $no]],
            ['decimal with a decimal comma', new DecimalType(2, '1.234,5'), ['"1.234,50"' => '1234.50', '"12,30"' => '12.30', '"0,5"' => '0.5', '"1.234"' => '1234', '"12.5"' => $no, '"1.234.567,05"' => '1234567.05', '"+12,30"' => '12.30', '"−12,30"' => '-12.30']],
            ['decimal with blanks', new DecimalType(2, '1 234,5'), ['"1 234,50"' => '1234.50', '"1\u00a0234,50"' => '1234.50', '"1\u202f234,50"' => '1234.50', '"12 34,50"' => $no]],
            ['decimal with apostrophes', new DecimalType(2, "1'234.5"), ['"1\'234.50"' => '1234.50', '"1’234.50"' => '1234.50', '"1234.50"' => '1234.50']],
            ['integer with grouping commas', new IntegerType('1,234.5'), ['"1,234"' => '1234', '"1,234.0"' => $no, '"12"' => '12', '"007"' => '7']],
            ['float with a decimal comma', new FloatType('1234,5'), ['"0,5"' => '0.5', '"1234,5"' => '1234.5', '"0.5"' => $no, '"1.234,5"' => $no]],
            ['JSON in a text', new JsonType(true), ['"{\\"a\\":1.50}"' => '{"a":1.50}', '"[1,2]"' => '[1,2]', '"null"' => 'null', '"{a:1}"' => $no, '""' => $no, '{"a":1}' => '{"a":1}', '"5"' => '5']],
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

    #[TestWith(['dd.MM.yyy', 'yyyy'])]
    #[TestWith(['DD.MM.YYYY', 'dd'])]
    #[TestWith(['MM/yyyy', 'nothing of the day'])]
    #[TestWith(["dd 'of MM yyyy", 'apostrophe'])]
    #[TestWith(['', 'field twice, or none'])]
    #[TestWith(['dd.MM.yyyy dd', 'field twice'])]
    #[TestWith(['QQ', 'stands for nothing'])]
    public function test_a_pattern_that_says_too_little_is_refused(string $pattern, string $why): void
    {
        $this->expectException(UnusablePattern::class);
        $this->expectExceptionMessage($why);
        new DateType($pattern);
    }

    public function test_what_is_written_out_for_speed_gives_what_the_type_gives(): void
    {
        mt_srand($seed = (int) (getenv('SPRING_SEED') ?: random_int(1, 1_000_000)));
        $numbers = ['0.0', '-0.0', '0.1', '0.29', '1.005', '0.0001', '0.00001', '999999999999.99', '1000000000000.5', '-12.5', '12.0', '1e11', '123456789012345.6'];
        for ($number = 0; $number < 3000; $number++) {
            $numbers[] = (mt_rand(0, 4) === 0 ? '-' : '').mt_rand(0, 10 ** mt_rand(0, 12)).'.'.mt_rand(0, 10 ** mt_rand(1, 5));
        }
        $moments = ['2031-02-28T00:00:00Z', '2031-02-29T00:00:00Z', '2032-02-29T23:59:59.5Z', '2031-04-31T00:00:00Z', '2031-01-31T00:00:00Z', '0999-01-01T00:00:00Z', '2031-13-01T00:00:00Z', '2031-00-10T00:00:00Z', '2031-01-00T00:00:00Z', '2031-01-01T24:00:00Z', '2031-01-01T00:00:60Z', '2031-01-01T00:00:00', '2031-01-01T00:00:00Z ', '2031-01-01 00:00:00Z', '2031-01-01T00:00:00.1234567Z', '2031-01-01', '2031-02-29', '2031-01-32', '0000-01-01', ' 2031-01-01', "2031-01-01\n"];
        $cases = [[DateTimeType::class, new DateTimeType, ['type' => 'datetime'], $moments], [DateType::class, new DateType, ['type' => 'date'], [...$moments, ...$moments]]];
        foreach ([0, 1, 2, 3, 4] as $scale) {
            $cases[] = ["decimal $scale", new DecimalType($scale), ['type' => 'decimal', 'scale' => $scale], array_map(static fn (string $number): mixed => json_decode($number), $numbers)];
        }
        foreach ($cases as [$name, $type, $column, $values]) {
            $rows = (new Flattener(Plan::of(['table' => 'loans', 'columns' => [['name' => 'v', 'from' => '$.v'] + $column]])))->flatten(array_map(static fn (mixed $value): \stdClass => (object) ['v' => $value], $values))->rows[0];
            foreach ($values as $number => $value) {
                $fit = $type->convert($value);
                self::assertSame(is_string($fit) ? $fit : null, $rows[$number][0], "$name, seed $seed: ".json_encode($value));
            }
        }
    }
}
