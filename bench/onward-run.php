<?php

declare(strict_types=1);

/*
 * One refresh as a worker runs it, or (with seconds) a reading that goes on until its time is over
 * and keeps nothing. What to read is in BENCH_READ; prints JSON.
 */

use App\Models\AllowedHost;
use App\Models\Environment;
use App\Models\Source;
use App\Pace\Pacer;
use App\Pace\RateLimitStore;
use App\Pipeline\SourceConnections;
use App\Runs\Attempt;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Sources\SourceStore;
use App\Transport\Limits;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;

require __DIR__.'/../vendor/autoload.php';
$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

$read = json_decode((string) getenv('BENCH_READ'), true);
$base = (string) getenv('BENCH_BASE')."/{$read['pages']}/{$read['ms']}";
$environment = Environment::named('production') ?? throw new LogicException('No environment.');
AllowedHost::query()->firstOrCreate(['host' => (string) parse_url($base, PHP_URL_HOST), 'port' => (int) parse_url($base, PHP_URL_PORT)]);
$source = Source::query()->where('slug', 'onward')->first();
if (! isset($read['seconds']) || $source === null) {
    $store = app(SourceStore::class);
    $source = $store->draft(SourceFile::of([
        'deepspring' => 1,
        'source' => ['slug' => 'onward', 'name' => 'Onward', 'kind' => $read['style'] === 'odata' ? 'odata' : 'rest', 'environments' => ['production' => ['base' => $base]], 'pace' => $read['pace']],
        'endpoints' => [[
            'slug' => 'loans', 'name' => 'Loans', ...($read['style'] === 'odata' ? ['entity_set' => 'Loans'] : ['ask' => ['path' => $read['style'] === 'page' ? '/page' : '/cursor'], 'answer' => ['records' => '$.data[*]'],
                'onward' => $read['style'] === 'page' ? ['style' => 'page', 'send_as' => 'page', 'total' => '$.total'] : ['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next']]),
            'flatten' => ['table' => 'onward_loans', 'key' => ['loan_id'], 'columns' => [
                ['name' => 'loan_id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'ref', 'from' => '$.ref', 'type' => 'text'],
                ['name' => 'status', 'from' => '$.status', 'type' => 'text'], ['name' => 'borrower', 'from' => '$.borrower.name', 'type' => 'text'],
                ['name' => 'cover', 'from' => '$.insurance.value', 'type' => 'decimal', 'scale' => 2], ['name' => 'due', 'from' => '$.due', 'type' => 'date'],
                ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime'], ['name' => 'note', 'from' => '$.note', 'type' => 'text'],
            ]],
        ]],
    ]), null, $source);
    $store->publish($source, null);
}
$source = Source::query()->where('slug', 'onward')->firstOrFail();
if (isset($read['prepare'])) {
    return;
}
if (isset($read['seconds'])) {
    $file = $source->published() ?? throw new LogicException('It is published.');
    $endpoint = $file->endpoints()[0];
    $until = microtime(true) + $read['seconds'];
    $watch = new Attempt($source, null, [], $file->source(), $environment, null);
    $requests = 0;
    while (microtime(true) < $until) {
        $reading = app(SourceConnections::class)->open($source, $file->source(), $environment);
        foreach ($reading->pages()->read($endpoint, [], new Limits(30, 5, 1 << 26), $watch, new Pacer(app(RateLimitStore::class), $source->id, $environment->id, $file->source()->pace)) as $page) {
            $requests++;
            $watch->sent = [];
            if (microtime(true) >= $until) {
                break;
            }
        }
    }
    echo json_encode(['requests' => $requests]);

    return;
}
$run = app(Runs::class)->ask($source->endpoints()->firstOrFail(), $environment, null);
$from = microtime(true);
$run = app(Refresh::class)->run($run);
$seconds = microtime(true) - $from;
$kept = DB::connection('keeper')->selectOne('SELECT COUNT(*) AS n, COUNT(DISTINCT loan_id) AS ids FROM onward_loans');
echo json_encode(['seconds' => $seconds, 'memory' => memory_get_peak_usage(true), 'rows' => (int) $kept->n, 'ids' => (int) $kept->ids, 'records' => $run->records, 'state' => $run->state->value, 'why' => $run->diagnosis['what'] ?? $run->ended]);
