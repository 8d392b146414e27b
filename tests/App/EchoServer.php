<?php

declare(strict_types=1);

/*
 * A service that sends back the key it was sent, in every form that its plan says: in bodies, headers,
 * redirects and links to the next page.
 */
$plan = json_decode((string) file_get_contents((string) getenv('ECHO_PLAN')), true);
$path = (string) parse_url((string) $_SERVER['REQUEST_URI'], PHP_URL_PATH);
$page = (int) ($_GET['page'] ?? 1);
$key = (string) ($_GET['key'] ?? $_SERVER['HTTP_X_KEY'] ?? '');
header('Content-Type: application/json');
header('X-Echo: '.$key);
header('ETag: "'.bin2hex($key).'"');
if ($path === '/moved') {
    http_response_code(302);
    header('Location: /list?'.$_SERVER['QUERY_STRING']);

    return;
}
if ($path === '/refused') {
    http_response_code(403);
    echo json_encode(['error' => 'forbidden', 'message' => "The key $key is not known", 'forms' => $plan['forms']]);

    return;
}
if ($path === '/big') {
    // More than is held in memory: it is read from the disk.
    echo '{"records":[';
    for ($number = 1; $number <= 20_000; $number++) {
        echo($number > 1 ? ',' : ''), json_encode(['id' => $number, 'text' => $number === 12_345 ? $plan['forms'][$number % count($plan['forms'])] : str_repeat('quay ', 180), 'number' => $number]);
    }
    echo ']}';

    return;
}
$records = [];
foreach ($plan['forms'] as $number => $form) {
    $records[] = ['id' => 100 * $page + $number, 'text' => "a $form b", 'number' => $number];
}
$records[] = ['id' => 100 * $page + 99, 'text' => 'nothing', 'number' => 7];
echo json_encode(['records' => $records, 'next' => $page < 3 ? '/list?page='.($page + 1).'&key='.rawurlencode($key) : null], JSON_INVALID_UTF8_SUBSTITUTE);
