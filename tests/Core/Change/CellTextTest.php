<?php

declare(strict_types=1);

namespace Tests\Core\Change;

use DeepSpring\Ask\Input;
use DeepSpring\Change\CellText;
use DeepSpring\Flatten\Column;
use DeepSpring\Value\Unfit;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class CellTextTest extends TestCase
{
    /**
     * @return iterable<string, array{array<string, mixed>, string, string|null}>
     */
    public static function typed(): iterable
    {
        yield 'text as it is' => [['type' => 'text'], ' 007 ', ' 007 '];
        yield 'no text' => [['type' => 'text'], '', null];
        yield 'an empty text' => [['type' => 'text'], '""', ''];
        yield 'blanks are a text' => [['type' => 'text'], '  ', '  '];
        yield 'a number with groups' => [['type' => 'integer'], "12 500\u{202F}000", '12500000'];
        yield 'an empty number' => [['type' => 'integer'], ' ', null];
        yield 'a decimal' => [['type' => 'decimal', 'scale' => 2], '12 500.5', '12500.5'];
        yield 'zeros that say nothing' => [['type' => 'decimal', 'scale' => 2], '1.500', '1.500'];
        yield 'many digits' => [['type' => 'decimal', 'scale' => 4], '123456789012345678901234567890.1234', '123456789012345678901234567890.1234'];
        yield 'yes' => [['type' => 'boolean'], 'Yes', '1'];
        yield 'false' => [['type' => 'boolean'], 'FALSE', '0'];
        yield 'a day' => [['type' => 'date'], ' 2031-03-02 ', '2031-03-02'];
        yield 'a day of a service that writes seconds' => [['type' => 'datetime', 'read_as' => 'epoch'], '2031-03-02 14:30', '2031-03-02 13:30:00.000000'];
        yield 'a moment in the zone of the person' => [['type' => 'datetime'], '2031-07-02 14:30', '2031-07-02 12:30:00.000000'];
        yield 'with an offset' => [['type' => 'datetime'], '2031-07-02T14:30:00.25-03:30', '2031-07-02 18:00:00.250000'];
        yield 'JSON' => [['type' => 'json'], '{"a":[1,2]}', '{"a":[1,2]}'];
    }

    /**
     * @param  array<string, mixed>  $column
     */
    #[DataProvider('typed')]
    public function test_what_is_typed_becomes_what_is_kept(array $column, string $typed, ?string $kept): void
    {
        $read = CellText::read($typed, Column::of($column + ['name' => 'x', 'from' => '$.x'], false), new \DateTimeZone('Europe/Oslo'));
        self::assertSame($kept, $read instanceof Unfit ? "unfit: $read->reason" : $read);
    }

    /**
     * @return iterable<string, array{array<string, mixed>, string}>
     */
    public static function unfit(): iterable
    {
        foreach (['a word' => 'soon', 'a day that is none' => '2031-02-30', 'a number' => '5'] as $name => $typed) {
            yield "no day: $name" => [['type' => 'date'], $typed];
            yield "no moment: $name" => [['type' => 'datetime'], $typed];
        }
        foreach (['1e400', '1,5', '--1', '0x10', 'NaN'] as $typed) {
            yield "no whole number: $typed" => [['type' => 'integer'], $typed];
            yield "no decimal: $typed" => [['type' => 'decimal', 'scale' => 2], $typed];
        }
        yield 'digits that would be lost' => [['type' => 'decimal', 'scale' => 2], '1.234'];
        yield 'a zero that would be lost' => [['type' => 'integer'], '007'];
        yield 'beyond 64 bits' => [['type' => 'integer'], '9223372036854775808'];
        yield 'no JSON' => [['type' => 'json'], '{a: 1}'];
        yield 'neither' => [['type' => 'boolean'], 'perhaps'];
    }

    /**
     * @param  array<string, mixed>  $column
     */
    #[DataProvider('unfit')]
    public function test_what_does_not_fit_is_said(array $column, string $typed): void
    {
        $read = CellText::read($typed, Column::of($column + ['name' => 'x', 'from' => '$.x'], false));
        self::assertInstanceOf(Unfit::class, $read, is_string($read) ? $read : 'null');
        self::assertNotSame('', $read->reason);
    }

    public function test_the_same_value_is_recognised_however_it_is_written(): void
    {
        foreach ([['12.50', '12.5', 'decimal', true], ['0', '-0.0', 'decimal', true], ['12.50', '12.51', 'decimal', false], ['2031-01-01 00:00:00.000000', '2031-01-01 00:00:00', 'datetime', true], [null, '', 'text', false], [null, null, 'text', true], ['a ', 'a', 'text', false], ['{"a": 1}', '{"a":1}', 'json', true], ['1e3', '1000', 'float', true], ['12.50', '12.5', 'text', false]] as [$one, $other, $type, $same]) {
            self::assertSame($same, CellText::isSame($one, $other, $type), json_encode([$one, $other, $type]) ?: '');
            self::assertSame($same, CellText::isSame($other, $one, $type));
        }
    }

    public function test_values_are_sent_as_the_service_takes_them(): void
    {
        $input = static fn (array $more = []): Input => Input::of($more + ['name' => 'x', 'in' => 'body']);
        $column = static fn (array $more): Column => Column::of($more + ['name' => 'x', 'from' => '$.x'], false);
        self::assertSame(['12500.5'], CellText::sent('12500.50', $column(['type' => 'decimal', 'scale' => 2]), $input()));
        self::assertSame(['true'], CellText::sent('1', $column(['type' => 'boolean']), $input()));
        self::assertSame(['2031-03-02T13:30:00Z'], CellText::sent('2031-03-02 13:30:00.000000', $column(['type' => 'datetime']), $input()));
        self::assertSame(['1930224600'], CellText::sent('2031-03-02 13:30:00.000000', $column(['type' => 'datetime', 'read_as' => 'epoch']), $input()));
        self::assertSame(['1930224600250'], CellText::sent('2031-03-02 13:30:00.250000', $column(['type' => 'datetime', 'read_as' => 'epoch-ms']), $input()));
        self::assertSame(['a', 'b; c'], CellText::sent('a, b; c', Column::of(['name' => 'x', 'from' => '$.x[*]', 'type' => 'text', 'many' => 'join', 'with' => ', '], false), $input(['many' => 'repeat'])));
        self::assertSame([Input::NOTHING], CellText::sent(null, $column(['type' => 'text']), $input()));
        self::assertSame([Input::EMPTY], CellText::sent('', $column(['type' => 'text']), $input()));
        self::assertSame([], CellText::sent(null, $column(['type' => 'text']), $input(['in' => 'query'])), 'a query cannot say that there is none');
    }
}
