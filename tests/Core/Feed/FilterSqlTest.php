<?php

declare(strict_types=1);

namespace Tests\Core\Feed;

use DeepSpring\Feed\CannotFilter;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\FilterSql;
use DeepSpring\OData\ODataVersion;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class FilterSqlTest extends TestCase
{
    private const BIN = 'COLLATE utf8mb4_nopad_bin';

    /**
     * @return list<FeedColumn>
     */
    public static function columns(): array
    {
        return [
            new FeedColumn('loan_id', 'integer', isKey: true), new FeedColumn('ref', 'text'), new FeedColumn('fee', 'decimal', 2), new FeedColumn('weight', 'float'), new FeedColumn('fragile', 'boolean'),
            new FeedColumn('due', 'date'), new FeedColumn('changed', 'datetime'), new FeedColumn('opens', 'time'), new FeedColumn('mark', 'uuid'), new FeedColumn('more', 'json'), new FeedColumn('days', 'integer'),
        ];
    }

    private static function sql(ODataVersion $version = ODataVersion::V4): FilterSql
    {
        return new FilterSql(self::columns(), $version, new \DateTimeImmutable('2031-03-02T09:30:00.5+01:00'), ['@house' => "'north-quay'", '@bad' => 'ref']);
    }

    /**
     * @return iterable<string, array{string, string, list<string>}>
     */
    public static function conditions(): iterable
    {
        $bin = self::BIN;
        yield 'a text' => ["ref eq 'L-7''s'", "(`ref` = ? $bin)", ["L-7's"]];
        yield 'what is not equal, or nothing' => ["ref ne 'a'", "(NOT (`ref` <=> ? $bin))", ['a']];
        yield 'of a key, plain' => ['loan_id ne 7', '(`loan_id` <> CAST(? AS SIGNED))', ['7']];
        yield 'beyond 64 bits' => ['loan_id eq 9223372036854775808', '(`loan_id` = CAST(? AS DECIMAL(19,0)))', ['9223372036854775808']];
        yield 'a decimal' => ['fee ge 10.50', '(`fee` >= CAST(? AS DECIMAL(3,1)))', ['10.5']];
        yield 'zeros in front' => ['fee lt 000.050', '(`fee` < CAST(? AS DECIMAL(2,2)))', ['0.05']];
        yield 'a float' => ['weight lt 1e3', '(`weight` < CAST(? AS DOUBLE))', ['1e3']];
        yield 'null' => ['ref eq null', '(`ref` IS NULL)', []];
        yield 'not null' => ['null ne ref', '(`ref` IS NOT NULL)', []];
        yield 'larger than nothing' => ['fee gt null', 'FALSE', []];
        yield 'nothing is nothing' => ['null eq null', 'TRUE', []];
        yield 'two columns that may be nothing' => ['fee eq days', '(`fee` <=> `days`)', []];
        yield 'two numbers that may be nothing' => ['fee le weight', '(COALESCE((`fee` <= `weight`), FALSE) OR (`fee` IS NULL AND `weight` IS NULL))', []];
        yield 'two of which one is there' => ['fee le loan_id', '(`fee` <= `loan_id`)', []];
        yield 'below a not' => ['not (fee gt 5)', '(NOT COALESCE((`fee` > CAST(? AS SIGNED)), FALSE))', ['5']];
        yield 'below a not, equal' => ["not (ref eq 'a')", "(NOT (`ref` <=> ? $bin))", ['a']];
        yield 'a comparison compared' => ['(fee gt 5) eq true', '(COALESCE((`fee` > CAST(? AS SIGNED)), FALSE) = TRUE)', ['5']];
        yield 'a boolean' => ['fragile', '(`fragile` = 1)', []];
        yield 'and, or' => ["fragile and (days gt 5 or ref eq 'x')", "((`fragile` = 1) AND ((`days` > CAST(? AS SIGNED)) OR (`ref` = ? $bin)))", ['5', 'x']];
        yield 'a day' => ['due lt 2031-02-28', '(`due` < CAST(? AS DATE))', ['2031-02-28']];
        yield 'a moment with an offset' => ['changed ge 2031-01-01T00:30:00+01:00', '(`changed` >= CAST(? AS DATETIME(6)))', ['2030-12-31 23:30:00.000000']];
        yield 'a time of day' => ['opens eq 09:30', '(`opens` = CAST(? AS TIME(6)))', ['09:30']];
        yield 'a GUID in capitals' => ['mark eq 0A1B2C3D-0000-1111-2222-333344445555', "(`mark` = ? $bin)", ['0a1b2c3d-0000-1111-2222-333344445555']];
        yield 'now' => ['changed lt now()', '(`changed` < CAST(? AS DATETIME(6)))', ['2031-03-02 08:30:00.500000']];
        yield 'one of' => ["ref in ('a', 'b')", "(`ref` IS NOT NULL AND `ref` IN (? $bin, ? $bin))", ['a', 'b']];
        yield 'one of, or nothing' => ["ref in ('a', null)", "(`ref` IS NULL OR `ref` IN (? $bin))", ['a']];
        yield 'one of, of a key' => ['loan_id in (1, 2)', '(`loan_id` IN (CAST(? AS SIGNED), CAST(? AS SIGNED)))', ['1', '2']];
        yield 'contains' => ["contains(ref, '50%')", "(LOCATE(? $bin, `ref`) > 0)", ['50%']];
        yield 'begins with' => ["startswith(ref, '5_%\\')", "(`ref` LIKE ? $bin)", ['5\\_\\%\\\\%']];
        yield 'begins with a column' => ['startswith(ref, tolower(ref))', '(LEFT(`ref`, CHAR_LENGTH(LOWER(`ref`))) = LOWER(`ref`))', []];
        yield 'a part of a text' => ['substring(ref, 1, 2) eq null', '(SUBSTRING(`ref`, GREATEST(CAST(? AS SIGNED), 0) + 1, GREATEST(CAST(? AS SIGNED), 0)) IS NULL)', ['1', '2']];
        yield 'a year' => ['year(due) eq 2031', '(YEAR(`due`) = CAST(? AS SIGNED))', ['2031']];
        yield 'sums before comparisons' => ['days add 2 mul 3 gt -1', '((`days` + (CAST(? AS SIGNED) * CAST(? AS SIGNED))) > CAST(? AS SIGNED))', ['2', '3', '-1']];
        yield 'a parameter' => ['ref eq @house', "(`ref` = ? $bin)", ['north-quay']];
        yield 'the row itself' => ["\$it/ref eq 'a'", "(`ref` = ? $bin)", ['a']];
        yield 'what looks like SQL' => ["ref eq ''' OR 1=1 -- '", "(`ref` = ? $bin)", ["' OR 1=1 -- "]];
    }

    /**
     * @param  list<string>  $values
     */
    #[DataProvider('conditions')]
    public function test_a_filter_becomes_a_condition(string $filter, string $sql, array $values): void
    {
        $found = self::sql()->condition($filter);
        self::assertSame($sql, $found->sql);
        self::assertSame($values, $found->values);
        self::assertSame(substr_count($sql, '?'), count($found->values));
    }

    /**
     * @return iterable<string, array{string, bool, string}> filter, whether the protocol knows it and it is not done here, what is said
     */
    public static function faults(): iterable
    {
        yield 'no column' => ["reff eq 'a'", true, 'There is no column "reff"; "ref" was probably meant.'];
        yield 'another letter case' => ["Ref eq 'a'", true, '"ref" was probably meant'];
        yield 'no truth' => ['days add 1', true, 'A condition is true or false; this is a number.'];
        yield 'a text and a GUID' => ['ref eq mark', true, 'A text cannot be compared with a GUID.'];
        yield 'a number without its zero' => ['fee gt .5', true, 'does not belong here'];
        yield 'a text and a number' => ['days eq \'5\'', true, 'A number cannot be compared with a text; write the value without quotes.'];
        yield 'a number and a text' => ['ref eq 5', true, 'A text cannot be compared with a number; write the value in quotes.'];
        yield 'a day and a moment' => ['due eq changed', true, 'write date(…) of the one with time'];
        yield 'truth that is larger' => ['fragile gt false', true, 'True and false are compared with eq and ne, not with gt.'];
        yield 'a day that there is not' => ['due eq 2031-02-29', true, 'is no moment of the years 1 to 9999'];
        yield 'an hour that there is not' => ['changed eq 2031-02-28T25:00:00Z', true, 'is no moment'];
        yield 'a year beyond' => ['due eq 12031-02-28', true, 'is no moment of the years'];
        yield 'before the first year, by its offset' => ['changed eq 0001-01-01T00:00:00+10:00', true, 'is no moment of the years'];
        yield 'too many digits' => ['fee eq 1.'.str_repeat('1', 39), true, 'has more digits than any number here'];
        yield 'too large a float' => ['weight eq 1e999', true, 'is larger than any number here'];
        yield 'no such function' => ["contain(ref, 'a')", true, '"contains" was probably meant'];
        yield 'a function of another version' => ["substringof('a', ref)", true, "write contains(Name, 'part')"];
        yield 'too few values' => ['contains(ref)', true, 'contains takes 2 values, not 1'];
        yield 'a function of texts' => ["contains(days, '5')", true, 'contains takes a text, not a number.'];
        yield 'by nothing' => ['days div 0 eq 1', true, 'div by 0.'];
        yield 'a parameter without a value' => ['ref eq @town', true, 'The parameter @town has no value in the address.'];
        yield 'a parameter that is no value' => ['ref eq @bad', true, 'is no literal'];
        yield 'a sign' => ['days = 5', true, '"eq" instead of "="'];
        yield 'JSON' => ["more eq 'x'", false, 'A comparison with JSON cannot be answered here: only whether it is null can be asked.'];
        yield 'closer than a microsecond' => ['changed eq 2031-01-01T00:00:00.0000001Z', false, 'closer than a microsecond'];
        yield 'a pattern' => ["matchesPattern(ref, '^a')", false, 'The function matchesPattern cannot be answered here.'];
        yield 'a cast' => ["cast(ref, 'Edm.Int32') eq 5", false, 'The function cast cannot'];
        yield 'a collection' => ["items/any(i: i/title eq 'a')", false, 'any cannot be answered here'];
        yield 'a path' => ["borrower/name eq 'a'", true, 'There is no column "borrower/name"'];
        yield 'a duration' => ["changed add duration'P1D' gt now()", false, 'Edm.Duration'];
        yield 'a sum of dates' => ['changed sub changed gt 5', false, 'sub with dates'];
        yield 'infinite' => ['weight lt INF', false, 'The number INF'];
        yield 'decimals divided' => ['fee div 3 gt 1', false, 'div of decimals cannot be answered here: it would be cut after some digits.'];
        yield 'has' => ["ref has 'a'", false, 'The operator has'];
        yield 'long' => ["ref eq '".str_repeat('a', 20_000)."'", true, 'A filter has at most 16384 bytes'];
        yield 'many' => [implode(' or ', array_fill(0, 300, 'days eq 1')), true, 'A filter has at most 500 parts.'];
        yield 'deep' => [str_repeat('(', 600).'fragile'.str_repeat(')', 600), true, 'nested deeper'];
    }

    #[DataProvider('faults')]
    public function test_what_cannot_be_asked_is_said_and_where(string $filter, bool $isPossible, string $says): void
    {
        try {
            self::fail('It became '.self::sql()->condition($filter)->sql);
        } catch (CannotFilter $cannot) {
            self::assertStringContainsString($says, $cannot->getMessage());
            self::assertSame($isPossible, $cannot->isPossible);
        }
    }

    /**
     * @return iterable<string, array{string, string, list<string>}>
     */
    public static function olderConditions(): iterable
    {
        yield 'numbers with their letter' => ['fee gt 1.5M and days lt 7L', '((`fee` > CAST(? AS DECIMAL(2,1))) AND (`days` < CAST(? AS SIGNED)))', ['1.5', '7']];
        yield 'a day is a moment' => ["due ge datetime'2031-03-01T00:00:00'", '(`due` >= CAST(? AS DATETIME(6)))', ['2031-03-01 00:00:00.000000']];
        yield 'a moment with an offset' => ["changed eq datetimeoffset'2031-03-01T01:00:00+01:00'", '(`changed` = CAST(? AS DATETIME(6)))', ['2031-03-01 00:00:00.000000']];
        yield 'a time is a duration' => ["opens le time'PT9H30M'", '(`opens` <= CAST(? AS TIME(6)))', ['09:30:00.0']];
        yield 'part first' => ["substringof('a', ref)", '(LOCATE(? COLLATE utf8mb4_nopad_bin, `ref`) > 0)', ['a']];
        yield 'a GUID' => ["mark eq guid'0a1b2c3d-0000-1111-2222-333344445555'", '(`mark` = ? COLLATE utf8mb4_nopad_bin)', ['0a1b2c3d-0000-1111-2222-333344445555']];
    }

    /**
     * @param  list<string>  $values
     */
    #[DataProvider('olderConditions')]
    public function test_version_two_writes_values_in_its_own_way(string $filter, string $sql, array $values): void
    {
        $found = self::sql(ODataVersion::V2)->condition($filter);
        self::assertSame([$sql, $values], [$found->sql, $found->values]);
    }
}
