<?php

declare(strict_types=1);

use StandIns\Notebook;
use StandIns\PostRoom\PostRoom;

/*
 * The mail of the post room: php smtp.php PORT. Takes mail for everybody (RFC 5321) and sends it nowhere; mail for
 * nobody@… is refused for good, for later@… for now.
 */
require_once __DIR__.'/../shared/Notebook.php';
require_once __DIR__.'/../shared/StandIn.php';
require_once __DIR__.'/PostRoom.php';

const LARGEST = 2_000_000;

$port = (int) ($argv[1] ?? 0);
$listening = stream_socket_server("tcp://127.0.0.1:$port", $number, $error);
if ($listening === false) {
    fwrite(STDERR, "$error\n");
    exit(1);
}
$notebook = new Notebook('post-room');
/** @var array<int, array{socket: resource, buffer: string, from: string, to: list<string>, data: string|null}> $callers */
$callers = [];
$say = static fn (array $caller, string $line): int|false => @fwrite($caller['socket'], "$line\r\n");
for (; ;) {
    $ready = [$listening, ...array_column($callers, 'socket')];
    $write = $except = null;
    if (@stream_select($ready, $write, $except, 60) === false) {
        continue;
    }
    foreach ($ready as $socket) {
        if ($socket === $listening) {
            $new = @stream_socket_accept($listening, 0);
            if ($new !== false) {
                stream_set_blocking($new, false);
                $callers[(int) $new] = ['socket' => $new, 'buffer' => '', 'from' => '', 'to' => [], 'data' => null];
                $say($callers[(int) $new], '220 post-room.saltmarsh.example');
            }

            continue;
        }
        $key = (int) $socket;
        $part = fread($socket, 65536);
        if ($part === '' || $part === false) {
            fclose($socket);
            unset($callers[$key]);

            continue;
        }
        $caller = &$callers[$key];
        $caller['buffer'] .= $part;
        while (($end = strpos($caller['buffer'], "\r\n")) !== false) {
            $line = substr($caller['buffer'], 0, $end);
            $caller['buffer'] = substr($caller['buffer'], $end + 2);
            if ($caller['data'] !== null) {
                if ($line === '.') {
                    $isTooLarge = strlen($caller['data']) > LARGEST;
                    $isTooLarge || PostRoom::keep($notebook, ['kind' => 'mail', 'from' => $caller['from'], 'to' => $caller['to'], 'raw' => $caller['data']]);
                    $say($caller, $isTooLarge ? '552 too large' : '250 taken');
                    $caller['data'] = null;
                    $caller['to'] = [];
                } elseif (strlen($caller['data']) <= LARGEST) {
                    $caller['data'] .= ($line !== '' && $line[0] === '.' ? substr($line, 1) : $line)."\r\n";
                }

                continue;
            }
            $verb = strtoupper(strtok($line, " \t") ?: '');
            $address = preg_match('/<([^<>]*)>/', $line, $found) === 1 ? $found[1] : '';
            if ($verb === 'QUIT') {
                $say($caller, '221 bye');
                fclose($socket);
                unset($callers[$key]);

                break;
            }
            if ($verb === 'MAIL') {
                $caller['from'] = $address;
                $caller['to'] = [];
            } elseif ($verb === 'RCPT' && ! str_starts_with($address, 'nobody@') && ! str_starts_with($address, 'later@')) {
                $caller['to'][] = $address;
            } elseif ($verb === 'DATA' && $caller['to'] !== []) {
                $caller['data'] = '';
            }
            $say($caller, match (true) {
                $verb === 'EHLO' => "250-post-room.saltmarsh.example\r\n250 8BITMIME",
                $verb === 'RCPT' && str_starts_with($address, 'nobody@') => '550 no such mailbox',
                $verb === 'RCPT' && str_starts_with($address, 'later@') => '451 come back later',
                $verb === 'DATA' => $caller['data'] === null ? '503 for whom?' : '354 go on',
                in_array($verb, ['HELO', 'MAIL', 'RCPT', 'RSET', 'NOOP'], true) => '250 ok',
                default => '502 not known here',
            });
        }
        unset($caller);
    }
}
