<?php

declare(strict_types=1);

namespace Tests\Core\Feed;

use DeepSpring\Feed\CannotFilter;
use DeepSpring\Feed\CannotGoOn;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\FeedOrder;
use DeepSpring\Feed\FeedValue;
use DeepSpring\Feed\Keyset;
use DeepSpring\Feed\OrderPart;
use DeepSpring\Feed\SealedPlace;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Order, places in it, and values of a feed's pages.
 */
final class PagesOfFeedTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string}>
     */
    public static function orders(): iterable
    {
        yield 'none' => ['', '`loan_id`'];
        yield 'one' => ['due', '`due`, `loan_id`'];
        yield 'from the end' => [' due desc , ref asc', '`due` DESC, `ref`, `loan_id`'];
        yield 'the key itself' => ['loan_id desc', '`loan_id` DESC'];
        yield 'one twice' => ['due, due desc', '`due`, `loan_id`'];
        yield 'of the row itself' => ['$it/due', '`due`, `loan_id`'];
    }

    #[DataProvider('orders')]
    public function test_an_order_ends_with_the_key(string $text, string $sql): void
    {
        self::assertSame($sql, $this->order($text)->sql());
    }

    /**
     * @return iterable<string, array{string, bool, string}>
     */
    public static function faultyOrders(): iterable
    {
        yield 'no column' => ['dues', true, 'There is no column "dues"; "due" was probably meant.'];
        yield 'nothing' => ['due,,ref', true, 'Between the commas stands nothing to sort by.'];
        yield 'another word' => ['due down', true, '"due down" is no column with asc or desc behind it.'];
        yield 'SQL' => ['due; drop table loans', true, 'is no column'];
        yield 'a function' => ['length(ref)', false, 'An order by length(ref) cannot be answered here: rows are sorted by columns.'];
        yield 'JSON' => ['more', false, 'An order by JSON'];
    }

    #[DataProvider('faultyOrders')]
    public function test_an_order_that_cannot_be_is_named(string $text, bool $isPossible, string $says): void
    {
        try {
            self::fail($this->order($text)->sql());
        } catch (CannotFilter $cannot) {
            self::assertStringContainsString($says, $cannot->getMessage());
            self::assertSame($isPossible, $cannot->isPossible);
        }
    }

    /**
     * Whatever the order and whatever is missing in the rows: each row is found after all those before it, and after no
     * other. The condition is computed by other code than that which sorts.
     */
    public function test_each_row_comes_after_those_before_it_and_no_other(): void
    {
        $rows = [];
        foreach ([null, '2031-01-01', '2031-02-01'] as $due) {
            foreach ([null, '-5', '10', '9'] as $days) {
                $rows[] = ['due' => $due, 'days' => $days, 'loan_id' => (string) (count($rows) * 7 % 12)];
            }
        }
        foreach (['', 'due', 'due desc', 'days, due desc', 'days desc, due', 'due desc, days desc, loan_id desc'] as $text) {
            $order = $this->order($text)->parts;
            usort($rows, static fn (array $one, array $other): int => self::compared($one, $other, $order));
            foreach ($rows as $place => $last) {
                $condition = Keyset::after($order, array_map(static fn (OrderPart $part): ?string => $last[$part->column->name], $order));
                self::assertSame(substr_count($condition->sql, '?'), count($condition->values));
                foreach ($rows as $number => $row) {
                    self::assertSame($number > $place, self::holds($condition->sql, $condition->values, $row), "$text: row $number after row $place, by $condition->sql");
                }
            }
        }
    }

    /**
     * @param  array<string, string|null>  $one
     * @param  array<string, string|null>  $other
     * @param  list<OrderPart>  $order
     */
    private static function compared(array $one, array $other, array $order): int
    {
        foreach ($order as $part) {
            [$a, $b] = [$one[$part->column->name], $other[$part->column->name]];
            $difference = $a === $b ? 0 : ($a === null ? -1 : ($b === null ? 1 : ($part->column->type === 'integer' ? (int) $a <=> (int) $b : strcmp($a, $b))));
            if ($difference !== 0) {
                return $part->fromTheEnd ? -$difference : $difference;
            }
        }

        return 0;
    }

    /**
     * The few forms of conditions that a keyset has, as a database sees them.
     *
     * @param  list<string>  $values
     * @param  array<string, string|null>  $row
     */
    private static function holds(string $sql, array $values, array $row): bool
    {
        $number = 0;
        $php = (string) preg_replace_callback('/`(\w+)` (?:IS (NOT )?NULL|(=|>|<) CAST\(\? AS (\w+)\))/', static function (array $part) use ($row, $values, &$number): string {
            $value = $row[$part[1]];
            if (($part[3] ?? '') === '') {
                return ($value === null) === (($part[2] ?? '') === '') ? 'true' : 'false';
            }
            $other = $values[$number++];
            $difference = $part[4] === 'SIGNED' ? (int) $value <=> (int) $other : strcmp((string) $value, $other);

            return $value !== null && ['=' => $difference === 0, '>' => $difference > 0, '<' => $difference < 0][$part[3]] ? 'true' : 'false';
        }, $sql);
        self::assertMatchesRegularExpression('/^[()\s]*(?:(?:true|false|FALSE|AND|OR|1)[()\s]*)+$/D', $php);
        // Brackets from the inside out.
        while (preg_match('/\(([^()]*)\)/', $php, $part) === 1) {
            $php = str_replace($part[0], self::truth($part[1]) ? 'true' : 'false', $php);
        }

        return self::truth($php);
    }

    private static function truth(string $flat): bool
    {
        foreach (explode(' OR ', strtolower($flat) === $flat ? $flat : strtr($flat, ['FALSE' => 'false'])) as $all) {
            if (array_diff(array_map(trim(...), explode(' AND ', $all)), ['true', '1']) === []) {
                return true;
            }
        }

        return false;
    }

    public function test_a_place_comes_back_as_it_was(): void
    {
        $cursor = new SealedPlace('secret', 'filter', 'state');
        foreach ([['7'], [null, "é\u{1F6A2} \"x\"", '-1.50'], []] as $last) {
            self::assertSame($last, $cursor->open($cursor->seal($last)));
            self::assertMatchesRegularExpression('/^[A-Za-z0-9_-]+$/D', $cursor->seal($last));
        }
    }

    /**
     * @return iterable<string, array{\Closure(string): string, SealedPlace, bool, string}>
     */
    public static function places(): iterable
    {
        $as = static fn (string $token): string => $token;
        $cursor = new SealedPlace('secret', 'filter', 'state');
        yield 'another question' => [$as, new SealedPlace('secret', 'other', 'state'), false, 'belongs to another question'];
        yield 'another state' => [$as, new SealedPlace('secret', 'filter', 'other'), true, 'is no longer there'];
        yield 'another secret' => [$as, new SealedPlace('other', 'filter', 'state'), false, 'is no address of a next page'];
        foreach (['nothing' => static fn (): string => '', 'cut' => static fn (string $token): string => substr($token, 0, -4), 'longer' => static fn (string $token): string => $token.'AAAA', 'long' => static fn (): string => str_repeat('A', 7000), 'other letters' => static fn (string $token): string => $token.'=', 'the seal alone' => static fn (string $token): string => substr($token, 0, 21)] as $what => $change) {
            yield $what => [$change, $cursor, false, 'is no address of a next page'];
        }
        for ($place = 0; $place < 30; $place += 3) {
            yield "changed at $place" => [static fn (string $token): string => substr_replace($token, $token[$place] === 'A' ? 'B' : 'A', $place, 1), $cursor, false, 'is no address of a next page'];
        }
    }

    /**
     * @param  \Closure(string): string  $change
     */
    #[DataProvider('places')]
    public function test_a_place_that_is_none_is_refused(\Closure $change, SealedPlace $reader, bool $isGone, string $says): void
    {
        $token = (new SealedPlace('secret', 'filter', 'state'))->seal(['7']);
        try {
            $reader->open($change($token));
            self::fail('It was taken.');
        } catch (CannotGoOn $cannot) {
            self::assertStringContainsString($says, $cannot->getMessage());
            self::assertSame($isGone, $cannot->isGone);
        }
    }

    public function test_a_row_too_long_for_an_address_is_said(): void
    {
        $this->expectExceptionMessage('too long for the address of a next page');
        (new SealedPlace('secret', '', ''))->seal([str_repeat('é', 3000)]);
    }

    /**
     * @return iterable<string, array{string, string|null, string, string}> type, as the database gives it, JSON, JSON with long numbers as texts
     */
    public static function values(): iterable
    {
        yield 'nothing' => ['text', null, 'null', 'null'];
        yield 'a text' => ['text', "00731 \"é\"\n</script>", '"00731 \"é\"\n</script>"', '"00731 \"é\"\n</script>"'];
        yield 'a whole number' => ['integer', '9007199315028339', '9007199315028339', '"9007199315028339"'];
        yield 'a decimal' => ['decimal', '12345678901234567890.120000000000', '12345678901234567890.120000000000', '"12345678901234567890.120000000000"'];
        yield 'a float' => ['float', '1.5e-300', '1.5e-300', '1.5e-300'];
        yield 'a float without a point' => ['float', '3', '3.0', '3.0'];
        yield 'true' => ['boolean', '1', 'true', 'true'];
        yield 'false' => ['boolean', '0', 'false', 'false'];
        yield 'a day' => ['date', '2031-03-02', '"2031-03-02"', '"2031-03-02"'];
        yield 'a moment' => ['datetime', '2031-03-02 09:30:00.000000', '"2031-03-02T09:30:00Z"', '"2031-03-02T09:30:00Z"'];
        yield 'a moment with a fraction' => ['datetime', '2031-03-02 09:30:10.250000', '"2031-03-02T09:30:10.25Z"', '"2031-03-02T09:30:10.25Z"'];
        yield 'a moment as a query gives it' => ['datetime', '2031-03-02 09:30:00', '"2031-03-02T09:30:00Z"', '"2031-03-02T09:30:00Z"'];
        yield 'a time' => ['time', '09:30:00.500000', '"09:30:00.5"', '"09:30:00.5"'];
        yield 'midnight' => ['time', '00:00:00.000000', '"00:00:00"', '"00:00:00"'];
        yield 'JSON' => ['json', '{"n": 12345678901234567890.10}', '{"n": 12345678901234567890.10}', '{"n": 12345678901234567890.10}'];
        yield 'no JSON' => ['json', '{"n": ', '"{\"n\": "', '"{\"n\": "'];
    }

    #[DataProvider('values')]
    public function test_values_are_written_digit_for_digit(string $type, ?string $value, string $json, string $asTexts): void
    {
        self::assertSame($json, FeedValue::json(new FeedColumn('x', $type), $value));
        self::assertSame($asTexts, FeedValue::json(new FeedColumn('x', $type), $value, true));
    }

    private function order(string $text): FeedOrder
    {
        $key = new FeedColumn('loan_id', 'integer', isKey: true);

        return FeedOrder::read($text, [$key, new FeedColumn('due', 'date'), new FeedColumn('ref', 'text'), new FeedColumn('days', 'integer'), new FeedColumn('more', 'json')], [new OrderPart($key)]);
    }
}
