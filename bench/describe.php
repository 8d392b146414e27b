<?php

declare(strict_types=1);

/*
 * How long OpenAPI files take to be listed and to be imported whole, and how much memory; each in a process
 * of its own. The floor is decoding the same file as JSON.
 */

use Bench\Catalogue;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use Illuminate\Contracts\Console\Kernel;
use Symfony\Component\Console\Output\BufferedOutput;
use Symfony\Component\Yaml\Yaml;

require __DIR__.'/../vendor/autoload.php';
require __DIR__.'/Catalogue.php';

const MEGABYTE = 1024 * 1024;
/** Name, operations, bytes wished for, seconds to list and to import, megabytes. */
const FILES = [['small', 900, 10 * MEGABYTE, 3.0, null, 400], ['large', 16_000, 47 * MEGABYTE, 10.0, 20.0, 512]];

if (isset($argv[1])) {
    [, $file, $what] = $argv;
    $from = microtime(true);
    $count = 0;
    if ($what === 'floor') {
        $count = count(json_decode((string) file_get_contents($file), true)['paths']);
    } elseif ($what === 'list') {
        $count = count(Importers::read(new ImportInput((string) file_get_contents($file), basename($file)))->endpoints);
    } else {
        $application = require __DIR__.'/../bootstrap/app.php';
        $said = new BufferedOutput;
        $code = $application->make(Kernel::class)->call('spring:import', ['file' => [$file], '--slug' => $argv[3]], $said);
        $source = App\Models\Source::query()->where('slug', $argv[3])->first();
        $count = $code === 0 && $source !== null ? $source->endpoints()->count() : throw new RuntimeException($said->fetch());
    }
    fwrite(STDOUT, "\n".json_encode([microtime(true) - $from, memory_get_peak_usage(true) / MEGABYTE, $count]));

    exit(0);
}

ini_set('memory_limit', '4G');
$folder = sys_get_temp_dir().'/spring-bench-'.getmypid();
mkdir($folder);
$isMet = true;
printf("%-22s %-6s %8s %10s %10s %12s\n", 'file', 'MB', 'seconds', 'peak MB', 'of floor', 'operations');
foreach (FILES as [$name, $operations, $bytes, $listed, $imported, $megabytes]) {
    $document = Catalogue::document($bytes, $operations);
    file_put_contents("$folder/$name.json", json_encode($document, JSON_UNESCAPED_SLASHES));
    file_put_contents("$folder/$name.yaml", Yaml::dump($document, 30, 2));
    unset($document);
    for ($round = 1; $round <= 3; $round++) {
        $floor = 0.001;
        foreach (array_filter([['json', 'floor', null], ['json', 'list', $listed], ['yaml', 'list', $listed], ['json', 'import', $imported]], static fn (array $one): bool => $one[1] === 'floor' || $one[2] !== null) as [$kind, $what, $most]) {
            $said = (string) shell_exec(implode(' ', array_map(escapeshellarg(...), [PHP_BINARY, '-d', 'memory_limit=2G', '-d', 'opcache.enable_cli=1', __FILE__, "$folder/$name.$kind", $what, "$name-$round"])));
            [$seconds, $memory, $count] = json_decode((string) strrchr($said, "\n"), true) ?? throw new RuntimeException($said);
            $floor = $what === 'floor' ? $seconds : $floor;
            $isMet = $isMet && ($most === null || $seconds < $most && $memory < $megabytes && $count >= $operations);
            printf("%-22s %-6.1f %8.2f %10.0f %10.1f %12d\n", "$name $kind, $what", filesize("$folder/$name.$kind") / MEGABYTE, $seconds, $memory, $seconds / $floor, $count);
        }
    }
}
array_map(unlink(...), (array) glob("$folder/*"));
rmdir($folder);
foreach (FILES as [$name, $operations, , $listed, $imported, $megabytes]) {
    printf("%s, %s operations: listed in under %.0f s%s, with less than %d MB, is asked\n", $name, number_format($operations), $listed, $imported === null ? '' : sprintf(', imported in under %.0f s', $imported), $megabytes);
}
echo $isMet ? "\nall of it is met\n" : "\nsome of it is not met\n";
exit($isMet ? 0 : 1);
