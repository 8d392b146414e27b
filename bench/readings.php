<?php

declare(strict_types=1);

/*
 * Two million readings of crate loggers, made as they are asked for, and after them as many generations as
 * BENCH_GENERATION, a file, says: each changes 10,000 of those there are and adds 10,000. Requests are written down
 * in BENCH_LOG, if there is one.
 */
const READINGS = 2_000_000;
const CHANGED = 10_000;
const ADDED = 10_000;

$log = getenv('BENCH_LOG');
if (is_string($log) && $log !== '') {
    file_put_contents($log, sprintf("%.4f %s\n", microtime(true), $_SERVER['REQUEST_URI']), FILE_APPEND | LOCK_EX);
}
$generations = (int) @file_get_contents((string) getenv('BENCH_GENERATION'));
$begin = (int) gmmktime(0, 0, 0, 6, 1, 2026);
$total = READINGS + ADDED * $generations;
// Which generation wrote a record last: those that are changed lie evenly over all that were there first.
$generationOf = static function (int $id) use ($generations): int {
    $own = $id > READINGS ? intdiv($id - READINGS - 1, ADDED) + 1 : 0;
    $place = ($id - 1) % (READINGS / CHANGED);

    return max($own, $id <= READINGS && $place < $generations ? $place + 1 : 0);
};
$record = static function (int $id) use ($generationOf, $begin): string {
    $generation = $generationOf($id);
    $changed = gmdate('Y-m-d\TH:i:s\Z', $generation === 0 ? $begin - 86_400 + intdiv($id, 100) : $begin + 3600 * $generation - 1 - $id % 3600);

    return sprintf('{"id":%d,"crate":"CR-%03d","at":"%s","temperature":%.2f,"humidity":%.1f,"battery":%d,"changed":"%s"}', $id, $id % 400, gmdate('Y-m-d\TH:i:s\Z', $begin - 20_000_000 + 10 * $id), 18 + ($id * 7 + $generation * 13) % 900 / 100, 40 + ($id * 3) % 300 / 10, 100 - $id % 60, $changed);
};
$limit = min(5000, (int) ($_GET['limit'] ?? 5000));
$offset = (int) ($_GET['offset'] ?? 0);
$since = isset($_GET['changed_since']) ? (int) strtotime((string) $_GET['changed_since']) : null;
$ids = [];
if ($since === null) {
    $ids = $offset < $total ? range($offset + 1, min($total, $offset + $limit)) : [];
    $count = $total;
} else {
    // Those of a generation changed within the hour before it: one after the other, as an index would have them.
    $all = [];
    for ($generation = max(1, (int) ceil(($since - $begin + 1) / 3600)); $generation <= $generations; $generation++) {
        $least = $begin + 3600 * $generation - 1 - $since;
        for ($id = $generation; $id <= READINGS; $id += (int) (READINGS / CHANGED)) {
            if ($id % 3600 <= $least) {
                $all[] = $id;
            }
        }
        for ($id = READINGS + ADDED * ($generation - 1) + 1; $id <= READINGS + ADDED * $generation; $id++) {
            if ($id % 3600 <= $least) {
                $all[] = $id;
            }
        }
    }
    $count = count($all);
    $ids = array_slice($all, $offset, $limit);
}
header('Content-Type: application/json');
echo '{"total":'.$count.',"readings":['.implode(',', array_map($record, $ids)).']}';
