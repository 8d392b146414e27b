<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\DatabaseAccounts;
use App\Local\MariaDb;
use App\Models\LogEntry;
use App\Models\Role;
use App\Models\User;
use App\Reservoir\MariaDb\MariaDbStagedTables;
use App\Reservoir\ReaderAccounts;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Lane;

/**
 * Who gets into the database, and what they may do there.
 */
final class DatabaseAccountsTest extends AppTestCase
{
    private function folder(): string
    {
        return base_path(Lane::folder().'/mariadb');
    }

    public function test_no_account_lets_anybody_in_by_its_name_alone(): void
    {
        $port = (int) config('database.connections.app.port');
        foreach (['root', '', 'mysql', 'mariadb.sys', 'ds_app', 'ds_keeper', 'ds_backup'] as $user) {
            foreach (['127.0.0.1', 'localhost', '::1', gethostname() ?: 'localhost'] as $host) {
                exec('mariadb --no-defaults --protocol=tcp --connect-timeout=2 -h '.escapeshellarg($host)." -P $port -u ".escapeshellarg($user).' -e "select 1" 2>&1', $said, $code);
                self::assertNotSame(0, $code, "$user at $host");
            }
        }
        self::assertSame([], (new MariaDb(base_path(Lane::folder()), $port, []))->openDoors());
    }

    public function test_it_runs_as_its_own_account_on_data_that_nobody_else_reads(): void
    {
        $server = (int) trim((string) file_get_contents($this->folder().'/server.pid'));
        self::assertNotSame(0, fileowner("/proc/$server"), 'MariaDB does not run as root');
        self::assertSame(0700, fileperms($this->folder()) & 0777);
        self::assertSame(fileowner("/proc/$server"), fileowner($this->folder()));
    }

    public function test_its_temporary_tables_lie_where_no_other_server_that_starts_deletes_them(): void
    {
        $administrator = (new MariaDb(base_path(Lane::folder()), (int) config('database.connections.app.port'), []))->administrator();
        $asked = static fn (string $sql): array => $administrator->query($sql)->fetchAll(\PDO::FETCH_COLUMN);
        self::assertSame([$this->folder().'/temporary'], $asked('select @@tmpdir'));
        self::assertSame(0700, fileperms($this->folder().'/temporary') & 0777);
        self::assertNotContains('temporary', $asked('show databases'));
    }

    public function test_the_accounts_of_the_application_hold_these_rights_and_no_others(): void
    {
        $administrator = (new MariaDb(base_path(Lane::folder()), (int) config('database.connections.app.port'), []))->administrator();
        $grants = static function (string $account) use ($administrator): array {
            $all = array_map(static fn (string $line): string => str_replace('(`Host`, `User`)', '(`User`, `Host`)', (string) preg_replace('/ IDENTIFIED BY PASSWORD \'[^\']*\'/', '', $line)), $administrator->query("show grants for $account")->fetchAll(\PDO::FETCH_COLUMN));
            sort($all);

            return $all;
        };
        $data = static fn (string $schema): string => "`$schema\_data%`";
        self::assertSame([
            'GRANT ALL PRIVILEGES ON `deep\_spring\_test`.* TO `ds_app`@`127.0.0.1`', 'GRANT ALL PRIVILEGES ON `deep\_spring`.* TO `ds_app`@`127.0.0.1`',
            'GRANT SELECT, INSERT ON `deep_spring_log`.`entries` TO `ds_app`@`127.0.0.1`', 'GRANT SELECT, INSERT ON `deep_spring_log`.`journal` TO `ds_app`@`127.0.0.1`',
            'GRANT SELECT, INSERT ON `deep_spring_test_log`.`entries` TO `ds_app`@`127.0.0.1`', 'GRANT SELECT, INSERT ON `deep_spring_test_log`.`journal` TO `ds_app`@`127.0.0.1`',
            'GRANT USAGE ON *.* TO `ds_app`@`127.0.0.1`',
        ], $grants("'ds_app'@'127.0.0.1'"));
        self::assertSame([
            'GRANT ALL PRIVILEGES ON '.$data('deep\_spring').'.* TO `ds_keeper`@`127.0.0.1` WITH GRANT OPTION', 'GRANT ALL PRIVILEGES ON '.$data('deep\_spring\_test').'.* TO `ds_keeper`@`127.0.0.1` WITH GRANT OPTION',
            'GRANT PROCESS, CREATE USER, CONNECTION ADMIN ON *.* TO `ds_keeper`@`127.0.0.1`',
            'GRANT SELECT (`User`, `Host`) ON `mysql`.`global_priv` TO `ds_keeper`@`127.0.0.1`', 'GRANT SELECT ON `mysql`.`innodb_index_stats` TO `ds_keeper`@`127.0.0.1`', 'GRANT SELECT ON `mysql`.`tables_priv` TO `ds_keeper`@`127.0.0.1`',
        ], $grants("'ds_keeper'@'127.0.0.1'"));
        foreach ($grants("'ds_backup'@'127.0.0.1'") as $grant) {
            self::assertMatchesRegularExpression('/^GRANT (USAGE ON \*\.\*|SELECT, LOCK TABLES, SHOW VIEW ON `deep)/', $grant);
        }
    }

    public function test_the_log_of_who_did_what_can_be_added_to_and_nothing_else(): void
    {
        LogEntry::query()->insert(['person_name' => 'test', 'action' => 'signed in', 'subject' => 'x', 'detail' => '']);
        foreach (["update deep_spring_test_log.entries set detail = 'y'", 'delete from deep_spring_test_log.entries', 'truncate table deep_spring_test_log.entries', 'drop table deep_spring_test_log.entries', 'alter table deep_spring_test_log.entries add x int', 'drop event deep_spring_test_log.thin', 'rename table deep_spring_test_log.entries to deep_spring_test.entries'] as $sql) {
            foreach (['app', 'keeper'] as $account) {
                try {
                    DB::connection($account)->unprepared($sql);
                    self::fail("$account could: $sql");
                } catch (\PDOException $refused) {
                    self::assertMatchesRegularExpression('/denied/', $refused->getMessage());
                }
            }
        }
    }

    public function test_the_database_itself_thins_the_log(): void
    {
        $administrator = (new MariaDb(base_path(Lane::folder()), (int) config('database.connections.app.port'), []))->administrator();
        self::assertSame('ON', $administrator->query('select @@event_scheduler')->fetchColumn());
        $event = $administrator->query("select status, interval_value, interval_field, event_definition from information_schema.events where event_schema = 'deep_spring_test_log'")->fetch(\PDO::FETCH_ASSOC);
        self::assertSame(['ENABLED', '1', 'DAY'], [$event['status'], $event['interval_value'], $event['interval_field']]);
        $administrator->exec("insert into deep_spring_test_log.entries (at, person_name, action, subject, detail) values (utc_timestamp() - interval 401 day, 'test', 'signed in', 'old', ''), (utc_timestamp() - interval 399 day, 'test', 'signed in', 'younger', '')");
        $administrator->exec($event['event_definition']);
        $left = LogEntry::query()->whereIn('subject', ['old', 'younger'])->pluck('subject')->all();
        $administrator->exec("delete from deep_spring_test_log.entries where subject = 'younger'");
        self::assertSame(['younger'], $left);
    }

    public function test_old_data_lose_the_accounts_that_stood_open(): void
    {
        $server = new MariaDb(base_path(Lane::folder()), (int) config('database.connections.app.port'), []);
        $administrator = $server->administrator();
        try {
            $administrator->exec("create user 'root'@'127.0.0.1'");
            $administrator->exec("create user ''@'localhost'");
            self::assertEqualsCanonicalizing(['root@127.0.0.1', '@localhost'], $server->openDoors());
            (new \ReflectionMethod($server, 'closeDoors'))->invoke($server);
            self::assertSame([], $server->openDoors());
        } finally {
            $administrator->exec("drop user if exists 'root'@'127.0.0.1', ''@'localhost'");
        }
    }

    /**
     * @return iterable<string, array{string, bool}>
     */
    public static function privileges(): iterable
    {
        yield 'a password' => ['{"plugin":"mysql_native_password","authentication_string":"*AB"}', false];
        yield 'an empty one' => ['{"plugin":"mysql_native_password","authentication_string":""}', true];
        yield 'nothing at all' => ['{"access":1}', true];
        yield 'the socket' => ['{"plugin":"unix_socket"}', false];
        yield 'the socket or nothing' => ['{"plugin":"mysql_native_password","authentication_string":"","auth_or":[{},{"plugin":"unix_socket"}]}', true];
        yield 'the socket or an impossible password' => ['{"plugin":"mysql_native_password","authentication_string":"invalid","auth_or":[{},{"plugin":"unix_socket"}]}', false];
        yield 'locked' => ['{"account_locked":true,"plugin":"mysql_native_password","authentication_string":""}', false];
    }

    #[DataProvider('privileges')]
    public function test_an_open_account_is_known(string $privileges, bool $isOpen): void
    {
        self::assertSame($isOpen, DatabaseAccounts::isOpen((array) json_decode($privileges, true)));
    }

    public function test_names_of_locks_cannot_be_guessed(): void
    {
        $name = MariaDbStagedTables::lock(DB::connection('keeper'), 'deep_spring_data', 'e1')->name;
        self::assertStringNotContainsString('deep_spring', $name);
        config(['app.key' => 'base64:'.base64_encode(random_bytes(32))]);
        self::assertNotSame($name, MariaDbStagedTables::lock(DB::connection('keeper'), 'deep_spring_data', 'e1')->name);
    }

    public function test_a_person_who_is_switched_off_has_no_account_of_the_database(): void
    {
        $analyst = $this->person(Role::Analyst);
        $this->person(Role::Administrator);
        app(ReaderAccounts::class)->connect($analyst, $this->trial(), 5);
        $name = 'ds_'.substr(hash('xxh32', $this->trial()->schema()), 0, 8).'_reader_';
        $count = static fn (User $who): int => (int) DB::connection('keeper')->selectOne('select count(*) as n from mysql.global_priv where User = ?', [$name.$who->id], false)->n;
        self::assertSame(1, $count($analyst));
        app(\App\People\People::class)->switchOff($analyst);
        self::assertSame(0, $count($analyst));
    }
}
