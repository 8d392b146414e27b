<?php

declare(strict_types=1);

/*
 * A list over HTTP/1.1 that keeps its connections: one process, no work but handing out. The address
 * says how many pages there are and how many milliseconds each takes: /1000/80/page?page=7,
 * /1000/80/cursor?after=7, /one/50/70412 for one thing or, as OData 4 has it, /1000/80/Loans?$skiptoken=7. /times gives the moment of each request so far, and forgets them.
 */

use Bench\LoanPages;

require __DIR__.'/../vendor/autoload.php';

$pages = [];
foreach (range(1, 50) as $number) {
    $pages[] = json_encode(array_map(static fn (int $n): array => LoanPages::record(100 * $number + $n), range(1, 100)), JSON_UNESCAPED_SLASHES);
}
$server = stream_socket_server('tcp://127.0.0.1:'.$argv[1]) ?: exit(1);
stream_set_blocking($server, false);
$clients = [];
$buffers = [];
/** @var list<array{float, int, string}> $due */
$due = [];
$times = [];
$answer = static function (string $target) use ($pages, &$times): array {
    if ($target === '/times') {
        $body = json_encode($times);
        $times = [];

        return [0, (string) $body];
    }
    $times[] = microtime(true);
    if (preg_match('~^/one/(\d+)/(\d+)~', $target, $part) === 1) {
        return [(int) $part[1], '{"number":'.$part[2].',"state":"on the road","at":{"place":"Osmery","seen":"2030-05-13T06:00:00Z"},"crates":'.($part[2] % 9).'}'];
    }
    preg_match('~^/(\d+)/(\d+)/(page|cursor|Loans)(?:\?(?:.*&)?(?:page|after|(?:\$|%24)skiptoken)=(\d+))?~', $target, $part);
    [$all, $ms, $style] = [(int) ($part[1] ?? 1), (int) ($part[2] ?? 0), $part[3] ?? 'page'];
    $number = isset($part[4]) ? (int) $part[4] : ($style === 'page' ? 1 : 0);
    $page = $style === 'page' ? $number : $number + 1;
    // Records of each page have ids of their own: the ids of a template are replaced by arithmetic.
    $records = $page > $all ? '[]' : preg_replace_callback('/"id":(\d+)/', static fn (array $id): string => '"id":'.(100 * $page + $id[1] % 100), $pages[$page % 50]);

    if ($style === 'Loans') {
        $next = $page < $all ? ',"@odata.nextLink":"Loans?$skiptoken='.$page.'"' : '';

        return [$ms, '{"@odata.context":"$metadata#Loans","@odata.count":'.(100 * $all).',"value":'.str_replace('{"id":', '{"@odata.etag":"W/\\"1\\"","id":', (string) $records).$next.'}'];
    }

    return [$ms, '{"data":'.$records.',"total":'.(100 * $all).',"next":'.($page < $all ? $page : 'null').'}'];
};
while (true) {
    $read = [$server, ...$clients];
    $write = $except = null;
    $wait = $due === [] ? 1.0 : max(0.0, min(array_column($due, 0)) - microtime(true));
    if (@stream_select($read, $write, $except, (int) $wait, (int) (1e6 * ($wait - (int) $wait))) === false) {
        break;
    }
    foreach ($read as $socket) {
        if ($socket === $server) {
            $client = @stream_socket_accept($server, 0);
            if ($client !== false) {
                stream_set_blocking($client, false);
                stream_set_write_buffer($client, 0);
                $clients[(int) $client] = $client;
                $buffers[(int) $client] = '';
            }

            continue;
        }
        $id = (int) $socket;
        $data = fread($socket, 65536);
        if ($data === '' || $data === false) {
            if (feof($socket)) {
                fclose($socket);
                unset($clients[$id], $buffers[$id]);
            }

            continue;
        }
        $buffers[$id] .= $data;
        while (($end = strpos($buffers[$id], "\r\n\r\n")) !== false) {
            $target = explode(' ', substr($buffers[$id], 0, 2000))[1] ?? '/';
            $buffers[$id] = substr($buffers[$id], $end + 4);
            [$ms, $body] = $answer($target);
            $due[] = [microtime(true) + $ms / 1000, $id, "HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: ".strlen($body)."\r\n\r\n$body"];
        }
    }
    $now = microtime(true);
    foreach ($due as $place => [$at, $id, $bytes]) {
        if ($at > $now) {
            continue;
        }
        unset($due[$place]);
        if (isset($clients[$id])) {
            stream_set_blocking($clients[$id], true);
            @fwrite($clients[$id], $bytes);
            stream_set_blocking($clients[$id], false);
        }
    }
    $due = array_values($due);
}
