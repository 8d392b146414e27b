<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\QueryRun;
use App\Models\Role;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Queries\SqlGuard;
use App\Reservoir\ReaderAccounts;
use PHPUnit\Framework\Attributes\DataProvider;

final class QueriesTest extends AppTestCase
{
    /**
     * @return iterable<string, array{string}>
     */
    public static function forbidden(): iterable
    {
        foreach (['drop table loans', 'delete from loans', 'update loans set ref = 1', 'insert into loans values (1)', 'create table x (a int)', 'set max_statement_time = 0', 'set statement max_statement_time = 0 for select 1', '/*! set max_statement_time = 0 */', '/*M! drop table loans */', 'select 1; drop table loans', 'call x()', 'select * from loans into outfile "/tmp/x"', "select 1 into\n dumpfile '/tmp/x'", 'select 1 into @a', 'load data infile "/etc/passwd" into table x', 'explain delete from loans', 'explain for 1', 'do sleep(1)', 'handler loans open', 'kill 1', 'grant all on *.* to x', '', ' ; ', '-- nothing', 'lock tables loans read', 'begin'] as $sql) {
            yield $sql => [$sql];
        }
    }

    #[DataProvider('forbidden')]
    public function test_what_does_not_read_is_refused_in_a_sentence(string $sql): void
    {
        $this->expectException(QueryRefused::class);
        SqlGuard::checked($sql);
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function allowed(): iterable
    {
        foreach (['select 1', 'SELECT 1;', "  (select 1) union (select 2) ; \n", 'with a as (select 1) select * from a', "-- a note; with a semicolon\nselect 1", '/* drop table x; */ select 1', "select 'a;b', \"drop table x;\", `from` from t", "select ';' -- the end", 'show tables', 'describe loans', 'explain select 1', "select 'it''s; /*! */'", 'select into_date from t', "# note\nselect 1"] as $sql) {
            yield $sql => [$sql];
        }
    }

    #[DataProvider('allowed')]
    public function test_what_reads_passes(string $sql): void
    {
        self::assertNotSame('', SqlGuard::checked($sql));
    }

    public function test_the_database_itself_refuses_all_but_kept_tables(): void
    {
        $this->refresh($this->source(), 'loans');
        $user = $this->person(Role::Analyst);
        $pdo = app(ReaderAccounts::class)->connect($user, $this->trial(), 5);
        $pdo->setAttribute(\PDO::MYSQL_ATTR_USE_BUFFERED_QUERY, true);
        self::assertSame('1200', (string) $pdo->query('select count(*) from loans')?->fetchColumn());
        foreach (['select * from deep_spring_test.users', 'select * from deep_spring_test.secrets', 'select * from mysql.global_priv', 'drop table loans', 'delete from loans', 'create table x (a int)', 'create temporary table x (a int)', 'select load_file("/etc/passwd") is not null from loans into outfile "/tmp/spring-x"', 'select * from deep_spring_test_data.loans'] as $sql) {
            try {
                $pdo->query($sql)?->fetchAll();
                self::fail("$sql went through.");
            } catch (\PDOException $exception) {
                self::assertContains((int) $exception->errorInfo[1], [1044, 1045, 1142, 1227, 1290, 1792], $sql.': '.$exception->getMessage());
            }
        }
    }

    public function test_a_kept_table_is_looked_into_with_one_press_and_nothing_else_runs_by_itself(): void
    {
        $this->actingAs($this->person());
        $source = $this->source();
        $run = $this->refresh($source, 'loans');
        $link = '/queries/new?table=loans';
        $this->get('/sources/loans-desk/endpoints/loans')->assertSee('Query it')->assertSee($link, false);
        $this->get("/runs/$run->id")->assertSee($link, false);
        $this->get($link)->assertSee("select *\nfrom loans\nlimit 100", false)->assertSee('hx-trigger="click, load"', false);
        foreach (['nothing', 'loans where sleep(9)', 'loans;', ''] as $text) {
            $this->get('/queries/new?'.http_build_query(['table' => $text]))->assertOk()->assertDontSee('hx-trigger="click, load"', false);
        }
        $this->get('/queries/new')->assertDontSee('hx-trigger="click, load"', false);
    }

    public function test_what_one_asked_before_is_paged(): void
    {
        $me = $this->person(Role::Analyst);
        $other = $this->person(Role::Analyst);
        foreach (range(1, 16) as $number) {
            QueryRun::query()->create(['user_id' => $me->id, 'environment_id' => $this->trial()->id, 'sql' => "select $number as asked", 'rows' => 1, 'milliseconds' => 1]);
        }
        QueryRun::query()->create(['user_id' => $other->id, 'environment_id' => $this->trial()->id, 'sql' => 'select 99 as asked', 'rows' => 1, 'milliseconds' => 1]);
        $this->actingAs($me)->get('/queries')->assertOk()->assertSee('select 16 as asked')->assertSee('select 2 as asked')->assertDontSee('select 1 as asked')->assertDontSee('select 99 as asked')->assertSee('16 ');
        $this->get('/queries?history=2')->assertOk()->assertSee('select 1 as asked')->assertDontSee('select 2 as asked');
    }

    public function test_rights_follow_the_kept_tables(): void
    {
        $user = $this->person(Role::Analyst);
        $runner = app(QueryRunner::class);
        self::assertSame('1', $runner->run($user, $this->trial(), 'select 1')->rows[0][0]);
        $this->refresh($this->source(), 'loans');
        self::assertSame('1200', $runner->run($user, $this->trial(), 'select count(*) from loans')->rows[0][0]);
        \App\Models\KeptTable::query()->where('name', 'loans')->delete();
        $this->expectExceptionMessage('There is no table "loans" that you can read in Trial');
        $runner->run($user, $this->trial(), 'select count(*) from loans');
    }

    public function test_limits_of_time_and_rows_say_so_when_they_bite(): void
    {
        $this->refresh($this->source(), 'loans');
        $user = $this->person(Role::Analyst);
        $runner = app(QueryRunner::class);
        $result = $runner->run($user, $this->trial(), 'select * from loan_items');
        self::assertSame([1000, true], [count($result->rows), $result->cutShort]);
        config(['spring.query.seconds' => 2]);
        try {
            $runner->run($user, $this->trial(), 'select count(*) from loan_items a, loan_items b, loan_items c');
            self::fail('It ended.');
        } catch (QueryRefused $refused) {
            self::assertStringContainsString('longer than 2 s', $refused->getMessage());
        }
        self::assertSame([1000, null], QueryRun::query()->orderBy('id')->pluck('rows')->all());
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function mistakes(): iterable
    {
        yield 'a table that is not there' => ['select * from loan', 'Did you mean loans?'];
        yield 'a column that is not there' => ['select borower from loans', 'There is no column "borower"'];
        yield 'a typing error' => ["select *\nform loans", 'Did you mean from in place of form?'];
        yield 'a group that is none' => ['select ref, count(*) from loans', 'each other column has to be grouped'];
    }

    #[DataProvider('mistakes')]
    public function test_a_mistake_is_explained(string $sql, string $says): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($this->person(Role::Analyst))->post('/queries/run', ['sql' => $sql])->assertOk()->assertSee($says);
    }
}
