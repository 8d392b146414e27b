<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Describe\CurlCommand;
use DeepSpring\Describe\FromCurl;
use DeepSpring\Describe\ShellWords;
use DeepSpring\Describe\UnreadableCommand;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class CurlTest extends TestCase
{
    /**
     * @return iterable<string, array{string, list<string>}>
     */
    public static function lines(): iterable
    {
        yield 'plain' => ['curl -s  http://a', ['curl', '-s', 'http://a']];
        yield 'single quotes keep all' => ["a 'b \"c\" \\d' e", ['a', 'b "c" \\d', 'e']];
        yield 'double quotes unescape some' => ['a "b \\"c\\" \\n \\$x"', ['a', 'b "c" \\n $x']];
        yield 'words grow together' => ["a'b'\"c\"d", ['abcd']];
        yield 'dollar quotes' => ["\$'it\\'s\\tx'", ["it's\tx"]];
        yield 'an empty word' => ["a '' b", ['a', '', 'b']];
        yield 'lines go on' => ["curl \\\n  -H 'a: b' ^\r\n http://x", ['curl', '-H', 'a: b', 'http://x']];
        yield 'an escaped space' => ['a\\ b', ['a b']];
    }

    /**
     * @param  list<string>  $words
     */
    #[DataProvider('lines')]
    public function test_a_line_is_parted_as_a_shell_does(string $line, array $words): void
    {
        self::assertSame($words, ShellWords::of($line));
    }

    /**
     * @return iterable<string, array{string, array{string, string, array<array-key, mixed>, string|null, string}}>
     */
    public static function commands(): iterable
    {
        $url = 'https://loans.saltmarsh.example/v2/loans';
        yield 'the address alone' => ["curl $url", ['GET', $url, [], null, '']];
        yield 'with a prompt' => ["\$ curl $url", ['GET', $url, [], null, '']];
        yield 'without a scheme' => ['curl loans.saltmarsh.example/v2/loans', ['GET', $url, [], null, '']];
        yield 'switches together, value attached' => ["curl -sSLXDELETE $url", ['DELETE', $url, [], null, '']];
        yield 'headers and a user' => ["curl -u desk:pass:word -H 'Accept: text/csv' --header=X-A:b $url", ['GET', $url, [['Accept', 'text/csv'], ['X-A', 'b']], 'desk:pass:word', '']];
        yield 'data means POST' => ["curl $url -d a=1 --data-urlencode 'b=x y'", ['POST', $url, [], null, 'a=1&b=x%20y']];
        yield 'data as a query' => ["curl -G $url -d a=1 -d b=2", ['GET', "$url?a=1&b=2", [], null, '']];
        yield 'JSON' => ["curl --json '{\"a\":1}' $url", ['POST', $url, [['content-type', 'application/json']], null, '{"a":1}']];
        yield 'a bearer token' => ["curl --oauth2-bearer tk $url", ['GET', $url, [['authorization', 'Bearer tk']], null, '']];
        yield 'values that do not matter' => ["curl --max-time 5 -o out.json --compressed -k $url", ['GET', $url, [], null, '']];
        yield 'a head request' => ["curl -I $url", ['HEAD', $url, [], null, '']];
    }

    /**
     * @param  array{string, string, array<array-key, mixed>, string|null, string}  $wanted
     */
    #[DataProvider('commands')]
    public function test_a_command_is_read(string $text, array $wanted): void
    {
        $command = CurlCommand::read($text);
        self::assertTrue(CurlCommand::looksLikeOne($text));
        self::assertSame($wanted, [$command->method, $command->url, $command->headers, $command->user, $command->body]);
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
    }

    #[DataProvider('unreadable')]
    public function test_what_cannot_be_read_is_said(string $text, string $says): void
    {
        $this->expectException(UnreadableCommand::class);
        $this->expectExceptionMessageMatches("~$says~");
        CurlCommand::read($text);
    }

    public function test_a_command_becomes_a_source_without_its_secrets(): void
    {
        $found = FromCurl::of(CurlCommand::read("curl -u 'desk:open sesame' -H 'X-Freight-Key: ft-9981-aa' -H 'Accept: application/json' -H 'User-Agent: x' -H 'X-Circle-House: hq' 'https://track.saltmarsh.example/v3/consignments?since=2030-01-01&token=tt-1&page=2'"));
        self::assertSame('https://track.saltmarsh.example/v3', $found->base);
        self::assertSame([
            ['scheme' => 'basic', 'username' => 'desk', 'password' => ['secret' => 'password']],
            ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Freight-Key', 'value' => ['secret' => 'key']],
            ['scheme' => 'api-key', 'in' => 'query', 'name' => 'token', 'value' => ['secret' => 'key']],
        ], $found->access);
        self::assertSame(['accept' => 'application/json', 'x-circle-house' => 'hq'], $found->headers);
        self::assertSame(['slug' => 'consignments', 'name' => 'Consignments', 'does' => 'list', 'ask' => ['method' => 'GET', 'path' => '/consignments', 'inputs' => [['name' => 'since', 'in' => 'query', 'try' => '2030-01-01'], ['name' => 'page', 'in' => 'query', 'try' => '2']]]], $found->endpoint);
        self::assertSame('open sesame', $found->secrets['password']);
        $file = SourceFile::of(['deepspring' => 1, 'source' => ['slug' => 'freight', 'name' => 'Freight', 'environments' => ['trial' => ['base' => $found->base]], 'access' => $found->access, 'headers' => $found->headers], 'endpoints' => [$found->endpoint]]);
        foreach (['open sesame', 'ft-9981-aa', 'tt-1'] as $secret) {
            self::assertStringNotContainsString($secret, $file->yaml());
        }
    }

    public function test_a_secret_under_an_innocent_name_is_still_one(): void
    {
        $found = FromCurl::of(CurlCommand::read("curl -H 'X-Reader: st-0b8e-5c71' -H 'X-Gate-Key: st-0b8e-5c71' -H 'X-Door: 9f61c07ae4d8532b9f61c07a' -H 'X-House: north-quay' -H 'Accept: application/vnd.saltmarsh.loans+json' https://a.example/v1/x"));
        self::assertSame(['x-house' => 'north-quay', 'accept' => 'application/vnd.saltmarsh.loans+json'], $found->headers);
        self::assertSame(['X-Reader' => 'key', 'X-Gate-Key' => 'key', 'X-Door' => 'key_2'], array_map(static fn (array $value): string => $value['secret'], array_column($found->access, 'value', 'name')));
    }

    /**
     * @return iterable<string, array{string, string, string}>
     */
    public static function bases(): iterable
    {
        yield 'a version parts it' => ['https://a.example/api/v2/loans/8812', 'https://a.example/api/v2', '/loans/8812'];
        yield 'a prefix before the version' => ['https://a.example/desk/v1.2/x', 'https://a.example/desk/v1.2', '/x'];
        yield 'no version' => ['https://a.example/loans/open/', 'https://a.example', '/loans/open'];
        yield 'a port' => ['http://127.0.0.1:8401/doors/open', 'http://127.0.0.1:8401', '/doors/open'];
    }

    #[DataProvider('bases')]
    public function test_an_address_is_parted_into_base_and_path(string $url, string $base, string $path): void
    {
        $found = FromCurl::of(CurlCommand::read("curl $url"));
        self::assertSame([$base, $path], [$found->base, $found->endpoint['ask']['path'] ?? null]);
    }

    public function test_placeholders_of_a_documentation_are_no_secrets(): void
    {
        foreach (['YOUR_TOKEN', '<token>', '{token}', '$TOKEN', '${TOKEN}', 'xxxx'] as $placeholder) {
            self::assertSame([], FromCurl::of(CurlCommand::read("curl -H 'Authorization: Bearer $placeholder' https://a.example/v1/x"))->secrets, $placeholder);
        }
        self::assertNull(FromCurl::of(CurlCommand::read('curl -X POST https://a.example/v1/x'))->endpoint);
    }
}
