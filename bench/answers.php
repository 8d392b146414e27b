<?php

declare(strict_types=1);

/*
 * How long the server takes to open the sheet of an endpoint whose answer has 20 MB and 200,000 nodes,
 * to open nodes of it, and for a keystroke in the preview; on the demo data and signed in, from the
 * request to the last byte over loopback.
 */

use GuzzleHttp\Client;
use GuzzleHttp\Cookie\CookieJar;

require __DIR__.'/../vendor/autoload.php';

$socket = stream_socket_server('tcp://127.0.0.1:0') ?: throw new RuntimeException('There is no free port.');
$address = (string) stream_socket_get_name($socket, false);
fclose($socket);
$server = proc_open([PHP_BINARY, '-S', $address, __DIR__.'/big.php'], [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']], $pipes);
register_shutdown_function(static fn () => is_resource($server) && proc_terminate($server));
for ($until = microtime(true) + 20; ($body = @file_get_contents("http://$address/")) === false && microtime(true) < $until;) {
    usleep(50_000);
}
$nodes = static function (mixed $value) use (&$nodes): int {
    return 1 + (is_array($value) ? array_sum(array_map($nodes, $value)) : 0);
};
ini_set('memory_limit', '2G');
printf("the answer has %.1f MB and %s nodes\n", strlen((string) $body) / 1048576, number_format($nodes(json_decode((string) $body, true))));
unset($body);

$client = new Client(['base_uri' => getenv('APP_URL'), 'cookies' => new CookieJar, 'timeout' => 120]);
$token = static fn (string $html): string => preg_match('/name="csrf-token" content="([^"]+)"/', $html, $found) === 1 ? $found[1] : throw new RuntimeException('No token in the page.');
$form = $token((string) $client->get('/sign-in')->getBody());
$form = $token((string) $client->post('/sign-in', ['form_params' => ['_token' => $form, 'email' => 'maren@saltmarsh.example', 'password' => getenv('SPRING_DEMO_ADMINISTRATOR')]])->getBody());
$post = static fn (string $path, array $fields, array $headers = []): string => (string) $client->post($path, ['form_params' => ['_token' => $form] + $fields, 'headers' => $headers])->getBody();
$post('/outbound', ['host' => $address]);
$post('/sources', ['start' => "http://$address", 'name' => 'Big', 'slug' => 'big']);
$post('/sources/big/endpoints', ['path' => '/', 'name' => 'All', 'does' => 'list']);
$post('/sources/big/endpoints/all', ['path' => '/', 'records' => '$.data[*]']);
$from = microtime(true);
$page = $post('/sources/big/endpoints/all/try', ['path' => '/', 'records' => '$.data[*]']);
printf("trying it, which stores the answer in parts: %.1f s\n\n", microtime(true) - $from);
if (preg_match('~/tries/(\d+)/1/tree~', $page, $found) !== 1) {
    throw new RuntimeException('The try has no tree.');
}
$tree = "/tries/{$found[1]}/1/tree?at=";
$post('/sources/big/endpoints/all', ['do' => 'propose', 'path' => '/', 'records' => '$.data[*]']);
$create = (string) $client->get('/sources/loans-desk/endpoints/create-loan')->getBody();
preg_match_all('/name="(inputs\[\d+\]\[(?:name|was|value)\])" value="([^"]*)"/', $create, $fields, PREG_SET_ORDER);
preg_match_all('/name="(inputs\[\d+\]\[in\])"[^>]*>.*?<option selected>(\w+)/s', $create, $places, PREG_SET_ORDER);
$typed = array_column([...$fields, ...$places], 2, 1) + ['path' => '/loans', 'method' => 'POST', 'does' => 'create'];

$cases = [
    'the sheet with the tree, 20 MB' => [500, static fn (int $n): string => (string) $client->get('/sources/big/endpoints/all')->getBody()],
    'all of the try with the tree, 20 MB' => [500, static fn (int $n): string => (string) $client->get("/tries/{$found[1]}")->getBody()],
    'a node: 100 records from the middle' => [100, static fn (int $n): string => (string) $client->get($tree.'[["data",0]]&from='.(5000 + $n))->getBody()],
    'a node: one record far inside' => [100, static fn (int $n): string => (string) $client->get($tree.rawurlencode('[["data",0],['.(10_900 + $n).','.(10_900 + $n).'],["borrower",3]]'))->getBody()],
    'what can be done with a node' => [100, static fn (int $n): string => (string) $client->get($tree.rawurlencode('[["data",0],['.(7000 + $n).','.(7000 + $n).'],["fee",5]]').'&acts=1')->getBody()],
    'a keystroke in the preview' => [80, static fn (int $n): string => $post('/sources/loans-desk/endpoints/create-loan/preview', ['inputs[4][value]' => "note $n"] + $typed, ['X-Sheet' => 'b0b0b0b0b0b0b0b0b0b0b0b0:'.(100 + $n)])],
];
$failed = false;
foreach ($cases as $name => [$most, $ask]) {
    $times = [];
    for ($round = 0; $round < 21; $round++) {
        $from = microtime(true);
        if (strlen($ask($round)) < 200) {
            throw new RuntimeException("$name answers nothing.");
        }
        $times[] = 1000 * (microtime(true) - $from);
    }
    sort($times);
    $failed = $failed || $times[10] >= $most;
    printf("%-40s middle %5.0f ms   worst of 21 %5.0f ms   under %d ms is asked\n", $name, $times[10], $times[20], $most);
}
exit($failed ? 1 : 0);
