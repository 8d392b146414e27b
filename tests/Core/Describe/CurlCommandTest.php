<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Describe\Curl\CurlCommand;
use DeepSpring\Describe\Curl\FormPart;
use DeepSpring\Describe\Files;
use DeepSpring\Describe\UnreadableCommand;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Core\Describe\curl\Recorder;

/**
 * Every command of the table is read by us and sent by curl to a server that writes it down.
 */
final class CurlCommandTest extends TestCase
{
    private static ?Recorder $server = null;

    public static function setUpBeforeClass(): void
    {
        self::$server = new Recorder('curl-commands');
    }

    public static function tearDownAfterClass(): void
    {
        self::$server?->stop();
    }

    private static function server(): Recorder
    {
        return self::$server ?? self::fail('There is no server.');
    }

    /**
     * @return iterable<string, array{string, string, list<string>, string}>
     */
    public static function commands(): iterable
    {
        foreach (require __DIR__.'/curl/commands.php' as $name => $row) {
            yield $name => $row;
        }
    }

    public function test_the_table_is_long_enough(): void
    {
        self::assertGreaterThanOrEqual(120, count([...self::commands()]));
    }

    /**
     * @param  list<string>  $headers
     */
    #[DataProvider('commands')]
    public function test_a_command_stands_for_the_request_that_curl_sends(string $command, string $start, array $headers, string $body): void
    {
        $here = static fn (string $text): string => str_replace(['HOST', 'ADDRESS'], ['http://'.self::server()->address, self::server()->address], $text);
        $wanted = [$start, array_map($here, $headers), $here($body)];
        $read = CurlCommand::all($here($command), new Files(Recorder::FILES));
        self::assertCount(1, $read);
        self::assertSame([], [...$read[0]->unknown, ...$read[0]->missing]);
        self::assertEquals(self::sorted($wanted), self::sorted($this->ours($read[0])), 'as we read it');
        self::assertEquals(self::sorted($wanted), self::sorted($this->curls($here($command), $headers)), 'as curl sends it');
    }

    /**
     * @return iterable<string, array{string, string, string, list<string>, string}>
     */
    public static function windows(): iterable
    {
        yield 'carets at the ends' => ["curl -X POST ^\r\n  -H \"X-A: 1\" ^\r\n  https://loans.saltmarsh.example/x", 'POST', 'https://loans.saltmarsh.example/x', ['X-A: 1'], ''];
        yield 'quotes behind backslashes' => ["curl https://loans.saltmarsh.example/x ^\n -H \"Content-Type: application/json\" ^\n -d \"{\\\"a\\\": \\\"b c\\\"}\"", 'POST', 'https://loans.saltmarsh.example/x', ['Content-Type: application/json'], '{"a": "b c"}'];
        yield 'as a browser copies it' => ['curl ^"https://loans.saltmarsh.example/x?a=1^&b=2^" -H ^"accept: */*^" --data-raw ^"^{^\\^"a^\\^":1^}^"', 'POST', 'https://loans.saltmarsh.example/x?a=1&b=2', ['Content-Type: application/x-www-form-urlencoded', 'accept: */*'], '{"a":1}'];
        yield 'a line break as a browser copies it' => ["curl ^\"https://loans.saltmarsh.example/x^\" --data-raw ^\"a^\n\nb^\"", 'POST', 'https://loans.saltmarsh.example/x', ['Content-Type: application/x-www-form-urlencoded'], "a\nb"];
        yield 'backslashes of a path' => ["curl ^\n \"https://loans.saltmarsh.example/x\" -d \"C:\\crates\\\\\"", 'POST', 'https://loans.saltmarsh.example/x', ['Content-Type: application/x-www-form-urlencoded'], 'C:\\crates\\'];
        yield 'a doubled quote' => ["curl ^\n https://loans.saltmarsh.example/x -d \"a\"\"b\"", 'POST', 'https://loans.saltmarsh.example/x', ['Content-Type: application/x-www-form-urlencoded'], 'a"b'];
        yield 'backticks at the ends' => ["curl.exe -X PUT `\r\n -H 'X-A: it''s' `\r\n https://loans.saltmarsh.example/x -d '{\\\"a\\\": 1}'", 'PUT', 'https://loans.saltmarsh.example/x', ['Content-Type: application/x-www-form-urlencoded', "X-A: it's"], '{"a": 1}'];
        yield 'backticks before quotes' => ['curl.exe -d "{`"a`": 1}" https://loans.saltmarsh.example/x', 'POST', 'https://loans.saltmarsh.example/x', ['Content-Type: application/x-www-form-urlencoded'], '{"a": 1}'];
        yield 'a prompt' => ['C:\\> curl https://loans.saltmarsh.example/x', 'GET', 'https://loans.saltmarsh.example/x', [], ''];
        yield 'lines without a sign at their ends' => ["curl https://loans.saltmarsh.example/x\n  -H 'X-A: 1'\n  -d 'a=1'", 'POST', 'https://loans.saltmarsh.example/x', ['Content-Type: application/x-www-form-urlencoded', 'X-A: 1'], 'a=1'];
        yield 'a prompt of a shell' => ['$ curl https://loans.saltmarsh.example/x', 'GET', 'https://loans.saltmarsh.example/x', [], ''];
        yield 'a comment before' => ["# lists the loans\ncurl https://loans.saltmarsh.example/x", 'GET', 'https://loans.saltmarsh.example/x', [], ''];
        yield 'variables stay' => ['curl -H "Authorization: Bearer $TOKEN" https://loans.saltmarsh.example/${HOUSE}/x', 'GET', 'https://loans.saltmarsh.example/${HOUSE}/x', ['Authorization: Bearer $TOKEN'], ''];
        yield 'values after an equals sign' => ['curl --url=https://loans.saltmarsh.example/x --request=PUT --header="X-A: 1" --data=\'a=1\'', 'PUT', 'https://loans.saltmarsh.example/x', ['Content-Type: application/x-www-form-urlencoded', 'X-A: 1'], 'a=1'];
        yield 'a byte order mark' => ["\xEF\xBB\xBFcurl https://loans.saltmarsh.example/x", 'GET', 'https://loans.saltmarsh.example/x', [], ''];
    }

    /**
     * @param  list<string>  $headers
     */
    #[DataProvider('windows')]
    public function test_other_ways_of_writing_are_read(string $text, string $method, string $url, array $headers, string $body): void
    {
        self::assertTrue(CurlCommand::looksLikeOne($text) || str_starts_with($text, 'C:'));
        $command = CurlCommand::read($text);
        self::assertSame([$method, $url, $headers, $body], [$command->method, $command->url, array_map(static fn (array $one): string => "$one[0]: $one[1]", $command->headers), $command->body]);
    }

    public function test_several_commands_in_one_paste(): void
    {
        $all = CurlCommand::all("# first\ncurl https://loans.saltmarsh.example/a\n\ncurl -X POST https://loans.saltmarsh.example/b \\\n -d 'x\ncurl https://no.example/'\n\$ curl https://loans.saltmarsh.example/c && curl https://loans.saltmarsh.example/d; curl https://loans.saltmarsh.example/e --next -d 1 https://loans.saltmarsh.example/f");
        self::assertSame(['GET /a', 'POST /b', 'GET /c', 'GET /d', 'GET /e', 'POST /f'], array_map(static fn (CurlCommand $one): string => $one->method.' '.parse_url($one->url, PHP_URL_PATH), $all));
        self::assertSame("x\ncurl https://no.example/", $all[1]->body);
    }

    public function test_what_is_not_known_is_listed_and_what_is_missing_is_asked_for(): void
    {
        $command = CurlCommand::read('curl --moonlight --digest -k -x proxy.example:80 -d @loan.json -F a=@other.bin https://loans.saltmarsh.example/x');
        self::assertSame(['--moonlight', '--digest'], $command->unknown);
        self::assertSame(['loan.json', 'other.bin'], $command->missing);
        self::assertCount(2, $command->notes);
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function unreadable(): iterable
    {
        yield 'an open quote' => ["curl 'http://a", 'opened at character 6'];
        yield 'no address' => ['curl -s', 'no address'];
        yield 'another kind of address' => ['curl ftp://a/b', 'no http'];
        yield 'an option without its value' => ['curl http://a -H', 'The option -H'];
        yield 'an open quote of the prompt' => ["curl ^\n \"http://a", 'never closed'];
        yield 'no command' => ['wget http://a', 'no address'];
    }

    #[DataProvider('unreadable')]
    public function test_what_cannot_be_read_is_said(string $text, string $says): void
    {
        $this->expectException(UnreadableCommand::class);
        $this->expectExceptionMessageMatches("~$says~");
        CurlCommand::read($text);
    }

    /**
     * @return array{string, list<string>, string}
     */
    private function ours(CurlCommand $command): array
    {
        $parts = parse_url($command->url);
        $user = $command->user ?? (isset($parts['user']) ? $parts['user'].':'.($parts['pass'] ?? '') : null);
        $headers = array_map(static fn (array $one): string => strtolower($one[0]).": $one[1]", $command->headers);
        $headers = $user === null ? $headers : [...$headers, 'authorization: Basic '.base64_encode($user)];
        $body = $command->parts === null ? $command->body : 'form: '.implode('|', array_map(static fn (FormPart $part): string => "$part->name=$part->content".($part->isFile || $part->type !== null ? ' ('.($part->filename ?? '-').', '.($part->type ?? 'text/plain').')' : ''), $command->parts));

        return [$command->method.' '.($parts['path'] ?? '/').(isset($parts['query']) ? "?{$parts['query']}" : ''), $headers, $body];
    }

    /**
     * @param  list<string>  $wanted
     * @return array{string, list<string>, string}
     */
    private function curls(string $command, array $wanted): array
    {
        self::server()->taken();
        $process = proc_open(['bash', '-c', $command], [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['pipe', 'w']], $pipes, self::server()->folder, ['PATH' => (string) getenv('PATH'), 'HOME' => self::server()->folder, 'LC_ALL' => 'C.UTF-8']);
        self::assertIsResource($process);
        $trouble = stream_get_contents($pipes[2]);
        proc_close($process);
        $sent = self::server()->taken()[0] ?? self::fail("curl sent nothing: $trouble");
        $body = $sent['body'];
        $headers = [];
        foreach ($sent['headers'] as $name => $values) {
            $value = implode(', ', $values);
            $isOwn = in_array($name, ['host', 'content-length', 'expect', 'transfer-encoding'], true) || $name === 'accept' && $value === '*/*' || $name === 'user-agent' && str_starts_with($value, 'curl/');
            if (str_starts_with($value, 'multipart/form-data') && $name === 'content-type') {
                $body = self::form($value, $body);
            } elseif ($name === 'accept-encoding') {
                $headers[] = 'accept-encoding: deflate, gzip';
            } elseif (! $isOwn) {
                $headers[] = "$name: $value";
            }
        }

        return ["{$sent['method']} {$sent['target']}", $headers, $body];
    }

    private static function form(string $type, string $body): string
    {
        preg_match('/boundary=(\S+)/', $type, $boundary);
        $parts = [];
        foreach (array_slice(explode("--$boundary[1]", $body), 1, -1) as $part) {
            [$head, $content] = explode("\r\n\r\n", $part, 2);
            preg_match('/ name="([^"]*)"/', $head, $name);
            $filename = preg_match('/filename="([^"]*)"/', $head, $found) === 1 ? $found[1] : null;
            $kind = preg_match('/content-type: (\S+)/i', $head, $found) === 1 ? $found[1] : null;
            $parts[] = "$name[1]=".substr($content, 0, -2).($filename === null && $kind === null ? '' : ' ('.($filename ?? '-').', '.($kind ?? 'text/plain').')');
        }

        return 'form: '.implode('|', $parts);
    }

    /**
     * @param  array{string, list<string>, string}  $request
     * @return array{string, list<string>, string}
     */
    private static function sorted(array $request): array
    {
        sort($request[1]);

        return $request;
    }
}
