<?php

declare(strict_types=1);

/*
 * Ours: the refresh as a worker runs it, over HTTP, types checked, rejects on. With "stages" the
 * same classes in the same order with a clock between them. Prints JSON.
 */

use App\Models\AllowedHost;
use App\Models\Environment;
use App\Reservoir\MariaDb\MariaDbStagedTables;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Sources\SourceStore;
use App\Transport\Limits;
use App\Transport\Transport;
use DeepSpring\Access\SecretMask;
use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Flatten\Flattener;
use DeepSpring\SourceFile\SourceFile;
use GuzzleHttp\Psr7\Request;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;

require __DIR__.'/../vendor/autoload.php';
$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

$pages = (int) getenv('BENCH_COUNT');
$base = (string) getenv('BENCH_BASE');
$file = SourceFile::of([
    'deepspring' => 1,
    'source' => ['slug' => 'bench', 'name' => 'Bench', 'environments' => ['production' => ['base' => $base]]],
    'endpoints' => [[
        'slug' => 'loans', 'name' => 'Loans', 'ask' => ['path' => '/loans'], 'answer' => ['records' => '$.data[*]'],
        'onward' => ['style' => 'page', 'send_as' => 'page', 'max_pages' => $pages],
        'flatten' => ['table' => 'bench_loans', 'key' => ['loan_id'], 'columns' => [
            ['name' => 'loan_id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'ref', 'from' => '$.ref', 'type' => 'text'],
            ['name' => 'status', 'from' => '$.status', 'type' => 'text'], ['name' => 'borrower', 'from' => '$.borrower.name', 'type' => 'text'],
            ['name' => 'post_code', 'from' => '$.borrower.post_code', 'type' => 'text'], ['name' => 'phone', 'from' => '$.borrower.phone', 'type' => 'text'],
            ['name' => 'policy', 'from' => '$.insurance.policy', 'type' => 'text'], ['name' => 'cover', 'from' => '$.insurance.value', 'type' => 'decimal', 'scale' => 2],
            ['name' => 'due', 'from' => '$.due', 'type' => 'date'], ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime'],
            ['name' => 'fragile', 'from' => '$.fragile', 'type' => 'boolean'], ['name' => 'note', 'from' => '$.note', 'type' => 'text'],
        ]],
    ]],
]);
$environment = Environment::named('production') ?? throw new LogicException('No environment.');
AllowedHost::query()->firstOrCreate(['host' => (string) parse_url($base, PHP_URL_HOST), 'port' => (int) parse_url($base, PHP_URL_PORT)]);
$store = app(SourceStore::class);
$source = $store->draft($file, null);
$store->publish($source, null);
$endpoint = $source->endpoints()->firstOrFail();

if (in_array('stages', $argv, true)) {
    $definition = $file->endpoints()[0];
    $plan = $definition->plan() ?? throw new LogicException('No plan.');
    gc_disable();
    $stages = ['fetch' => 0.0, 'decode' => 0.0, 'flatten' => 0.0, 'write and load' => 0.0, 'swap' => 0.0];
    $clock = static function (string $stage, Closure $work) use (&$stages): mixed {
        $from = microtime(true);
        $result = $work();
        $stages[$stage] += microtime(true) - $from;

        return $result;
    };
    $staging = new MariaDbStagedTables(DB::connection('keeper'), $environment->schema(), 'bench', $plan, base_path(config('spring.var').'/tmp'));
    $staging->begin();
    $flattener = new Flattener($plan);
    $answer = $definition->answer();
    for ($page = 1; $page <= $pages; $page++) {
        $sent = $clock('fetch', static fn () => app(Transport::class)->send(new Request('GET', "$base/loans?page=$page"), new Limits(30, 1, 1 << 26), new SecretMask([])));
        $document = $clock('decode', static fn () => JsonDecoder::decode($sent->body));
        $batch = $clock('flatten', static fn () => $flattener->flatten($answer->records($document)));
        unset($document, $sent);
        $clock('write and load', static fn () => $staging->add($batch));
        unset($batch);
    }
    $clock('write and load', static fn () => $staging->finish());
    $clock('swap', static fn () => $staging->putInPlace());
    $staging->end();
    DB::connection('keeper')->statement('DROP TABLE bench_loans');
    echo json_encode($stages);

    return;
}

$run = app(Runs::class)->ask($endpoint, $environment, null);
$from = microtime(true);
$run = app(Refresh::class)->run($run);
$seconds = microtime(true) - $from;
$sum = DB::connection('keeper')->selectOne('SELECT COUNT(*) AS n, CONCAT(SUM(cover), " ", SUM(CRC32(CONCAT_WS("|", loan_id, ref, status, borrower, post_code, phone, policy, due, changed, fragile, note)))) AS s FROM bench_loans');
$endpoint->tables()->delete();
DB::connection('keeper')->statement('DROP TABLE bench_loans');
echo json_encode(['seconds' => $seconds, 'memory' => memory_get_peak_usage(true), 'rows' => (int) $sum->n, 'sum' => $sum->s, 'state' => $run->state->value, 'rejects' => $run->rejects, 'why' => $run->diagnosis['what'] ?? null]);
