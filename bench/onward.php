<?php

declare(strict_types=1);

/*
 * Long lists: how fast they are read and stored, what reading together gains, what waiting costs
 * when each page needs the one before, how much memory many pages take, and whether ten workers
 * keep to one pace. Everything against a server of its own, in one run.
 */

use App\Local\Child;
use App\Local\Ports;

require __DIR__.'/../vendor/autoload.php';

$root = dirname(__DIR__);
$port = Ports::freeFrom(8720)->web;
$server = Child::start('list', [PHP_BINARY, '-d', 'opcache.enable_cli=1', "$root/bench/list.php", (string) $port], [], '/dev/null', $root);
Ports::await($port, 'The list');

/** @param  array<string, mixed>  $read */
$begin = static function (array $read) use ($root, $port): array {
    $process = proc_open([PHP_BINARY, '-d', 'memory_limit=512M', '-d', 'opcache.enable_cli=1', "$root/bench/onward-run.php"], [1 => ['pipe', 'w']], $pipes, $root, ['BENCH_READ' => (string) json_encode($read), 'BENCH_BASE' => "http://127.0.0.1:$port"] + getenv());

    return [$process, $pipes[1]];
};
$end = static function (array $begun): array {
    $result = json_decode((string) stream_get_contents($begun[1]), true);
    proc_close($begun[0]);

    return (array) $result;
};
$measure = static function (string $style, int $pages, int $ms, int $atOnce) use ($begin, $end): array {
    $one = $end($begin(['style' => $style, 'pages' => $pages, 'ms' => $ms, 'pace' => ['at_once' => $atOnce]]));
    if (($one['state'] ?? '') !== 'done' || $one['rows'] !== 100 * $pages || $one['ids'] !== 100 * $pages) {
        throw new RuntimeException('The table is not right: '.json_encode($one));
    }
    printf("%-7s %6d pages, %2d ms each, %d at once   %6.2f s   %7s records/s   peak %5.1f MB\n", $style, $pages, $ms, $atOnce, $one['seconds'], number_format(100 * $pages / $one['seconds']), $one['memory'] / 1048576);

    return $one;
};
$failed = 0;
$say = static function (string $what, bool $holds) use (&$failed): void {
    $failed += $holds ? 0 : 1;
    echo($holds ? '  holds   ' : '  MISSED  ').$what."\n\n";
};

// BENCH_PARTS=together runs one part alone: speed, together, cursor, memory, pace.
$wants = static fn (string $part): bool => in_array($part, explode(',', getenv('BENCH_PARTS') ?: 'speed,together,cursor,memory,pace'), true);

try {
    if ($wants('speed')) {
        $speeds = array_map(static fn (): float => 100_000 / $measure('page', 1000, 0, 4)['seconds'], range(1, 3));
        sort($speeds);
        $say(sprintf('%s records a second, the middle of three; 15,000 are asked', number_format($speeds[1])), $speeds[1] >= 15_000);
        $measure('cursor', 1000, 0, 4);
    }
    if ($wants('together')) {
        $ratios = array_map(static fn (): float => $measure('page', 200, 80, 1)['seconds'] / $measure('page', 200, 80, 8)['seconds'], range(1, 3));
        sort($ratios);
        $say(sprintf('8 at once are %.2f times as fast as one at a time, the middle of three (%s); 6 are asked', $ratios[1], implode(', ', array_map(static fn (float $ratio): string => sprintf('%.2f', $ratio), $ratios))), $ratios[1] >= 6);
    }
    if ($wants('cursor')) {
        $cursor = $measure('cursor', 200, 80, 4);
        $say(sprintf('a cursor takes %.3f times the waiting alone; at most 1.15 is asked', $cursor['seconds'] / (200 * 0.080)), $cursor['seconds'] / (200 * 0.080) <= 1.15);
    }
    if ($wants('memory')) {
        $few = $measure('page', 100, 0, 4);
        $many = $measure('page', 10_000, 0, 4);
        $say(sprintf('peak memory %.1f MB with 100 pages, %.1f MB with 10,000; under 96 is asked', $few['memory'] / 1048576, $many['memory'] / 1048576), $many['memory'] < 96 * 1048576);
    }
    if ($wants('pace')) {
        file_get_contents("http://127.0.0.1:$port/times");
        $pace = ['style' => 'page', 'pages' => 100_000, 'ms' => 5, 'pace' => ['per_minute' => 600, 'at_once' => 16]];
        $end($begin($pace + ['prepare' => true]));
        $workers = array_map(static fn (): array => $begin($pace + ['seconds' => 150]), range(1, 10));
        $done = array_map($end, $workers);
        $times = json_decode((string) file_get_contents("http://127.0.0.1:$port/times"), true);
        sort($times);
        $most = 0;
        for ($from = 0, $to = 0; $to < count($times); $to++) {
            while ($times[$to] - $times[$from] >= 60) {
                $from++;
            }
            $most = max($most, $to - $from + 1);
        }
        // From when all of them have begun, over two minutes.
        $steady = count(array_filter($times, static fn (float $at): bool => $at >= $times[0] + 15 && $at < $times[0] + 135)) / 2;
        printf("10 workers, 600 a minute: %d requests, the fewest of a worker %d and the most %d\n", count($times), min(array_column($done, 'requests')), max(array_column($done, 'requests')));
        $say(sprintf('at most %d in any minute at the server, %.0f a minute in the long run; 600 and 570 are asked', $most, $steady), $most <= 600 && $steady >= 570);
    }
} finally {
    $server->stop(1);
}
exit($failed === 0 ? 0 : 1);
