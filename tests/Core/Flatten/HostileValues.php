<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\Type\Types;

/**
 * Every literal that a service may send, and every type with its settings.
 */
final class HostileValues
{
    /**
     * @return list<string> JSON
     */
    public static function literals(): array
    {
        $numbers = ['0', '-0', '0.0', '-0.0', '1', '-1', '1.0', '1.50', '0.1', '1e3', '1E+3', '1.5e-3', '1e15', '1e22', '1e400', '-1e400', '1e-400', '2.5e-324', '1.7976931348623157e308', '9007199254740993', '9223372036854775807', '9223372036854775808', '-9223372036854775809', '18446744073709551615', '12345678901234567890', '12345678901234567890.123456789012', '0.12345678901234567', '1234567890123456.789', '123456789012345678e2', '0.1234567890123456789012345678901234', '99999999999999999999999999999999999999.99', '1'.str_repeat('0', 80), '0.'.str_repeat('0', 60).'1', '20310302', '19000101', '1893456000', '1893456000000', '253402300800', '-62135596801'];
        $texts = ['', ' ', '0', '-0', '00', '00731', '+47', '1', '1.0', '1,5', '1.234,5', '1 234.5', "1'234.5", '1e400', '1e-400', '0x1F', 'NaN', 'Infinity', '-Infinity', 'INF', 'null', 'true', 'false', 'yes', 'no', 'TRUE', '2031-03-02', '2031-02-30', '0000-00-00', '9999-12-31', '10000-01-01', '2031-03-02T24:00:00Z', '2031-03-02T09:30:00Z', '2031-06-30T23:59:60Z', '2031-03-02T09:30:00.123456789Z', '2031-03-02T09:30:00.1234567890123Z', '2031-03-02T09:30:00+18:00', '9999-12-31T23:59:59-12:00', '2031-W53-7', '2031-366', '02.03.2031', '31.02.2031', '03/04/2031', '9:30', '09:30', '25:00', '/Date(1893456000000)/', '/Date(99999999999999999)/', 'Sun, 02 Mar 2031 09:30:00 +0100', 'PT1H', '0b8e5c71-f9a2-4d46-8a1c-55d0b7e23f2a', '{0b8e5c71-f9a2-4d46-8a1c-55d0b7e23f2a}', '{"a":1}', '{"a":', '[]', '12345678901234567890', str_repeat('9', 400), str_repeat('x', 300), str_repeat('ø', 256), '☂', "\u{1F6A2}", "a\u{0}b", "a\nb\tc\\d", "\u{200B}", "\u{FEFF}", '\\N', "'; drop table loans; --", '=1+1'];

        return [...$numbers, ...array_map(static fn (string $text): string => (string) json_encode($text), $texts), 'null', 'true', 'false', '[]', '{}', '[1,2.50]', '[[1e400]]', '{"a":{"b":[12345678901234567890,-0,1.10]}}', '["a",null,{}]'];
    }

    /**
     * @return array<string, array<string, mixed>> columns without their source, by a name that a column may have
     */
    public static function types(): array
    {
        $settings = [
            'decimal' => [[], ['scale' => 0], ['scale' => 30], ['scale' => 2, 'read_as' => '1.234,5']], 'integer' => [[], ['read_as' => '1 234,5']], 'float' => [[], ['read_as' => "1'234.5"]],
            'boolean' => [[], ['read_as' => 'yes/no']], 'date' => [[], ['read_as' => 'epoch'], ['read_as' => 'epoch-ms'], ['read_as' => 'odata-v2'], ['read_as' => 'rfc2822'], ['read_as' => 'dd.MM.yyyy'], ['read_as' => 'yyyyMMdd']],
            'datetime' => [[], ['read_as' => 'epoch'], ['read_as' => 'epoch-ms'], ['read_as' => 'odata-v2'], ['read_as' => 'rfc2822'], ['read_as' => 'yyyy-MM-dd HH:mm:ss', 'zone' => 'Europe/Oslo'], ['zone' => 'America/Sao_Paulo']],
            'time' => [[], ['read_as' => 'H:mm']], 'json' => [[], ['read_as' => 'text']],
        ];
        $all = [];
        foreach (array_keys(Types::family()->kinds()) as $type) {
            foreach ($settings[$type] ?? [[]] as $number => $more) {
                $all["{$type}_$number"] = ['type' => $type] + $more;
            }
        }

        return $all;
    }
}
