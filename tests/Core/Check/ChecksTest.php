<?php

declare(strict_types=1);

namespace Tests\Core\Check;

use DeepSpring\Check\Checks;
use DeepSpring\Check\Every;
use DeepSpring\Check\Found;
use DeepSpring\Check\InvalidCheck;
use DeepSpring\Check\TableCheck;
use DeepSpring\Flatten\Plan;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ChecksTest extends TestCase
{
    private const FLATTEN = [
        'table' => 'loans', 'key' => ['loan_id'],
        'columns' => [
            ['name' => 'loan_id', 'from' => '$.id', 'type' => 'integer'],
            ['name' => 'status', 'from' => '$.status', 'type' => 'text'],
            ['name' => 'fee', 'from' => '$.fee', 'type' => 'decimal', 'scale' => 2],
            ['name' => 'lent', 'from' => '$.lent', 'type' => 'date'],
            ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime', 'read_as' => 'epoch'],
            ['name' => 'borrower', 'from' => '$.borrower', 'type' => 'text', 'mask' => 'hash'],
            ['name' => 'phone', 'from' => '$.phone', 'type' => 'text', 'mask' => 'redact'],
            ['name' => 'more', 'from' => '$.more', 'type' => 'json'],
        ],
        'branches' => [['table' => 'loan_items', 'from' => '$.items[*]', 'columns' => [
            ['name' => 'loan_id', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'object', 'from' => '$.object', 'type' => 'text'],
        ]]],
    ];

    /**
     * @return iterable<string, array{array<string, mixed>, string, array{int, int, int|null, string|null}, string}> check, words, rows broken looked newest, sentence
     */
    public static function sentences(): iterable
    {
        yield 'never empty, held' => [['never_empty' => ['status']], 'status is never empty', [1200, 0, null, null], 'Holds for all 1 200 rows.'];
        yield 'never empty, broken' => [['never_empty' => ['status', 'fee']], 'status, fee are never empty', [1200, 2, null, null], '2 of 1 200 rows of loans have no status or no fee.'];
        yield 'one row' => [['never_empty' => ['status']], 'status is never empty', [1, 0, null, null], 'Holds for the one row.'];
        yield 'an empty table' => [['never_empty' => ['status']], 'status is never empty', [0, 0, null, null], 'There is no row to look at.'];
        yield 'nothing to look at' => [['one_of' => 'status', 'values' => ['open']], 'status is open', [3, 0, 0, null], 'There is no row with a value to look at.'];
        yield 'some have none' => [['one_of' => 'status', 'values' => ['open', 'packed']], 'status is one of open, packed', [1200, 0, 1100, null], 'Holds for all 1 100 rows with a value.'];
        yield 'one of, broken' => [['one_of' => 'status', 'values' => ['open', 'packed']], 'status is one of open, packed', [1200, 1, 1100, null], '1 of 1 100 rows of loans holds a value in status that is not among open, packed.'];
        yield 'range' => [['range' => 'fee', 'at_least' => 0, 'at_most' => '99.5'], 'fee is between 0 and 99.5', [10, 4, 10, null], '4 of 10 rows of loans hold a value in fee below 0 or above 99.5.'];
        yield 'range of days' => [['range' => 'lent', 'at_least' => '2030-01-01'], 'lent is at least 2030-01-01', [10, 1, 10, null], '1 of 10 rows of loans holds a value in lent below 2030-01-01.'];
        yield 'range of moments that answers write otherwise' => [['range' => 'changed', 'at_most' => '2031-01-01T12:00:00+02:00'], 'changed is at most 2031-01-01 10:00:00', [10, 0, 10, null], 'Holds for all 10 rows.'];
        yield 'matches' => [['matches' => 'status', 'pattern' => '[a-z]+'], 'status matches [a-z]+', [10, 2, 9, null], '2 of 9 rows of loans hold a value in status that does not match [a-z]+.'];
        yield 'every' => [['every' => 'fee >= 0'], 'fee >= 0', [10, 2, null, null], 'fee >= 0 does not hold for 2 of 10 rows of loans.'];
        yield 'unique' => [['unique' => ['status', 'lent']], 'status, lent are unique together', [10, 4, 9, null], '4 of 9 rows of loans share status, lent with another row.'];
        yield 'unique, of the key' => [['unique' => ['loan_id']], 'loan_id is unique in what comes', [10, 3, null, null], 'Of loans 3 records came with the key of another one.'];
        yield 'unique, of the key, held' => [['unique' => ['loan_id']], 'loan_id is unique in what comes', [10, 0, null, null], 'No two records came with the same key.'];
        yield 'refers' => [['refers' => 'borrower', 'to' => 'borrowers.name'], 'borrower stands in borrowers.name', [1300, 17, 1284, null], '17 of 1 284 rows of loans hold a value in borrower that is not in borrowers.name: 98.6 % are found.'];
        yield 'refers, nearly all' => [['refers' => 'borrower', 'to' => 'borrowers.name', 'covers' => 99.9], 'at least 99.9 % of borrower stands in borrowers.name', [100_000, 101, 100_000, null], '101 of 100 000 rows of loans hold a value in borrower that is not in borrowers.name: 99.8 % are found, at least 99.9 % are asked.'];
        yield 'refers, enough' => [['refers' => 'borrower', 'to' => 'borrowers.name', 'covers' => 90], 'at least 90 % of borrower stands in borrowers.name', [100, 10, 100, null], '90 % of 100 values are found; 10 rows have one that is not.'];
        yield 'newest' => [['newest' => 'changed', 'no_older_than' => 'P1DT2H'], 'the newest changed is no older than 1 day 2 h', [10, 0, 10, '2031-03-09 10:00:00.000000'], 'The newest changed of loans is 2031-03-09 10:00:00 UTC, older than 1 day 2 h.'];
        yield 'newest, to the second' => [['newest' => 'changed', 'no_older_than' => 'P1DT2H'], 'the newest changed is no older than 1 day 2 h', [10, 0, 10, '2031-03-09 10:00:01.000000'], 'The newest is 2031-03-09 10:00:01 UTC.'];
        yield 'newest, a day lasts until its end' => [['newest' => 'lent', 'no_older_than' => 'PT12H'], 'the newest lent is no older than 12 h', [10, 0, 10, '2031-03-10'], 'The newest is 2031-03-10.'];
        yield 'newest, the day before' => [['newest' => 'lent', 'no_older_than' => 'PT11H'], 'the newest lent is no older than 11 h', [10, 0, 10, '2031-03-09'], 'The newest lent of loans is 2031-03-09, older than 11 h.'];
        yield 'newest, nothing' => [['newest' => 'lent', 'no_older_than' => 'P1D'], 'the newest lent is no older than 1 day', [0, 0, 0, null], 'No row of loans has a value in lent.'];
        yield 'rows' => [['rows' => ['at_least' => 5]], 'at least 5 rows', [4, 0, null, null], 'loans would have 4 rows; at least 5 are asked.'];
    }

    /**
     * @param  array<string, mixed>  $settings
     * @param  array{int, int, int|null, string|null}  $counts
     */
    #[DataProvider('sentences')]
    public function test_what_was_found_is_said(array $settings, string $words, array $counts, string $sentence): void
    {
        $check = Checks::all([$settings], Plan::of(self::FLATTEN))[0]->check;
        self::assertSame($words, $check->words());
        $found = new Found('loans', $counts[0], $counts[1], new \DateTimeImmutable('2031-03-10T12:00:00.5Z'), $counts[2], $counts[3]);
        self::assertSame($sentence, str_replace("\u{2009}", ' ', $check->broken($found) ?? $check->held($found)));
    }

    /**
     * @return iterable<string, array{array<string, mixed>, string, string}>
     */
    public static function faults(): iterable
    {
        yield 'no such column' => [['never_empty' => ['statu']], '[0].never_empty', 'The table loans has no column "statu"; "status" was probably meant.'];
        yield 'no columns' => [['unique' => []], '[0].unique', 'Say which columns.'];
        yield 'nothing' => [['on' => 'note'], '[0].on', 'Say what is checked: unique, never_empty, one_of, range, matches, every, refers, newest, rows.'];
        yield 'two at once' => [['unique' => ['status'], 'every' => 'true'], '[0].every', 'Two checks in one, unique and every: write each of them alone.'];
        yield 'a setting of another' => [['unique' => ['status'], 'pattern' => 'a'], '[0].pattern', '"pattern" is no setting of unique.'];
        yield 'another setting' => [['matches' => 'status', 'at_least' => 1], '[0].at_least', '"at_least" is no setting of matches, which has matches, pattern.'];
        yield 'no such table' => [['unique' => ['object'], 'table' => 'items'], '[0].table', 'This endpoint fills no table "items", but loans, loan_items.'];
        yield 'a masked column' => [['one_of' => 'borrower', 'values' => ['a']], '[0].one_of', '"borrower" is masked, so its values are not there to be looked at.'];
        yield 'a redacted column' => [['unique' => ['phone']], '[0].unique', 'The values of "phone" cannot be compared: it is redacted.'];
        yield 'JSON' => [['matches' => 'more', 'pattern' => 'a'], '[0].matches', '"more" holds JSON. Make a column of the part that has to be checked.'];
        yield 'no value of the column' => [['one_of' => 'fee', 'values' => ['much']], '[0].values', '"much" is no value of "fee": not a number.'];
        yield 'no values' => [['one_of' => 'fee'], '[0].values', 'Say which values it may hold.'];
        yield 'no bound' => [['range' => 'fee'], '[0].at_least', 'Say at least or at most how much.'];
        yield 'a range of texts' => [['range' => 'status', 'at_least' => 'a'], '[0].range', '"status" holds no numbers and no moments.'];
        yield 'no expression' => [['matches' => 'status', 'pattern' => '(a'], '[0].pattern', '"(a" is no regular expression: missing closing parenthesis at offset'];
        yield 'a form of numbers' => [['matches' => 'fee', 'pattern' => 'a'], '[0].matches', '"fee" holds no text, so it has no form. A range says which values it may have.'];
        yield 'no condition' => [['every' => 'fee + 1'], '[0].every', 'At character 1: a condition is true or false, and this is a number.'];
        yield 'an unknown column in it' => [['every' => 'fe > 0'], '[0].every', 'At character 1: there is no column before this one named "fe"; "fee" was probably meant.'];
        yield 'no other column' => [['refers' => 'borrower', 'to' => 'borrowers'], '[0].to', 'Say which column of which table: borrowers.name.'];
        yield 'no moments' => [['newest' => 'fee', 'no_older_than' => 'P1D'], '[0].newest', '"fee" holds no moments. Make it a datetime under Flatten.'];
        yield 'no age' => [['newest' => 'lent'], '[0].no_older_than', 'Say how old the newest row may be, as P2D for two days.'];
        yield 'rows cannot be left out' => [['rows' => ['at_least' => 1], 'on' => 'drop'], '[0].on', 'No single row breaks this, so none can be left out. It can stop the refresh, or be noted.'];
        yield 'nor those of a key' => [['unique' => ['loan_id'], 'on' => 'drop'], '[0].on', 'No single row breaks this, so none can be left out. It can stop the refresh, or be noted.'];
    }

    /**
     * @param  array<string, mixed>  $settings
     */
    #[DataProvider('faults')]
    public function test_what_cannot_be_checked_is_said(array $settings, string $where, string $sentence): void
    {
        try {
            Checks::all([$settings], Plan::of(self::FLATTEN));
            self::fail('It was taken.');
        } catch (InvalidCheck $invalid) {
            self::assertSame($where, $invalid->where);
            self::assertStringStartsWith($sentence, $invalid->getMessage());
        }
    }

    public function test_a_row_can_only_be_left_out_where_its_branches_can_be_found(): void
    {
        $flatten = self::FLATTEN;
        $check = ['never_empty' => ['status'], 'on' => 'drop'];
        self::assertSame(TableCheck::DROP, Checks::all([$check], Plan::of($flatten))[0]->on);
        $without = $flatten;
        $without['branches'][0]['columns'] = [['name' => 'object', 'from' => '$.object', 'type' => 'text']];
        self::assertSame('loan_items', Checks::all([['never_empty' => ['object'], 'table' => 'loan_items', 'on' => 'drop']], Plan::of($without))[0]->table);
        $this->expectExceptionMessage('Some branch table does not carry the key of loans');
        Checks::all([$check], Plan::of($without));
    }

    public function test_a_table_has_to_keep_half_of_its_rows_unless_something_else_is_said(): void
    {
        $plan = Plan::of(self::FLATTEN);
        $words = static fn (array $checks): array => array_map(static fn (TableCheck $one): string => $one->words(), Checks::all($checks, $plan));
        self::assertSame(['less than half of its rows lost, or the table stays as it is'], $words([]));
        self::assertSame(['at least 1 row, within 10 % of what was there before, or the run says so'], $words([['rows' => ['at_least' => 1, 'change_at_most' => 10], 'on' => 'note']]));
        self::assertCount(2, $words([['rows' => ['change_at_most' => 10], 'table' => 'loan_items']]), 'of another table');
    }

    public function test_a_condition_goes_by_the_language_of_computed_columns(): void
    {
        $every = Checks::all([['every' => "(fee == null or fee >= 0) and status != ''"]], Plan::of(self::FLATTEN))[0]->check;
        self::assertInstanceOf(Every::class, $every);
        self::assertSame(['status', 'fee'], $every->named());
        foreach ([['1', 'open', '-0.01', true], ['1', 'open', '0.00', false], ['1', null, '-1.00', true], ['1', 'open', null, false], ['1', null, null, false], ['1', '', null, true], ['1', null, '1.00', false]] as [$id, $status, $fee, $isBroken]) {
            self::assertSame($isBroken, $every->isBrokenBy([1 => $status, 2 => $fee]), json_encode([$status, $fee], JSON_THROW_ON_ERROR));
        }
    }

    public function test_the_same_rule_has_the_same_mark_whatever_becomes_of_its_rows(): void
    {
        $mark = static fn (array $settings): string => Checks::all([$settings], Plan::of(self::FLATTEN))[0]->mark;
        self::assertSame($mark(['never_empty' => ['status']]), $mark(['never_empty' => ['status'], 'on' => 'note', 'table' => 'loans']));
        self::assertNotSame($mark(['never_empty' => ['loan_id']]), $mark(['never_empty' => ['loan_id'], 'table' => 'loan_items']));
        self::assertNotSame($mark(['rows' => ['at_least' => 1]]), $mark(['rows' => ['at_most' => 1]]));
    }
}
