<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Local\Door;
use App\Local\Trouble;
use App\Models\Consumer;
use App\Models\DoorAccount;
use App\Models\Feed;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\User;
use App\Outlets\DoorBook;
use App\Outlets\DoorStrings;
use App\Outlets\FeedBook;
use App\Reservoir\DoorAccounts;
use App\View\Show;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Lane;

/**
 * Tools that are not ours read what was given to them, and nothing else, by a way that lets nobody else in.
 */
final class DoorTest extends AppTestCase
{
    private const SCHEMA = 'deep_spring_test_data_trial';

    private User $owner;

    private Child $door;

    private int $port;

    protected function setUp(): void
    {
        parent::setUp();
        $this->owner = $this->person(Role::Analyst);
        $this->refresh($this->source(), 'loans');
        $this->port = Lane::ports(8860)->web;
        $door = Door::read("127.0.0.1:$this->port") ?? self::fail('The door is closed.');
        $this->door = Child::start('door', $door->command((int) config('database.connections.keeper.port')), [], '/dev/null', base_path());
        for ($until = microtime(true) + 20; @fsockopen('127.0.0.1', $this->port) === false && microtime(true) < $until; usleep(20_000));
    }

    protected function tearDown(): void
    {
        $this->door->stop(1);
        foreach (DoorAccount::query()->with('environment', 'user', 'consumer')->get() as $account) {
            app(DoorAccounts::class)->drop($account);
        }
        parent::tearDown();
    }

    private function connect(string $account, string $password, bool $isSecure = true, ?int $port = null): \PDO
    {
        $tls = $isSecure ? [\PDO::MYSQL_ATTR_SSL_CA => $this->copied(), \PDO::MYSQL_ATTR_SSL_VERIFY_SERVER_CERT => false] : [];

        return new \PDO('mysql:host=127.0.0.1;port='.($port ?? $this->port).';dbname='.self::SCHEMA, $account, $password, $tls + [\PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION]);
    }

    private function copied(): string
    {
        $folder = DB::connection('keeper')->selectOne('select @@datadir as folder')->folder;

        return dirname((string) $folder).'/door.crt';
    }

    /**
     * @return array{DoorAccount, string}
     */
    private function given(User|Consumer|null $to = null): array
    {
        return app(DoorBook::class)->give($to ?? $this->owner, $this->trial(), $this->owner);
    }

    private function feed(): Feed
    {
        $feed = app(FeedBook::class)->draft(KeptTable::query()->where('name', 'loans')->sole(), $this->owner);
        app(FeedBook::class)->publish($feed, $this->owner);

        return $feed;
    }

    /**
     * @param  list<string>  $command
     * @param  array<string, string>  $env
     * @return array{string, string, int}
     */
    private function run3(array $command, array $env = [], string $input = ''): array
    {
        $process = proc_open($command, [0 => ['pipe', 'r'], 1 => ['pipe', 'w'], 2 => ['pipe', 'w']], $pipes, base_path(), $env + getenv());
        self::assertIsResource($process);
        fwrite($pipes[0], $input);
        fclose($pipes[0]);
        $out = (string) stream_get_contents($pipes[1]);
        $err = (string) stream_get_contents($pipes[2]);

        return [$out, $err, proc_close($process)];
    }

    public function test_the_usual_tools_read_every_row_and_check_whom_they_reached(): void
    {
        [$account, $password] = $this->given();
        $wanted = (string) $this->rows('select count(*) n, sum(fee) s from loans')[0]->s;
        $sql = 'select concat(count(*), \' \', sum(fee)) as found from loans';
        [$out, $err] = $this->run3(['mariadb', '--no-defaults', '--host=127.0.0.1', "--port=$this->port", "--user=$account->name", "--password=$password", "--ssl-ca={$this->copied()}", '--ssl-verify-server-cert', '-N', self::SCHEMA, '-e', $sql]);
        self::assertSame("1200 $wanted", trim($out), $err);
        [$out, $err] = $this->run3(['/usr/bin/python3', '-c', "import os, pymysql\nc = pymysql.connect(host='127.0.0.1', port=$this->port, user='$account->name', password=os.environ['PASSWORD'], database='".self::SCHEMA."', ssl={'ca': '{$this->copied()}'})\nk = c.cursor()\nk.execute(\"$sql\")\nprint(k.fetchone()[0])\n"], ['PASSWORD' => $password]);
        self::assertSame("1200 $wanted", trim($out), $err);
        $folder = sys_get_temp_dir().'/odbc-'.bin2hex(random_bytes(4));
        mkdir($folder);
        file_put_contents("$folder/odbc.ini", "[spring]\nDriver=MariaDB Unicode\nSERVER=127.0.0.1\nPORT=$this->port\nDATABASE=".self::SCHEMA."\nFORCETLS=1\nSSLCA={$this->copied()}\nSSLVERIFY=1\n");
        [$out, $err] = $this->run3(['isql', '-b', '-d,', 'spring', $account->name, $password], ['ODBCINI' => "$folder/odbc.ini"], "$sql\n");
        array_map(unlink(...), (array) glob("$folder/*"));
        rmdir($folder);
        self::assertStringContainsString("1200 $wanted", $out, $err);
        // Another certificate is not taken for this one.
        [$out, $err, $code] = $this->run3(['mariadb', '--no-defaults', '--host=127.0.0.1', "--port=$this->port", "--user=$account->name", "--password=$password", '--ssl-ca=/etc/ssl/certs/ca-certificates.crt', '--ssl-verify-server-cert', self::SCHEMA, '-e', $sql]);
        self::assertNotSame(0, $code, $out);
        self::assertStringContainsString('TLS', $err);
    }

    public function test_nobody_else_comes_in_by_the_door_and_its_accounts_by_no_other_way(): void
    {
        [$account, $password] = $this->given();
        $refused = function (\Closure $try, string $what): void {
            try {
                $try();
                self::fail("$what came in.");
            } catch (\PDOException $refused) {
                self::assertContains((int) $refused->errorInfo[1], [1045, 1698, 1130, 1044, 3159], "$what: {$refused->getMessage()}");
            }
        };
        // Every account that there is, with its right password where it is known.
        $passwords = ['ds_app' => config('database.connections.'.config('database.default').'.password'), 'ds_keeper' => config('database.connections.keeper.password')];
        $all = DB::connection('keeper')->select('select User as name, Host as host from mysql.global_priv where Host <> ?', [DoorAccounts::FROM], false);
        self::assertGreaterThan(3, count($all));
        foreach ($all as $one) {
            $refused(fn () => $this->connect((string) $one->name, (string) ($passwords[$one->name] ?? $password)), "$one->name@$one->host");
        }
        foreach (['', 'root', 'mysql', 'mariadb.sys', 'nobody'] as $name) {
            $refused(fn () => $this->connect($name, ''), "\"$name\" without a password");
        }
        $refused(fn () => $this->connect($account->name, $password, false), 'A connection without TLS');
        $refused(fn () => $this->connect($account->name, 'wrong'), 'A wrong password');
        $refused(fn () => $this->connect($account->name, $password, true, (int) config('database.connections.keeper.port')), 'A connection beside the door');
        self::assertSame('1200', (string) $this->connect($account->name, $password)->query('select count(*) from loans')->fetchColumn());
    }

    public function test_it_reads_what_it_may_and_changes_nothing(): void
    {
        $feed = $this->feed();
        $consumer = Consumer::query()->create(['user_id' => $this->owner->id, 'name' => 'Reporting']);
        $consumer->feeds()->attach($feed->id);
        [$account, $password] = $this->given($consumer);
        $pdo = $this->connect($account->name, $password);
        self::assertSame([$feed->view()], $pdo->query('show tables')->fetchAll(\PDO::FETCH_COLUMN));
        self::assertSame('1200', (string) $pdo->query("select count(*) from {$feed->view()}")->fetchColumn());
        foreach (['select 1 from loans', 'select 1 from loan_items', 'select 1 from values__of_readers', 'select 1 from limits__of_tools', "delete from {$feed->view()}", "update {$feed->view()} set ref = ''", "insert into {$feed->view()} (ref) values ('')", "drop view {$feed->view()}", 'create table mine (a int)', 'create temporary table mine (a int)', 'create view mine as select 1', 'select 1 from deep_spring_test.users', 'select 1 from mysql.global_priv', "select load_file('/etc/passwd') is not null from deep_spring_test.users", "select 1 into outfile '/tmp/x'", 'set global max_connections = 1', 'grant select on *.* to x@localhost', 'kill 1', 'flush tables', 'create function f() returns int return 1', 'drop event end_long_statements'] as $sql) {
            try {
                $pdo->exec($sql);
                self::fail("\"$sql\" was done.");
            } catch (\PDOException $refused) {
                self::assertContains((int) $refused->errorInfo[1], [1044, 1045, 1142, 1143, 1146, 1227, 1095, 1094, 1370, 1290, 1347], "$sql: {$refused->getMessage()}");
            }
        }
    }

    public function test_a_right_that_is_withdrawn_is_gone_at_the_next_look(): void
    {
        $feed = $this->feed();
        $consumer = Consumer::query()->create(['user_id' => $this->owner->id, 'name' => 'Reporting']);
        $consumer->feeds()->attach($feed->id);
        [$account, $password] = $this->given($consumer);
        $pdo = $this->connect($account->name, $password);
        $consumer->feeds()->detach($feed->id);
        app(DoorBook::class)->align();
        $this->assertRefused(fn () => $pdo->query("select 1 from {$feed->view()}"), 1142);
        $consumer->feeds()->attach($feed->id);
        app(DoorBook::class)->align();
        self::assertSame('1', (string) $pdo->query("select 1 from {$feed->view()} limit 1")->fetchColumn());
        $consumer->update(['off_at' => now()]);
        app(DoorBook::class)->align();
        // Its connection is ended, and there is no account to come back with.
        $this->assertRefused(fn () => $pdo->query('select 1'), 2006, 1927);
        $this->assertRefused(fn () => $this->connect($account->name, $password), 1045, 1698, 1130);
        self::assertSame(0, DoorAccount::query()->count());
    }

    private function assertRefused(\Closure $try, int ...$codes): void
    {
        try {
            $try();
            self::fail('It was answered.');
        } catch (\PDOException $refused) {
            self::assertContains((int) $refused->errorInfo[1], $codes, $refused->getMessage());
        }
    }

    public function test_the_database_ends_what_takes_too_long_and_counts_connections_whatever_the_tool_says(): void
    {
        [$account, $password] = $this->given();
        $account->update(['seconds' => 2, 'at_once' => 2]);
        [$account, $password] = $this->given();
        $pdo = $this->connect($account->name, $password);
        $pdo->exec('set session max_statement_time = 0');
        $begun = microtime(true);
        $this->assertRefused(fn () => $pdo->query('select count(*) from loans a, loans b, loans c, loans d')->fetchAll(), 1317, 1969, 1028);
        self::assertLessThan(30, microtime(true) - $begun);
        $second = $this->connect($account->name, $password);
        self::assertSame('1', (string) $second->query('select 1')->fetchColumn());
        $this->assertRefused(fn () => $this->connect($account->name, $password), 1226);
    }

    public function test_rows_of_a_day_are_counted_and_whoever_had_them_is_locked_out_loudly(): void
    {
        $consumer = Consumer::query()->create(['name' => 'Monday list', 'user_id' => $this->owner->id, 'rows_a_day' => 3000]);
        $feed = $this->feed();
        $consumer->feeds()->attach($feed->id);
        [$account, $password] = $this->given($consumer);
        $read = function () use ($account, $password, $feed): int {
            return count($this->connect($account->name, $password)->query("select * from {$feed->view()}")->fetchAll());
        };
        self::assertSame(1200, $read());
        self::assertSame(1200, $read());
        $this->eventually(fn (): bool => app(DoorBook::class)->taken([$account])[$account->id] === [2400, false]);
        $open = $this->connect($account->name, $password);
        // A statement that has begun gives all of its rows.
        self::assertSame(1200, $read());
        $this->eventually(fn (): bool => app(DoorBook::class)->taken([$account])[$account->id] === [3600, true]);
        $this->assertRefused(fn () => $read(), 4151);
        $this->eventually(fn (): bool => $this->isRefused(fn () => $open->query('select 1')));
        // Another password opens it no further.
        [, $password] = $this->given($consumer);
        $this->eventually(fn (): bool => $this->isRefused(fn () => $this->connect($account->name, $password)));
        $this->actingAs($this->owner)->get('/outlets/door')->assertOk()->assertSee(Show::number(3000).' rows a')->assertSee('locked until the day is over');
        // More rows, or another day, open it again.
        $consumer->update(['rows_a_day' => 5000]);
        app(DoorBook::class)->align();
        $this->eventually(fn (): bool => ! $this->isRefused(fn () => $this->connect($account->name, $password)));
        $consumer->update(['rows_a_day' => 10]);
        app(DoorBook::class)->align();
        $this->eventually(fn (): bool => $this->isRefused(fn () => $this->connect($account->name, $password)));
        DB::connection('keeper')->unprepared('update '.self::SCHEMA.'.limits__of_tools set day = day - interval 1 day');
        $this->eventually(fn (): bool => ! $this->isRefused(fn () => $this->connect($account->name, $password)));
        self::assertSame([0, false], app(DoorBook::class)->taken([$account])[$account->id]);
    }

    /**
     * @param  \Closure(): bool  $holds
     */
    private function eventually(\Closure $holds): void
    {
        for ($until = microtime(true) + 15; ! $holds() && microtime(true) < $until;) {
            usleep(200_000);
        }
        self::assertTrue($holds());
    }

    private function isRefused(\Closure $does): bool
    {
        try {
            $does();

            return false;
        } catch (\PDOException) {
            return true;
        }
    }

    /**
     * @return iterable<string, array{string, string|null}>
     */
    public static function settings(): iterable
    {
        yield 'closed' => ['', null];
        yield 'an address' => ['192.0.2.10:3307', 'TCP4-LISTEN:3307,bind=192.0.2.10,reuseaddr,fork,max-children=60'];
        yield 'of version 6' => ['[2001:db8::7]:3307', 'TCP6-LISTEN:3307,bind=[2001:db8::7],reuseaddr,fork,max-children=60'];
        yield 'no port' => ['192.0.2.10', 'takes an address of this machine'];
        yield 'a port of the system' => ['192.0.2.10:80', 'takes an address of this machine'];
        yield 'a name' => ['tools.saltmarsh.example:3307', 'takes an address of this machine'];
        yield 'another option' => ['192.0.2.10:3307,fork', 'takes an address of this machine'];
    }

    #[DataProvider('settings')]
    public function test_where_it_opens_is_read_or_refused(string $setting, ?string $says): void
    {
        try {
            self::assertSame($says, Door::read($setting)?->command(8403)[1]);
        } catch (Trouble $trouble) {
            self::assertStringContainsString((string) $says, $trouble->getMessage());
        }
    }

    public function test_accounts_are_given_and_withdrawn_on_the_page_and_on_the_command_line(): void
    {
        config(['spring.door' => "127.0.0.1:$this->port"]);
        $this->actingAs($this->owner)->get('/outlets/door')->assertOk()->assertSee('There is none yet.');
        $this->post('/outlets/door')->assertRedirect('/outlets/door');
        $page = $this->get('/outlets/door')->assertOk()->assertSee('It is not shown')->assertSee('again.');
        $account = DoorAccount::query()->sole();
        preg_match('~<code class="break-all">([^<]+)</code>~', (string) $page->getContent(), $found);
        self::assertSame('1200', (string) $this->connect($account->name, $found[1])->query('select count(*) from loans')->fetchColumn());
        foreach (DoorStrings::of($account, "127.0.0.1:$this->port") as $string) {
            self::assertStringContainsString($account->name, $string);
            self::assertStringNotContainsString($found[1], $string);
            $page->assertSee($string);
        }
        $this->get('/outlets/door')->assertDontSee($found[1]);
        $this->actingAs($this->person(Role::Analyst))->get('/outlets/door')->assertDontSee($account->name);
        $this->delete("/outlets/door/$account->id")->assertForbidden();
        $this->actingAs($this->owner)->delete("/outlets/door/$account->id")->assertRedirect();
        $this->assertRefused(fn () => $this->connect($account->name, $found[1]), 1045, 1698, 1130);
        self::assertSame(0, Artisan::call('spring:door', ['do' => 'give', 'for' => $this->owner->email, '--environment' => 'trial']));
        self::assertSame(0, Artisan::call('spring:door', ['do' => 'withdraw', 'for' => DoorAccount::query()->sole()->name]));
        self::assertNotSame(0, Artisan::call('spring:door', ['do' => 'give', 'for' => 'nobody@saltmarsh.example']));
        config(['spring.door' => '']);
        $this->get('/outlets/door')->assertSee('Nobody can come in.');
    }
}
