<?php

declare(strict_types=1);

/*
 * OData: entities over server-driven pages against the same records of a REST list that goes on by
 * cursor, and metadata: of 2,000 entity types, and of 30 MB. Everything in one run.
 */

use App\Local\Child;
use App\Local\Ports;

require __DIR__.'/../vendor/autoload.php';

$root = dirname(__DIR__);
$port = Ports::freeFrom(8720)->web;
$server = Child::start('list', [PHP_BINARY, '-d', 'opcache.enable_cli=1', "$root/bench/list.php", (string) $port], [], '/dev/null', $root);
Ports::await($port, 'The list');
$run = static function (string $script, array $env, string $memory = '512M') use ($root): array {
    $process = proc_open([PHP_BINARY, '-d', "memory_limit=$memory", '-d', 'opcache.enable_cli=1', "$root/bench/$script"], [1 => ['pipe', 'w']], $pipes, $root, $env + getenv());
    $result = json_decode((string) stream_get_contents($pipes[1]), true);
    proc_close($process);

    return is_array($result) ? $result : throw new RuntimeException("bench/$script said nothing.");
};
$failed = 0;
$say = static function (string $what, bool $holds) use (&$failed): void {
    $failed += $holds ? 0 : 1;
    echo($holds ? '  holds   ' : '  MISSED  ').$what."\n\n";
};
// BENCH_PARTS=rate runs one part alone: rate, metadata.
$wants = static fn (string $part): bool => in_array($part, explode(',', getenv('BENCH_PARTS') ?: 'rate,metadata'), true);
$pages = 2000;
try {
    $best = [];
    foreach ($wants('rate') ? range(1, 3) : [] as $round) {
        $rate = [];
        foreach ($round % 2 === 1 ? ['cursor', 'odata'] : ['odata', 'cursor'] as $style) {
            $one = $run('onward-run.php', ['BENCH_READ' => (string) json_encode(['style' => $style, 'pages' => $pages, 'ms' => 0, 'pace' => ['at_once' => 4]]), 'BENCH_BASE' => "http://127.0.0.1:$port"]);
            if ($one['state'] !== 'done' || $one['rows'] !== 100 * $pages || $one['ids'] !== 100 * $pages) {
                throw new RuntimeException('The table is not right: '.json_encode($one));
            }
            $rate[$style] = $one['rows'] / $one['seconds'];
            printf("%-7s %s rows   %6.2f s   %7s rows/s   peak %5.1f MB\n", $style === 'odata' ? 'OData' : 'REST', number_format($one['rows']), $one['seconds'], number_format($rate[$style]), $one['memory'] / 1048576);
        }
        foreach ($rate as $style => $one) {
            $best[$style] = max($best[$style] ?? 0.0, $one);
        }
    }
    // A noisy machine only ever makes a run slower, so the best of each are compared.
    $ratio = $best === [] ? 1.0 : $best['odata'] / $best['cursor'];
    $best === [] || $say(sprintf('OData is read at %.2f times the rate of REST, the best of three each; at least 0.8 is asked', $ratio), $ratio >= 0.8);
} finally {
    $server->stop(1);
}

if (! $wants('metadata')) {
    exit($failed === 0 ? 0 : 1);
}
$list = $run('odata-metadata.php', ['BENCH_TYPES' => '2000', 'BENCH_SHOW' => '1']);
printf("metadata of %s types, %.1f MB: read in %.2f s, peak %.1f MB; the first page of sets in %.0f ms, a search in %.0f ms, one set in %.0f ms\n", number_format($list['types']), $list['bytes'] / 1048576, $list['read'], $list['memory'] / 1048576, 1000 * $list['list'], 1000 * $list['search'], 1000 * $list['set']);
$say(sprintf('2,000 types are listed in %.2f s after the first read; under 1 s is asked', max($list['list'], $list['search'])), max($list['list'], $list['search']) < 1);
$large = $run('odata-metadata.php', ['BENCH_BYTES' => (string) (30 << 20)], '1G');
printf("metadata of %s types, %.1f MB: read in %.2f s\n", number_format($large['types']), $large['bytes'] / 1048576, $large['read']);
$say(sprintf('a document of %.0f MB is read at a peak of %.0f MB; under 200 is asked', $large['bytes'] / 1048576, $large['memory'] / 1048576), $large['memory'] < 200 * 1048576);
exit($failed === 0 ? 0 : 1);
