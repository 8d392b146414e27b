<?php

declare(strict_types=1);

namespace Tests\Core\Describe\OpenApi;

use DeepSpring\Describe\Described;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\TestCase;

/**
 * Servers of the document, of a path and of an operation.
 */
final class ServersTest extends TestCase
{
    private static function read(?string $address = null): Described
    {
        $get = ['responses' => ['200' => ['description' => 'ok']]];

        return Importers::read(new ImportInput((string) json_encode([
            'openapi' => '3.0.3', 'info' => ['title' => 'T'], 'servers' => [['url' => 'https://api.saltmarsh.example/v2'], ['url' => 'https://trial.saltmarsh.example/v2']],
            'components' => ['securitySchemes' => ['key' => ['type' => 'apiKey', 'in' => 'header', 'name' => 'X-Key']]], 'security' => [['key' => []]],
            'paths' => [
                '/loans' => ['get' => $get],
                '/files' => ['servers' => [['url' => 'https://files.saltmarsh.example']], 'get' => $get, 'put' => $get + ['servers' => [['url' => 'https://{zone}.saltmarsh.example/up', 'variables' => ['zone' => ['default' => 'north']]]], 'security' => []]],
                '/same' => ['get' => $get + ['servers' => [['url' => 'https://api.saltmarsh.example/v2/']]]],
                '/older' => ['get' => $get + ['servers' => [['url' => 'https://api.saltmarsh.example/v1']]]],
                '/near' => ['get' => $get + ['servers' => [['url' => '../v3']]]],
                '/none' => ['get' => $get + ['servers' => [['url' => 'ftp://files.saltmarsh.example']]]],
            ],
        ]), 'api.json', $address));
    }

    public function test_each_operation_goes_to_the_server_that_it_names(): void
    {
        $described = self::read('https://docs.saltmarsh.example/api/openapi.json');
        self::assertSame([
            'GET /loans' => null, 'GET /files' => 'https://files.saltmarsh.example', 'PUT /files' => 'https://north.saltmarsh.example/up', 'GET /same' => null,
            'GET /older' => 'https://api.saltmarsh.example/v1', 'GET /near' => 'https://docs.saltmarsh.example/v3', 'GET /none' => null,
        ], array_map(static fn (ImportedEndpoint $one): ?string => $one->base, array_combine(array_map(static fn (ImportedEndpoint $one): string => $one->id, $described->endpoints), $described->endpoints)));
        self::assertSame([
            'https://files.saltmarsh.example:443' => ['endpoints' => 1, 'secured' => 1], 'https://north.saltmarsh.example:443' => ['endpoints' => 1, 'secured' => 0], 'https://docs.saltmarsh.example:443' => ['endpoints' => 1, 'secured' => 1],
        ], $described->otherServers());
        self::assertContains('paths./none.get.servers[0].url', array_map(static fn ($one): string => $one->place, $described->mends));
    }

    public function test_relative_to_a_paste_there_is_none_and_that_is_said(): void
    {
        $described = self::read();
        self::assertContains('paths./near.get.servers[0].url', array_map(static fn ($one): string => $one->place, array_filter($described->mends, static fn ($one): bool => $one->kind === 'left-out')));
    }

    public function test_in_the_source_file_it_stands_for_one_environment_and_sends_no_secret_unless_agreed(): void
    {
        $described = self::read('https://docs.saltmarsh.example/api/openapi.json');
        $asks = static fn (array $agreed): array => array_map(static fn ($one): array => array_intersect_key($one->endpoint['ask'], ['base' => 1, 'access' => 1]), SourceFile::of($described->in('trial', $agreed)->only(null)->document('t', 'T', 'trial', null))->endpoints());
        self::assertSame([[], ['base' => ['trial' => 'https://files.saltmarsh.example']], ['base' => ['trial' => 'https://north.saltmarsh.example/up']], [], ['base' => ['trial' => 'https://api.saltmarsh.example/v1']], ['base' => ['trial' => 'https://docs.saltmarsh.example/v3']], []], $asks([]));
        $agreed = $asks(['https://files.saltmarsh.example:443', 'https://north.saltmarsh.example:443']);
        self::assertSame(['source', null, null], [$agreed[1]['access'] ?? null, $agreed[2]['access'] ?? null, $agreed[5]['access'] ?? null]);
        $file = SourceFile::of($described->in('trial', ['https://files.saltmarsh.example:443'])->only(null)->document('t', 'T', 'trial', null));
        self::assertSame(['https://files.saltmarsh.example:443'], $file->source()->furtherOrigins('trial'));
        self::assertSame([], $file->source()->furtherOrigins('production'));
    }

    public function test_of_ways_to_authenticate_one_is_taken_and_the_others_are_named(): void
    {
        $schemes = ['basic' => ['type' => 'http', 'scheme' => 'basic'], 'token' => ['type' => 'http', 'scheme' => 'bearer'], 'key' => ['type' => 'apiKey', 'in' => 'header', 'name' => 'X-Key'], 'unused' => ['type' => 'http', 'scheme' => 'bearer']];
        $read = static function (array $security, array $ofOperation = []) use ($schemes): array {
            $get = ['responses' => ['200' => ['description' => 'ok']]];
            $described = Importers::read(new ImportInput((string) json_encode(['openapi' => '3.0.3', 'info' => ['title' => 'T'], 'servers' => [['url' => 'https://t.saltmarsh.example']], 'components' => ['securitySchemes' => $schemes], 'security' => $security, 'paths' => ['/a' => ['get' => $get], '/b' => ['get' => $get + ($ofOperation === [] ? [] : ['security' => $ofOperation])]]])));

            return [array_column($described->access, 'scheme'), array_values(array_filter(array_map(static fn ($one): ?string => str_starts_with($one->place, 'security.') ? substr($one->place, 9).': '.$one->what : null, $described->mends)))];
        };
        self::assertSame([['basic'], ['token: It is another way to authenticate, and was not taken, since "basic" was. If that is what you have, choose it before you add.']], $read([['basic' => []], ['token' => []]]));
        // Two at once are both needed; two operations may say either.
        self::assertSame([['bearer', 'api-key'], []], $read([['token' => [], 'key' => []]]));
        self::assertSame([['basic'], ['token: It is another way to authenticate, and was not taken, since "basic" was. If that is what you have, choose it before you add.']], $read([['basic' => []]], [['token' => []]]));
        // What is an alternative here and asked for there is taken, and not called left out.
        self::assertSame([['basic', 'api-key'], []], $read([['basic' => []], ['key' => []]], [['key' => []]]));
        self::assertSame([['api-key'], ['basic: It is another way to authenticate, and was not taken. If that is what you have, choose it before you add.']], $read([[], ['key' => []], ['basic' => []]]));
    }

    public function test_a_schema_is_read_once_however_deep_and_however_often_it_is_named(): void
    {
        $schemas = [];
        for ($level = 0; $level < 60; $level++) {
            $part = ['$ref' => '#/components/schemas/S'.($level + 1), 'description' => "of level $level"];
            $schemas["S$level"] = ['allOf' => [$part, ['description' => 'again'] + $part, $part]] + ['properties' => ["p$level" => ['type' => 'string']]];
        }
        $schemas['S60'] = ['type' => 'object', 'properties' => ['id' => ['type' => 'integer']], 'allOf' => [['$ref' => '#/components/schemas/S60', 'description' => 'itself'], ['$ref' => '#/components/schemas/S0', 'description' => 'round']]];
        $content = ['application/json' => ['schema' => ['type' => 'array', 'items' => ['$ref' => '#/components/schemas/S30', 'description' => 'x']]]];
        $before = microtime(true);
        $described = Importers::read(new ImportInput((string) json_encode(['openapi' => '3.0.3', 'info' => ['title' => 'T'], 'servers' => [['url' => 'https://t.saltmarsh.example']], 'paths' => ['/a' => ['get' => ['responses' => ['200' => ['description' => 'ok', 'content' => $content]]]]], 'components' => ['schemas' => $schemas]])));
        self::assertLessThan(20.0, microtime(true) - $before, 'it ends');
        self::assertContains('id', array_column($described->endpoints[0]->endpoint['flatten']['columns'], 'name'));
    }
}
