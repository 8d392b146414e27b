<?php

declare(strict_types=1);

/*
 * Services as one meets them, a path each, for tests of what is set up from a first answer. Every request
 * is written down in REQUESTS.
 */
$path = (string) parse_url($_SERVER['REQUEST_URI'], PHP_URL_PATH);
file_put_contents((string) getenv('REQUESTS'), "{$_SERVER['REQUEST_METHOD']} {$_SERVER['REQUEST_URI']}\n", FILE_APPEND | LOCK_EX);
$loan = static fn (int $number): array => ['ref' => sprintf('NQ-%04d', $number), 'borrower' => "House $number", 'fee' => $number / 4];
$part = static fn (int $from, int $count, int $of): array => array_map($loan, $from < $of ? range($from + 1, min($of, $from + $count)) : []);
$json = static function (mixed $value, int $status = 200, array $headers = []): void {
    http_response_code($status);
    header('Content-Type: application/json');
    array_map(header(...), $headers);
    echo json_encode($value);
};
$after = (int) ($_GET['after'] ?? 0);
match ($path) {
    // The cursor is a number; what is sent under another name is passed over.
    '/v1/dues' => $json(['loans' => $part($after, 20, 50), 'next' => $after + 20 < 50 ? (string) ($after + 20) : null, 'has_more' => $after + 20 < 50]),
    '/v1/keyed' => $json(['stations' => ['NQ-1' => ['open' => 1, 'town' => 'Vell'], 'HM-2' => ['open' => 0, 'town' => 'Sarn'], 'LG-3' => ['open' => 2, 'town' => 'Osmery']]]),
    '/v1/several' => $json(['loans' => $part(0, 12, 12), 'returns' => $part(20, 12, 40)]),
    '/v1/none' => $json(['loans' => []]),
    // A link that leads to the same page for ever.
    '/v1/loop' => $json(['items' => $part(0, 10, 10), 'next' => '/v1/loop?page=2', 'total' => 400]),
    // Several signs of more, none of which is heeded.
    '/v1/deaf' => $json(['items' => $part(0, 10, 10), 'page' => 1, 'total_pages' => 4, 'next_cursor' => 'c2', 'next' => '/v1/deaf?from=10']),
    '/v1/one' => $json(['id' => 7, 'borrower' => 'Gull Tower', 'due' => '2031-03-02']),
    '/v1/welcome' => $json(['service' => 'Loans', 'version' => '1.4']),
    '/v1/parts' => (static function () use ($json, $part): void {
        [$from, $to] = preg_match('/^loans=(\d+)-(\d+)$/', $_SERVER['HTTP_RANGE'] ?? '', $found) === 1 ? [(int) $found[1], (int) $found[2]] : [0, 24];
        $to = min($to, 59);
        $from > 59 ? $json(['error' => 'no more'], 416, ['Content-Range: loans */60']) : $json($part($from, $to - $from + 1, 60), 206, ["Content-Range: loans $from-$to/60", 'Accept-Ranges: loans']);
    })(),
    '/v1/closed' => ($_SERVER['HTTP_AUTHORIZATION'] ?? '') === 'Bearer nq-token-5512' ? $json(['items' => $part(0, 5, 5)]) : $json(['error' => 'no'], 401, ['WWW-Authenticate: Bearer']),
    '/v1/text' => (static function (): void {
        header('Content-Type: text/html');
        echo '<html><body>Loans</body></html>';
    })(),
    '/v1/loans' => $json($_SERVER['REQUEST_METHOD'] === 'GET' ? ['items' => $part(0, 5, 5)] : ['made' => true], $_SERVER['REQUEST_METHOD'] === 'GET' ? 200 : 201),
    default => $json(['error' => 'nothing here'], 404),
};
