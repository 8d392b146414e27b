<?php

declare(strict_types=1);

namespace Tests\Core\Expression;

use DeepSpring\Expression\CannotEvaluate;
use DeepSpring\Expression\Expression;
use DeepSpring\Expression\Functions\Library;
use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\Scope;
use DeepSpring\Expression\Texts;
use DeepSpring\Expression\ValueKind;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ExpressionTest extends TestCase
{
    private const ROW = ['12', 'North Quay', '48000.00', '2031-03-02', '2031-03-02 09:30:00', '1', null, '["a","b"]', '0.5', '{"a":{"b":[1,2.5]}}', 'x'];

    /**
     * @return iterable<string, array{string, string|null}>
     */
    public static function values(): iterable
    {
        $all = [
            'id' => '12', 'id + 1' => '13', 'id * -2' => '-24', '2 + 3 * 4' => '14', '(2 + 3) * 4' => '20', '7 / 2' => '3.5', '6 / 3' => '2', '1 / 3' => '0.33333333333333333333', '7 % 4' => '3', '-7 % 4' => '-3', '10 - 2 - 3' => '5', '- - 3' => '3',
            'cover' => '48000', 'cover * 0.015' => '720', 'cover / 7' => '6857.14285714285714285714', '0.1 + 0.2' => '0.3', '9223372036854775807 + 1' => '9223372036854775808', '9007199254740993 * 1' => '9007199254740993', '12345678901234567890.5 - 0.5' => '12345678901234567890', 'share * 3' => '1.5',
            'name' => 'North Quay', "name == 'North Quay'" => 'true', "name === 'North Quay'" => 'true', "name != 'x'" => 'true', "name !== 'x'" => 'true', "name < 'Z'" => 'true', "'a' < 'B'" => 'false', 'name == "North Quay"' => 'true', "'it\\'s'" => "it's", "'a\\nb'" => "a\nb", '`order no`' => 'x', "`order no` == 'x' and id == 12" => 'true',
            'gone' => null, 'gone + 1' => null, 'gone == null' => 'true', 'gone !== null' => 'false', 'gone < 5' => 'false', 'gone >= 5' => 'false', 'upper(gone)' => null, "concat('a', gone, 'b')" => 'ab', 'coalesce(gone, id)' => '12', 'empty(gone)' => 'true', 'empty(name)' => 'false', 'not gone' => 'true',
            'open and id > 10' => 'true', 'open and not (id > 10)' => 'false', 'false or open' => 'true', 'not open or id == 12' => 'true', 'true and gone' => 'false', 'id in [11, 12]' => 'true', 'id not in [11, 12]' => 'false', "name in ['x', 'North Quay']" => 'true', 'gone in [null]' => 'true', 'id in []' => 'false', 'cover in [48000]' => 'true',
            'due < today()' => 'true', 'due !== null and due < today()' => 'true', "due == '2031-03-02'" => 'true', 'changed > due' => 'true', 'year(changed)' => '2031', 'days_between(due, today())' => '30', 'add_days(changed, 1)' => '2031-03-03', "start_of('week', due)" => '2031-02-24', 'now()' => '2031-04-01 12:00:00', 'weekday(due) >= 6' => 'true', 'add_months(due, -24)' => '2029-03-02',
            'if(open, name, null)' => 'North Quay', "if(id > 100, 'big')" => null, 'if(gone, 1, 2)' => '2', "if(id == 0, 1 / id, 'safe')" => 'safe', 'count(tags)' => '2', "join(tags, '+')" => 'a+b', "'a' in tags" => 'true', 'item(tags, 1)' => 'a', "json(deep, '\$.a.b[1]') * 2" => '5', 'sum(json(deep, "$.a.b"))' => '3.5', 'concat(tags)' => '["a","b"]',
            "concat(id, '/', cover, '/', open)" => '12/48000/true', 'length(id)' => '2', "right('x', 0)" => '', "mid('abc', 0, 2)" => 'ab', "replace('aaa', '', 'x')" => 'aaa', "part('a', '/', 3)" => null, "part('a/b', '/', 0)" => null, "matches('a.b', 'a.b')" => 'true', "matches('aXXb', 'a')" => 'false', 'round(1250, -2)' => '1300', 'round(-0.5)' => '-1', 'round(2.5)' => '3', 'null_if(name, \'North Quay\')' => null, 'null_if(id, 3)' => '12', 'smallest(gone, id, 3)' => '3', 'text(tags)' => '["a","b"]', "number('1e3')" => '1000', 'hour(changed)' => '9', "lookup(id, [1, 12], ['one', 'twelve'])" => 'twelve', "lookup(id, [1], ['one'], 'other')" => 'other', "lookup(id, [1], ['one'])" => null,
        ];
        foreach ($all as $text => $value) {
            yield $text => [(string) $text, $value];
        }
    }

    #[DataProvider('values')]
    public function test_an_expression_has_a_value(string $text, ?string $value): void
    {
        $found = $this->expression($text)->value(self::ROW);
        self::assertSame($value, $found === null ? null : Texts::of($found));
    }

    /**
     * @return iterable<string, array{string, int, string}>
     */
    public static function mistakes(): iterable
    {
        $all = [
            ['', 1, 'nothing here'], ['uper(name)', 1, '"upper" was probably meant'], ['nmae', 1, '"name" was probably meant'], ['upper(nmae)', 7, '"name" was probably meant'], ['id +', 5, 'missing'], ['id + + 1', 6, 'cannot stand'], ['(id', 4, '")" is missing, for the "(" at character 1'], ['id)', 3, 'closes nothing'], ['upper(name', 11, '")" is missing'], ['[1, 2', 6, '"]" is missing'],
            ['id = 1', 4, '"==" compares'], ['id && 1', 4, 'write "and"'], ['open || open', 6, 'write "or"'], ['!open', 1, 'write "not"'], ["name . 'x'", 6, 'concat'], ["'abc", 1, 'no end'], ['`abc', 1, 'no end'], ['id # 2', 4, 'means nothing'], ["name + 'x'", 6, 'concat'], ['name * 2', 1, 'number(…)'], ['due + 1', 5, 'add_days'], ['name == 5', 6, 'compared'], ['id == \'5\'', 4, 'without quotes'], ['open < true', 6, 'neither smaller'], ['1 < 2 < 3', 7, 'join them with "and"'],
            ['upper()', 1, 'takes 1 value'], ['upper(name, name)', 1, 'are 2'], ['left(name)', 1, 'left(text, count)'], ['left(name, name)', 12, 'wants a number'], ['year(name)', 6, 'date(…)'], ['upper', 1, 'is a function'], ['id in 5', 7, 'stands a list'], ['id in [1, \'a\']', 11, 'compared'], ['not id', 5, 'wants true or false'], ['open and id', 10, 'wants true or false'], ["matches(name, '(')", 15, 'no regular expression'], ["json(deep, 'a')", 12, 'path starts with'], ["start_of('moth', due)", 10, '"month" was probably meant'], ["date(name, 'DD.MM.YYYY')", 12, '"dd" was probably meant'], ['id name', 4, 'cannot stand here'], ['phpinfo()', 1, 'no function'], ['system(name)', 1, 'no function'], ['name->x', 6, 'missing before'], ['$name', 1, 'means nothing'], ['ünder + 1', 1, 'means nothing'], [str_repeat('(', 100).'1'.str_repeat(')', 100), 60, 'nested too deeply'], [implode('+', array_fill(0, 600, '1')), 503, 'too many parts'], [str_repeat('not ', 90).'open', 237, 'nested'], [str_repeat('-', 90).'1', 60, 'nested'], [str_repeat('a', 5000), 4001, '4000'], ["'\xff'", 1, 'UTF-8'],
        ];
        foreach ($all as [$text, $at, $why]) {
            yield mb_scrub(substr($text, 0, 40)) => [$text, $at, $why];
        }
    }

    #[DataProvider('mistakes')]
    public function test_a_mistake_is_said_at_its_place(string $text, int $character, string $why): void
    {
        try {
            $this->expression($text);
            self::fail('It was taken.');
        } catch (InvalidExpression $invalid) {
            self::assertStringContainsString($why, $invalid->getMessage());
            self::assertEqualsWithDelta($character, $invalid->position + 1, strlen($text) > 80 ? 3 : 0, $invalid->getMessage());
        }
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function failures(): iterable
    {
        yield 'by zero' => ['id / 0', 'division by zero'];
        yield 'rest of zero' => ['id % 0', 'division by zero'];
        yield 'no number' => ['number(name)', 'not a number: North Quay'];
        yield 'no day' => ['date(name)', 'ISO 8601'];
        yield 'far away' => ['add_days(due, 3999999)', 'outside the years'];
        yield 'too many digits' => ['1234567890123456789 * '.implode(' * ', array_fill(0, 40, '1234567890123456789')), '400 digits'];
        yield 'a text too long' => ["replace(pad_left('', 10000, 'a'), 'a', pad_left('', 10000, 'b'))", '1 MB'];
        yield 'no zone' => ["in_zone(changed, 'Saltmarsh/Quay')", 'no time zone'];
    }

    #[DataProvider('failures')]
    public function test_what_has_no_value_says_why(string $text, string $why): void
    {
        $expression = $this->expression($text);
        $this->expectException(CannotEvaluate::class);
        $this->expectExceptionMessage($why);
        $expression->value(self::ROW);
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function examples(): iterable
    {
        foreach ((new Library(new \DateTimeImmutable('2031-04-01T12:00:00Z')))->groups() as $functions) {
            foreach ($functions as $function) {
                yield $function->signature => $function->example;
            }
        }
    }

    #[DataProvider('examples')]
    public function test_the_example_of_every_function_is_true(string $text, string $value): void
    {
        self::assertSame($value, Texts::of($this->expression($text)->value(self::ROW)));
    }

    public function test_what_a_choice_gives_is_of_the_kind_that_its_values_share(): void
    {
        $kinds = ['if(open, id, cover)' => ValueKind::Number, 'if(open, id, null)' => ValueKind::Number, 'if(open, null, name)' => ValueKind::Text, 'if(open, id, name)' => ValueKind::Any, 'if(open, null, null)' => ValueKind::Any, "coalesce(due, '2031-01-01')" => ValueKind::Any, 'coalesce(due, due)' => ValueKind::Date, "if(open, 'a', 'b')" => ValueKind::Text];
        foreach ($kinds as $text => $kind) {
            self::assertSame($kind, $this->expression($text)->kind(), $text);
        }
    }

    public function test_a_condition_is_true_or_false(): void
    {
        $scope = new Scope([['id', 'integer']]);
        self::assertTrue(Expression::condition('id > 1', $scope)->holds(['2']));
        self::assertFalse(Expression::condition('id > 1', $scope)->holds([null]));
        $this->expectExceptionMessage('a condition is true or false, and this is a number');
        Expression::condition('id + 1', $scope);
    }

    private function expression(string $text): Expression
    {
        return Expression::of($text, new Scope([['id', 'integer'], ['name', 'text'], ['cover', 'decimal'], ['due', 'date'], ['changed', 'datetime'], ['open', 'boolean'], ['gone', 'json'], ['tags', 'json'], ['share', 'float'], ['deep', 'json'], ['order no', 'text']]), new \DateTimeImmutable('2031-04-01T12:00:00Z'));
    }
}
