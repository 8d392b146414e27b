<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Models\Exchange;
use App\Models\KeptTable;
use App\Models\RejectedValue;
use App\Models\Run;
use App\Models\RunState;
use App\Models\Source;
use App\Runs\Runs;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Lane;

final class RefreshTest extends AppTestCase
{
    public function test_all_loans_and_their_items_are_kept_exactly(): void
    {
        $run = $this->refresh($this->source(), 'loans');
        self::assertSame(RunState::Done, $run->state, (string) json_encode($run->diagnosis));
        self::assertSame([24, 1200, 5200, 0, 0], [$run->pages, $run->records, $run->rows, $run->rejects, $run->duplicates]);
        self::assertSame(['loan_items', 'loans'], $this->tablesInTrial());
        [$all] = $this->rows('select count(*) n, count(distinct loan_id) ids, min(register_no) least, sum(note = "") empties, sum(note is null) nulls from loans');
        self::assertSame(['1200', '1200', '400'], [(string) $all->n, (string) $all->ids, (string) $all->nulls]);
        self::assertGreaterThan(9007199254740992, (int) $all->least);
        self::assertGreaterThan(0, (int) $all->empties);
        [$one] = $this->rows('select * from loans where loan_id = 8812');
        self::assertSame(['07120', '+4704149583', 'Þóra Finnvik', '38427.33', '101.98', '2030-03-18', '2030-01-10 17:59:26.000000', '2030-01-11 14:57:54.812000', '', '062800', '9007199324523220', 'framed; couriered; climate, strict; fragile'],
            [$one->post_code, $one->phone, $one->contact, $one->cover, $one->fee, $one->due, $one->packed_at, $one->changed, $one->note, $one->policy, (string) $one->register_no, $one->tags]);
        [$items] = $this->rows('select count(*) n, max(line) most from loan_items');
        self::assertSame(['4000', '12'], [(string) $items->n, (string) $items->most]);
        [$tabbed] = $this->rows('select count(*) n from loans where note like "%\tsum%" or note like "%file\t4"');
        self::assertGreaterThan(0, (int) $tabbed->n, 'a tab inside a text survives');
    }

    public function test_pages_by_number_are_all_read(): void
    {
        $run = $this->refresh($this->source('stores'), 'positions');
        self::assertSame([RunState::Done, 8, 640], [$run->state, $run->pages, $run->rows]);
        self::assertStringContainsString('8 pages, 640 records', (string) $run->ended);
    }

    /**
     * @return iterable<string, array{array<string, string>, string, string}>
     */
    public static function failures(): iterable
    {
        $fault = static fn (string $fault): array => ['{name: expand, in: query, fixed: items}' => "{name: expand, in: query, fixed: items}\n        - {name: fault, in: query, fixed: $fault}", '  test: {endpoint: loans}' => "  test: {endpoint: loans}\n  pace: {tries: 1, timeout: 3}"];
        yield 'an outage' => [$fault('outage'), '503', 'not available'];
        yield 'an error' => [$fault('error'), '500', 'locked by another clerk'];
        yield 'a web page' => [$fault('html'), 'html-sign-in', 'Sign in to the Circle'];
        yield 'an empty body' => [$fault('empty'), 'empty', 'body is empty'];
        yield 'a truncated body' => [$fault('truncated'), 'not-json', 'at byte'];
        yield 'a cut connection' => [$fault('cut'), 'cut', 'middle of the answer'];
        yield 'a redirect elsewhere' => [$fault('redirect'), 'redirect', 'elsewhere.saltmarsh.example'];
        yield 'a cursor that comes back' => [$fault('repeat'), 'onward', 'cursor'];
        yield 'an answer too large' => [$fault('huge'), 'unreadable', 'no array at'];
        yield 'a slow answer' => [['{name: expand, in: query, fixed: items}' => '{name: slow, in: query, fixed: 4000}', '  test: {endpoint: loans}' => '  pace: {tries: 1, timeout: 1}'], 'timeout', 'within 1 s'];
        yield 'a wrong token' => [['{scheme: oauth2-client-credentials, token_url: {variable: token_url}, client_id: {secret: client_id}, client_secret: {secret: client_secret}, scope: loans.read loans.write}' => '{scheme: bearer, token: wrong-token}'], '401-refused', 'refused your credentials'];
        yield 'a wrong path' => [['path: /loans' => 'path: /lones', 'path: /lones/{id}' => 'path: /loans/{id}'], '404', '/v2/lones'];
        yield 'a path that finds no records' => [['records: "$.data[*]"' => 'records: "$.nothing"'], 'no-records', '$.nothing'];
        yield 'a missing secret' => [['client_secret: {secret: client_secret}' => 'client_secret: {secret: other}'], 'secret', 'has no value in Trial'];
    }

    /**
     * @param  array<string, string>  $changes
     */
    #[DataProvider('failures')]
    public function test_a_refresh_that_fails_leaves_the_rows_and_says_why(array $changes, string $code, string $says): void
    {
        $this->refresh($this->source(), 'loans');
        $run = $this->refresh($this->source('loans-desk', $changes), 'loans');
        self::assertSame(RunState::Failed, $run->state);
        self::assertSame($code, $run->diagnosis['code'] ?? null, (string) json_encode($run->diagnosis));
        self::assertStringContainsString($says, ($run->diagnosis['what'] ?? '').($run->diagnosis['advice'] ?? ''));
        self::assertSame(['loan_items', 'loans'], $this->tablesInTrial());
        self::assertSame('1200', (string) $this->rows('select count(*) n from loans')[0]->n);
        if ($code !== 'secret') {
            self::assertNotNull(Exchange::query()->where('run_id', $run->id)->first(), 'the exchange that failed is kept');
        }
    }

    public function test_a_host_that_refuses_or_is_unknown_fails_in_a_sentence(): void
    {
        $this->allow(1);
        foreach (['http://127.0.0.1:1/v2' => 'refused', 'http://127.0.0.1:2/v2' => 'outbound', 'http://loans.invalid/v2' => 'dns'] as $base => $code) {
            $run = $this->refresh($this->source('loans-desk', [self::$standinsAddress.'/loans-desk/v2' => $base, '  test: {endpoint: loans}' => '  pace: {tries: 1}']), 'loans');
            self::assertSame($code, $run->diagnosis['code'] ?? null, (string) json_encode($run->diagnosis));
        }
    }

    public function test_a_key_seen_twice_is_kept_once_and_counted(): void
    {
        $run = $this->refresh($this->source('stores', ['key: [position_id]' => 'key: [room]']), 'positions');
        self::assertSame([RunState::Done, 4, 636], [$run->state, $run->rows, $run->duplicates]);
    }

    public function test_values_that_do_not_fit_are_kept_with_page_and_path(): void
    {
        $run = $this->refresh($this->source('stores', ['{name: room, from: "$.room", type: text}' => '{name: room, from: "$.room", type: integer}']), 'positions');
        self::assertSame([RunState::Done, 640, 640], [$run->state, $run->rows, $run->rejects]);
        $reject = RejectedValue::query()->where('run_id', $run->id)->firstOrFail();
        self::assertSame(['positions', 'room', "page 1: \$['positions'][0].room", '"A"'], [$reject->table, $reject->column, $reject->path, $reject->value]);
        self::assertSame(640, RejectedValue::query()->where('run_id', $run->id)->count());
    }

    public function test_a_table_without_a_key_numbers_its_rows_out_of_sight(): void
    {
        $this->refresh($this->source('stores', ['key: [position_id]' => 'key: []', "    change:\n      get: {endpoint: position, inputs: {position: position_id}}\n      update: {endpoint: change-position, inputs: {position: position_id, locked: locked}}\n" => '']), 'positions');
        // Between rows of two loads numbers may be missing.
        self::assertSame('640', (string) $this->rows('select count(distinct _row) n from positions where _row > 0')[0]->n);
        self::assertArrayNotHasKey('_row', (array) $this->rows('select * from positions limit 1')[0]);
    }

    public function test_names_that_the_database_would_confuse_are_made_safe_and_remembered(): void
    {
        $this->refresh($this->source('stores', ['table: positions' => 'table: Order', 'name: bay' => 'name: Room', 'name: level' => 'name: select', 'name: holds,' => 'name: "'.str_repeat('long ', 20).'",', 'name: locked, from' => 'name: "☺", from', "    change:\n      get: {endpoint: position, inputs: {position: position_id}}\n      update: {endpoint: change-position, inputs: {position: position_id, locked: locked}}\n" => '']), 'positions');
        $table = KeptTable::query()->firstOrFail();
        self::assertSame(['order_', 'Order'], [$table->name, $table->given_name]);
        $names = array_column($table->columns, 'name');
        self::assertSame(['position_id', 'room', 'room_2', 'select_'], array_slice($names, 0, 4));
        self::assertSame(64, strlen($names[4]));
        self::assertSame('640', (string) $this->rows('select count(room_2 + select_) n from order_')[0]->n);
    }

    public function test_upper_case_and_trailing_blanks_make_different_keys(): void
    {
        $file = SourceFile::of(['deepspring' => 1, 'source' => ['slug' => 'k', 'name' => 'K', 'environments' => ['trial' => ['base' => self::$standinsAddress]]], 'endpoints' => [['slug' => 'e', 'name' => 'E', 'ask' => ['path' => '/x'], 'flatten' => ['table' => 'keys_', 'key' => ['k'], 'columns' => [['name' => 'k', 'from' => '$.k', 'type' => 'text']]]]]]);
        $plan = $file->endpoints()[0]->plan() ?? self::fail();
        $staging = new \App\Reservoir\MariaDb\MariaDbStagedTables(DB::connection('keeper'), 'deep_spring_test_data_trial', 'x', $plan, sys_get_temp_dir());
        $staging->begin();
        $staging->add((new \DeepSpring\Flatten\Flattener($plan))->flatten(array_map(static fn (string $k): object => (object) ['k' => $k], ['A1', 'a1', 'a1 ', "a1\0", 'á1', 'a\\1', "a\t1", '\\N'])));
        $staging->finish();
        $staging->putInPlace();
        $staging->end();
        self::assertSame(8, $staging->counts()->rows);
        $kept = array_map(static fn (object $row): string => (string) hex2bin($row->h), $this->rows('select hex(k) h from keys_'));
        sort($kept);
        $given = ['A1', 'a1', 'a1 ', "a1\0", 'á1', 'a\1', "a\t1", '\N'];
        sort($given);
        self::assertSame($given, $kept);
    }

    public function test_two_refreshes_of_the_same_tables_never_run_at_once(): void
    {
        $source = $this->source();
        $run = app(Runs::class)->ask($this->endpoint($source, 'loans'), $this->trial(), null);
        $other = new \PDO('mysql:host=127.0.0.1;port='.config('database.connections.keeper.port'), (string) config('database.connections.keeper.username'), (string) config('database.connections.keeper.password'));
        $other->query("select get_lock('".\App\Reservoir\MariaDb\MariaDbStagedTables::lock(DB::connection('keeper'), $this->trial()->schema(), "e{$run->endpoint_id}")->name."', 0)");
        $run = app(\App\Runs\Refresh::class)->run($run);
        self::assertSame(['keep', 'These tables are being refreshed already.'], [$run->diagnosis['code'] ?? null, $run->diagnosis['what'] ?? null]);
    }

    public function test_a_table_of_another_source_is_not_written_over(): void
    {
        $this->refresh($this->source(), 'loans');
        $run = $this->refresh($this->source('stores', ['table: positions' => 'table: Loans']), 'positions');
        self::assertStringContainsString('A table loans is kept in Trial already, by Loans desk', $run->diagnosis['what'] ?? '');
        self::assertSame('1200', (string) $this->rows('select count(*) n from loans')[0]->n);
    }

    public function test_a_refresh_killed_in_the_middle_leaves_the_table_whole_and_nothing_behind_after_the_next(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $slow = $this->source('loans-desk', ['{name: expand, in: query, fixed: items}' => "{name: expand, in: query, fixed: items}\n        - {name: slow, in: query, fixed: 150}"]);
        $run = app(Runs::class)->ask($this->endpoint($slow, 'loans'), $this->trial(), null);
        $child = Child::start('refresh', [PHP_BINARY, '-r', 'require "vendor/autoload.php"; $app = require "bootstrap/app.php"; $app->make(Illuminate\Contracts\Console\Kernel::class)->bootstrap(); app(App\Runs\Refresh::class)->run(App\Models\Run::query()->findOrFail('.$run->id.'));'], [], '/dev/null', base_path());
        for ($until = microtime(true) + 60; Run::query()->whereKey($run->id)->value('pages') < 3 && microtime(true) < $until; usleep(50_000));
        self::assertNotSame(['loan_items', 'loans'], $this->tablesInTrial(), 'it has begun');
        posix_kill($child->pid, SIGKILL);
        $child->stop(0);
        self::assertSame('1200', (string) $this->rows('select count(*) n from loans')[0]->n);
        $this->rescued($run);
        $run = app(\App\Runs\Refresh::class)->run($run->refresh());
        self::assertSame([RunState::Done, 2, 1200], [$run->state, $run->attempt, $run->records], (string) json_encode($run->diagnosis));
        self::assertSame(['loan_items', 'loans'], $this->tablesInTrial());
        self::assertSame(RunState::Done, $this->refresh($this->source(), 'loans')->state);
        self::assertSame(['loan_items', 'loans'], $this->tablesInTrial());
        self::assertSame([], glob(base_path(config('spring.var')).'/tmp/*.tsv'));
    }

    /**
     * Until it was noticed that the process of a run died.
     */
    private function rescued(Run $run): void
    {
        for ($until = microtime(true) + 60; microtime(true) < $until; usleep(100_000)) {
            app(Runs::class)->rescue();
            if (Run::query()->find($run->id)?->state === RunState::Queued) {
                return;
            }
        }
        self::fail('Nobody noticed.');
    }

    public function test_a_run_stops_after_the_page_when_asked(): void
    {
        $source = $this->source('loans-desk', ['{name: expand, in: query, fixed: items}' => '{name: slow, in: query, fixed: 300}']);
        $run = app(Runs::class)->ask($this->endpoint($source, 'loans'), $this->trial(), null);
        $run = app(\App\Runs\Refresh::class)->run($run, static function (Run $run): void {
            if ($run->pages === 2) {
                app(Runs::class)->stop($run);
            }
        });
        self::assertSame(RunState::Stopped, $run->state);
        self::assertLessThan(8, $run->pages);
        self::assertSame([], array_filter($this->tablesInTrial(), static fn (string $name): bool => ! str_starts_with($name, 'stage__')), 'no half table is there');
        self::assertTrue(app(Runs::class)->goOn($run, false));
        $run = app(\App\Runs\Refresh::class)->run($run->refresh());
        self::assertSame([RunState::Done, 1200, 2], [$run->state, $run->records, $run->attempt], (string) $run->ended);
        self::assertSame('1200 1200', $this->rows('select concat(count(*), " ", count(distinct loan_id)) n from loans')[0]->n);
        self::assertSame(['loan_items', 'loans'], $this->tablesInTrial());
    }

    public function test_a_try_uses_the_draft_and_a_refresh_what_is_published(): void
    {
        $source = $this->source();
        $document = $source->current()->document;
        $document['endpoints'][0]['ask']['path'] = '/nowhere';
        app(SourceStore::class)->draft(SourceFile::of($document), null, $source);
        self::assertSame(RunState::Done, $this->refresh($source, 'loans')->state);
        self::assertSame('/nowhere', Source::query()->firstOrFail()->current()->document['endpoints'][0]['ask']['path']);
    }

    /**
     * 250 records that nobody here wrote, served by a throw-away server.
     */
    public function test_a_real_document_is_kept_as_it_is(): void
    {
        $file = base_path('node_modules/world-countries/countries.json');
        $countries = json_decode((string) file_get_contents($file), true, 512, JSON_THROW_ON_ERROR);
        $port = Lane::ports(8780)->web;
        $this->allow($port);
        $server = Child::start('server', [PHP_BINARY, '-S', "127.0.0.1:$port", '-t', dirname($file)], [], '/dev/null', dirname($file));
        try {
            for ($until = microtime(true) + 60; @file_get_contents("http://127.0.0.1:$port/package.json") === false && microtime(true) < $until; usleep(20_000));
            $records = json_decode((string) file_get_contents($file), false, 512, JSON_BIGINT_AS_STRING | JSON_THROW_ON_ERROR);
            $proposal = (new \DeepSpring\Flatten\Proposal\Proposer)->propose($records, 'countries');
            $document = ['deepspring' => 1, 'source' => ['slug' => 'world', 'name' => 'World', 'environments' => ['trial' => ['base' => "http://127.0.0.1:$port"]]], 'endpoints' => [['slug' => 'countries', 'name' => 'Countries', 'ask' => ['path' => '/countries.json'], 'answer' => ['records' => '$[*]'], 'flatten' => $proposal->flatten]]];
            $source = app(SourceStore::class)->draft(SourceFile::of($document), null);
            app(SourceStore::class)->publish($source, null);
            $run = $this->refresh($source->refresh(), 'countries');
        } finally {
            $server->stop(1);
        }
        self::assertSame([RunState::Done, 250, 0], [$run->state, $run->records, $run->rejects], (string) json_encode($run->diagnosis));
        $table = KeptTable::query()->where('is_branch', false)->firstOrFail();
        self::assertSame(count($countries), $table->rows);
        $from = array_column($table->columns, 'name', 'from');
        $rows = $this->rows("select `{$from['$.cca3']}` code, `{$from['$.name.common']}` common, `{$from['$.area']}` area, `{$from['$.landlocked']}` landlocked, `{$from['$.borders[*]']}` borders, `{$from['$.name.official']}` official from countries order by `{$from['$.cca3']}`");
        usort($countries, static fn (array $a, array $b): int => strcmp($a['cca3'], $b['cca3']));
        $wanted = hash_init('sha256');
        $kept = hash_init('sha256');
        foreach ($countries as $place => $country) {
            hash_update($wanted, implode('|', [$country['cca3'], $country['name']['common'], (string) round($country['area'], 2), $country['landlocked'] ? '1' : '0', implode(', ', $country['borders']), $country['name']['official']])."\n");
            $row = $rows[$place];
            hash_update($kept, implode('|', [$row->code, $row->common, (string) round((float) $row->area, 2), (string) $row->landlocked, (string) $row->borders, $row->official])."\n");
        }
        self::assertSame(hash_final($wanted), hash_final($kept));
    }
}
