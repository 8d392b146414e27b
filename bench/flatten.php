<?php

declare(strict_types=1);

use Bench\LoanPages;

require __DIR__.'/../vendor/autoload.php';

/*
 * What flattening costs beside code written by hand, beside jq and pandas, on one huge answer, and
 * what a proposal costs. Parts are chosen with BENCH_PARTS=hand,look,proposal,huge,others.
 */
$root = dirname(__DIR__);
$parts = array_filter(explode(',', (string) getenv('BENCH_PARTS'))) ?: ['hand', 'look', 'proposal', 'huge', 'others'];
$child = static function (string $part, string ...$arguments) use ($root): array {
    $process = proc_open([PHP_BINARY, '-d', 'memory_limit=2G', '-d', 'opcache.enable_cli=1', "$root/bench/flatten-run.php", $part, ...$arguments], [1 => ['pipe', 'w']], $pipes, $root, getenv());
    $result = json_decode((string) stream_get_contents($pipes[1]), true);
    proc_close($process);

    return is_array($result) ? $result : throw new RuntimeException("$part gave no result.");
};
$isMissed = false;

if (in_array('hand', $parts, true)) {
    foreach (['narrow' => ['12 columns', 1.4], 'wide' => ['60 columns with types, dates and one branch', 1.9]] as $part => [$title, $asked]) {
        $result = $child($part);
        printf("%s: %.2f times the code written by hand (the middle of %d; from %.2f to %.2f), at most %.1f is asked\n  by hand %.1f MB/s, ours %.1f MB/s, the same %s cells\n", $title, $result['middle'], $result['rounds'], $result['least'], $result['most'], $asked, $result['hand'], $result['ours'], number_format($result['cells'], 0, '.', ' '));
        $isMissed = $isMissed || $result['middle'] > $asked;
    }
}
if (in_array('look', $parts, true)) {
    foreach ($child('look') as $kind => $one) {
        printf("whether decoding lost anything (pages %s): %.1f %% of the time of decoding (%.1f to %.1f), of which the numbers alone are %.1f\n", $kind, $one['all'], $one['least'], $one['most'], $one['numbers']);
        $isMissed = $isMissed || $kind === 'alike' && $one['all'] - $one['numbers'] > 8.0;
    }
    echo "  members that stand twice take the difference: at most 8 % are asked\n";
}
if (in_array('proposal', $parts, true)) {
    $result = $child('proposal');
    printf("a proposal on 5 000 records with %d paths: %.2f s (the middle of three), under 1.5 is asked\n", $result['paths'], $result['seconds']);
    $isMissed = $isMissed || $result['seconds'] >= 1.5;
}
if (in_array('huge', $parts, true)) {
    $file = "$root/var/bench/huge.json";
    $megabytes = (int) (getenv('BENCH_HUGE_MB') ?: 1000);
    if (! is_file($file) || abs(filesize($file) / 1e6 - $megabytes) > 30) {
        $out = fopen($file, 'wb');
        fwrite($out, '{"as_of":"2031-03-02","data":[');
        for ($id = 1, $bytes = 0; $bytes < $megabytes * 1e6; $id += 2000) {
            $text = ($id > 1 ? ',' : '').substr((string) json_encode(array_map(LoanPages::record(...), range($id, $id + 1999)), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), 1, -1);
            fwrite($out, $text);
            $bytes += strlen($text);
        }
        fwrite($out, '],"next":null}');
        fclose($out);
    }
    $result = $child('huge', $file);
    printf("one JSON document of %.0f MB, %s records: %.1f MB/s as records, %.1f MB/s as rows (25 are asked), peak %.1f MB (under 128 is asked)\n", filesize($file) / 1e6, number_format($result['records'], 0, '.', ' '), $result['read'], $result['rows'], $result['memory'] / 1048576);
    $isMissed = $isMissed || $result['read'] < 25 || $result['memory'] > 128 * 1048576;
    unlink($file);
}
if (in_array('others', $parts, true)) {
    $file = "$root/var/bench/loans.json";
    $out = fopen($file, 'wb');
    for ($id = 1; $id <= 200_000; $id += 2000) {
        fwrite($out, ($id > 1 ? ',' : '[').substr((string) json_encode(array_map(LoanPages::record(...), range($id, $id + 1999)), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), 1, -1));
    }
    fwrite($out, ']');
    fclose($out);
    foreach ($child('others', $file) as $name => $one) {
        printf("%-28s %6.2f s from JSON to loaded table%s\n", $name, $one['seconds'], isset($one['ratio']) ? sprintf(', %.2f times ours', $one['ratio']) : '');
        $isMissed = $isMissed || isset($one['ratio']) && $one['ratio'] < 1;
    }
    unlink($file);
}
exit($isMissed ? 1 : 0);
