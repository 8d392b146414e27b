<?php

declare(strict_types=1);

namespace Tests\Core\Increment;

use DeepSpring\Flatten\TablePlan;
use DeepSpring\Increment\Increments;
use DeepSpring\Increment\InvalidIncrement;
use DeepSpring\Increment\RecordKey;
use DeepSpring\Increment\SeenValues;
use DeepSpring\Increment\SentMoment;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class IncrementsTest extends TestCase
{
    private const TABLE = [
        'table' => 'loans', 'key' => ['loan_id'],
        'columns' => [
            ['name' => 'loan_id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime'], ['name' => 'day', 'from' => '$.day', 'type' => 'date'],
            ['name' => 'ref', 'from' => '$.ref', 'type' => 'text'], ['name' => 'gone', 'from' => '$.gone', 'type' => 'boolean'], ['name' => 'phone', 'from' => '$.phone', 'type' => 'text', 'mask' => 'hash'],
        ],
    ];

    private static function moment(string $at): \DateTimeImmutable
    {
        return new \DateTimeImmutable($at, new \DateTimeZone('UTC'));
    }

    /**
     * @return iterable<string, array{array<string, mixed>, string, array<string, string>}>
     */
    public static function sent(): iterable
    {
        $by = ['column' => 'changed', 'send_as' => 'changed_since'];
        $mark = '2031-01-15 06:00:00.250000';
        yield 'a moment' => [$by, $mark, ['changed_since' => '2031-01-15T06:00:00.25Z']];
        yield 'earlier' => [$by + ['overlap' => 'PT5M'], $mark, ['changed_since' => '2031-01-15T05:55:00.25Z']];
        yield 'in a zone' => [$by + ['zone' => 'Europe/Oslo'], $mark, ['changed_since' => '2031-01-15T07:00:00.25+01:00']];
        yield 'without a zone' => [$by + ['zone' => 'Europe/Oslo', 'format' => 'iso-local'], $mark, ['changed_since' => '2031-01-15T07:00:00.25']];
        yield 'a day' => [$by + ['format' => 'date'], $mark, ['changed_since' => '2031-01-15']];
        yield 'a day, that of the zone' => [$by + ['format' => 'date', 'zone' => 'America/New_York', 'overlap' => 'PT2H'], $mark, ['changed_since' => '2031-01-14']];
        yield 'seconds' => [$by + ['format' => 'epoch'], $mark, ['changed_since' => '1926223200']];
        yield 'milliseconds' => [$by + ['format' => 'epoch-ms'], $mark, ['changed_since' => '1926223200250']];
        yield 'as in mail' => [$by + ['format' => 'rfc2822'], $mark, ['changed_since' => 'Wed, 15 Jan 2031 06:00:00 +0000']];
        yield 'a day that is kept as one' => [['column' => 'day', 'send_as' => 'from', 'format' => 'date', 'overlap' => 'P1D'], '2031-01-15', ['from' => '2031-01-14']];
        yield 'a number that grows' => [['column' => 'loan_id', 'send_as' => 'after_id'], '8812', ['after_id' => '8812']];
        yield 'a number that grows, and some before' => [['column' => 'loan_id', 'send_as' => 'after_id', 'overlap' => 20], '9223372036854775807', ['after_id' => '9223372036854775787']];
        yield 'a text that grows' => [['column' => 'ref', 'send_as' => 'after'], '01J', ['after' => '01J']];
        yield 'a window' => [['window' => 'P7D', 'send_as' => 'from', 'until_as' => 'to', 'format' => 'date'], 'read', ['from' => '2031-01-13', 'to' => '2031-01-20']];
        yield 'a marker' => [['marker' => '$.next', 'send_as' => 'marker'], "a b&c\u{0}", ['marker' => "a b&c\u{0}"]];
    }

    /**
     * @param  array<string, mixed>  $since
     * @param  array<string, string>  $expected
     */
    #[DataProvider('sent')]
    public function test_what_is_sent(array $since, string $mark, array $expected): void
    {
        $increment = Increments::of(['mode' => 'incremental', 'since' => $since], TablePlan::of(self::TABLE));

        self::assertSame($expected, $increment?->sent($mark, self::moment('2031-01-20T09:30:00')));
    }

    /**
     * @return iterable<string, array{array<string, mixed>, string|null, SeenValues, string|null}>
     */
    public static function marks(): iterable
    {
        $by = ['column' => 'changed', 'send_as' => 'since'];
        $began = self::moment('2031-01-15T06:00:00');
        yield 'the newest change' => [$by, null, new SeenValues('2031-01-15 05:00:00.000000', began: $began), '2031-01-15 05:00:00.000000'];
        yield 'not after the reading began' => [$by, null, new SeenValues('2031-01-15 06:00:07.000000', '2031-01-15 05:59:00.000000', $began), '2031-01-15 06:00:00.000000'];
        yield 'a clock that is of no use: what the first answer held' => [$by, null, new SeenValues('2031-01-15 06:00:07.000000', '2031-01-14 00:00:00.000000', self::moment('2026-11-29T00:00:00')), '2031-01-14 00:00:00.000000'];
        yield 'no clock: the same' => [$by, null, new SeenValues('2031-01-15 06:00:07.000000', '2031-01-14 00:00:00.000000'), '2031-01-14 00:00:00.000000'];
        yield 'nothing new' => [$by, '2031-01-15 05:00:00.000000', new SeenValues(began: $began), '2031-01-15 05:00:00.000000'];
        yield 'nothing at all' => [$by, null, new SeenValues(began: $began), null];
        yield 'never back' => [$by, '2031-01-15 05:00:00.000000', new SeenValues('2031-01-15 04:00:00.000000', began: $began), '2031-01-15 05:00:00.000000'];
        $key = ['column' => 'loan_id', 'send_as' => 'after'];
        yield 'the largest key' => [$key, '99', new SeenValues('100'), '100'];
        yield 'no new key' => [$key, '100', new SeenValues, '100'];
        yield 'only those that were read again' => [$key, '100', new SeenValues('99'), '100'];
        yield 'texts as texts' => [['column' => 'ref', 'send_as' => 'after'], '99', new SeenValues('100'), '99'];
        yield 'a marker' => [['marker' => '$.m', 'send_as' => 'm'], 'a', new SeenValues(marker: 'b'), 'b'];
        yield 'no marker this time' => [['marker' => '$.m', 'send_as' => 'm'], 'a', new SeenValues, 'a'];
        yield 'never a marker' => [['marker' => '$.m', 'send_as' => 'm'], null, new SeenValues, null];
        yield 'a window needs that everything was read once' => [['window' => 'P7D', 'send_as' => 'from'], null, new SeenValues, 'read'];
    }

    /**
     * @param  array<string, mixed>  $since
     */
    #[DataProvider('marks')]
    public function test_where_the_next_reading_begins(array $since, ?string $mark, SeenValues $seen, ?string $expected): void
    {
        self::assertSame($expected, Increments::of(['mode' => 'incremental', 'since' => $since], TablePlan::of(self::TABLE))?->next($mark, $seen));
    }

    /**
     * @return iterable<string, array{array<string, mixed>, array<string, mixed>, string, string}> refresh, changes to the table, where, sentence
     */
    public static function refused(): iterable
    {
        $since = static fn (array $since, array $more = []): array => ['mode' => 'incremental', 'since' => $since] + $more;
        $by = ['column' => 'changed', 'send_as' => 'since'];
        yield 'nothing said' => [['mode' => 'incremental'], [], 'since', 'Say by what changes are asked for'];
        yield 'no key' => [$since($by), ['key' => []], 'since', 'has no key'];
        yield 'a condition' => [$since($by), ['where' => 'loan_id > 5'], 'mode', 'leaves out records by a condition'];
        yield 'a column that is not there' => [$since(['column' => 'when'] + $by), [], 'since.column', 'no column "when"'];
        yield 'no column' => [$since(['send_as' => 'since']), [], 'since.column', 'Say which column'];
        yield 'not by moments' => [$since(['by' => 'changed', 'column' => 'ref'] + $by), [], 'since.column', 'holds no moments'];
        yield 'a key that does not grow' => [$since(['column' => 'gone'] + $by), [], 'since.column', 'a whole number or a text'];
        yield 'masked' => [$since(['column' => 'phone'] + $by), [], 'since.column', 'is masked'];
        yield 'an overlap of records for moments' => [$since($by + ['overlap' => 5]), [], 'since.overlap', 'a duration'];
        yield 'an overlap of time for a key' => [$since(['column' => 'loan_id', 'overlap' => 'PT5M'] + $by), [], 'since.overlap', 'a number'];
        yield 'an overlap of texts' => [$since(['column' => 'ref', 'overlap' => 5] + $by), [], 'since.overlap', 'A text has no overlap'];
        yield 'a zone that is none' => [$since($by + ['zone' => 'Mars']), [], 'since.zone', 'no time zone'];
        yield 'a flag that is not there' => [$since($by, ['deleted' => ['column' => 'withdrawn']]), [], 'deleted.column', 'no column "withdrawn"'];
        yield 'a flag without its value' => [$since($by, ['deleted' => ['column' => 'ref']]), [], 'deleted.is', 'Say which value'];
        yield 'a branch that does not carry the key' => [$since($by), ['branches' => [['table' => 'items', 'from' => '$.items[*]', 'columns' => [['name' => 'line', 'position' => 1]]]]], 'mode', 'The branch table items does not carry loan_id'];
        yield 'a branch that carries another field' => [$since($by), ['branches' => [['table' => 'items', 'from' => '$.items[*]', 'columns' => [['name' => 'loan_id', 'parent' => '$.ref', 'type' => 'integer']]]]], 'mode', 'does not carry loan_id'];
    }

    /**
     * @param  array<string, mixed>  $refresh
     * @param  array<string, mixed>  $changes
     */
    #[DataProvider('refused')]
    public function test_what_cannot_be_followed_is_refused_with_a_sentence(array $refresh, array $changes, string $where, string $sentence): void
    {
        try {
            Increments::of($refresh, TablePlan::of($changes + self::TABLE));
            self::fail('It was taken.');
        } catch (InvalidIncrement $invalid) {
            self::assertSame($where, $invalid->where);
            self::assertStringContainsString($sentence, $invalid->getMessage());
        }
    }

    public function test_everything_is_read_unless_it_says_otherwise(): void
    {
        self::assertNull(Increments::of([], TablePlan::of(self::TABLE)));
        self::assertNull(Increments::of(['mode' => 'whole', 'since' => ['send_as' => 'x']], TablePlan::of(self::TABLE)));
    }

    public function test_the_key_of_a_record_is_found_in_every_table(): void
    {
        $parent = ['name' => 'loan', 'parent' => '$.id', 'type' => 'integer'];
        $plan = TablePlan::of(['branches' => [
            ['table' => 'items', 'from' => '$.items[*]', 'columns' => [['name' => 'line', 'position' => 1], $parent], 'branches' => [['table' => 'parts', 'from' => '$.parts[*]', 'columns' => [['name' => 'x', 'from' => '$.x'], ['up' => 1] + $parent]]]],
            ['table' => 'terms', 'from' => '$', 'columns' => [['name' => 'text', 'from' => '$.terms'], ['name' => 'loan', 'from' => '$.id', 'type' => 'integer']]],
        ]] + self::TABLE);
        self::assertSame([[0], [1], [1], [1]], RecordKey::of($plan)->places);
        $house = ['name' => 'house', 'input' => 'house'];
        $columns = [...self::TABLE['columns'], $house];
        $plan = TablePlan::of(['key' => ['house', 'loan_id'], 'columns' => $columns, 'branches' => [['table' => 'items', 'from' => '$.items[*]', 'columns' => [$parent, $house]]]] + self::TABLE);
        self::assertSame([[6, 0], [1, 0]], RecordKey::of($plan)->places);
    }

    public function test_it_is_said_in_words(): void
    {
        $words = static fn (array $since): string => (string) Increments::of(['mode' => 'incremental', 'since' => $since], TablePlan::of(self::TABLE))?->words();
        self::assertSame('by changed, sent as changed_since, 5 min earlier', $words(['column' => 'changed', 'send_as' => 'changed_since', 'overlap' => 'PT5M']));
        self::assertSame('by loan_id, which grows, sent as after, 20 less', $words(['column' => 'loan_id', 'send_as' => 'after', 'overlap' => 20]));
        self::assertSame('the last 1 day 12 h, sent as from and to', $words(['window' => 'P1DT12H', 'send_as' => 'from', 'until_as' => 'to']));
        self::assertSame('from where $.next of the last answer says, sent as marker', $words(['marker' => '$.next', 'send_as' => 'marker']));
        self::assertSame(array_keys(SentMoment::FORMATS), ['iso', 'iso-local', 'date', 'epoch', 'epoch-ms', 'rfc2822']);
    }
}
