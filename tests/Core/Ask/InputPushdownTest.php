<?php

declare(strict_types=1);

namespace Tests\Core\Ask;

use DeepSpring\Ask\Input;
use DeepSpring\Ask\InputPushdown;
use DeepSpring\Ask\StandsFor;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\OData\Pushdown\Wanted;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class InputPushdownTest extends TestCase
{
    /**
     * @param  list<array{string, string, string}>  $inputs  name, what it stands for, how several are joined
     * @param  list<string>  $key
     */
    private static function push(array $inputs, array $key = ['ref']): InputPushdown
    {
        $columns = [['name' => 'ref', 'type' => 'text'], ['name' => 'house', 'type' => 'text'], ['name' => 'due', 'type' => 'date'], ['name' => 'changed', 'type' => 'datetime'], ['name' => 'days', 'type' => 'integer'], ['name' => 'open', 'type' => 'boolean'], ['name' => 'hidden', 'type' => 'text', 'mask' => 'hash']];

        return new InputPushdown(
            array_map(static fn (array $one): Input => Input::of(['name' => $one[0], 'in' => 'query', 'stands_for' => StandsFor::read($one[1])] + ($one[2] === '' ? [] : ['many' => $one[2]])), $inputs),
            TablePlan::of(['table' => 'loans', 'key' => $key, 'columns' => array_map(static fn (array $one): array => $one + ['from' => "$.{$one['name']}"], $columns)]),
            ['taken'],
        );
    }

    /**
     * @return iterable<string, array{list<array{string, string, string}>, string, string, list<string>, string|null, bool}> inputs, column, operator, values; what is asked, and whether that is all
     */
    public static function conditions(): iterable
    {
        yield 'equal' => [[['h', 'house =', '']], 'house', '=', ['oster'], 'h=oster', false];
        yield 'equal, of a number' => [[['d', 'days =', '']], 'days', '=', ['3'], 'd=3', true];
        yield 'another column' => [[['h', 'house =', '']], 'ref', '=', ['x'], null, false];
        yield 'another operator' => [[['d', 'days >=', '']], 'days', '<=', ['3'], null, false];
        yield 'less than, by at most' => [[['d', 'days <=', '']], 'days', '<', ['3'], 'd=3', false];
        yield 'the exact one first' => [[['a', 'days <=', ''], ['b', 'days <', '']], 'days', '<', ['3'], 'b=3', true];
        yield 'between, both ends' => [[['a', 'due >=', ''], ['b', 'due <=', '']], 'due', 'between', ['2031-01-01', '2031-02-01'], 'a=2031-01-01 and b=2031-02-01', true];
        yield 'between, one end' => [[['b', 'due <=', '']], 'due', 'between', ['2031-01-01', '2031-02-01'], 'b=2031-02-01', false];
        yield 'a list' => [[['h', 'house in', 'comma']], 'house', 'in', ['a', 'b'], 'h=a, b', false];
        yield 'a list, by an input of one value' => [[['d', 'days =', '']], 'days', 'in', ['1', '2'], 'd=1, 2', true];
        yield 'one value, by an input of a list' => [[['d', 'days in', 'repeat']], 'days', '=', ['1'], 'd=1', true];
        yield 'a value with the separator in it' => [[['h', 'house in', 'comma']], 'house', '=', ['a,b'], null, false];
        yield 'a moment by RFC 3339' => [[['c', 'changed >=', '']], 'changed', '>=', ['2031-04-09 14:30:00'], 'c=2031-04-09T14:30:00Z', true];
        yield 'a day as a moment' => [[['c', 'changed >=', '']], 'changed', '>=', ['2031-04-09'], 'c=2031-04-09T00:00:00Z', true];
        yield 'what is no moment' => [[['c', 'changed >=', '']], 'changed', '>=', ['yesterday'], null, false];
        yield 'what is no number' => [[['d', 'days =', '']], 'days', '=', ['3 days'], null, false];
        yield 'true' => [[['o', 'open =', '']], 'open', '=', ['1'], 'o=true', true];
        yield 'a text that is ordered' => [[['h', 'house >=', '']], 'house', '>=', ['o'], null, false];
        yield 'begins' => [[['h', 'house begins', '']], 'house', 'like', ['os%'], 'h=os', false];
        yield 'begins, by contains' => [[['h', 'house contains', '']], 'house', 'like', ['os%'], 'h=os', false];
        yield 'contains, by begins' => [[['h', 'house begins', '']], 'house', 'like', ['%os%'], null, false];
        yield 'a pattern with a sign within' => [[['h', 'house contains', '']], 'house', 'like', ['%o_s%'], null, false];
        yield 'a masked column' => [[['h', 'hidden =', '']], 'hidden', '=', ['x'], null, false];
        yield 'an input with a value of its own' => [[['taken', 'house =', '']], 'house', '=', ['x'], null, false];
        yield 'is null' => [[['h', 'house =', '']], 'house', 'is null', [], null, false];
    }

    /**
     * @param  list<array{string, string, string}>  $inputs
     * @param  list<string>  $values
     */
    #[DataProvider('conditions')]
    public function test_conditions(array $inputs, string $column, string $operator, array $values, ?string $asked, bool $isExact): void
    {
        $part = self::push($inputs)->condition(new Wanted($column, $operator, $values, 'as it is written'));
        self::assertSame([$asked, $isExact, 'as it is written'], [$part->asked, $part->isExact, $part->text]);
        self::assertSame($asked === null, $part->why !== '');
    }

    public function test_an_input_says_one_thing_and_readings_need_a_key(): void
    {
        $push = self::push([['d', 'days =', '']]);
        self::assertNotNull($push->condition(new Wanted('days', '=', ['1'], 'a'))->asked);
        self::assertNull($push->condition(new Wanted('days', '=', ['2'], 'b'))->asked);
        self::assertSame(['d' => ['1']], $push->values);
        $push = self::push([['d', 'days =', '']], []);
        self::assertNull($push->condition(new Wanted('days', 'in', ['1', '2'], 'a'))->asked);
        $push = self::push([['d', 'days =', '']]);
        $push->condition(new Wanted('days', 'in', ['1', '2'], 'a'));
        self::assertSame(['d' => [['1'], ['2']]], $push->readings);
    }

    public function test_orders_and_rows(): void
    {
        $push = self::push([['sort', 'order due: due_at, due desc: -due_at, house: house', ''], ['top', 'rows', '']]);
        self::assertSame('sort=-due_at', $push->order('due', true)->asked);
        self::assertNull($push->order('due', false)->asked, 'it has a value already');
        self::assertSame('top=5', $push->rows(5)?->asked);
        self::assertNull($push->rows(6));
        self::assertNull(self::push([['sort', 'order house: house', '']])->order('house', false)->asked, 'texts');
        self::assertNull(self::push([['top', 'rows', '']])->order('due', false)->asked);
    }

    /**
     * @return iterable<string, array{string, array<string, mixed>|null}>
     */
    public static function texts(): iterable
    {
        yield 'equal' => ['status =', ['column' => 'status', 'operator' => '=']];
        yield 'without a sign' => ['status', ['column' => 'status', 'operator' => '=']];
        yield 'at least' => ['due >=', ['column' => 'due', 'operator' => '>=']];
        yield 'rows' => [' Rows ', ['rows' => true]];
        yield 'orders' => ['order due: due_at, due desc: -due_at', ['order' => ['due' => 'due_at', 'due desc' => '-due_at']]];
        yield 'no sense' => ['whatever you like', null];
        yield 'an order of nothing' => ['order due', null];
    }

    /**
     * @param  array<string, mixed>|null  $read
     */
    #[DataProvider('texts')]
    public function test_what_a_person_writes(string $text, ?array $read): void
    {
        self::assertSame($read, StandsFor::read($text));
        if ($read !== null) {
            self::assertSame($read, StandsFor::read(StandsFor::text($read)));
        }
    }
}
