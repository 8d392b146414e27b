<?php

declare(strict_types=1);

/*
 * How long an OpenAPI file of 10 MB with 900 operations takes to be listed, and how much memory; as JSON
 * and as YAML, each in a process of its own. The floor is decoding the same file as JSON.
 */

use Bench\Catalogue;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use Symfony\Component\Yaml\Yaml;

require __DIR__.'/../vendor/autoload.php';
require __DIR__.'/Catalogue.php';

const MEGABYTE = 1024 * 1024;
const SECONDS = 3.0;
const MEGABYTES = 400;

if (isset($argv[1])) {
    $text = (string) file_get_contents($argv[1]);
    $from = microtime(true);
    $count = 0;
    if ($argv[2] === 'floor') {
        $count = count(json_decode($text, true)['paths']);
    } else {
        $count = count(Importers::read(new ImportInput($text, basename($argv[1])))->endpoints);
    }
    echo json_encode([microtime(true) - $from, memory_get_peak_usage(true) / MEGABYTE, $count]);

    exit(0);
}

ini_set('memory_limit', '2G');
$folder = sys_get_temp_dir().'/spring-bench-'.getmypid();
mkdir($folder);
$document = Catalogue::document(11 * MEGABYTE);
file_put_contents("$folder/catalogue.json", json_encode($document, JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES));
file_put_contents("$folder/catalogue.yaml", Yaml::dump($document, 20, 2));
unset($document);
$worst = [0.0, 0.0];
printf("%-8s %-6s %8s %10s %10s %12s\n", 'file', 'MB', 'seconds', 'peak MB', 'of floor', 'operations');
for ($round = 1; $round <= 3; $round++) {
    $floor = 0.0;
    foreach ([['catalogue.json', 'floor'], ['catalogue.json', 'json'], ['catalogue.yaml', 'yaml']] as [$file, $what]) {
        [$seconds, $memory, $count] = json_decode((string) shell_exec(implode(' ', array_map(escapeshellarg(...), [PHP_BINARY, '-d', 'memory_limit=2G', __FILE__, "$folder/$file", $what]))), true);
        $floor = $what === 'floor' ? $seconds : $floor;
        if ($what !== 'floor') {
            $worst = [max($worst[0], $seconds), max($worst[1], $memory)];
        }
        printf("%-8s %-6.1f %8.2f %10.0f %10.1f %12d\n", $what, filesize("$folder/$file") / MEGABYTE, $seconds, $memory, $seconds / max($floor, 0.001), $what === 'floor' ? 0 : $count);
    }
}
array_map(unlink(...), (array) glob("$folder/*"));
rmdir($folder);
printf("\nunder %.0f s and %d MB are asked; the worst of three is %.2f s and %.0f MB\n", SECONDS, MEGABYTES, ...$worst);
exit($worst[0] < SECONDS && $worst[1] < MEGABYTES ? 0 : 1);
