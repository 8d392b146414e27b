<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\QueryRun;
use App\Models\Role;
use App\Models\User;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Queries\QuerySlot;
use App\Queries\QuerySlots;
use App\Queries\SqlGuard;
use App\Queries\Waiting;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * What a person may ask of the database, how long it may take, and how many at once.
 */
final class StatementsTest extends AppTestCase
{
    /**
     * @return iterable<string, array{string, string}>
     */
    public static function refused(): iterable
    {
        foreach (["select get_lock('a', 60)", "select GET_LOCK ('a', 60)", "select `get_lock`('a', 60)", "select get_lock/* */('a', 60)", "select get_lock -- x\n('a', 60)", "with x as (select get_lock('a', 1) l) select * from x", 'select release_all_locks()', "select is_used_lock('a')", "select is_free_lock('a')", "select benchmark(1000000, md5('a'))", "select load_file('/etc/passwd')"] as $sql) {
            yield $sql => [$sql, 'no use in reading'];
        }
        foreach (['show grants', 'show grants for current_user', "show create user 'root'@'localhost'", 'SHOW /* x */ GRANTS', 'show processlist', 'show variables', 'show master status'] as $sql) {
            yield $sql => [$sql, 'Only what belongs to tables'];
        }
        foreach (['select 1; select 2', "select 1;\n;select 2", "select ';' ; delete from loans"] as $sql) {
            yield $sql => [$sql, 'One statement at a time'];
        }
        foreach (['select * from loans for update', 'select * from loans lock in share mode', "select * from loans FOR\nUPDATE"] as $sql) {
            yield $sql => [$sql, 'cannot be locked'];
        }
        yield 'nothing but semicolons' => [' ; ;; ', 'Write a query first'];
        yield 'too large' => ['select '.str_repeat('1,', 140_000).'1', 'at most 256 KB'];
        yield 'no text' => ["select '\xff'", 'not UTF-8'];
        yield 'a comment that would be run' => ["select 1 /*! get_lock('a', 1) */", 'Comments that the database would run'];
    }

    #[DataProvider('refused')]
    public function test_a_statement_is_refused_in_a_sentence(string $sql, string $sentence): void
    {
        $this->expectException(QueryRefused::class);
        $this->expectExceptionMessage($sentence);
        SqlGuard::checked($sql);
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function taken(): iterable
    {
        yield 'semicolons at the end' => ["select 1 ;; \n;", 'select 1'];
        yield 'a long text' => ["select '".str_repeat('a', 200_000)."' as t", "select '".str_repeat('a', 200_000)."' as t"];
        yield 'a long text with quotes' => ["select '".str_repeat("it''s \\' ", 20_000)."' as t", "select '".str_repeat("it''s \\' ", 20_000)."' as t"];
        yield 'names like functions' => ['select `get_lock`, sleep_hours from x', 'select `get_lock`, sleep_hours from x'];
        yield 'a text that says it' => ["select 'get_lock(1)' as t", "select 'get_lock(1)' as t"];
        yield 'tables' => ['show full tables', 'show full tables'];
    }

    #[DataProvider('taken')]
    public function test_what_only_reads_is_taken(string $sql, string $run): void
    {
        self::assertSame($run, SqlGuard::checked($sql));
    }

    public function test_the_longest_statement_there_may_be_ends_within_the_limit(): void
    {
        $analyst = $this->person(Role::Analyst);
        config(['spring.query.seconds' => 2]);
        foreach (['select 1 in ('.implode(',', array_fill(0, 125_000, '1')).') as x', 'select '.implode(' + ', array_fill(0, 60_000, '1')).' as x', "select '".str_repeat('x', 8000)."' as x", 'select '.implode(' or ', array_fill(0, 36_000, '1=2')).' as x'] as $sql) {
            self::assertLessThanOrEqual(config('spring.query.statement_bytes'), strlen($sql));
            $begun = hrtime(true);
            try {
                app(QueryRunner::class)->run($analyst, $this->trial(), $sql);
            } catch (QueryRefused $refused) {
                self::assertStringNotContainsString('Write a query', $refused->getMessage());
            }
            // Without a bound of the text the first of these ran for 51 s under a limit of 30.
            self::assertLessThan(45, (hrtime(true) - $begun) / 1e9, substr($sql, 0, 40));
        }
        self::assertLessThanOrEqual(64 * 1024, (int) QueryRun::query()->max(DB::raw('length(`sql`)')));
        self::assertSame(4, QueryRun::query()->count());
    }

    public function test_three_statements_of_a_person_run_and_the_fourth_waits_its_turn_and_says_so(): void
    {
        $analyst = $this->person(Role::Analyst);
        $other = $this->person(Role::Analyst);
        $holders = array_map(fn (): array => $this->holder($analyst), range(1, 3));
        $this->actingAs($analyst);
        $answer = $this->post('/queries/run', ['sql' => 'select 1 as one'], ['HX-Request' => 'true'])->assertOk()->assertSee('Waits for its turn')->assertSee('3 of your statements run already')->getContent();
        preg_match('/ticket&quot;:&quot;([0-9a-f]{32})/', (string) $answer, $ticket);
        self::assertNotEmpty($ticket, (string) $answer);
        $second = app(QuerySlots::class)->take($analyst, null);
        self::assertInstanceOf(Waiting::class, $second);
        self::assertSame(1, $second->before, 'the first to come is the first to go');
        $this->actingAs($other)->post('/queries/run', ['sql' => 'select 2 as two'])->assertOk()->assertSee('1 row');

        $this->end($holders[0]);
        self::assertInstanceOf(Waiting::class, app(QuerySlots::class)->take($analyst, $second->ticket));
        $this->actingAs($analyst)->post('/queries/run', ['sql' => 'select 1 as one', 'ticket' => $ticket[1]])->assertOk()->assertSee('1 row');
        $turn = app(QuerySlots::class)->take($analyst, $second->ticket);
        self::assertInstanceOf(QuerySlot::class, $turn);
        $turn->giveBack();
        // Whoever waits and goes away is not waited for.
        $gone = $this->holder($analyst);
        self::assertInstanceOf(Waiting::class, app(QuerySlots::class)->take($analyst, null));
        $this->end($holders[1]);
        DB::table('statement_turns')->update(['seen_at' => microtime(true) - 6]);
        self::assertInstanceOf(QuerySlot::class, app(QuerySlots::class)->take($analyst, null));
        array_map($this->end(...), [$holders[2], $gone]);
    }

    public function test_there_is_a_limit_for_all_people_together(): void
    {
        config(['spring.query.at_once' => 2]);
        $holders = [$this->holder($this->person(Role::Analyst), 2), $this->holder($this->person(Role::Analyst), 2)];
        $waiting = app(QuerySlots::class)->take($this->person(Role::Analyst), null);
        self::assertInstanceOf(Waiting::class, $waiting);
        self::assertStringContainsString('all people', $waiting->sentence());
        $this->expectException(QueryRefused::class);
        try {
            app(QuerySlots::class)->await($this->person(Role::Analyst), 0.5);
        } finally {
            array_map($this->end(...), $holders);
        }
    }

    /**
     * A process of its own that holds a place, as a statement that runs does.
     *
     * @return array{resource, array<int, resource>}
     */
    private function holder(User $person, int $all = 6): array
    {
        $process = proc_open([PHP_BINARY, '-r', 'require "vendor/autoload.php"; $app = require "bootstrap/app.php"; $app->make(Illuminate\Contracts\Console\Kernel::class)->bootstrap(); config(["spring.query.at_once" => (int) $argv[2]]); $turn = app(App\Queries\QuerySlots::class)->take(App\Models\User::query()->findOrFail((int) $argv[1]), null); echo get_class($turn), "\n"; fgets(STDIN);', (string) $person->id, (string) $all], [['pipe', 'r'], ['pipe', 'w'], ['file', '/dev/null', 'w']], $pipes, base_path());
        self::assertIsResource($process);
        self::assertSame(QuerySlot::class, trim((string) fgets($pipes[1])));

        return [$process, $pipes];
    }

    /**
     * @param  array{resource, array<int, resource>}  $holder
     */
    private function end(array $holder): void
    {
        fclose($holder[1][0]);
        proc_close($holder[0]);
    }
}
