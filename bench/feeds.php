<?php

declare(strict_types=1);

/*
 * A feed of 2,000,000 readings as its readers meet it, over HTTP on loopback, signed in with a key: a page at any place,
 * all rows through pages of the server, a file of all rows, a condition that an index serves, and 50 readers at once while
 * pages of the application are asked for.
 */

use App\Models\Consumer;
use App\Models\ConsumerKey;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Feed;
use App\Models\KeptTable;
use App\Models\Source;
use App\Models\User;
use App\Outlets\FeedBook;
use App\Outlets\KeyRing;
use GuzzleHttp\Client;
use GuzzleHttp\Cookie\CookieJar;
use GuzzleHttp\Pool;
use GuzzleHttp\Psr7\Request;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;

require __DIR__.'/../vendor/autoload.php';
$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

const READINGS = 2_000_000;
const ROUNDS = 21;
const READERS = 50;

$seconds = (float) (getenv('SPRING_BENCH_SECONDS') ?: 30);
$environment = Environment::named('production') ?? throw new LogicException('No environment.');
$schema = $environment->schema();
$keeper = DB::connection('keeper');
$keeper->statement("DROP TABLE IF EXISTS `$schema`.`feed_readings`");
$keeper->statement("CREATE TABLE `$schema`.`feed_readings` (id BIGINT NOT NULL PRIMARY KEY, crate VARCHAR(64) NULL, at DATETIME(6) NULL, temperature DECIMAL(11,2) NULL, humidity DECIMAL(11,1) NULL, battery BIGINT NULL, house VARCHAR(64) NULL, KEY crates (crate)) DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_nopad_bin AS
    SELECT seq AS id, concat('CR-', lpad(seq * 31 % 4000, 4, '0')) AS crate, timestamp('2030-01-01') + interval seq * 30 second AS at, seq * 37 % 3000 / 100 AS temperature, 40 + seq * 3 % 300 / 10 AS humidity, 100 - seq % 60 AS battery, concat('house ', seq % 24) AS house FROM seq_1_to_".READINGS);
$keeper->select("ANALYZE TABLE `$schema`.`feed_readings`", [], false);
$source = Source::query()->firstOrCreate(['slug' => 'bench-feeds'], ['name' => 'Crate loggers, handed out']);
$endpoint = Endpoint::query()->firstOrCreate(['source_id' => $source->id, 'slug' => 'readings'], ['name' => 'Readings']);
$types = ['id' => 'integer', 'crate' => 'text', 'at' => 'datetime', 'temperature' => 'decimal', 'humidity' => 'decimal', 'battery' => 'integer', 'house' => 'text'];
$table = KeptTable::query()->updateOrCreate(['environment_id' => $environment->id, 'name' => 'feed_readings'], ['endpoint_id' => $endpoint->id, 'given_name' => 'feed_readings', 'is_branch' => false, 'key' => ['id'], 'rows' => READINGS, 'refreshed_at' => now(),
    'columns' => array_map(static fn (string $name, string $type): array => ['name' => $name, 'given' => $name, 'type' => $type, 'label' => $type, 'scale' => ['temperature' => 2, 'humidity' => 1][$name] ?? null, 'from' => "$.$name"], array_keys($types), $types)]);
$owner = User::query()->where('email', 'ines@saltmarsh.example')->firstOrFail();
Feed::query()->where('reads', 'feed_readings')->get()->each(static fn (Feed $feed) => app(FeedBook::class)->delete($feed, $owner));
Consumer::query()->where('name', 'Bench')->delete();
$book = app(FeedBook::class);
$feed = $book->draft($table, $owner);
$book->change($feed, ['name' => 'readings', 'most' => 10_000], $owner);
$book->publish($feed, $owner);
$consumer = Consumer::query()->create(['user_id' => $owner->id, 'name' => 'Bench', 'a_minute' => 1_000_000, 'a_day' => 100_000_000, 'at_once' => 100]);
$consumer->feeds()->attach($feed);
ConsumerKey::query()->where('consumer_id', $consumer->id)->delete();
$key = app(KeyRing::class)->give($consumer, null, $owner);

$client = new Client(['base_uri' => getenv('APP_URL'), 'timeout' => 300, 'headers' => ['Authorization' => "Bearer $key"]]);
$failed = false;
$asked = static function (string $what, float $value, float $limit, bool $isMost, string $text) use (&$failed): void {
    $met = $isMost ? $value <= $limit : $value >= $limit;
    $failed = $failed || ! $met;
    printf("%-62s %s%s\n", $what, $text, $met ? '' : ', which was missed');
};
$middle = static function (string $address) use ($client): array {
    $times = [];
    for ($round = 0; $round < ROUNDS; $round++) {
        $begun = hrtime(true);
        $client->get($address)->getBody()->getContents();
        $times[] = (hrtime(true) - $begun) / 1e6;
    }
    sort($times);

    return [$times[intdiv(ROUNDS, 2)], $times[ROUNDS - 1]];
};
// Places at the beginning, in the middle and near the end, as a reader comes to them.
$places = ['' => 'at the beginning', '1000000' => 'in the middle', '1990000' => 'near the end'];
foreach (['REST' => '/feeds/readings?top=1000', 'OData' => '/odata/v1/readings?$top=100000000'] as $what => $address) {
    foreach ($places as $from => $where) {
        $filter = $from === '' ? '' : '&'.($what === 'REST' ? '' : '$')."filter=id%20gt%20$from";
        $first = (string) $client->get($address.$filter, ['headers' => ['Prefer' => 'maxpagesize=1000']])->getBody();
        preg_match('/"(?:next|@odata\.nextLink)":"([^"]+)"/', $first, $next) === 1 || throw new RuntimeException('There is no next page.');
        $times = [];
        for ($round = 0; $round < ROUNDS; $round++) {
            $begun = hrtime(true);
            $body = (string) $client->get($next[1], ['headers' => ['Prefer' => 'maxpagesize=1000']])->getBody();
            $times[] = (hrtime(true) - $begun) / 1e6;
        }
        substr_count($body, '"id":') === 1000 || throw new RuntimeException('The page has not 1,000 rows.');
        sort($times);
        $asked("$what, a page of 1 000 rows $where", $times[intdiv(ROUNDS, 2)], 60, true, sprintf('%.0f ms (worst of %d %.0f; 60 asked)', $times[intdiv(ROUNDS, 2)], ROUNDS, $times[ROUNDS - 1]));
    }
}
[$time, $worst] = $middle('/feeds/readings?filter=crate%20eq%20%27CR-0031%27&top=500');
$asked('a condition on an indexed column, 500 rows', $time, 100, true, sprintf('%.0f ms (worst %.0f; 100 asked)', $time, $worst));
[$time, $worst] = $middle('/feeds/readings?filter=startswith(crate,%27CR-003%27)%20and%20battery%20lt%2045&top=100');
printf("%-62s %.0f ms (worst %.0f)\n", 'a beginning of a text and a number, 100 rows', $time, $worst);
foreach (['REST' => '/feeds/readings?top=10000', 'OData' => '/odata/v1/readings'] as $what => $address) {
    $begun = hrtime(true);
    $rows = 0;
    $last = '';
    for ($pages = 0; $address !== null; $pages++) {
        $body = (string) $client->get($address, ['headers' => ['Prefer' => 'maxpagesize=10000']])->getBody();
        $rows += substr_count($body, '"id":');
        $address = preg_match('/"(?:next|@odata\.nextLink)":"([^"]+)"/', substr($body, -5000), $next) === 1 ? $next[1] : null;
    }
    $rows === READINGS || throw new RuntimeException("$what gave $rows rows.");
    $rate = $rows / ((hrtime(true) - $begun) / 1e9);
    $asked("$what, all rows through $pages pages, one reader", $rate, 60_000, false, number_format($rate, 0, '.', ' ').' rows a second (60 000 asked)');
}
foreach (['csv' => 150_000, 'ndjson' => 0] as $form => $limit) {
    $begun = hrtime(true);
    $lines = 0;
    $body = $client->get("/feeds/readings.$form", ['stream' => true])->getBody();
    while (! $body->eof()) {
        $lines += substr_count($body->read(1 << 16), "\n");
    }
    $lines - ($form === 'csv' ? 1 : 0) === READINGS || throw new RuntimeException("The $form has $lines lines.");
    $rate = READINGS / ((hrtime(true) - $begun) / 1e9);
    $asked("$form of all rows", $rate, $limit, false, number_format($rate, 0, '.', ' ').' rows a second'.($limit > 0 ? ' ('.number_format($limit, 0, '.', ' ').' asked)' : ''));
}
// The profile that every new table gets would be taken in the middle of this.
$app->make(Kernel::class)->call('spring:profile', ['--due' => true]);
// Fifty readers, each a page of 100 rows at a place of its own, one after the other; and somebody who works here.
$until = microtime(true) + $seconds;
$times = $errors = [];
$requests = static function () use ($until, $key): Generator {
    for ($number = 0; microtime(true) < $until; $number++) {
        yield static function () use ($number, $key): Request {
            return new Request('GET', getenv('APP_URL').'/feeds/readings?top=100&filter=id%20gt%20'.($number * 7919 % (READINGS - 1000)), ['Authorization' => "Bearer $key"]);
        };
    }
};
$own = new Client(['base_uri' => getenv('APP_URL'), 'cookies' => new CookieJar, 'timeout' => 60]);
preg_match('/name="csrf-token" content="([^"]+)"/', (string) $own->get('/sign-in')->getBody(), $token);
$own->post('/sign-in', ['form_params' => ['_token' => $token[1] ?? '', 'email' => 'tomas@saltmarsh.example', 'password' => getenv('SPRING_DEMO_ANALYST')]]);
$pageTimes = [];
$all = (static function () use ($requests, $client, &$times, &$errors): Generator {
    foreach ($requests() as $make) {
        yield static function () use ($make, $client, &$times, &$errors) {
            $begun = hrtime(true);

            return $client->sendAsync($make())->then(static function ($answer) use ($begun, &$times): void {
                $times[] = (hrtime(true) - $begun) / 1e6;
            }, static function (Throwable $reason) use (&$errors): void {
                $errors[] = $reason->getMessage();
            });
        };
    }
})();
$child = proc_open([PHP_BINARY, '-r', '$until = (float) $argv[2]; $times = []; while (microtime(true) < $until) { $begun = hrtime(true); file_get_contents($argv[1]."/ready"); $times[] = (hrtime(true) - $begun) / 1e6; usleep(200000); } sort($times); echo json_encode($times);', (string) getenv('APP_URL'), (string) $until], [1 => ['pipe', 'w']], $pipes);
(new Pool($client, $all, ['concurrency' => READERS]))->promise()->wait();
$pages = json_decode((string) stream_get_contents($pipes[1]), true);
proc_close($child);
sort($times);
$slow = $times[(int) (count($times) * 0.99)] ?? INF;
$asked(READERS.' readers at once for '.(int) $seconds.' s, '.number_format(count($times), 0, '.', ' ').' pages, '.count($errors).' errors', $errors === [] ? $slow : INF, 1000, true, sprintf('slowest 1 %% from %.0f ms on (1 000 asked), middle %.0f ms', $slow, $times[intdiv(count($times), 2)] ?? 0));
$errors === [] || print_r(array_slice(array_count_values($errors), 0, 5));
printf("%-62s middle %.0f ms, worst %.0f ms\n", 'a page of the application meanwhile', $pages[intdiv(count($pages), 2)] ?? 0, end($pages));
$keeper->statement("DROP VIEW IF EXISTS `$schema`.`{$feed->view()}`");
$keeper->statement("DROP TABLE IF EXISTS `$schema`.`feed_readings`");
exit($failed ? 1 : 0);
