<?php

declare(strict_types=1);

/*
 * Records changed through a service that takes 30 ms for each: 10,000 updates, 8 at once, without and with a look at each
 * record before; a dry run over 100,000 rows; and what a keystroke costs in a table of 2,000,000 rows while 200 cells are
 * pending.
 */

use App\Changes\Bulk;
use App\Changes\BulkWish;
use App\Changes\ChangeSets;
use App\Changes\ChangeTable;
use App\Changes\Courier;
use App\Changes\PendingChanges;
use App\Local\Child;
use App\Local\Ports;
use App\Models\AllowedHost;
use App\Models\ChangeRight;
use App\Models\Environment;
use App\Models\JournalEntry;
use App\Models\KeptTable;
use App\Models\Source;
use App\Models\User;
use App\Reservoir\TableReader;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\SourceFile;
use GuzzleHttp\Client;
use GuzzleHttp\Cookie\CookieJar;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;

require __DIR__.'/../vendor/autoload.php';
$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

const ROWS = 2_000_000;
const UPDATES = 10_000;
const LATENCY = 30;
const AT_ONCE = 8;
const DRY = 100_000;
const PENDING = 200;
const ROUNDS = 21;

$root = dirname(__DIR__);
$environment = Environment::named('trial') ?? throw new LogicException('No environment.');
$port = Ports::freeFrom(9260)->web;
$server = Child::start('records', [PHP_BINARY, __DIR__.'/records.php', (string) $port, (string) LATENCY], [], '/dev/null', $root);
Ports::await($port, 'The records');
register_shutdown_function(static fn () => $server->stop(1));
AllowedHost::query()->firstOrCreate(['host' => '127.0.0.1', 'port' => $port]);

$failed = false;
$asked = static function (string $what, float $value, float $limit, string $text) use (&$failed): void {
    $failed = $failed || $value > $limit;
    printf("%-64s %s%s\n", $what, $text, $value <= $limit ? '' : ', which was missed');
};
$owner = User::query()->where('email', 'ines@saltmarsh.example')->firstOrFail();
Source::query()->where('slug', 'bench-change')->get()->each(static fn (Source $one) => $one->delete());
$inputs = [['name' => 'id', 'in' => 'path', 'type' => 'integer', 'required' => true]];
$document = static fn (bool $looks): array => ['deepspring' => 1, 'source' => ['slug' => 'bench-change', 'name' => 'Crates to be changed', 'environments' => ['trial' => ['base' => "http://127.0.0.1:$port"]], 'pace' => ['at_once' => AT_ONCE]], 'endpoints' => [
    ['slug' => 'crates', 'name' => 'Crates', 'does' => 'list', 'ask' => ['method' => 'GET', 'path' => '/crates'], 'flatten' => ['table' => 'change_crates', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'crate', 'from' => '$.crate', 'type' => 'text'], ['name' => 'note', 'from' => '$.note', 'type' => 'text'], ['name' => 'weight', 'from' => '$.weight', 'type' => 'decimal', 'scale' => 1]]],
        'change' => ($looks ? ['get' => ['endpoint' => 'crate', 'inputs' => ['id' => 'id']]] : []) + ['update' => ['endpoint' => 'change', 'inputs' => ['id' => 'id', 'note' => 'note']]]],
    ['slug' => 'crate', 'name' => 'One crate', 'does' => 'get', 'ask' => ['method' => 'GET', 'path' => '/crates/{id}', 'inputs' => $inputs]],
    ['slug' => 'change', 'name' => 'Change a crate', 'does' => 'update', 'ask' => ['method' => 'PATCH', 'path' => '/crates/{id}', 'inputs' => [...$inputs, ['name' => 'note', 'in' => 'body']], 'body' => ['as' => 'json', 'of' => (object) ['note' => (object) ['input' => 'note']]]]],
]];
$store = app(SourceStore::class);
$publish = static function (bool $looks) use ($store, $document, $owner): Source {
    $source = $store->draft(SourceFile::of($document($looks)), $owner);
    $store->publish($source, $owner);

    return $source->refresh();
};
$source = $publish(false);
$schema = $environment->schema();
$keeper = DB::connection('keeper');
$keeper->unprepared("DROP TABLE IF EXISTS `$schema`.change_crates");
$keeper->unprepared("CREATE TABLE `$schema`.change_crates (id BIGINT NOT NULL PRIMARY KEY, crate VARCHAR(64) NULL, note VARCHAR(255) NULL, weight DECIMAL(10,1) NULL) DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_nopad_bin AS SELECT seq AS id, concat('CR-', lpad(seq * 31 % 4000, 4, '0')) AS crate, CAST(NULL AS CHAR(255)) AS note, seq % 900 / 10 AS weight FROM seq_1_to_".ROWS);
$keeper->select("ANALYZE TABLE `$schema`.change_crates", [], false);
$endpoint = $source->endpoints()->where('slug', 'crates')->firstOrFail();
$shape = ['id' => ['integer', null], 'crate' => ['text', null], 'note' => ['text', null], 'weight' => ['decimal', 1]];
KeptTable::query()->updateOrCreate(['environment_id' => $environment->id, 'name' => 'change_crates'], ['endpoint_id' => $endpoint->id, 'given_name' => 'change_crates', 'is_branch' => false, 'key' => ['id'], 'rows' => ROWS, 'refreshed_at' => now(), 'columns' => array_map(static fn (string $name, array $of): array => ['name' => $name, 'given' => $name, 'type' => $of[0], 'label' => $of[0], 'scale' => $of[1], 'from' => "$.$name"], array_keys($shape), $shape)]);
ChangeRight::query()->firstOrCreate(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id, 'user_id' => $owner->id]);
$table = static fn (): ChangeTable => ChangeTable::of(KeptTable::query()->where(['environment_id' => $environment->id, 'name' => 'change_crates'])->firstOrFail()) ?? throw new LogicException('It cannot be changed.');

$bulk = app(Bulk::class);
$begun = hrtime(true);
$dry = $bulk->dryRun($table(), new BulkWish('query', sql: 'select id from change_crates where id <= '.DRY, sets: ['note' => '=concat("crate ", crate)']), $owner);
$took = (hrtime(true) - $begun) / 1e9;
$dry['counts']['update'] === DRY || throw new RuntimeException("The dry run counted {$dry['counts']['update']} rows.");
$asked('a dry run of 100,000 of 2,000,000 rows', $took, 10, sprintf('%.1f s (10 asked), peak %d MB', $took, memory_get_peak_usage() >> 20));

foreach ([false, true] as $looks) {
    $publish($looks);
    $note = $looks ? 'looked at' : 'sent';
    $set = $bulk->keep($table(), new BulkWish('query', sql: 'select id from change_crates where id <= '.UPDATES, sets: ['note' => $note]), $owner);
    if ($looks) {
        // What the service says of a note it has never heard of.
        DB::table('changes')->where('change_set_id', $set->id)->update(['before' => DB::raw("json_set(`before`, '$.note', null)")]);
    }
    app(ChangeSets::class)->send($set, $table(), $owner, queue: false);
    $before = (int) JournalEntry::query()->max('id');
    file_get_contents("http://127.0.0.1:$port/effects");
    memory_reset_peak_usage();
    $begun = hrtime(true);
    app(Courier::class)->run($set->refresh()->load('endpoint.source', 'environment', 'user'));
    $took = (hrtime(true) - $begun) / 1e9;
    $counts = $set->refresh()->counts();
    $effects = json_decode((string) file_get_contents("http://127.0.0.1:$port/effects"), true);
    $counts === ['done' => UPDATES] && $effects === ['count' => UPDATES, 'most' => 1, 'records' => UPDATES] && JournalEntry::query()->where('id', '>', $before)->where('outcome', 'done')->count() === UPDATES || throw new RuntimeException('Not each was changed once: '.json_encode([$counts, $effects])." $set->ended");
    $kept = (int) ($keeper->selectOne("SELECT COUNT(*) AS n FROM `$schema`.change_crates WHERE note = ?", [$note], false)->n ?? 0);
    $kept === UPDATES || throw new RuntimeException("$kept kept rows followed.");
    $ideal = UPDATES * LATENCY / 1000 / AT_ONCE * ($looks ? 2 : 1);
    $asked('10,000 updates, 8 at once, 30 ms each'.($looks ? ', each looked at before' : ''), $took / $ideal, 1.2, sprintf('%.1f s, %.2f of the ideal %.1f s (1.2 asked)', $took, $took / $ideal, $ideal));
    $peak = memory_get_peak_usage() >> 20;
    $asked('its memory', $peak, 96, "$peak MB at most (96 asked)");
}

$pending = app(PendingChanges::class);
$set = $pending->open($table(), $owner);
$set->changes()->delete();
$reader = app(TableReader::class);
$marks = array_map(static fn (int $number): string => $reader->marksOf($table()->table, ['id' => (string) (1_000_000 + $number)], 1)[0], range(1, PENDING));
$pending->edit($table(), $set, array_map(static fn (string $mark): array => ['row' => $mark, 'column' => 'note', 'text' => 'pending'], $marks));
$client = new Client(['base_uri' => getenv('APP_URL'), 'cookies' => new CookieJar, 'timeout' => 60]);
preg_match('/name="csrf-token" content="([^"]+)"/', (string) $client->get('/sign-in')->getBody(), $token);
$client->post('/sign-in', ['form_params' => ['_token' => $token[1] ?? '', 'email' => 'ines@saltmarsh.example', 'password' => getenv('SPRING_DEMO_BUILDER')]]);
$client->post('/environment', ['form_params' => ['_token' => $token[1] ?? '', 'environment' => 'trial'], 'http_errors' => false]);
preg_match('/name="csrf-token" content="([^"]+)"/', (string) $client->get('/tables/change_crates/change')->getBody(), $token);
$times = [];
for ($round = 0; $round < ROUNDS; $round++) {
    $begun = hrtime(true);
    $answer = json_decode((string) $client->post('/tables/change_crates/change/cells', ['headers' => ['X-CSRF-TOKEN' => $token[1] ?? '', 'Accept' => 'application/json'], 'form_params' => ['edits' => json_encode([['row' => $marks[$round], 'column' => 'note', 'text' => "pending $round"]])]])->getBody(), true);
    $times[] = (hrtime(true) - $begun) / 1e6;
    ($answer['pending'] ?? 0) === PENDING || throw new RuntimeException('The cell was not kept: '.json_encode($answer));
}
sort($times);
$asked('a keystroke with 200 cells pending, table of 2,000,000 rows', $times[intdiv(ROUNDS, 2)], 80, sprintf('%.0f ms (worst of %d %.0f; 80 asked)', $times[intdiv(ROUNDS, 2)], ROUNDS, $times[ROUNDS - 1]));
exit($failed ? 1 : 0);
