<?php

declare(strict_types=1);

/*
 * Single records of a service that takes its time, over HTTP/1.1 that keeps its connections: one process, no work but
 * handing out. GET /crates/7 gives one, PATCH gives it with what was sent; each takes as many milliseconds as the second
 * argument says. GET /effects says how often each record was changed, and forgets it.
 */
$server = stream_socket_server('tcp://127.0.0.1:'.$argv[1]) ?: exit(1);
$latency = (float) $argv[2] / 1000;
stream_set_blocking($server, false);
$clients = $buffers = $due = $effects = [];
$answer = static function (string $method, string $target, string $body) use (&$effects): string {
    if ($target === '/effects') {
        $said = ['count' => array_sum($effects), 'most' => $effects === [] ? 0 : max($effects), 'records' => count($effects)];
        $effects = [];

        return (string) json_encode($said);
    }
    $id = (int) substr($target, strrpos($target, '/') + 1);
    $record = ['id' => $id, 'crate' => sprintf('CR-%04d', $id * 31 % 4000), 'note' => null, 'weight' => $id % 900 / 10];
    if ($method === 'PATCH') {
        $effects[$id] = ($effects[$id] ?? 0) + 1;
        $record = (array) json_decode($body, true) + $record;
    }

    return (string) json_encode($record);
};
for (; ;) {
    $read = [$server, ...$clients];
    $none = null;
    $next = $due === [] ? 0.2 : max(0.0, min(0.2, $due[0][0] - microtime(true)));
    if (stream_select($read, $none, $none, 0, (int) ($next * 1e6)) === false) {
        exit(1);
    }
    foreach ($read as $stream) {
        if ($stream === $server) {
            $client = stream_socket_accept($server, 0);
            if ($client !== false) {
                stream_set_blocking($client, false);
                $clients[(int) $client] = $client;
                $buffers[(int) $client] = '';
            }

            continue;
        }
        $id = (int) $stream;
        $text = fread($stream, 65536);
        if ($text === '' || $text === false) {
            if (feof($stream)) {
                fclose($stream);
                unset($clients[$id], $buffers[$id]);
            }

            continue;
        }
        $buffers[$id] .= $text;
        while (($end = strpos($buffers[$id], "\r\n\r\n")) !== false) {
            $head = substr($buffers[$id], 0, $end);
            $length = preg_match('/^content-length: *(\d+)/mi', $head, $part) === 1 ? (int) $part[1] : 0;
            if (strlen($buffers[$id]) < $end + 4 + $length) {
                break;
            }
            [$method, $target] = explode(' ', $head);
            $body = $answer($method, $target, substr($buffers[$id], $end + 4, $length));
            $buffers[$id] = substr($buffers[$id], $end + 4 + $length);
            $due[] = [microtime(true) + ($target === '/effects' ? 0 : $latency), $id, "HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: ".strlen($body)."\r\n\r\n$body"];
        }
    }
    // All take the same time, so they are due in their order.
    while ($due !== [] && $due[0][0] <= microtime(true)) {
        [, $id, $text] = array_shift($due);
        isset($clients[$id]) && fwrite($clients[$id], $text);
        if (isset($clients[$id]) && str_contains($text, '"records":')) {
            // Whoever asks for that reads until the end.
            fclose($clients[$id]);
            unset($clients[$id], $buffers[$id]);
        }
    }
}
