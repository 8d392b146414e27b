<?php

declare(strict_types=1);

/*
 * Many readers at once on the real web server, with the demo data: each asks for a page, looks at it for
 * a moment, and asks for the next. Once with nothing else going on, once while every place of the pool
 * for slow requests is taken. The floor beside it is the same page from a file.
 */
require __DIR__.'/../vendor/autoload.php';

use GuzzleHttp\Client;
use GuzzleHttp\Cookie\CookieJar;

const READERS = 200;
const SECONDS = 30;
/** Seconds that a reader looks at a page, evenly spread. */
const LOOK = [4.0, 12.0];

$base = (string) getenv('APP_URL');
$token = static fn (string $html): string => preg_match('/name="csrf-token" content="([^"]+)"/', $html, $part) === 1 ? $part[1] : '';
$signIn = static function (string $who, string $password) use ($base, $token): array {
    $jar = new CookieJar;
    $client = new Client(['base_uri' => $base, 'cookies' => $jar, 'http_errors' => false, 'timeout' => 60]);
    $form = $token((string) $client->get('/sign-in')->getBody());
    $home = $client->post('/sign-in', ['form_params' => ['_token' => $form, 'email' => "$who@saltmarsh.example", 'password' => $password]]);
    $cookies = implode('; ', array_map(static fn ($cookie): string => $cookie->getName().'='.$cookie->getValue(), iterator_to_array($jar)));

    return [$cookies, $token((string) $home->getBody())];
};
$people = [];
foreach (['tomas' => 'SPRING_DEMO_ANALYST', 'ines' => 'SPRING_DEMO_BUILDER', 'maren' => 'SPRING_DEMO_ADMINISTRATOR'] as $who => $name) {
    $people[$who] = $signIn($who, (string) getenv($name));
}

/**
 * @return array{times: list<float>, errors: int, first: string}
 */
$read = static function (int $readers, float $seconds, bool $queries = true) use ($base, $people): array {
    $pages = [['GET', '/tables/loans', null], ['POST', '/queries/run', 'select borrower, count(*) as loans from loans group by borrower order by loans desc limit 50'], ['GET', '/', null], ['GET', '/tables/positions', null]];
    // A query waits for its turn where every place is taken, which is what it should do.
    $pages = $queries ? $pages : array_values(array_filter($pages, static fn (array $page): bool => $page[0] === 'GET'));
    $names = array_keys($people);
    $multi = curl_multi_init();
    curl_multi_setopt($multi, CURLMOPT_MAX_TOTAL_CONNECTIONS, $readers + 10);
    $times = [];
    $errors = 0;
    $first = '';
    $begun = microtime(true);
    $next = [];
    mt_srand(11);
    for ($reader = 0; $reader < $readers; $reader++) {
        $next[$reader] = $begun + mt_rand(0, 1000) / 1000 * LOOK[1];
    }
    $handles = [];
    $counts = array_fill(0, $readers, 0);
    while (microtime(true) < $begun + $seconds || $handles !== []) {
        $now = microtime(true);
        foreach ($next as $reader => $at) {
            if ($at > $now || $now > $begun + $seconds) {
                continue;
            }
            unset($next[$reader]);
            // The analyst asks the query; it is not what is limited by person here.
            [$method, $path, $sql] = $pages[($counts[$reader]++ + $reader) % count($pages)];
            [$cookies, $csrf] = $people[$names[$reader % count($names)]];
            $handle = curl_init($base.$path);
            curl_setopt_array($handle, [CURLOPT_RETURNTRANSFER => true, CURLOPT_TIMEOUT => 60, CURLOPT_COOKIE => $cookies, CURLOPT_HTTPHEADER => ["X-CSRF-TOKEN: $csrf", 'HX-Request: true'], CURLOPT_PRIVATE => (string) $reader]);
            if ($method === 'POST') {
                curl_setopt($handle, CURLOPT_POSTFIELDS, http_build_query(['sql' => $sql]));
            }
            curl_multi_add_handle($multi, $handle);
            $handles[$reader] = [$handle, $now];
        }
        curl_multi_exec($multi, $running);
        while (($done = curl_multi_info_read($multi)) !== false) {
            $handle = $done['handle'];
            $reader = (int) curl_getinfo($handle, CURLINFO_PRIVATE);
            $status = (int) curl_getinfo($handle, CURLINFO_HTTP_CODE);
            $times[] = microtime(true) - $handles[$reader][1];
            if ($status !== 200) {
                $errors++;
                $first = $first !== '' ? $first : "$status ".curl_error($handle).mb_strimwidth((string) curl_multi_getcontent($handle), 0, 200);
            }
            unset($handles[$reader]);
            curl_multi_remove_handle($multi, $handle);
            $next[$reader] = microtime(true) + LOOK[0] + mt_rand(0, 1000) / 1000 * (LOOK[1] - LOOK[0]);
        }
        curl_multi_select($multi, 0.005);
    }

    return ['times' => $times, 'errors' => $errors, 'first' => $first];
};

/** Megabytes of all PHP processes of the web server, workers and scheduler: what is shared counts once. */
$memory = static function (): float {
    $sum = 0;
    foreach (glob('/proc/[0-9]*/cmdline') ?: [] as $file) {
        $command = str_replace("\0", ' ', (string) @file_get_contents($file));
        $environment = (string) @file_get_contents(dirname($file).'/environ');
        if (preg_match('/^(php-fpm: |\S*php\S* .*artisan)/', $command) === 1 && str_contains($environment, 'SPRING_VAR=var/bench')) {
            $sum += preg_match('/^Pss:\s+(\d+)/m', (string) @file_get_contents(dirname($file).'/smaps_rollup'), $part) === 1 ? (int) $part[1] : 0;
        }
    }

    return $sum / 1024;
};
$say = static function (string $what, array $result): bool {
    $times = $result['times'];
    sort($times);
    $at = static fn (float $share): float => $times === [] ? 0.0 : 1000 * $times[(int) min(count($times) - 1, floor($share * count($times)))];
    printf("%-44s %5d pages, %d errors; middle %4.0f ms, slowest 5 %% from %4.0f ms, slowest 1 %% from %4.0f ms, slowest %4.0f ms\n", $what, count($times), $result['errors'], $at(0.5), $at(0.95), $at(0.99), $times === [] ? 0 : 1000 * end($times));
    if ($result['first'] !== '') {
        echo "  the first error: {$result['first']}\n";
    }

    return $result['errors'] === 0 && $at(0.99) < 1000;
};

// Warm, as an installation is after its first minute.
$read(20, 6);
$ok = $say(READERS.' readers, '.SECONDS.' s', $read(READERS, SECONDS));

// Every place of the pool for slow requests is taken by a test of a service that never answers.
$tarpit = stream_socket_server('tcp://127.0.0.1:0', $number, $error, STREAM_SERVER_BIND | STREAM_SERVER_LISTEN, stream_context_create(['socket' => ['backlog' => 512]])) ?: throw new RuntimeException($error);
$address = stream_socket_get_name($tarpit, false);
$artisan = static function (string ...$words): void {
    $process = proc_open([PHP_BINARY, 'artisan', ...$words], [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w']], $pipes, dirname(__DIR__));
    if (! is_resource($process) || proc_close($process) !== 0) {
        throw new RuntimeException(implode(' ', $words));
    }
};
$file = (string) tempnam(sys_get_temp_dir(), 'tarpit');
file_put_contents($file, "deepspring: 1\nsource: {slug: tarpit, name: Tarpit, environments: {trial: {base: 'http://$address'}}, pace: {timeout: 30}}\n");
$artisan('spring:allow', (string) $address);
$artisan('spring:import', $file);
unlink($file);
[$cookies, $csrf] = $people['ines'];
$holder = proc_open([PHP_BINARY, '-r', <<<'HOLD'
    $multi = curl_multi_init();
    for ($number = 0; $number < 24; $number++) {
        $handles[] = $handle = curl_init($argv[1]);
        curl_setopt_array($handle, [CURLOPT_RETURNTRANSFER => true, CURLOPT_TIMEOUT => 300, CURLOPT_COOKIE => $argv[2], CURLOPT_HTTPHEADER => ["X-CSRF-TOKEN: $argv[3]", "HX-Request: true"], CURLOPT_POST => true, CURLOPT_POSTFIELDS => ""]);
        curl_multi_add_handle($multi, $handle);
    }
    do { curl_multi_exec($multi, $running); curl_multi_select($multi, 0.2); } while ($running > 0);
HOLD, "$base/sources/tarpit/test", $cookies, $csrf], [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w']], $pipes);
sleep(3);

$pages = [];
for ($round = 0; $round < 40; $round++) {
    $begun = microtime(true);
    $status = @file_get_contents("$base/sign-in") === false ? 0 : 200;
    $pages[] = [$status, 1000 * (microtime(true) - $begun)];
}
$times = array_column($pages, 1);
sort($times);
$wrong = count(array_filter($pages, static fn (array $one): bool => $one[0] !== 200));
printf("%-44s %5d pages, %d errors; middle %4.0f ms, slowest %4.0f ms\n", 'the sign-in page while every slow place is taken', count($times), $wrong, $times[20], end($times));
$ok = end($times) < 300 && $wrong === 0 && $ok;

$ok = $say('the same readers meanwhile, without queries', $read(READERS, SECONDS, false)) && $ok;
$used = $memory();
printf("%-44s %5.0f MB, shared memory counted once\n", 'memory of all PHP processes of this instance', $used);
$ok = $used < 1200 && $ok;
proc_terminate($holder, SIGKILL);
proc_close($holder);
echo $ok ? "Within what is asked: no error, slowest 1 % under 1000 ms, pages under 300 ms beside slow requests, memory under 1200 MB.\n" : "NOT within what is asked.\n";
exit($ok ? 0 : 1);
