<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Role;
use App\Models\User;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Reservoir\ReaderAccounts;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * A hundred statements of somebody with bad intent. What an account of the database can refuse, it refuses by itself,
 * with nothing of ours before it; the rest is refused or ended by the application.
 */
final class HostileStatementsTest extends AppTestCase
{
    private const OWN = 'deep_spring_test_data_trial';

    private User $person;

    protected function setUp(): void
    {
        parent::setUp();
        $this->refresh($this->source(), 'loans');
        $this->person = $this->person(Role::Analyst);
    }

    /**
     * @return list<string>
     */
    private static function forTheAccount(): array
    {
        $own = self::OWN;
        $app = 'deep_spring_test';

        return [
            // Other schemas, by every way to name one.
            "select * from $app.users", "select password from `$app`.`users`", "select u.* from $app.users u", "table $app.secrets", "select * from $app.secrets s join $own.loans l on 1 = 1", "with x as (select * from $app.open_sessions) select * from x", "select (select password from $app.users limit 1)", "select 1 from loans where exists (select 1 from $app.users)", "select 1 union select password from $app.users", "select * from (select * from $app.users) x", "select * from loans order by (select max(id) from $app.users)", "select * from {$app}_log.entries", 'select * from mysql.global_priv', 'select authentication_string from mysql.user', 'select * from mysql.proc', "select * from {$app}_data.loans", "describe $app.users", "show columns from $app.users", "show create table $app.users", "show tables from $app", 'show tables from mysql', "explain select * from $app.users", "select count(*) from $own.pages__e1", 'select * from pages__e1', "select * from $own.stage__e1__x_1", "handler $app.users open", "use $app", 'use mysql',
            // What changes rows, tables, schemas, accounts.
            'delete from loans', 'delete l from loans l join loan_items i on i.loan_id = l.loan_id', 'update loans set fee = 0', 'update loans l, loan_items i set l.fee = 0', 'insert into loans (loan_id) values (1)', 'insert into loans select * from loans', 'replace into loans (loan_id) values (1)', 'truncate table loans', 'drop table loans', 'drop table if exists loans, loan_items', 'alter table loans add x int', 'alter table loans rename to x', 'rename table loans to x', 'create table x (a int)', 'create table x as select * from loans', 'create temporary table x (a int)', 'create view x as select 1', 'create or replace view loans as select 1', 'create index x on loans (fee)', 'drop index x on loans', 'create trigger t before insert on loans for each row set new.fee = 0', 'create procedure p() select 1', 'create function f() returns int return 1', "create function f returns string soname 'x.so'", 'create event e on schedule every 1 second do select 1', 'create schema x', "drop schema $own", 'create user x', 'create role x', "set password = password('x')", "set password for root@localhost = password('x')", 'grant all on *.* to current_user', "grant select on $app.* to current_user()", 'revoke all privileges, grant option from current_user', 'drop user root@localhost', "alter user current_user() identified by ''", 'optimize table loans', 'analyze table loans persistent for all', 'repair table loans', 'checksum table mysql.global_priv', 'create sequence s',
            // Files.
            "select * from loans into outfile 'taken.csv'", "select 'x' into dumpfile 'x.php'", "load data infile '/etc/passwd' into table loans", "load data local infile '/etc/passwd' into table loans", "select ref into outfile '/tmp/x' from loans", "load xml infile '/etc/passwd' into table loans",
            // The server.
            'set global max_connections = 1', 'set global general_log = 1', "set global general_log_file = '/tmp/x.php'", 'set @@global.read_only = 1', 'set persist max_connections = 1', 'shutdown', 'flush privileges', 'flush tables', 'flush tables with read lock', 'reset master', 'kill 1', 'kill query 1', 'purge binary logs before now()', "install plugin x soname 'x.so'", "install soname 'x'", "change master to master_host = 'x'", 'start slave', 'show grants for root@localhost', 'show binary logs', 'show slave status', 'show create user root@localhost', 'lock tables loans write', 'set global event_scheduler = off', "binlog 'x'", "create server s foreign data wrapper mysql options (host '127.0.0.1')",
            // Prepared and compound.
            "prepare p from 'delete from loans'; ", "execute immediate 'delete from loans'", "execute immediate 'drop table loans'", 'begin not atomic delete from loans; end', "call mysql.AddGeometryColumn('a', 'b', 'c', 'd', 1)", "do (select password from $app.users limit 1)",
        ];
    }

    public function test_a_hundred_are_refused_by_the_account_itself(): void
    {
        $statements = self::forTheAccount();
        self::assertGreaterThan(100, count($statements));
        $before = $this->state();
        foreach ($statements as $sql) {
            $pdo = app(ReaderAccounts::class)->connect($this->person, $this->trial(), 5);
            try {
                $result = $pdo->query($sql);
                $rows = $result === false ? [] : $result->fetchAll();
                // Schemas and tables that it may not see are simply not there.
                self::assertSame([], $rows, "taken: $sql");
                self::assertMatchesRegularExpression('/^(?:show tables|use|prepare|set password|checksum)/', $sql, "taken: $sql");
            } catch (\PDOException $refused) {
                self::assertNotSame('HY000 2006', $refused->getCode().' '.($refused->errorInfo[1] ?? ''), $sql);
            }
            unset($pdo, $result);
        }
        self::assertSame($before, $this->state());
    }

    public function test_they_are_refused_in_a_sentence_before_they_reach_it(): void
    {
        foreach (self::forTheAccount() as $sql) {
            try {
                $rows = app(QueryRunner::class)->run($this->person, $this->trial(), $sql)->rows;
                self::assertSame([], $rows, $sql);
            } catch (QueryRefused $refused) {
                // Names that were not in the statement are not in the sentence.
                preg_match_all('/deep_spring\w*|SQLSTATE|rd_\w+|@127|global_priv|\bds_\w+/i', $refused->getMessage(), $told);
                self::assertSame([], array_values(array_filter($told[0], static fn (string $name): bool => ! str_contains($sql, $name))), $sql);
            }
        }
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function withoutBound(): iterable
    {
        foreach ([
            'select sleep(60)', 'select sleep(60) from loans', 'select * from loans where sleep(1)', 'select count(*) from loans a, loans b, loans c, loans d', 'with recursive r as (select 1 as n union all select n + 1 from r where n < 1000000000) select sum(n) from r', "select benchmark(1000000000, sha2('x', 512))", "select get_lock('x', 60)", "select repeat('x', 1000000000)", "select length(repeat('x', 60000000)) from loans", 'select group_concat(a.note, b.note, c.note) from loans a, loans b, loans c', "select * from loans where ref regexp '(((a+)+)+)+\$' or repeat('a', 30) regexp '^(a+)+\$b'", "select '".str_repeat('(', 5000)."'", 'select '.str_repeat('(', 3000).'1'.str_repeat(')', 3000), 'select /*!50000 sleep(60) */ 1', 'select /*M! sleep(60) */ 1', 'select sleep/**/(60)', 'select 1; select sleep(60)', 'select * from loans for update', 'select a.* from loans a natural join loans b natural join loans c order by rand()', 'select json_extract(concat(repeat(\'[\', 100000), repeat(\']\', 100000)), \'$\')', 'select @a := 1, @a := @a + 1 from loans', 'select count(distinct a.ref, b.ref, c.ref) from loans a, loans b, loans c', "select release_lock('x')", 'select @@datadir', 'select * from information_schema.processlist', 'select * from information_schema.user_privileges', 'select uuid_short(), last_insert_id(), found_rows()', 'select * from seq_1_to_100000000', "select * from information_schema.tables where table_schema <> 'information_schema'", 'show processlist', 'show variables',
        ] as $sql) {
            yield substr($sql, 0, 60) => [$sql];
        }
    }

    #[DataProvider('withoutBound')]
    public function test_what_no_account_can_refuse_ends(string $sql): void
    {
        config(['spring.query.seconds' => 2]);
        $before = $this->state();
        $begun = hrtime(true);
        try {
            $rows = app(QueryRunner::class)->run($this->person, $this->trial(), $sql)->rows;
            $said = (string) json_encode($rows, JSON_INVALID_UTF8_SUBSTITUTE);
            // Of other people and other schemas nothing is in what it gives.
            self::assertStringNotContainsString('ds_app', $said);
            self::assertStringNotContainsString('global_priv', $said);
            self::assertDoesNotMatchRegularExpression('/"(?:users|secrets|pages__e\d+)"/', $said);
            self::assertLessThan(2_000_000, strlen($said));
        } catch (QueryRefused $refused) {
            self::assertNotSame('', $refused->getMessage());
        }
        self::assertLessThan(8, (hrtime(true) - $begun) / 1e9);
        self::assertSame($before, $this->state());
    }

    /**
     * What must be as it was: rows, tables, accounts, settings.
     */
    private function state(): string
    {
        $keeper = DB::connection('keeper');

        return (string) json_encode([
            'rows' => $keeper->select('checksum table '.self::OWN.'.loans, '.self::OWN.'.loan_items', [], false),
            'tables' => $keeper->select("select table_name as t from information_schema.tables where table_schema = '".self::OWN."' order by table_name", [], false),
            'accounts' => $keeper->select("select count(*) as n from information_schema.user_privileges where grantee not like '%rd\\_%'", [], false),
            'settings' => $keeper->select("select variable_name as v, variable_value as w from information_schema.global_variables where variable_name in ('max_connections', 'general_log', 'general_log_file', 'read_only', 'event_scheduler', 'local_infile') order by 1", [], false),
            'people' => DB::table('users')->count(),
        ]);
    }
}
