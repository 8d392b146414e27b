<?php

declare(strict_types=1);

/*
 * Hands out the pages as they are on the disk.
 */
$page = (int) ($_GET['page'] ?? 1);
header('Content-Type: application/json');
$file = getenv('BENCH_PAGES')."/$page.json";
if (is_file($file)) {
    header('Content-Length: '.filesize($file));
    readfile($file);
} else {
    echo '{"data":[],"page":'.$page.'}';
}
