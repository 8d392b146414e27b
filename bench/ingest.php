<?php

declare(strict_types=1);

use App\Local\Child;
use App\Local\Ports;
use App\Local\Roles;
use Bench\LoanPages;

require __DIR__.'/../vendor/autoload.php';

$root = dirname(__DIR__);
$folder = "$root/var/bench/pages";
$bytes = LoanPages::make($folder);
$count = LoanPages::RECORDS / LoanPages::PAGE;
$port = Ports::freeFrom(8700)->web;
$server = Child::start('pages', [PHP_BINARY, '-S', "127.0.0.1:$port", "$root/bench/serve.php"], ['BENCH_PAGES' => $folder], '/dev/null', $root);
usleep(300_000);

$measure = static function (string $script, int $pages, string ...$arguments) use ($root, $folder, $port): array {
    $process = proc_open([PHP_BINARY, '-d', 'memory_limit=512M', '-d', 'opcache.enable_cli=1', "$root/bench/$script.php", ...$arguments], [1 => ['pipe', 'w']], $pipes, $root, ['BENCH_PAGES' => $folder, 'BENCH_COUNT' => (string) $pages, 'BENCH_BASE' => "http://127.0.0.1:$port"] + ($script === 'ours' ? Roles::WORKER : []) + getenv());
    $result = json_decode((string) stream_get_contents($pipes[1]), true);
    proc_close($process);

    return is_array($result) ? $result : throw new RuntimeException("$script gave no result.");
};

try {
    printf("%s records, %.1f MB of JSON, %d pages of %d\n\n", number_format(LoanPages::RECORDS), $bytes / 1e6, $count, LoanPages::PAGE);
    $ratios = [];
    foreach ([1, 2, 3] as $round) {
        $floor = $measure('floor', $count);
        $ours = $measure('ours', $count);
        if ($ours['rows'] !== $floor['rows'] || $ours['sum'] !== $floor['sum']) {
            throw new RuntimeException("The two tables differ: {$floor['rows']} rows ({$floor['sum']}) and {$ours['rows']} rows ({$ours['sum']}) {$ours['why']}.");
        }
        $ratios[] = $ours['seconds'] / $floor['seconds'];
        foreach (['floor' => $floor, 'ours' => $ours] as $name => $one) {
            printf("round %d  %-6s %6.2f s  %7s rows/s  %6.1f MB/s  peak %5.1f MB\n", $round, $name, $one['seconds'], number_format($one['rows'] / $one['seconds']), $bytes / 1e6 / $one['seconds'], $one['memory'] / 1048576);
        }
    }
    sort($ratios);
    printf("\nratio ours / floor: %.2f (the middle of three: %s); at most 1.35 is asked\n", $ratios[1], implode(', ', array_map(static fn (float $ratio): string => sprintf('%.2f', $ratio), $ratios)));
    printf("both tables hold the same %s rows, by a checksum over all columns\n", number_format($floor['rows']));

    $few = $measure('ours', 20);
    printf("peak memory with 20 pages %.1f MB, with %d pages %.1f MB; under 128 is asked\n\n", $few['memory'] / 1048576, $count, $ours['memory'] / 1048576);

    $stages = $measure('ours', $count, 'stages');
    $all = array_sum($stages);
    foreach ($stages as $stage => $seconds) {
        printf("%-16s %5.2f s  %4.1f %%\n", $stage, $seconds, 100 * $seconds / $all);
    }
    $code = $ratios[1] <= 1.35 && $ours['memory'] < 128 * 1048576 ? 0 : 1;
} finally {
    $server->stop(1);
}
exit($code);
