<?php

declare(strict_types=1);

/*
 * A mail server that takes one mail after the other (RFC 5321) and writes them to a file.
 */
[, $port, $inbox] = $argv;
$server = stream_socket_server("tcp://127.0.0.1:$port") ?: exit(1);
while (($client = @stream_socket_accept($server, 60)) !== false) {
    fwrite($client, "220 mail.saltmarsh.example\r\n");
    while (($line = fgets($client)) !== false) {
        if (str_starts_with($line, 'DATA')) {
            fwrite($client, "354 go on\r\n");
            while (($line = fgets($client)) !== false && rtrim($line) !== '.') {
                file_put_contents($inbox, $line, FILE_APPEND);
            }
        } elseif (str_starts_with($line, 'QUIT')) {
            fwrite($client, "221 bye\r\n");
            break;
        }
        fwrite($client, "250 ok\r\n");
    }
    fclose($client);
}
