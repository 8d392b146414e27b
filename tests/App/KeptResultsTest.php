<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\QueryResult;
use App\Models\Role;
use App\Models\User;
use App\Queries\QueryRunner;
use App\Queries\Results\KeptResults;
use App\Queries\Results\TablesBeneath;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Rows beyond the first ones, and results that need not be read again.
 */
final class KeptResultsTest extends AppTestCase
{
    /** More rows than the first ones, with two columns of one name, empty values and signs of LIKE. */
    private const MANY = "with n as (select 1 as n union select 2 union select 3)\nselect l.loan_id, concat(l.town, case n.n when 2 then ' 5%_\\\\' else '' end) as town, n.n as loan_id, l.policy, l.cover\nfrom loans l cross join n\nwhere l.loan_id > 7620 -- the later ones";

    private User $person;

    protected function setUp(): void
    {
        parent::setUp();
        $this->actingAs($this->person = $this->person(Role::Analyst));
    }

    /**
     * @param  array<string, string>  $more
     * @return array<string, mixed> the last line
     */
    private function all(string $sql, array $more = []): array
    {
        $lines = array_filter(explode("\n", $this->post('/queries/results', ['sql' => $sql] + $more)->assertOk()->streamedContent()));

        return (array) json_decode((string) end($lines), true);
    }

    /**
     * @param  array<string, mixed>  $told
     * @return list<list<string|null>>
     */
    private function fetched(array $told): array
    {
        $rows = [];
        for ($part = 0; $part * 1000 < $told['rows']; $part++) {
            array_push($rows, ...$this->get("/queries/results/{$told['result']}/$part")->assertOk()->json('rows'));
        }

        return $rows;
    }

    /**
     * @return list<list<string|null>>
     */
    private function streamed(string $sql): array
    {
        return array_values(iterator_to_array(app(QueryRunner::class)->stream($this->person, $this->trial(), $sql)->rows, false));
    }

    public function test_all_rows_are_the_ones_that_the_database_gives_sorted_and_searched(): void
    {
        $this->refresh($this->source(), 'loans');
        $expected = $this->streamed(self::MANY);
        self::assertGreaterThan(3000, count($expected));
        $told = $this->all(self::MANY);
        self::assertSame(count($expected), $told['rows']);
        self::assertSame($expected, $this->fetched($told));
        $sorted = static function (array $rows): array {
            usort($rows, static fn (array $a, array $b): int => $a <=> $b);

            return $rows;
        };
        foreach ([0, 1, 2, 4] as $column) {
            foreach (['', '1'] as $down) {
                $rows = $this->fetched($this->all(self::MANY, ['column' => (string) $column, 'down' => $down]));
                self::assertEquals($sorted($expected), $sorted($rows));
                $values = array_column($rows, $column);
                $by = static fn (?string $a, ?string $b): int => $a === null || $b === null ? ($a === null ? 0 : 1) - ($b === null ? 0 : 1) : ($column === 1 ? strcmp($a, $b) : bccomp($a, $b, 4));
                for ($at = 1; $at < count($values); $at++) {
                    self::assertLessThanOrEqual(0, ($down === '1' ? -1 : 1) * $by($values[$at - 1], $values[$at]), "column $column at $at: {$values[$at - 1]}, {$values[$at]}");
                }
            }
        }
        foreach (['marrow', '5%_\\', '%', "'", '77'] as $text) {
            $rows = $this->fetched($this->all(self::MANY, ['find' => $text, 'column' => '0']));
            $wanted = array_values(array_filter($expected, static fn (array $row): bool => array_filter($row, static fn (?string $value): bool => $value !== null && mb_stripos($value, $text) !== false) !== []));
            self::assertEquals($sorted($wanted), $sorted($rows), $text);
        }
        self::assertStringStartsWith('There is no table "nothing_here"', $this->all('select * from nothing_here')['fault']);
        self::assertArrayHasKey('fault', $this->all('delete from loans'));
        config(['spring.query.result_rows' => 2500]);
        $cut = $this->all('select * from loans union all select * from loans union all select * from loans');
        self::assertSame([2500, true], [$cut['rows'], $cut['cut']]);
        $this->actingAs($this->person(Role::Analyst));
        $this->get("/queries/results/{$told['result']}/0")->assertStatus(410)->assertJsonPath('fault', 'These rows are no longer here: what they were read from has changed, or nobody looked for a day. Run the query again.');
    }

    public function test_how_many_rows_were_looked_at_is_said_where_all_were_taken(): void
    {
        $this->refresh($this->source(), 'loans');
        $looked = fn (string $sql): ?int => app(QueryRunner::class)->run($this->person, $this->trial(), $sql)->looked;
        self::assertEqualsWithDelta(1200, (int) $looked('select sum(fee) from loans'), 60);
        self::assertLessThan(30, (int) $looked('select fee from loans where loan_id = 7613'));
        self::assertNull($looked('select * from loans'));
        self::assertStringContainsString('looked at', $this->asked('select sum(fee) from loans'));
    }

    private function asked(string $sql, string $again = ''): string
    {
        return (string) $this->post('/queries/run', ['sql' => $sql, 'again' => $again])->assertOk()->getContent();
    }

    public function test_a_result_is_kept_until_a_table_beneath_changes(): void
    {
        config(['spring.query.keeps_result_after' => 0]);
        $source = $this->source();
        $this->refresh($source, 'loans');
        $sql = 'select house, count(*) as n from loans group by house';
        $same = 'nothing that it reads has changed since';
        self::assertStringNotContainsString($same, $this->asked($sql));
        self::assertStringContainsString($same, $kept = $this->asked($sql));
        self::assertStringContainsString('24 rows', $kept);
        self::assertStringNotContainsString($same, $this->asked($sql, '1'));
        self::assertStringContainsString($same, $this->asked($sql));
        // Somebody else asks for themselves.
        $this->actingAs($this->person(Role::Analyst));
        self::assertStringNotContainsString($same, $this->asked($sql));
        $this->actingAs($this->person);
        $this->travel(2)->seconds();
        $this->refresh($source, 'loans');
        $this->travel(3)->seconds();
        self::assertStringNotContainsString($same, $this->asked($sql));
        self::assertStringContainsString($same, $this->asked($sql));

        foreach (['select now() from loans', 'select count(*), rand() from loans', 'select current_date from loans', 'select @@hostname from loans', 'select if(due > curdate(), 1, 0), uuid() from loans', 'select connection_id()'] as $changing) {
            $this->asked($changing);
            self::assertStringNotContainsString($same, $this->asked($changing), $changing);
        }
        // All rows at first, then the first ones of them.
        $this->all('select * from loans order by loan_id');
        self::assertStringContainsString('first 1', $first = $this->asked('select * from loans order by loan_id'));
        self::assertStringContainsString($same, $first);

        self::assertGreaterThan(2, QueryResult::query()->count());
        $this->travel(25)->hours();
        self::assertGreaterThan(2, KeptResults::tidy());
        self::assertSame([0, 0], [QueryResult::query()->count(), \Illuminate\Support\Facades\DB::table('query_result_parts')->count()]);
        config(['spring.query.results_bytes' => 10]);
        $this->asked($sql);
        KeptResults::tidy();
        self::assertSame(0, QueryResult::query()->count());
    }

    public function test_through_a_view_the_tables_of_the_view_count(): void
    {
        config(['spring.query.keeps_result_after' => 0]);
        $source = $this->source();
        $this->refresh($source, 'loans');
        $book = app(\App\Queries\QueryBook::class);
        $query = $book->add(['name' => 'Houses', 'sql' => 'select house, count(*) as n from loans group by house'], $this->person);
        app(\App\Queries\Keeping\QueryKeeping::class)->asView($query, $this->trial(), 'houses', $this->person);
        self::assertSame(['houses', 'loans'], array_keys(TablesBeneath::of($this->trial(), 'select max(n) from houses') ?? []));
        $before = TablesBeneath::of($this->trial(), 'select max(n) from houses');
        $this->travel(2)->seconds();
        $this->refresh($source, 'loans');
        self::assertNotSame($before, TablesBeneath::of($this->trial(), 'select max(n) from houses'));
        $book->change($query, ['name' => 'Houses', 'sql' => 'select house, count(*) as n, now() as at from loans group by house'], $this->person);
        self::assertNull(TablesBeneath::of($this->trial(), 'select max(n) from houses'));
        self::assertNull(TablesBeneath::of($this->trial(), 'select * from loans__1'));
    }

    /**
     * @return iterable<string, array{string, list<string>}>
     */
    public static function empties(): iterable
    {
        yield 'another spelling' => ["select * from loans where house = 'North Quay' and status = 'out'", ['No row fits house = \'North Quay\'. There is "north-quay", which is written in another way.']];
        yield 'nothing like it' => ["select * from loans where house = 'nowhere'", ["No row fits house = 'nowhere'."]];
        yield 'beyond the ends' => ['select * from loans where loan_id > 99999', ['No row fits loan_id > 99999. What is there goes from 7613 to 8812.']];
        yield 'two that exclude each other' => ["select * from loans where status = 'out' and status = 'closed' and fee > 0", ["Rows fit status = 'out', and rows fit status = 'closed', but none fits both."]];
        yield 'only all together' => ["select * from loans where status = 'out' and status = 'closed'", ['Rows fit each of the conditions alone, but none fits all of them.']];
        yield 'HAVING' => ['select house, count(*) as n from loans where fee > 0 group by house having n > 9000', ['Rows fit the conditions; none is left by HAVING or LIMIT.']];
        yield 'a join without matches' => ['select * from loans l join loan_items i on i.loan_id = -l.loan_id where l.fee > 0', ['The joined tables have no row in common, whatever the conditions are.']];
        yield 'what is no plain SELECT' => ['select 1 where 1 = 2 union select 2 where 1 = 2', []];
        yield 'what does not run' => ['select * from loans where nowhere = 1', []];
    }

    /**
     * @param  list<string>  $reasons
     */
    #[DataProvider('empties')]
    public function test_why_there_are_no_rows_is_said_as_far_as_it_was_asked(string $sql, array $reasons): void
    {
        $this->refresh($this->source(), 'loans');
        self::assertSame($reasons, app(\App\Queries\EmptyResult::class)->reasons($this->person, $this->trial(), $sql));
        $page = $this->post('/queries/empty', ['sql' => $sql])->assertOk();
        foreach ($reasons as $sentence) {
            $page->assertSee($sentence);
        }
    }

    /**
     * @return iterable<string, array{string, bool}>
     */
    public static function names(): iterable
    {
        yield 'a column called like a function' => ['select l.version, user from loans l', false];
        yield 'a function of time' => ['select sysdate() from loans', true];
        yield 'without brackets' => ['select CURRENT_TIMESTAMP from loans', true];
        yield 'in a text' => ["select 'now()' from loans", false];
        yield 'in a comment' => ['select 1 /* now() */ from loans', false];
        yield 'a variable' => ['select @a from loans', true];
    }

    #[DataProvider('names')]
    public function test_what_gives_something_else_each_time_is_not_kept(string $sql, bool $changes): void
    {
        $this->refresh($this->source(), 'loans');
        self::assertSame($changes, TablesBeneath::of($this->trial(), $sql) === null);
    }
}
