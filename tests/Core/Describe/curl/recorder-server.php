<?php

declare(strict_types=1);

// Takes requests one after the other and writes each down as it came: a line of Base64. The first
// argument is the file that the address goes to, the second the one that the requests go to.
$server = stream_socket_server('tcp://127.0.0.1:0') ?: exit(1);
file_put_contents($argv[1], stream_socket_get_name($server, false));
while ($client = @stream_socket_accept($server, 60)) {
    stream_set_timeout($client, 5);
    $raw = '';
    while (! str_contains($raw, "\r\n\r\n") && ! feof($client)) {
        $chunk = fread($client, 65536);
        if ($chunk === false || $chunk === '') {
            break;
        }
        $raw .= $chunk;
    }
    if (! str_contains($raw, "\r\n\r\n")) {
        fclose($client);

        continue;
    }
    [$head, $body] = explode("\r\n\r\n", $raw, 2);
    if (stripos($head, "\r\nexpect: 100-continue") !== false) {
        fwrite($client, "HTTP/1.1 100 Continue\r\n\r\n");
    }
    $length = preg_match('/\r\ncontent-length: (\d+)/i', $head, $part) === 1 ? (int) $part[1] : 0;
    while (strlen($body) < $length && ! feof($client)) {
        $body .= (string) fread($client, 65536);
    }
    file_put_contents($argv[2], base64_encode("$head\r\n\r\n$body")."\n", FILE_APPEND);
    fwrite($client, "HTTP/1.1 200 OK\r\nContent-Length: 0\r\nConnection: close\r\n\r\n");
    fclose($client);
}
