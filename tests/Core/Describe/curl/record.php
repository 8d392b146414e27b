<?php

declare(strict_types=1);

// Writes down what it is asked, a line of JSON each.
$headers = [];
foreach (getallheaders() as $name => $value) {
    $headers[strtolower((string) $name)] = (string) $value;
}
file_put_contents((string) getenv('RECORD_FILE'), json_encode(['method' => $_SERVER['REQUEST_METHOD'], 'target' => $_SERVER['REQUEST_URI'], 'headers' => $headers, 'body' => base64_encode((string) file_get_contents('php://input'))])."\n", FILE_APPEND | LOCK_EX);
echo 'ok';
