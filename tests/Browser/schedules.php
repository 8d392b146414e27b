<?php

declare(strict_types=1);

/*
 * Gives endpoints of the demo times at which they are refreshed, and a week of refreshes behind them, for a picture
 * of the schedule.
 */

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Run;
use App\Schedules\ScheduleBook;
use App\Sources\SourceStore;
use DeepSpring\Schedule\CronTimes;
use Illuminate\Contracts\Console\Kernel;

require __DIR__.'/../../vendor/autoload.php';
$app = require __DIR__.'/../../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

// source/endpoint → when, and about how many seconds it takes
const TIMES = [
    'loans-desk/loans' => ['every' => '0 7-19 * * *', 'after' => ['venues'], 'mode' => 'incremental', 'since' => ['column' => 'changed', 'send_as' => 'changed_since', 'overlap' => 'PT5M'], 'sweep' => '30 3 * * 0', 'takes' => 180],
    'stores/positions' => ['every' => '0 */2 * * *', 'takes' => 90],
    'box-office/tickets' => ['every' => '*/15 9-21 * * *', 'takes' => 40],
    'crate-loggers/readings' => ['every' => '0 6 * * *', 'takes' => 1500],
    'registrar/objects' => ['every' => '0 6 * * *', 'takes' => 700],
    'registrar-odata/exhibitions' => ['every' => '0 6,18 * * *', 'takes' => 420],
    'ledger/accounts' => ['every' => '30 5 * * 1-5', 'takes' => 300],
];

$environment = Environment::named('trial') ?? throw new LogicException('No Trial.');
$now = now()->toDateTimeImmutable();
mt_srand(7);
foreach (TIMES as $which => $refresh) {
    [$slug, $name] = explode('/', $which);
    $endpoint = Endpoint::query()->where('slug', $name)->whereHas('source', static fn ($source) => $source->where('slug', $slug))->with('source')->first();
    if ($endpoint === null) {
        continue;
    }
    $seconds = $refresh['takes'];
    unset($refresh['takes']);
    $store = app(SourceStore::class);
    $store->edit($endpoint->source, null, static function (array $document) use ($name, $refresh): array {
        foreach ($document['endpoints'] as $number => $one) {
            if ($one['slug'] === $name) {
                $document['endpoints'][$number]['keep']['refresh'] = $refresh + ['zone' => 'Europe/Oslo'];
            }
        }

        return $document;
    });
    $store->publish($endpoint->source->refresh(), null);
    foreach ((new CronTimes($refresh['every'], 'Europe/Oslo'))->between($now->modify('-2 days'), $now, 500) as $at) {
        $took = (int) ($seconds * mt_rand(70, 140) / 100);
        $state = mt_rand(1, 30) === 1 ? 'failed' : 'done';
        if ($at->getTimestamp() + $took < $now->getTimestamp()) {
            Run::query()->insert(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id, 'version' => $endpoint->source->published_version, 'state' => $state, 'kind' => 'refresh', 'tables' => $name, 'created_at' => $at->format('Y-m-d H:i:s'), 'updated_at' => $at->format('Y-m-d H:i:s'), 'started_at' => $at->format('Y-m-d H:i:s'), 'ended_at' => $at->modify("+$took seconds")->format('Y-m-d H:i:s'), 'followed' => true, 'begun_by' => 'the schedule']);
        }
    }
}
app(ScheduleBook::class)->align();
