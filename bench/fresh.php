<?php

declare(strict_types=1);

/*
 * Keeping tables fresh: increments beside reading everything, many edits while a list is read, a hundred schedules in
 * one minute, one request for each row of a table, and rules over two million rows.
 */

use App\Local\Child;
use App\Local\Ports;
use App\Local\Roles;
use App\Models\AllowedHost;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Models\Schedule;
use App\Models\Source;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;

require __DIR__.'/../vendor/autoload.php';
$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

const INCREMENTS = 5;
const SEEDS = 20;
const EDITS = 1000;
const SCHEDULES = 100;
const PER_MINUTE = 1200;
const LOOKUPS = 5000;
const LOOKUP_MS = 50;
const LOOKUPS_AT_ONCE = 8;
const INPUTS = 100_000;
const CHECKED = 2_000_000;

$root = dirname(__DIR__);
$environment = Environment::named('production') ?? throw new LogicException('No environment.');
$folder = "$root/var/bench/fresh";
is_dir($folder) || mkdir($folder);
$parts = explode(',', getenv('BENCH_PARTS') ?: 'increments,history,edits,schedules,lookups,checks');
$children = [];
$failed = false;
$serve = static function (string $script, array $env, int $first, int $at = 1) use ($root, &$children): string {
    $port = Ports::freeFrom($first)->web;
    $children[] = Child::start('list', [PHP_BINARY, '-d', 'opcache.enable_cli=1', '-S', "127.0.0.1:$port", $script], $env + ['PHP_CLI_SERVER_WORKERS' => (string) $at], '/dev/null', $root);
    Ports::await($port, 'The list');
    AllowedHost::query()->firstOrCreate(['host' => '127.0.0.1', 'port' => $port]);

    return "http://127.0.0.1:$port";
};
$publish = static function (array $source, array $endpoints): Source {
    Source::query()->where('slug', $source['slug'])->get()->each(static fn (Source $one) => $one->delete());
    $store = app(SourceStore::class);
    $made = $store->draft(SourceFile::of(['deepspring' => 1, 'source' => $source, 'endpoints' => $endpoints]), null);
    $store->publish($made, null);

    return $made->refresh();
};
$workers = [];
$run = static function (string $slug, string ...$how) use ($root, &$workers): array {
    // A worker takes one run after the other; the first finds nothing loaded, as after a start.
    $workers[$slug] ??= (static function () use ($root, $slug): array {
        $process = proc_open([PHP_BINARY, '-d', 'memory_limit=512M', "$root/bench/fresh-run.php", $slug], [['pipe', 'r'], ['pipe', 'w']], $pipes, $root, Roles::WORKER + getenv());

        return [$process, $pipes];
    })();
    [, $pipes] = $workers[$slug];
    fwrite($pipes[0], ($how[0] ?? 'changes')."\n");
    $result = json_decode((string) fgets($pipes[1]), true);
    if (! is_array($result) || $result['state'] !== 'done') {
        throw new RuntimeException("The refresh of $slug failed: ".json_encode($result));
    }

    return $result;
};

try {
    if (in_array('increments', $parts, true)) {
        file_put_contents("$folder/generation", '0');
        $base = $serve("$root/bench/readings.php", ['BENCH_GENERATION' => "$folder/generation"], 8720, 2);
        $publish(['slug' => 'bench-fresh', 'name' => 'Crate loggers', 'environments' => ['production' => ['base' => $base]]], [[
            'slug' => 'bench-readings', 'name' => 'Readings', 'ask' => ['path' => '/readings'], 'answer' => ['records' => '$.readings[*]'], 'onward' => ['style' => 'offset', 'send_as' => 'offset', 'size' => 5000, 'size_as' => 'limit', 'total' => '$.total'],
            'flatten' => ['table' => 'bench_readings', 'key' => ['id'], 'columns' => [
                ['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'crate', 'from' => '$.crate'], ['name' => 'at', 'from' => '$.at', 'type' => 'datetime'], ['name' => 'temperature', 'from' => '$.temperature', 'type' => 'decimal', 'scale' => 2],
                ['name' => 'humidity', 'from' => '$.humidity', 'type' => 'decimal', 'scale' => 1], ['name' => 'battery', 'from' => '$.battery', 'type' => 'integer'], ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime'],
            ]],
            'keep' => ['refresh' => ['mode' => 'incremental', 'since' => ['column' => 'changed', 'send_as' => 'changed_since', 'overlap' => 'PT5M']]],
        ]]);
        $whole = $run('bench-readings');
        printf("all of it      %9s records, %4d pages  %7.2f s  peak %5.1f MB\n", number_format($whole['records'], 0, '.', ' '), $whole['pages'], $whole['seconds'], $whole['memory'] / 1048576);
        $shares = [];
        for ($generation = 1; $generation <= INCREMENTS; $generation++) {
            file_put_contents("$folder/generation", (string) $generation);
            $one = $run('bench-readings');
            $shares[] = 100 * $one['seconds'] / $whole['seconds'];
            printf("increment %d    %9s records, %4d pages  %7.2f s  peak %5.1f MB  %4.1f %% of all of it: %s\n", $generation, number_format($one['records'], 0, '.', ' '), $one['pages'], $one['seconds'], $one['memory'] / 1048576, end($shares), $one['ended']);
            $failed = $failed || $one['memory'] > 64 * 1048576 || ($one['changes']['new'] ?? 0) !== 10_000 || ($one['changes']['changed'] ?? 0) !== 10_000;
        }
        $idle = $run('bench-readings');
        printf("nothing new    %9s records, %4d pages  %7.2f s\n", number_format($idle['records'], 0, '.', ' '), $idle['pages'], $idle['seconds']);
        $sum = "select concat(count(*), ' ', sum(crc32(concat_ws('|', id, crate, at, temperature, humidity, battery, changed)))) s from `{$environment->schema()}`.`bench_readings`";
        $increments = DB::connection('keeper')->selectOne($sum, [], false)->s;
        $run('bench-readings', 'whole');
        $same = $increments === DB::connection('keeper')->selectOne($sum, [], false)->s;
        sort($shares);
        printf("increments take %.1f to %.1f %% of all of it; at most 3 %% and 64 MB are asked. Read as a whole again, the table is %s (%s).\n\n", $shares[0], end($shares), $same ? 'the same' : 'ANOTHER', $increments);
        $failed = $failed || ! $same || end($shares) > 3.0;
    }
    if (in_array('history', $parts, true)) {
        file_put_contents("$folder/generation", '0');
        $base = $serve("$root/bench/readings.php", ['BENCH_GENERATION' => "$folder/generation"], 8730, 2);
        $took = [];
        foreach (['nothing' => null, 'states' => ['snapshots' => 3, 'rows' => 10_000_000], 'versions' => ['changes' => true, 'rows' => 10_000_000]] as $kind => $history) {
            file_put_contents("$folder/generation", '0');
            $publish(['slug' => 'bench-kept', 'name' => 'Crate loggers', 'environments' => ['production' => ['base' => $base]]], [[
                'slug' => 'bench-kept', 'name' => 'Readings', 'ask' => ['path' => '/readings'], 'answer' => ['records' => '$.readings[*]'], 'onward' => ['style' => 'offset', 'send_as' => 'offset', 'size' => 5000, 'size_as' => 'limit', 'total' => '$.total'],
                'flatten' => ['table' => "bench_kept_$kind", 'key' => ['id'], 'columns' => [
                    ['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'crate', 'from' => '$.crate'], ['name' => 'at', 'from' => '$.at', 'type' => 'datetime'], ['name' => 'temperature', 'from' => '$.temperature', 'type' => 'decimal', 'scale' => 2],
                    ['name' => 'humidity', 'from' => '$.humidity', 'type' => 'decimal', 'scale' => 1], ['name' => 'battery', 'from' => '$.battery', 'type' => 'integer'], ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime'],
                ]],
                'keep' => ['refresh' => ['mode' => 'incremental', 'since' => ['column' => 'changed', 'send_as' => 'changed_since', 'overlap' => 'PT5M']]] + ($history === null ? [] : ['history' => $history]),
            ]]);
            foreach (['first' => [], 'again' => ['whole'], 'increment' => []] as $which => $how) {
                file_put_contents("$folder/generation", $which === 'increment' ? '1' : '0');
                $one = $run('bench-kept', ...$how);
                $took[$kind][$which] = $one['seconds'];
                $failed = $failed || $one['memory'] > 256 * 1048576;
            }
            printf("%-10s stays: all of it, the first time %6.2f s, again %6.2f s; an increment of 20 000 %6.2f s; peak %5.1f MB\n", $kind, $took[$kind]['first'], $took[$kind]['again'], $took[$kind]['increment'], $one['memory'] / 1048576);
        }
        $data = $environment->schema();
        $versions = DB::connection('keeper')->selectOne("select count(*) n, sum(valid_to is null) open from `$data`.`bench_kept_versions__changes`", [], false);
        $present = (int) DB::connection('keeper')->selectOne("select count(*) n from `$data`.`bench_kept_versions`", [], false)->n;
        printf("%s versions, of which %s are true now; the table has %s rows.\n\n", number_format((float) $versions->n, 0, '.', ' '), number_format((float) $versions->open, 0, '.', ' '), number_format($present, 0, '.', ' '));
        $failed = $failed || (int) $versions->open !== $present || (int) $versions->n !== 2_000_000 + 20_000;
    }
    if (in_array('edits', $parts, true)) {
        $plan = "$folder/changing";
        $base = $serve("$root/tests/App/ChangingServer.php", ['CHANGING_PLAN' => $plan], 8740);
        $count = ['edits' => 0, 'refreshes' => 0, 'tables that differ' => 0, 'rows' => 0];
        for ($seed = 1; $seed <= SEEDS; $seed++) {
            array_map(unlink(...), (array) glob("$plan.*"));
            $write = static fn (int $edits) => file_put_contents($plan, json_encode(['seed' => $seed, 'edits' => $edits] + ($seed % 2 === 0 ? ['newest_first' => true] : [])), LOCK_EX);
            $write(0);
            $source = $publish(['slug' => 'bench-changing', 'name' => 'Crates', 'environments' => ['production' => ['base' => $base]]], [[
                'slug' => 'bench-crates', 'name' => 'Crates', 'ask' => ['path' => '/crates'], 'answer' => ['records' => '$.records[*]'], 'onward' => ['style' => 'offset', 'send_as' => 'offset', 'size' => 25, 'size_as' => 'limit', 'total' => '$.total'],
                'flatten' => [
                    'table' => 'bench_crates', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'name', 'from' => '$.name'], ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime'], ['name' => 'deleted', 'from' => '$.deleted', 'type' => 'boolean']],
                    'branches' => [['table' => 'bench_crate_lines', 'from' => '$.lines[*]', 'key' => ['crate', 'line'], 'columns' => [['name' => 'crate', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'line', 'from' => '$.line', 'type' => 'integer'], ['name' => 'what', 'from' => '$.what']]]],
                ],
                'keep' => ['refresh' => ['mode' => 'incremental', 'since' => ['column' => 'changed', 'send_as' => 'since', 'overlap' => 'PT2S'], 'deleted' => ['column' => 'deleted']]],
            ]]);
            $endpoint = Endpoint::query()->where('source_id', $source->id)->firstOrFail();
            $refresh = static function (bool $whole = false) use ($endpoint, $environment, &$count): Run {
                $count['refreshes']++;
                $run = app(Refresh::class)->run(app(Runs::class)->ask($endpoint, $environment, null, new RunWish(whole: $whole)));

                return $run->state === RunState::Done ? $run : throw new RuntimeException((string) json_encode($run->diagnosis));
            };
            $state = static fn (): array => json_decode((string) file_get_contents("$plan.state"), true);
            file_get_contents("$base/?edits=150");
            $write(4);
            for ($refresh(); $state()['edits'] < EDITS; $refresh()) {
                file_get_contents("$base/?edits=25");
            }
            $write(0);
            $refresh();
            $rows = static function (string $table, string $columns) use ($environment): array {
                $found = array_map(static fn (object $row): string => (string) $row->r, DB::connection('keeper')->select("select concat_ws(' ', $columns) r from `{$environment->schema()}`.`$table`", [], false));
                sort($found);

                return $found;
            };
            $now = static fn (): array => [$rows('bench_crates', 'id, name, changed'), $rows('bench_crate_lines', 'crate, line, what')];
            $after = $now();
            $refresh(true);
            $count['edits'] += $state()['edits'];
            $count['rows'] += count($after[0]) + count($after[1]);
            $count['tables that differ'] += $after === $now() ? 0 : 1;
        }
        printf("%d seeds, edits made while pages were read and between them:\n", SEEDS);
        foreach ($count as $what => $number) {
            printf("  %-20s %8s\n", $what, number_format($number, 0, '.', ' '));
        }
        echo "\n";
        $failed = $failed || $count['tables that differ'] > 0;
    }
    if (in_array('schedules', $parts, true)) {
        file_put_contents("$folder/generation", '0');
        @unlink("$folder/requests");
        $base = $serve("$root/bench/readings.php", ['BENCH_GENERATION' => "$folder/generation", 'BENCH_LOG' => "$folder/requests"], 8760, 4);
        $source = $publish(['slug' => 'bench-hundred', 'name' => 'Hundred', 'environments' => ['production' => ['base' => $base]], 'pace' => ['per_minute' => PER_MINUTE, 'at_once' => 4]], array_map(static fn (int $number): array => [
            'slug' => "list-$number", 'name' => "List $number", 'ask' => ['path' => "/list-$number", 'inputs' => [['name' => 'limit', 'in' => 'query', 'fixed' => '20']]], 'answer' => ['records' => '$.readings[*]'],
            'flatten' => ['table' => "bench_list_$number", 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer']]], 'keep' => ['refresh' => ['every' => '0 0 1 1 *']],
        ], range(1, SCHEDULES)));
        app(\App\Schedules\ScheduleBook::class)->align();
        $ids = $source->endpoints()->pluck('id')->all();
        Schedule::query()->whereIn('endpoint_id', $ids)->update(['next_at' => now()->subSeconds(5)->format('Y-m-d H:i:s')]);
        DB::table('jobs')->delete();
        foreach ([1, 2] as $number) {
            $children[] = Child::start("worker $number", [PHP_BINARY, "$root/artisan", 'queue:work', '--sleep=0.2', '--tries=1'], [], "$folder/worker.log", $root);
        }
        $tick = 'require "vendor/autoload.php"; $app = require "bootstrap/app.php"; $app->make(Illuminate\\Contracts\\Console\\Kernel::class)->bootstrap(); app(App\\Schedules\\Scheduler::class)->tick();';
        $begun = microtime(true);
        foreach ([1, 2] as $number) {
            $children[] = Child::start("scheduler $number", [PHP_BINARY, '-r', $tick], [], "$folder/scheduler.log", $root);
        }
        $mine = static fn () => Run::query()->whereIn('endpoint_id', $ids);
        for ($until = $begun + 300; ($mine()->count() < SCHEDULES || $mine()->whereIn('state', [RunState::Queued, RunState::Running])->exists()) && microtime(true) < $until; usleep(100_000));
        $times = array_map(static fn (string $line): float => (float) $line, file("$folder/requests") ?: []);
        sort($times);
        $most = 0;
        foreach ($times as $place => $time) {
            for ($last = $place; isset($times[$last]) && $times[$last] < $time + 1; $last++);
            $most = max($most, $last - $place);
        }
        $done = $mine()->where('state', RunState::Done)->count();
        printf("%d schedules in one minute, two schedulers, two workers, a pace of %d a minute: %d runs, %d of them done, %d endpoints, %d tables; %d requests in %.1f s, at most %d within any second (%d may go in one burst, and %.1f a second besides).\n", SCHEDULES, PER_MINUTE, $mine()->count(), $done, $mine()->distinct()->count('endpoint_id'), KeptTable::query()->whereIn('endpoint_id', $ids)->count(), count($times), end($times) - $times[0], $most, floor(PER_MINUTE * 0.016), PER_MINUTE * 0.968 / 60);
        $failed = $failed || $done !== SCHEDULES || $mine()->count() !== SCHEDULES || count($times) !== SCHEDULES || $most > PER_MINUTE / 60 + 4;
    }
    // A table of numbers from 1 on, made by the database itself.
    $numbers = static function (string $name, int $rows, string $columns, array $types) use ($environment, $publish): KeptTable {
        $source = $publish(['slug' => strtr($name, '_', '-'), 'name' => 'Numbers', 'environments' => ['production' => ['base' => 'http://127.0.0.1:1']]], [['slug' => strtr($name, '_', '-'), 'name' => 'Numbers', 'ask' => ['path' => '/']]]);
        $table = "`{$environment->schema()}`.`$name`";
        DB::connection('keeper')->unprepared("drop table if exists $table; create table $table ($columns, primary key (id)) collate utf8mb4_nopad_bin");
        DB::connection('keeper')->unprepared("insert into $table select seq, ".implode(', ', array_map(static fn (array $one): string => $one[1], array_slice($types, 1)))." from seq_1_to_$rows");
        $endpoint = $source->endpoints()->firstOrFail();
        $run = Run::query()->create(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id, 'version' => 1, 'state' => RunState::Done]);
        $kept = array_map(static fn (string $column, array $one): array => ['name' => $column, 'given' => $column, 'type' => $one[0], 'label' => $one[0], 'scale' => null, 'from' => '$', 'comment' => '', 'mask' => 'none'], array_keys($types), $types);

        return KeptTable::query()->updateOrCreate(['environment_id' => $environment->id, 'name' => $name], ['endpoint_id' => $endpoint->id, 'run_id' => $run->id, 'given_name' => $name, 'is_branch' => false, 'columns' => $kept, 'key' => ['id'], 'rows' => $rows, 'refreshed_at' => now()]);
    };
    if (in_array('lookups', $parts, true)) {
        $port = Ports::freeFrom(8780)->web;
        $children[] = Child::start('one', [PHP_BINARY, '-d', 'opcache.enable_cli=1', "$root/bench/list.php", (string) $port], [], '/dev/null', $root);
        Ports::await($port, 'The list');
        AllowedHost::query()->firstOrCreate(['host' => '127.0.0.1', 'port' => $port]);
        $lookup = static fn (int $ms): Source => $publish(['slug' => 'bench-lookup', 'name' => 'Freight', 'environments' => ['production' => ['base' => "http://127.0.0.1:$port"]], 'pace' => ['at_once' => LOOKUPS_AT_ONCE]], [[
            'slug' => 'bench-consignments', 'name' => 'Consignments', 'ask' => ['path' => "/one/$ms/{number}", 'inputs' => [['name' => 'number', 'in' => 'path', 'type' => 'integer', 'required' => true]]],
            'flatten' => ['table' => 'bench_consignments', 'key' => ['loan'], 'columns' => [['name' => 'loan', 'row' => 'id', 'type' => 'integer'], ['name' => 'number', 'from' => '$.number', 'type' => 'integer'], ['name' => 'place', 'from' => '$.at.place'], ['name' => 'seen', 'from' => '$.at.seen', 'type' => 'datetime']]],
            'keep' => ['inputs' => ['number' => ['from' => ['table' => 'bench_numbers', 'column' => 'number']]], 'lookup' => ['answers' => 'P1D']],
        ]]);
        foreach ([[LOOKUPS, LOOKUP_MS], [INPUTS, 0]] as [$rows, $ms]) {
            $numbers('bench_numbers', $rows, 'id bigint not null, number bigint not null', ['id' => ['integer', ''], 'number' => ['integer', 'seq + 70000']]);
            $lookup($ms);
            foreach (['asked', 'known'] as $how) {
                $one = $run('bench-consignments');
                $ideal = $how === 'asked' ? $rows * $ms / 1000 / LOOKUPS_AT_ONCE : 0.0;
                printf("lookups %s   %7s rows at %d ms, %d at once  %7.2f s%s  peak %5.1f MB: %s\n", $how, number_format($rows, 0, '.', ' '), $ms, LOOKUPS_AT_ONCE, $one['seconds'], $ideal > 0 ? sprintf(', %.3f times the ideal %.2f s', $one['seconds'] / $ideal, $ideal) : '', $one['memory'] / 1048576, $one['ended']);
                $failed = $failed || $one['rows'] !== $rows || $one['memory'] > 96 * 1048576 || $ideal > 0 && $one['seconds'] > 1.15 * $ideal;
            }
        }
        echo "At most 1.15 times the ideal, and 96 MB, are asked.\n\n";
    }
    if (in_array('checks', $parts, true)) {
        $numbers('bench_houses', 1000, 'id bigint not null, name varchar(64) not null', ['id' => ['integer', ''], 'name' => ['text', "concat('house ', seq)"]]);
        $table = $numbers('bench_checked', CHECKED, 'id bigint not null, ref varchar(64) not null, fee decimal(9,2) null, status varchar(64) null, house varchar(64) null, changed datetime(6) null', [
            'id' => ['integer', ''], 'ref' => ['text', "concat('SC-', lpad(seq, 7, '0'))"], 'fee' => ['decimal', 'if(seq % 7 = 0, null, seq % 90000 / 100)'], 'status' => ['text', "elt(1 + seq % 4, 'open', 'packed', 'out', 'closed')"],
            'house' => ['text', "concat('house ', 1 + seq % 1000)"], 'changed' => ['datetime', "'2030-01-01' + interval seq second"],
        ]);
        $plan = DeepSpring\Flatten\Plan::of(['table' => 'bench_checked', 'key' => ['id'], 'columns' => array_map(static fn (array $column): array => ['name' => $column['given'], 'from' => '$', 'type' => $column['type']] + ($column['type'] === 'decimal' ? ['scale' => 2] : []), $table->columns)]);
        $rules = [['never_empty' => ['ref', 'status']], ['one_of' => 'status', 'values' => ['open', 'packed', 'out', 'closed']], ['range' => 'fee', 'at_least' => 0], ['newest' => 'changed', 'no_older_than' => 'P365D'], ['rows' => ['at_least' => 1]], ['matches' => 'ref', 'pattern' => 'SC-\d{7}'], ['refers' => 'house', 'to' => 'bench_houses.name'], ['unique' => ['ref']], ['every' => 'fee == null or fee >= 0']];
        $checks = array_slice(DeepSpring\Check\Checks::all($rules, $plan), 0, count($rules));
        $rows = app(App\Reservoir\TableStore::class)->checked($environment, [$table], 600);
        $seconds = static function (array $some) use ($rows, &$failed): float {
            $begun = hrtime(true);
            foreach ($rows->count($some) as $count) {
                $failed = $failed || $count->unknown !== null || $count->broken !== 0 || $count->rows !== CHECKED;
            }

            return (hrtime(true) - $begun) / 1e9;
        };
        $seconds([$checks[4]]);
        foreach ($checks as $check) {
            printf("check %-60s %6.2f s\n", $check->check->words(), $seconds([$check]));
        }
        printf("all of them, over %s rows %34.2f s\n", number_format(CHECKED, 0, '.', ' '), $seconds($checks));
    }
} finally {
    foreach ($workers as [$process, $pipes]) {
        fclose($pipes[0]);
        proc_close($process);
    }
    foreach ($children as $child) {
        $child->stop(1);
    }
}
exit($failed ? 1 : 0);
