<?php

declare(strict_types=1);

/*
 * How long the server takes for a page of a table and for the result of a query, on the demo data
 * and signed in, from the request to the last byte over loopback.
 */

use GuzzleHttp\Client;
use GuzzleHttp\Cookie\CookieJar;

require __DIR__.'/../vendor/autoload.php';

$client = new Client(['base_uri' => getenv('APP_URL'), 'cookies' => new CookieJar, 'timeout' => 20]);
$token = static fn (string $html): string => preg_match('/name="csrf-token" content="([^"]+)"/', $html, $found) === 1 ? $found[1] : throw new RuntimeException('No token in the page.');
$form = $token((string) $client->get('/sign-in')->getBody());
$home = $client->post('/sign-in', ['form_params' => ['_token' => $form, 'email' => 'tomas@saltmarsh.example', 'password' => getenv('SPRING_DEMO_ANALYST')]]);
$form = $token((string) $home->getBody());

$cases = [
    'table page, 100 rows by key' => ['GET', '/tables/loans', []],
    'table page, sorted by a column without an index' => ['GET', '/tables/loans?sort=cover&dir=desc', []],
    'table page, searched' => ['GET', '/tables/loan_items?q=sextant', []],
    'query, 100 rows' => ['POST', '/queries/run', ['form_params' => ['_token' => $form, 'sql' => 'select * from loans limit 100']]],
    'query, join of two tables, 100 rows' => ['POST', '/queries/run', ['form_params' => ['_token' => $form, 'sql' => 'select l.ref, l.borrower, i.title, i.value from loans l join loan_items i on i.loan_id = l.loan_id order by i.value desc limit 100']]],
    'watershed' => ['GET', '/', []],
];
// The map of 300 sources with 900 tables.
$crowded = ['watershed of 300 sources' => ['GET', '/', []], 'watershed, searched' => ['GET', '/?q=house+29', []], 'watershed, its fourth page' => ['GET', '/?page=4', []]];
$measure = static function (array $cases) use ($client): float {
    $worst = 0.0;
    foreach ($cases as $name => [$method, $path, $options]) {
        $times = [];
        for ($round = 0; $round < 21; $round++) {
            $from = microtime(true);
            $answer = $client->request($method, $path, $options);
            $answer->getBody()->getContents();
            $times[] = 1000 * (microtime(true) - $from);
            if ($answer->getStatusCode() !== 200) {
                throw new RuntimeException("$name answers {$answer->getStatusCode()}.");
            }
        }
        sort($times);
        $worst = max($worst, $times[10]);
        printf("%-50s middle %5.0f ms   worst of 21 %5.0f ms\n", $name, $times[10], $times[20]);
    }

    return $worst;
};
$worst = $measure($cases);
exec(escapeshellarg(PHP_BINARY).' '.escapeshellarg(__DIR__.'/crowd.php'), $said, $code);
if ($code !== 0) {
    throw new RuntimeException('The sources could not be made: '.implode("\n", $said));
}
$most = $measure($crowded);
printf("\nunder 150 ms is asked, and under 300 ms of the crowded map; the slowest middles are %.0f ms and %.0f ms\n", $worst, $most);
exit($worst < 150 && $most < 300 ? 0 : 1);
