<?php

declare(strict_types=1);

namespace Tests\Core\Sql;

use DeepSpring\Sql\Build\CannotBuild;
use DeepSpring\Sql\Build\HowCompared;
use DeepSpring\Sql\Build\PickedColumn;
use DeepSpring\Sql\Build\PickedCondition;
use DeepSpring\Sql\Build\ReadTable;
use DeepSpring\Sql\Build\ReadTables;
use DeepSpring\Sql\Build\SelectSteps;
use DeepSpring\Sql\Build\SelectText;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class BuildTest extends TestCase
{
    private const LOANS = ['ref' => 'text', 'house' => 'text', 'borrower' => 'text', 'due' => 'date', 'out_at' => 'datetime', 'value' => 'decimal', 'days' => 'integer'];

    private const VENUES = ['code' => 'text', 'house' => 'text', 'name' => 'text', 'places' => 'integer'];

    /**
     * @return iterable<string, array{string, array<string, string>, string}> a statement, a step, what it becomes
     */
    public static function steps(): iterable
    {
        yield 'a column more' => ['select ref from loans', ['do' => 'add-column', 'column' => 'house'], 'select ref, house from loans'];
        yield 'a count takes the star away and needs no group' => ['select * from loans', ['do' => 'add-count'], 'select count(*) as n from loans'];
        yield 'a count groups by what is shown' => ["select house\nfrom loans", ['do' => 'add-count'], "select house, count(*) as n\nfrom loans\ngroup by house"];
        yield 'a column beside a count is grouped by' => ['select house, count(*) n from loans group by house', ['do' => 'add-column', 'column' => 'borrower'], "select house, count(*) n, borrower from loans\ngroup by house, borrower"];
        yield 'a column is summed' => ['select house, value from loans', ['do' => 'use-column', 'item' => '1', 'use' => 'sum'], "select house, sum(value) as total_value from loans\ngroup by house"];
        yield 'and is itself again' => ["select house, sum(value) as total_value from loans\ngroup by house", ['do' => 'use-column', 'item' => '1', 'use' => ''], 'select house, value from loans'];
        yield 'a name that somebody gave stays' => ['select house, sum(value) as worth from loans group by house', ['do' => 'use-column', 'item' => '1', 'use' => 'mean'], 'select house, avg(value) as worth from loans group by house'];
        yield 'by week' => ['select out_at, count(*) as n from loans group by out_at', ['do' => 'use-column', 'item' => '0', 'use' => 'week'], "select date_format(out_at, '%x-W%v') as week_of_out_at, count(*) as n from loans\ngroup by date_format(out_at, '%x-W%v')"];
        yield 'by hour of a zone' => ['select out_at from loans', ['do' => 'use-column', 'item' => '0', 'use' => 'hour', 'zone' => 'Europe/Oslo'], "select date_format(convert_tz(out_at, 'UTC', 'Europe/Oslo'), '%Y-%m-%d %H:00') as hour_of_out_at from loans"];
        yield 'a zone that is none' => ['select out_at from loans', ['do' => 'use-column', 'item' => '0', 'use' => 'day', 'zone' => "x') or 1 --"], 'select date(out_at) as day_of_out_at from loans'];
        yield 'a column goes, and its group' => ['select house, borrower, count(*) from loans group by house, borrower', ['do' => 'drop-column', 'item' => '1'], "select house, count(*) from loans\ngroup by house"];
        yield 'the last one leaves the star' => ['select house from loans', ['do' => 'drop-column', 'item' => '0'], 'select * from loans'];
        yield 'a group that is not shown stays' => ['select house, count(*) from loans group by house, due', ['do' => 'add-column', 'column' => 'borrower'], "select house, count(*), borrower from loans\ngroup by house, due, borrower"];
        yield 'a group by its alias goes with it' => ["select date_format(due, '%Y') as y, house, count(*) from loans group by y, house", ['do' => 'drop-column', 'item' => '0'], "select house, count(*) from loans\ngroup by house"];
        yield 'a name, followed by the order' => ['select house, sum(value) total from loans group by house order by total desc', ['do' => 'name-column', 'item' => '1', 'value' => 'worth'], "select house, sum(value) as worth from loans group by house\norder by worth desc"];
        yield 'a name taken away, followed by the order' => ['select house, sum(value) total from loans group by house order by total desc', ['do' => 'name-column', 'item' => '1', 'value' => ''], "select house, sum(value) from loans group by house\norder by sum(value) desc"];
        yield 'a place to the front' => ['select house, ref, due from loans', ['do' => 'move-column', 'item' => '2'], 'select house, due, ref from loans'];
        yield 'distinct' => ['select house from loans', ['do' => 'distinct', 'value' => '1'], 'select distinct house from loans'];
        yield 'no longer distinct' => ['select distinct house from loans', ['do' => 'distinct', 'value' => '0'], 'select house from loans'];
        yield 'a condition' => ['select * from loans', ['do' => 'add-condition', 'column' => 'house', 'how' => '=', 'value' => "Ost'er"], "select * from loans\nwhere house = 'Ost''er'"];
        yield 'a number' => ['select * from loans', ['do' => 'add-condition', 'column' => 'days', 'how' => '>', 'value' => '14'], "select * from loans\nwhere days > 14"];
        yield 'a code of digits stays text' => ['select * from loans', ['do' => 'add-condition', 'column' => 'house', 'how' => '=', 'value' => '0071'], "select * from loans\nwhere house = '0071'"];
        yield 'a parameter' => ['select * from loans', ['do' => 'add-condition', 'column' => 'house', 'how' => '=', 'value' => ':house'], "select * from loans\nwhere house = :house"];
        yield 'several values' => ['select * from loans where days > 1', ['do' => 'add-condition', 'column' => 'house', 'how' => 'in', 'value' => 'oster, "vest, nord"'], "select * from loans\nwhere days > 1\n  and house in ('oster', 'vest, nord')"];
        yield 'a part of a text, with signs that LIKE knows' => ['select * from loans', ['do' => 'add-condition', 'column' => 'house', 'how' => 'contains', 'value' => '5%_\\'], "select * from loans\nwhere house like '%5\\%\\_\\\\\\\\%'"];
        yield 'beside OR in brackets' => ['select * from loans where days > 1 or days is null', ['do' => 'add-condition', 'column' => 'house', 'how' => 'is not null', 'value' => ''], "select * from loans\nwhere (days > 1 or days is null)\n  and house is not null"];
        yield 'of a measure after the groups' => ['select house, count(*) as n from loans group by house', ['do' => 'add-condition', 'column' => 'n', 'how' => '>=', 'value' => '3'], "select house, count(*) as n from loans group by house\nhaving n >= 3"];
        yield 'a condition changed' => ["select * from loans where house = 'oster' and days between 3 and 9 order by due", ['do' => 'change-condition', 'clause' => 'where', 'item' => '1', 'how' => 'between', 'value' => '4, 8'], "select * from loans\nwhere house = 'oster'\n  and days between 4 and 8 order by due"];
        yield 'a condition taken away' => ['select * from loans where days > 1 limit 5', ['do' => 'drop-condition', 'clause' => 'where', 'item' => '0'], 'select * from loans limit 5'];
        yield 'an order' => ['select * from loans limit 5', ['do' => 'add-order', 'column' => 'due', 'down' => '1'], "select * from loans\norder by due desc limit 5"];
        yield 'an order turned' => ['select * from loans order by due desc, ref', ['do' => 'turn-order', 'item' => '0'], "select * from loans\norder by due, ref"];
        yield 'a limit' => ['select * from loans limit 5', ['do' => 'limit', 'value' => '50'], "select * from loans\nlimit 50"];
        yield 'no limit' => ['select * from loans limit 5', ['do' => 'limit', 'value' => ''], 'select * from loans'];
        yield 'a join names the columns that both have' => ['select ref, house from loans where house = :house', ['do' => 'join', 'table' => 'venues', 'here' => 'loans.house', 'there' => 'code', 'kind' => 'left join'], "select ref, loans.house\nfrom loans\nleft join venues v on v.code = loans.house\nwhere loans.house = :house"];
        yield 'and leaves texts and aliases' => ["select l.ref, 'house' as house from loans l order by house", ['do' => 'join', 'table' => 'venues', 'here' => 'l.house', 'there' => 'code', 'kind' => 'join'], "select l.ref, 'house' as house\nfrom loans l\njoin venues v on v.code = l.house order by house"];
        yield 'a joined table goes' => ["select l.ref from loans l left join venues v on v.code = l.house\n where l.days > 1", ['do' => 'drop-join', 'item' => '1'], "select l.ref\nfrom loans l\n where l.days > 1"];
        yield 'blanks and case elsewhere stay' => ["SELECT  ref ,house\n  FROM loans\n\n  WHERE days>1", ['do' => 'limit', 'value' => '9'], "SELECT  ref ,house\n  FROM loans\n\n  WHERE days>1\nlimit 9"];
    }

    /**
     * @param  array<string, string>  $step
     */
    #[DataProvider('steps')]
    public function test_a_step(string $sql, array $step, string $becomes): void
    {
        self::assertSame(trim((string) preg_replace('/\s+/', ' ', $becomes)), trim((string) preg_replace('/\s+/', ' ', self::take($sql, $step))));
    }

    /**
     * @return iterable<string, array{string, array<string, string>, string}> a statement, a step, part of the sentence
     */
    public static function refusals(): iterable
    {
        yield 'nothing' => ['', ['do' => 'limit'], 'Nothing is written'];
        yield 'WITH' => ['with a as (select 1) select * from a', ['do' => 'limit'], 'begins with "with"'];
        yield 'UNION' => ['select 1 from loans union select 2 from loans', ['do' => 'limit'], '"union"'];
        yield 'a bracket that is open' => ['select (1 from loans', ['do' => 'limit'], 'bracket'];
        yield 'clauses that stand twice' => ['select 1 from loans where 1 where 2', ['do' => 'limit'], 'WHERE stands where it cannot'];
        yield 'a comma too many' => ['select ref, from loans', ['do' => 'limit'], 'After SELECT something is missing'];
        yield 'INTO' => ["select 1 into outfile 'x' from loans", ['do' => 'limit'], '"into"'];
        yield 'a comment that would go' => ['select ref, /* not yet */ due from loans', ['do' => 'add-column', 'column' => 'house'], 'comment stands in SELECT'];
        yield 'a column of no table' => ['select ref from loans', ['do' => 'add-column', 'column' => 'colour'], '"colour" is no column'];
        yield 'a word where a number is held' => ['select ref from loans', ['do' => 'add-condition', 'column' => 'days', 'how' => '=', 'value' => '1 or 1=1'], 'is no number'];
        yield 'one value of two' => ['select ref from loans', ['do' => 'add-condition', 'column' => 'days', 'how' => 'between', 'value' => '4'], 'two values'];
        yield 'no value' => ['select ref from loans', ['do' => 'add-condition', 'column' => 'house', 'how' => '=', 'value' => ''], 'needs a value'];
        yield 'a name that is none' => ['select ref from loans', ['do' => 'name-column', 'item' => '0', 'value' => 'a b'], 'cannot be a name'];
        yield 'a column that an order names' => ['select house, count(*) n from loans group by house order by n', ['do' => 'drop-column', 'item' => '1'], 'used by the order'];
        yield 'columns that are counted' => ['select house, count(*) from loans group by 1', ['do' => 'add-column', 'column' => 'due'], 'GROUP BY counts columns'];
        yield 'a table that is used' => ['select v.name from loans l join venues v on v.code = l.house', ['do' => 'drop-join', 'item' => '1'], 'venues is used by "v.name"'];
        yield 'a table whose column is named alone' => ['select name from loans l join venues v on v.code = l.house', ['do' => 'drop-join', 'item' => '1'], 'venues is used by "name"'];
        yield 'what a query within means' => ['select (select max(house) from loans) from loans', ['do' => 'join', 'table' => 'venues', 'here' => 'loans.house', 'there' => 'code', 'kind' => 'join'], 'query within'];
    }

    /**
     * @param  array<string, string>  $step
     */
    #[DataProvider('refusals')]
    public function test_what_cannot_be_done_is_said(string $sql, array $step, string $said): void
    {
        $this->expectException(CannotBuild::class);
        $this->expectExceptionMessageMatches('/'.preg_quote($said, '/').'/');
        self::take($sql, $step);
    }

    public function test_two_thousand_statements_come_back_as_they_were_written(): void
    {
        for ($seed = 1; $seed <= 2000; $seed++) {
            [$sql, $pieces] = (new WrittenSelect($seed))->statement();
            $select = SelectText::of($sql);
            self::assertSame($sql, $select->sql(), "seed $seed");
            // Every piece that was written is found again, and nothing else.
            self::assertSame($pieces, $select->items, "seed $seed: $sql");
        }
    }

    public function test_a_step_and_its_opposite_leave_every_statement_as_it_was(): void
    {
        $taken = ['columns' => 0, 'conditions' => 0, 'orders' => 0, 'joins' => 0];
        for ($seed = 1; $seed <= 400; $seed++) {
            [$sql, $pieces] = (new WrittenSelect($seed))->statement();
            $there = static fn (string $clause): string => (string) count($pieces[$clause] ?? []);
            $taken['columns'] += self::thereAndBack($sql, ['do' => 'add-column', 'column' => 'l.borrower'], ['do' => 'drop-column', 'item' => $there('select')]) ? 1 : 0;
            $taken['orders'] += self::thereAndBack($sql, ['do' => 'add-order', 'column' => 'l.due', 'down' => '1'], ['do' => 'drop-order', 'item' => $there('order')]) ? 1 : 0;
            $taken['joins'] += self::thereAndBack($sql, ['do' => 'join', 'table' => 'crates', 'here' => 'l.ref', 'there' => 'loan', 'kind' => 'join'], ['do' => 'drop-join', 'item' => $there('from')], ['loan' => 'text', 'weight' => 'decimal']) ? 1 : 0;
            $taken['conditions'] += self::thereAndBack($sql, ['do' => 'add-condition', 'column' => 'l.days', 'how' => '>', 'value' => '3'], ['do' => 'drop-condition', 'clause' => 'where', 'item' => $there('where')]) ? 1 : 0;
        }
        foreach ($taken as $what => $count) {
            self::assertGreaterThan(200, $count, $what);
        }
    }

    public function test_what_is_known_is_written_again_with_the_same_meaning(): void
    {
        $known = ['columns' => 0, 'conditions' => 0];
        for ($seed = 1; $seed <= 2000; $seed++) {
            [$sql, $pieces] = (new WrittenSelect($seed))->statement();
            foreach ($pieces['select'] as $text) {
                $one = PickedColumn::of($text);
                if ($one->use !== null && $one->column !== null) {
                    $known['columns']++;
                    self::assertSame(PickedColumn::plain($one->expression), PickedColumn::plain(PickedColumn::made($one->column, $one->use, $one->zone, $one->alias)->expression), $text);
                }
            }
            foreach ($pieces['where'] ?? [] as $text) {
                $one = PickedCondition::of($text);
                if ($one->how !== null && $one->column !== null) {
                    $known['conditions']++;
                    $again = PickedCondition::made($one->column, $one->how, $one->given(), preg_match('/\'|like/', $text) !== 1);
                    self::assertSame(str_replace('!=', '<>', PickedColumn::plain($text)), PickedColumn::plain($again->text), $text);
                }
            }
        }
        self::assertGreaterThan(2000, min($known));
    }

    /**
     * @return iterable<string, array{string, ?string, string}> condition, how it compares, what stands in its field
     */
    public static function conditions(): iterable
    {
        yield 'equal' => ["house = 'oster'", '=', 'oster'];
        yield 'in double quotes' => ['house = "oster"', '=', 'oster'];
        yield 'another sign' => ['l.days != 3', '<>', '3'];
        yield 'a negative number' => ['days > -3.5', '>', '-3.5'];
        yield 'one of' => ["house in ('a', 'b, c')", 'in', 'a, "b, c"'];
        yield 'one with a comma' => ["house in ('b, c')", 'in', '"b, c"'];
        yield 'none of' => ['days not in (1, 2)', 'not in', '1, 2'];
        yield 'contains' => ["house like '%ste%'", 'contains', 'ste'];
        yield 'a sign of LIKE that means itself' => ["house like '%5\\%%'", 'contains', '5%'];
        yield 'a sign of LIKE that means any' => ["house like '%5%%'", null, ''];
        yield 'begins' => ["house like 'os%'", 'begins', 'os'];
        yield 'ends' => ["house like '%er'", null, ''];
        yield 'empty' => ['due is null', 'is null', ''];
        yield 'there' => ['due is not null', 'is not null', ''];
        yield 'a measure' => ['count(*) > 3', '>', '3'];
        yield 'a parameter that is contained' => ["house like concat('%', :part, '%')", 'contains', ':part'];
        yield 'an escape of another kind' => ["house = 'it\\'s'", null, ''];
        yield 'a function' => ["upper(house) = 'OSTER'", null, ''];
        yield 'two columns' => ['l.due = r.due', null, ''];
        yield 'a sum' => ['days > 3 + 1', null, ''];
        yield 'a query' => ['house in (select code from venues)', null, ''];
        yield 'an interval' => ['due < now() - interval 3 day', null, ''];
        yield 'NULL by a sign' => ['due = null', null, ''];
    }

    #[DataProvider('conditions')]
    public function test_conditions_that_are_known(string $text, ?string $how, string $given): void
    {
        $one = PickedCondition::of($text);
        self::assertSame([$how, $given], [$one->how?->value, $one->given()]);
        self::assertSame($text, $one->text);
    }

    public function test_every_comparison_has_words(): void
    {
        self::assertCount(count(HowCompared::cases()), array_unique(array_map(static fn (HowCompared $one): string => $one->label(), HowCompared::cases())));
    }

    /**
     * @param  array<string, string>  $there
     * @param  array<string, string>  $back
     * @param  array<string, string>  $types
     */
    private static function thereAndBack(string $sql, array $there, array $back, array $types = []): bool
    {
        try {
            $changed = self::take($sql, $there, $types);
        } catch (CannotBuild) {
            return false;
        }
        self::assertNotSame(PickedColumn::plain($sql), PickedColumn::plain($changed));
        $plain = static fn (string $text): string => PickedColumn::plain(str_replace(['(', ')'], ' ', $text));
        self::assertSame($plain($sql), $plain(self::take($changed, $back, $types)), $sql);

        return true;
    }

    /**
     * @param  array<string, string>  $step
     * @param  array<string, string>  $types
     */
    private static function take(string $sql, array $step, array $types = self::VENUES): string
    {
        $tables = [];
        foreach (\DeepSpring\Sql\NamedTables::of($sql) as $one) {
            $columns = ['loans' => self::LOANS, 'venues' => self::VENUES, 'crates' => ['loan' => 'text', 'weight' => 'decimal']][$one->name] ?? [];
            $tables[$one->alias] ??= new ReadTable($one->name, $one->alias, $columns);
        }

        return (new SelectSteps(SelectText::of($sql), new ReadTables(array_values($tables))))->taken($step, $types)->sql();
    }
}
