<?php

declare(strict_types=1);

namespace Tests\Core;

use DeepSpring\Ask\RecordSets;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Share\Curl;
use DeepSpring\Share\Har;
use DeepSpring\Share\Recorded;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ShareTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string, list<array{string, string}>, string, string}>
     */
    public static function requests(): iterable
    {
        $url = 'https://loans.saltmarsh.example/v2/loans';
        yield 'a plain one' => ['GET', $url, [['Host', 'x'], ['Accept', 'application/json']], '', "curl \\\n  '$url' \\\n  -H 'Accept: application/json'"];
        yield 'a token' => ['GET', $url, [['Authorization', 'Bearer ••••••3f2a']], '', "# Set \$TOKEN before.\ncurl \\\n  '$url' \\\n  -H \"Authorization: Bearer \${TOKEN}\""];
        yield 'a name and password' => ['GET', $url, [['Authorization', 'Basic ••••••']], '', "# Set \$USERNAME, \$PASSWORD before.\ncurl \\\n  '$url' \\\n  -u \"\$USERNAME:\$PASSWORD\""];
        yield 'a key in a header' => ['GET', $url, [['X-Stores-Key', '••••••d446']], '', "# Set \$X_STORES_KEY before.\ncurl \\\n  '$url' \\\n  -H \"X-Stores-Key: \${X_STORES_KEY}\""];
        yield 'a key in the query' => ['GET', "$url?a=1&key=••••••&b=\$2", [], '', "# Set \$KEY before.\ncurl \\\n  \"$url?a=1&key=\${KEY}&b=\\\$2\""];
        yield 'a body with quotes' => ['POST', $url, [['Content-Type', 'application/json'], ['Content-Length', '9']], "{\"a\":\"it's\"}", "curl \\\n  '$url' \\\n  -H 'Content-Type: application/json' \\\n  --data-raw '{\"a\":\"it'\\''s\"}'"];
        yield 'another method' => ['PATCH', $url, [], '{}', "curl \\\n  -X PATCH \\\n  '$url' \\\n  --data-raw '{}'"];
        yield 'a post without a body' => ['POST', $url, [], '', "curl \\\n  -X POST \\\n  '$url'"];
        yield 'compressed' => ['GET', $url, [['Accept-Encoding', 'gzip']], '', "curl \\\n  '$url' \\\n  --compressed"];
    }

    /**
     * @param  list<array{string, string}>  $headers
     */
    #[DataProvider('requests')]
    public function test_a_recorded_request_becomes_a_command_that_reads_back(string $method, string $url, array $headers, string $body, string $command): void
    {
        $made = (new Curl)->of(new Recorded($method, $url, $headers, $body, 200, [], null, [], new \DateTimeImmutable('2031-01-15')));
        self::assertSame($command, $made);
        $found = Importers::read(new ImportInput($made));
        self::assertSame([], $found->secrets);
        self::assertSame($method, $found->endpoints[0]->method());
        self::assertSame('/loans', $found->endpoints[0]->endpoint['ask']['path']);
    }

    public function test_a_recording_is_an_archive_that_reads_back(): void
    {
        $recorded = new Recorded('POST', 'https://loans.saltmarsh.example/v2/loans?expand=items', [['Authorization', 'Bearer ••••••'], ['Content-Type', 'application/json']], '{"due":"2031-03-02"}', 201, [['content-type', 'application/json']], '{"id": 8813}', ['name' => 1.5, 'connect' => 2, 'tls' => 3, 'firstByte' => 40, 'total' => 50, 'protocol' => 'HTTP/1.1', 'bytesReceived' => 12, 'address' => '192.0.2.7'], new \DateTimeImmutable('2031-01-15T06:00:00Z'));
        $har = json_decode((new Har)->of([$recorded]), true)['log'];
        self::assertSame('1.2', $har['version']);
        $entry = $har['entries'][0];
        self::assertSame(['dns' => 1.5, 'connect' => 5, 'ssl' => 3, 'wait' => 40, 'receive' => 3.5], array_map(static fn (float|int $one): float|int => $one == (int) $one ? (int) $one : $one, array_intersect_key($entry['timings'], ['dns' => 1, 'connect' => 1, 'ssl' => 1, 'wait' => 1, 'receive' => 1])));
        self::assertSame([['name' => 'expand', 'value' => 'items']], $entry['request']['queryString']);
        self::assertSame('2031-01-15T06:00:00.000+00:00', $entry['startedDateTime']);
        foreach (['startedDateTime', 'time', 'request', 'response', 'cache', 'timings'] as $member) {
            self::assertArrayHasKey($member, $entry);
        }
        $found = Importers::read(new ImportInput((new Har)->of([$recorded])));
        self::assertSame(['POST /loans', [], 'create'], [$found->endpoints[0]->id, $found->secrets, $found->endpoints[0]->endpoint['does']]);
        self::assertSame(['expand', 'due'], array_column($found->endpoints[0]->endpoint['ask']['inputs'], 'name'));
    }

    public function test_endpoints_over_the_same_records_stand_together(): void
    {
        $endpoint = static fn (string $method, string $path): array => ['slug' => "$method$path", 'ask' => ['method' => $method, 'path' => $path]];
        $sets = RecordSets::of([$endpoint('GET', '/loans'), $endpoint('GET', '/loans/{id}'), $endpoint('POST', '/loans/{id}/close'), $endpoint('PATCH', '/loans/{id}'), $endpoint('GET', '/houses')]);
        self::assertSame(['/loans' => ['create', 'delete'], '/houses' => []], array_map(static fn (array $set): array => $set['missing'], $sets));
        self::assertCount(4, $sets['/loans']['endpoints']);
        self::assertSame(['DELETE', '/loans/{id}'], RecordSets::likely('/loans', \DeepSpring\Ask\EndpointRole::Delete, '/loans/{id}'));
    }
}
