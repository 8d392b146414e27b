<?php

declare(strict_types=1);

/*
 * A list over HTTP for tests of reading: 10 records a page, in the styles page, offset and cursor, as slow
 * and as faulty as LIST_PLAN, a JSON file, says. Every request is written down.
 */
$plan = (array) json_decode((string) file_get_contents((string) getenv('LIST_PLAN')), true);
$query = $_GET;
$log = fopen(getenv('LIST_PLAN').'.log', 'a');
flock($log, LOCK_EX);
fwrite($log, sprintf("%.4f %s %s %s\n", microtime(true), $_SERVER['REQUEST_METHOD'], $_SERVER['REQUEST_URI'], $_SERVER['HTTP_IF_NONE_MATCH'] ?? '-'));
$number = count(file(getenv('LIST_PLAN').'.log'));
fclose($log);
usleep(1000 * (int) ($plan['ms'] ?? 0));
header('Content-Type: application/json');
foreach ($plan['headers'] ?? [] as $name => $value) {
    header("$name: $value");
}
$fault = $plan['faults'][$number] ?? $plan['faults'][$_SERVER['REQUEST_URI']] ?? ($plan['always'] ?? null);
$chance = mt_rand() / mt_getrandmax();
foreach ($plan['storm'] ?? [] as $kind => $share) {
    $chance -= $share;
    if ($chance < 0) {
        if ($kind === 'slow') {
            usleep(mt_rand(100_000, 400_000));
        } elseif ($kind === 'cut') {
            header('Content-Length: 100000');
            echo '{"records": [{"id": 1},';

            return;
        } else {
            $fault ??= ['status' => (int) $kind, 'headers' => mt_rand(0, 2) === 0 ? ['Retry-After' => '1'] : []];
        }
        break;
    }
}
if ($fault !== null) {
    foreach ($fault['headers'] ?? [] as $name => $value) {
        header("$name: $value");
    }
    http_response_code($fault['status']);
    echo '{"error": "on purpose"}';

    return;
}
if (isset($plan['etag'])) {
    header("ETag: {$plan['etag']}");
    if (($_SERVER['HTTP_IF_NONE_MATCH'] ?? '') === $plan['etag']) {
        http_response_code(304);

        return;
    }
}
$all = $plan['all'] ?? 95;
$from = isset($query['page']) ? 10 * ($query['page'] - 1) : (int) ($query['offset'] ?? $query['after'] ?? 0);
$most = 10;
if (isset($query['from'])) {
    // Two records a day from the first of 2030 on.
    $day = static fn (string $date): int => intdiv((int) strtotime("$date UTC") - (int) gmmktime(0, 0, 0, 1, 1, 2030), 86400);
    $from = 2 * $day($query['from']);
    $most = 2 * ($day($query['to']) - $day($query['from']));
}
$records = array_map(static fn (int $id): array => ['id' => $id, 'name' => "Crate $id"], $from < $all ? range($from + 1, min($all, $from + $most)) : []);
echo json_encode(['records' => $records, 'next' => $from + 10 < $all ? $from + 10 : null] + (($plan['total'] ?? true) ? ['total' => $all] : []));
