<?php

declare(strict_types=1);

namespace Tests\Core\Feed;

use DeepSpring\Feed\ApplySql;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\CannotFilter;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\OldMoment;
use DeepSpring\Feed\OrderPart;
use DeepSpring\Feed\RowSource;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ApplySqlTest extends TestCase
{
    private static function source(): RowSource
    {
        $key = new FeedColumn('loan_id', 'integer', isKey: true);

        return new RowSource(new BoundSql('`loans`', []), [$key, new FeedColumn('house', 'text'), new FeedColumn('fee', 'decimal', 2), new FeedColumn('weight', 'float'), new FeedColumn('open', 'boolean'), new FeedColumn('policy', 'json')], [new OrderPart($key)]);
    }

    /**
     * @return iterable<string, array{string, string, list<string>, string}> text, SQL, values, columns with their types
     */
    public static function steps(): iterable
    {
        yield 'all rows' => ['aggregate($count as n,fee with sum as fees)', '(SELECT COUNT(*) AS `n`, SUM(`fee`) AS `fees` FROM `loans`) AS _groups', [], 'n integer, fees decimal 2'];
        yield 'groups' => ['groupby((house),aggregate(loan_id with sum as ids,weight with average as w))', '(SELECT `house`, SUM(`loan_id`) AS `ids`, AVG(`weight`) AS `w` FROM `loans` GROUP BY `house`) AS _groups', [], 'house text, ids decimal 0, w float'];
        yield 'different ones' => ['groupby((house,open))', '(SELECT `house`, `open` FROM `loans` GROUP BY `house`, `open`) AS _groups', [], 'house text, open boolean'];
        yield 'after a condition' => ["filter(house eq 'a/b')/aggregate(house with countdistinct as n,fee with max as dearest,fee with average as mean)", '(SELECT COUNT(DISTINCT `house`) AS `n`, MAX(`fee`) AS `dearest`, CAST(SUM(`fee`) AS DOUBLE) / COUNT(`fee`) AS `mean` FROM (SELECT * FROM `loans` WHERE (`house` <=> ? COLLATE utf8mb4_nopad_bin)) AS _rows) AS _groups', ['a/b'], 'n integer, dearest decimal 2, mean float'];
        yield 'one behind another' => ['groupby((house),aggregate($count as n))/filter(n gt 3)/aggregate(n with max as most)', '(SELECT MAX(`n`) AS `most` FROM (SELECT * FROM (SELECT `house`, COUNT(*) AS `n` FROM `loans` GROUP BY `house`) AS _groups WHERE (`n` > CAST(? AS SIGNED))) AS _rows) AS _groups', ['3'], 'most integer'];
        yield 'nothing' => ['identity', '`loans`', [], 'loan_id integer, house text, fee decimal 2, weight float, open boolean, policy json'];
    }

    /**
     * @param  list<string>  $values
     */
    #[DataProvider('steps')]
    public function test_steps_are_statements_within_each_other(string $text, string $sql, array $values, string $columns): void
    {
        $source = (new ApplySql(new \DateTimeImmutable('2031-01-01')))->of($text, self::source());
        self::assertSame(preg_replace('/<=> \? COLLATE/', '= ? COLLATE', $sql), preg_replace('/<=> \? COLLATE/', '= ? COLLATE', $source->sql->sql));
        self::assertSame($values, $source->sql->values);
        self::assertSame($columns, implode(', ', array_map(static fn (FeedColumn $column): string => trim("$column->name $column->type $column->scale"), $source->columns)));
    }

    /**
     * @return iterable<string, array{string, string, bool}> text, sentence, whether the protocol has it
     */
    public static function refused(): iterable
    {
        yield 'no step' => ['', 'A step of $apply is empty.', true];
        yield 'a wrong word' => ['agregate($count as n)', 'aggregate(…) was probably meant', true];
        yield 'without parentheses' => ['aggregate', 'there are filter(…), aggregate(…)', true];
        yield 'no alias' => ['aggregate($count)', 'is not written like fee with sum as fees', true];
        yield 'a name twice' => ['aggregate($count as n,fee with sum as N)', 'Two columns of $apply are called "N".', true];
        yield 'a group named again' => ['groupby((house),aggregate($count as house))', 'Two columns of $apply are called "house".', true];
        yield 'no column' => ['aggregate(fees with sum as n)', '"fee" was probably meant', true];
        yield 'JSON' => ['groupby((policy))', 'groupby by JSON cannot be answered here', false];
        yield 'an expression' => ['aggregate(fee mul 2 with sum as n)', 'There is no column "fee mul 2"', true];
        yield 'a path' => ['aggregate(items/fee with sum as n)', 'cannot be answered here', false];
        yield 'another method' => ['aggregate(fee with my.median as n)', 'The method my.median cannot be answered here', false];
        yield 'rollup' => ['groupby((rollup(house,open)))', 'rows are grouped by columns', false];
        yield 'a step inside' => ['groupby((house),filter(open)/aggregate($count as n))', 'cannot be answered here', false];
        yield 'another step' => ['concat(identity,identity)', 'concat in $apply cannot be answered here', false];
        yield 'injected' => ['aggregate($count as n`, (select 1))', 'is not written like', true];
        yield 'too many steps' => [implode('/', array_fill(0, 11, 'identity')), '$apply has at most 10 steps.', true];
        yield 'too long' => [str_repeat('a', 9000), '$apply has at most 8192 bytes.', true];
        yield 'the greatest of truths' => ['aggregate(open with max as n)', 'max does not take open', true];
    }

    #[DataProvider('refused')]
    public function test_what_is_not_done_is_named(string $text, string $says, bool $isPossible): void
    {
        try {
            (new ApplySql(new \DateTimeImmutable('2031-01-01')))->of($text, self::source());
            self::fail('It was taken.');
        } catch (CannotFilter $cannot) {
            self::assertStringContainsString($says, $cannot->getMessage());
            self::assertSame($isPossible, $cannot->isPossible);
        }
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function moments(): iterable
    {
        yield 'a day' => ['2031-03-02', '/Date(1930176000000)/'];
        yield 'a moment' => ['2031-03-02 09:30:00.250000', '/Date(1930210200250)/'];
        yield 'milliseconds' => ['1969-12-31 23:59:59.999000', '/Date(-1)/'];
        yield 'long ago' => ['0001-01-01 00:00:00.000000', '/Date(-62135596800000)/'];
        yield 'too fine' => ['2031-03-02 09:30:00.250001', 'no more than milliseconds'];
    }

    #[DataProvider('moments')]
    public function test_moments_of_version_2_are_milliseconds_or_refused(string $value, string $json): void
    {
        if (! str_starts_with($json, '/')) {
            $this->expectException(\InvalidArgumentException::class);
            $this->expectExceptionMessage($json);
        }
        self::assertSame($json, OldMoment::json($value));
    }

    public function test_times_of_day_are_durations(): void
    {
        self::assertSame(['PT9H5M0S', 'PT0H0M7.25S', 'PT23H59M59S', 'PT0H0M0.5S'], array_map(OldMoment::duration(...), ['09:05:00', '00:00:07.25', '23:59:59', '00:00:00.5']));
    }
}
