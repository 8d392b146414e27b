<?php

declare(strict_types=1);

/*
 * Serves the files of FILES, a folder, by their names, with the media types that a service would
 * give them, and counts the requests.
 */
$path = getenv('FILES').'/'.basename((string) parse_url($_SERVER['REQUEST_URI'], PHP_URL_PATH));
file_put_contents(getenv('FILES').'/.requests', '.', FILE_APPEND);
if (! is_file($path)) {
    http_response_code(404);

    return;
}
if (preg_match('/error-(\d{3})/', $path, $status) === 1) {
    http_response_code((int) $status[1]);
}
header('Content-Type: '.(['json' => 'application/json', 'ndjson' => 'application/x-ndjson', 'xml' => 'application/xml', 'csv' => 'text/csv; charset=utf-8', 'gz' => 'application/gzip'][pathinfo($path, PATHINFO_EXTENSION)] ?? 'application/octet-stream'));
readfile($path);
