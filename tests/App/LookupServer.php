<?php

declare(strict_types=1);

/*
 * One thing at a time: /things/N. What it does by N: 404 for numbers that end in 3; 503 the first time for those that
 * end in 7; 500 always for 66; no JSON for 55; two parts on two pages for those that end in 0. Requests are counted in
 * LOOKUPS, a file, a line each. `delay` in the query is milliseconds.
 */
$path = (string) parse_url($_SERVER['REQUEST_URI'], PHP_URL_PATH);
$number = (int) basename($path);
$log = (string) getenv('LOOKUPS');
$seen = is_file($log) ? substr_count((string) file_get_contents($log), "$path ") : 0;
file_put_contents($log, "$path ".($_GET['page'] ?? '1')."\n", FILE_APPEND | LOCK_EX);
usleep(1000 * (int) ($_GET['delay'] ?? 0));
header('Content-Type: application/json');
if (is_file("$log.down") || $number === 66) {
    http_response_code(500);
    echo '{"error":"broken"}';
} elseif ($number % 10 === 3) {
    http_response_code(404);
    echo json_encode(['error' => "thing $number is not known here"]);
} elseif ($number % 10 === 7 && $seen === 0) {
    http_response_code(503);
    header('Retry-After: 0');
    echo '{"error":"busy"}';
} elseif ($number === 55) {
    echo '{"parts": [';
} elseif ($number % 10 === 0) {
    $page = (int) ($_GET['page'] ?? 1);
    echo json_encode(['parts' => [['part' => "$number.$page", 'kind' => $_GET['kind'] ?? null]], 'next' => $page < 2 ? $page + 1 : null]);
} else {
    echo json_encode(['parts' => $number % 10 === 9 ? [] : [['part' => "$number", 'kind' => $_GET['kind'] ?? null]], 'next' => null]);
}
