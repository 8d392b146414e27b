<?php

declare(strict_types=1);

namespace Tests\Core\Describe\OpenApi;

use DeepSpring\Access\GivenSecrets;
use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\RequestBuilder;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\Files;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class OpenApiTest extends TestCase
{
    /**
     * Flaws of files in the wild: what is put into a sound file, and where and how the mend speaks of it.
     *
     * @return iterable<string, array{array<string, mixed>|string, string, string, string}>
     */
    public static function flaws(): iterable
    {
        $loans = static fn (array $operation): array => ['paths' => ['/loans' => ['get' => $operation]]];
        $answer = ['responses' => ['200' => ['description' => 'ok', 'content' => ['application/json' => ['schema' => ['type' => 'array', 'items' => ['type' => 'object', 'properties' => ['id' => ['type' => 'integer']]]]]]]]];
        yield 'no operationId' => [$loans($answer), 'mended', 'paths./loans.get.operationId', 'no operationId'];
        yield 'the same operationId twice' => [['paths' => ['/loans' => ['get' => ['operationId' => 'loans'] + $answer, 'post' => ['operationId' => 'loans'] + $answer]]], 'mended', 'paths./loans.post.operationId', 'GET /loans'];
        yield 'an operationId with strange characters' => [$loans(['operationId' => 'get loans!'] + $answer), 'mended', 'paths./loans.get.operationId', 'characters'];
        yield 'localhost as the server' => [['servers' => [['url' => 'http://localhost:3000/v1']]] + $loans(['operationId' => 'a'] + $answer), 'mended', 'servers[0].url', 'machine of whoever wrote it'];
        yield 'no servers' => [['servers' => []] + $loans(['operationId' => 'a'] + $answer), 'mended', 'servers', 'names no'];
        yield 'a server without an address' => [['servers' => [['description' => 'x']]] + $loans(['operationId' => 'a'] + $answer), 'left-out', 'servers[0]', 'without an address'];
        yield 'a server with a variable that has no value' => [['servers' => [['url' => 'https://{house}.saltmarsh.example']]] + $loans(['operationId' => 'a'] + $answer), 'mended', 'servers[0].variables.house', 'no value'];
        yield 'no responses' => [$loans(['operationId' => 'a']), 'note', 'paths./loans.get.responses', 'No answers'];
        yield 'a response without a schema' => [$loans(['operationId' => 'a', 'responses' => ['200' => ['description' => 'ok']]]), 'note', 'paths./loans.get.responses.200', 'no schema'];
        yield 'a reference that leads nowhere' => [$loans(['operationId' => 'a', 'responses' => ['200' => ['content' => ['application/json' => ['schema' => ['$ref' => '#/components/schemas/Gone']]]]]]), 'mended', 'paths./loans.get.responses.200', 'leads nowhere'];
        yield 'members beside a reference' => [['components' => ['schemas' => ['Loan' => ['type' => 'object', 'properties' => ['id' => ['type' => 'integer']]]]]] + $loans(['operationId' => 'a', 'responses' => ['200' => ['content' => ['application/json' => ['schema' => ['$ref' => '#/components/schemas/Loan', 'nullable' => true]]]]]]), 'mended', 'paths./loans.get.responses.200', 'beside a $ref'];
        yield 'a parameter without a name' => [$loans(['operationId' => 'a', 'parameters' => [['in' => 'query']]] + $answer), 'left-out', 'paths./loans.get.parameters[0]', 'without a name'];
        yield 'a parameter that is nowhere in the path' => [$loans(['operationId' => 'a', 'parameters' => [['name' => 'id', 'in' => 'path', 'required' => true]]] + $answer), 'left-out', 'paths./loans.get.parameters.id', 'no place'];
        yield 'a path with an undescribed part' => [['paths' => ['/loans/{id}' => ['get' => ['operationId' => 'a'] + $answer]]], 'mended', 'paths./loans/{id}.get.parameters', 'described nowhere'];
        yield 'a query in the path' => [['paths' => ['/loans?kind=all' => ['get' => ['operationId' => 'a'] + $answer]]], 'mended', 'paths./loans?kind=all.get', 'query'];
        yield 'a scheme that is not described' => [$loans(['operationId' => 'a', 'security' => [['desk' => []]]] + $answer), 'left-out', 'security.desk', 'described nowhere'];
        yield 'a scheme of an unknown type' => [['components' => ['securitySchemes' => ['desk' => ['type' => 'http', 'scheme' => 'hoba']]]] + $loans(['operationId' => 'a', 'security' => [['desk' => []]]] + $answer), 'mended', 'securitySchemes.desk', 'hoba'];
        yield 'a header that is none' => [$loans(['operationId' => 'a', 'parameters' => [['name' => 'X House', 'in' => 'header']]] + $answer), 'left-out', 'paths./loans.get.parameters.X House', 'cannot be used'];
        yield 'a method that is none' => [(string) json_encode(['openapi' => '3.0.0', 'paths' => ['/loans' => ['get' => ['operationId' => 'a'] + $answer, 'fetch' => []]]]), 'left-out', 'paths./loans.fetch', 'is no method'];
        yield 'an operation that is none' => [(string) json_encode(['openapi' => '3.0.0', 'paths' => ['/loans' => ['get' => ['operationId' => 'a'] + $answer, 'put' => 'later']]]), 'left-out', 'paths./loans.put', 'no description of an operation'];
        yield 'part of a value in the query of a path' => [(string) json_encode(['openapi' => '3.0.0', 'paths' => ['/loans?at={day}T00' => ['get' => ['operationId' => 'a'] + $answer]]]), 'left-out', 'paths./loans?at={day}T00.get', 'the whole of a value'];
        yield 'a member twice' => ['{"openapi": "3.0.0", "paths": {"/loans": {"get": {"operationId": "a", "summary": "one", "summary": "two"}}}}', 'mended', 'paths./loans.get.summary', 'twice'];
        yield 'a comma too many' => ['{"openapi": "3.0.0", "paths": {"/loans": {"get": {"operationId": "a",},},}}', 'mended', '', 'Commas'];
        yield 'a comment in JSON' => ["{\"openapi\": \"3.0.0\", // of the desk\n \"paths\": {\"/loans\": {\"get\": {\"operationId\": \"a // b\"}}}}", 'mended', '', 'comments'];
        yield 'a byte order mark' => ["\xEF\xBB\xBF{\"openapi\": \"3.0.0\", \"paths\": {\"/loans\": {\"get\": {\"operationId\": \"a\"}}}}", 'mended', '', 'byte order mark'];
        yield 'tabs in YAML' => ["openapi: 3.0.0\npaths:\n\t/loans:\n\t\tget:\n\t\t\toperationId: a\n", 'mended', '', 'tabs'];
        yield 'a name twice in YAML' => ["openapi: 3.0.0\npaths:\n  /loans:\n    get:\n      operationId: a\n      summary: one\n      summary: two\n", 'mended', 'line 7', 'twice'];
        yield 'a text that needs quotes' => ["openapi: 3.0.0\npaths:\n  /loans:\n    get:\n      operationId: a\n      summary: Loans: all of them\n", 'mended', 'line 6', 'quotes'];
        yield 'another encoding' => [mb_convert_encoding("openapi: 3.0.0\npaths:\n  /loans:\n    get:\n      operationId: a\n      summary: Prêts\n", 'Windows-1252', 'UTF-8'), 'mended', '', 'not UTF-8'];
        yield 'a method unknown to it is passed over' => [['paths' => ['/loans' => ['get' => ['operationId' => 'a'], 'fetch' => 'x']]], 'note', 'paths./loans.get.responses', 'No answers'];
        yield 'an unknown format' => [$loans(['operationId' => 'a', 'parameters' => [['name' => 'size', 'in' => 'query', 'schema' => ['type' => 'string', 'format' => 'tenth']]]]), 'mended', 'paths./loans.get.size', 'tenth'];
    }

    /**
     * @param  array<string, mixed>|string  $file
     */
    #[DataProvider('flaws')]
    public function test_a_flaw_stops_nothing_and_is_listed_with_its_place(array|string $file, string $kind, string $place, string $part): void
    {
        $found = $this->read(is_string($file) ? $file : (string) json_encode($file + ['openapi' => '3.0.3', 'info' => ['title' => 'Loans'], 'servers' => [['url' => 'https://loans.saltmarsh.example/v2']]], JSON_UNESCAPED_SLASHES));
        self::assertNotSame([], $found->endpoints);
        $told = array_values(array_filter($found->mends, static fn (ImportNotice $one): bool => $one->kind === $kind && $one->place === $place && str_contains($one->what, $part)));
        self::assertCount(1, $told, (string) json_encode(array_map(static fn (ImportNotice $one): array => $one->toArray(), $found->mends), JSON_PRETTY_PRINT));
    }

    public function test_a_sound_file_has_nothing_to_mend(): void
    {
        self::assertSame([], $this->standIn('loans-desk/openapi.yaml')->mends);
    }

    /**
     * The tables of the specification (OpenAPI 3.1.1 §4.7.12.5): style, explode, kind of value → what leaves.
     *
     * @return iterable<string, array{string, string, bool, mixed, string}>
     */
    public static function styles(): iterable
    {
        $array = ['blue', 'black', 'brown'];
        $object = ['R' => 100, 'G' => 200, 'B' => 150];
        yield 'matrix, string' => ['path', 'matrix', false, 'blue', '/x/;color=blue'];
        yield 'matrix, string, explode' => ['path', 'matrix', true, 'blue', '/x/;color=blue'];
        yield 'matrix, array' => ['path', 'matrix', false, $array, '/x/;color=blue,black,brown'];
        yield 'matrix, array, explode' => ['path', 'matrix', true, $array, '/x/;color=blue;color=black;color=brown'];
        yield 'matrix, object, explode' => ['path', 'matrix', true, $object, '/x/;R=100;G=200;B=150'];
        yield 'matrix, object' => ['path', 'matrix', false, $object, '/x/;color=R,100,G,200,B,150'];
        yield 'label, string' => ['path', 'label', false, 'blue', '/x/.blue'];
        yield 'label, array' => ['path', 'label', false, $array, '/x/.blue,black,brown'];
        yield 'label, string, explode' => ['path', 'label', true, 'blue', '/x/.blue'];
        yield 'label, array, explode' => ['path', 'label', true, $array, '/x/.blue.black.brown'];
        yield 'label, object, explode' => ['path', 'label', true, $object, '/x/.R=100.G=200.B=150'];
        yield 'label, object' => ['path', 'label', false, $object, '/x/.R,100,G,200,B,150'];
        yield 'simple, string' => ['path', 'simple', false, 'blue', '/x/blue'];
        yield 'simple, array' => ['path', 'simple', false, $array, '/x/blue,black,brown'];
        yield 'simple, array, explode' => ['path', 'simple', true, $array, '/x/blue,black,brown'];
        yield 'simple, object' => ['path', 'simple', false, $object, '/x/R,100,G,200,B,150'];
        yield 'simple, object, explode' => ['path', 'simple', true, $object, '/x/R=100,G=200,B=150'];
        yield 'form, string' => ['query', 'form', false, 'blue', '/x?color=blue'];
        yield 'form, string, explode' => ['query', 'form', true, 'blue', '/x?color=blue'];
        yield 'form, array' => ['query', 'form', false, $array, '/x?color=blue,black,brown'];
        yield 'form, array, explode' => ['query', 'form', true, $array, '/x?color=blue&color=black&color=brown'];
        yield 'form, object' => ['query', 'form', false, $object, '/x?color=R,100,G,200,B,150'];
        yield 'form, object, explode' => ['query', 'form', true, $object, '/x?R=100&G=200&B=150'];
        yield 'spaceDelimited, array' => ['query', 'spaceDelimited', false, $array, '/x?color=blue%20black%20brown'];
        yield 'pipeDelimited, array' => ['query', 'pipeDelimited', false, $array, '/x?color=blue%7Cblack%7Cbrown'];
        yield 'spaceDelimited, object' => ['query', 'spaceDelimited', false, $object, '/x?color=R%20100%20G%20200%20B%20150'];
        yield 'pipeDelimited, object' => ['query', 'pipeDelimited', false, $object, '/x?color=R%7C100%7CG%7C200%7CB%7C150'];
        yield 'deepObject, object' => ['query', 'deepObject', true, $object, '/x?color%5BR%5D=100&color%5BG%5D=200&color%5BB%5D=150'];
        yield 'simple header' => ['header', 'simple', false, $array, 'color: blue,black,brown'];
        yield 'simple header, object' => ['header', 'simple', false, $object, 'color: R,100,G,200,B,150'];
        yield 'simple header, string' => ['header', 'simple', true, 'blue', 'color: blue'];
        yield 'simple header, object, explode' => ['header', 'simple', true, $object, 'color: R=100,G=200,B=150'];
        yield 'form cookie' => ['cookie', 'form', false, 'blue', 'cookie: color=blue'];
    }

    #[DataProvider('styles')]
    public function test_a_parameter_is_sent_in_its_style(string $in, string $style, bool $explode, mixed $value, string $sent): void
    {
        $schema = match (true) {
            is_string($value) => ['type' => 'string'],
            array_is_list((array) $value) => ['type' => 'array', 'items' => ['type' => 'string']],
            default => ['type' => 'object', 'properties' => ['R' => ['type' => 'integer'], 'G' => ['type' => 'integer'], 'B' => ['type' => 'integer']]],
        };
        $path = $in === 'path' ? '/x/{color}' : '/x';
        $found = $this->read((string) json_encode(['openapi' => '3.1.1', 'servers' => [['url' => 'https://paint.saltmarsh.example']], 'paths' => [$path => ['get' => ['operationId' => 'a', 'parameters' => [['name' => 'color', 'in' => $in, 'required' => true, 'style' => $style, 'explode' => $explode, 'schema' => $schema, 'example' => $value]]]]]]));
        $ask = AskDefinition::of($found->endpoints[0]->endpoint['ask']);
        $request = (new RequestBuilder('https://paint.saltmarsh.example', [], [], []))->build($ask, $ask->tryValues(), new GivenSecrets([]));
        self::assertSame($sent, in_array($in, ['header', 'cookie'], true) ? ($in === 'cookie' ? 'cookie: '.$request->getHeaderLine('cookie') : 'color: '.$request->getHeaderLine('color')) : $request->getRequestTarget());
    }

    /**
     * @return iterable<string, array{array<string, mixed>, list<array<string, mixed>>}>
     */
    public static function schemes(): iterable
    {
        $flow = ['tokenUrl' => '/oauth/token', 'authorizationUrl' => 'https://id.saltmarsh.example/authorize', 'scopes' => ['read' => '']];
        yield 'a key in a header' => [['type' => 'apiKey', 'in' => 'header', 'name' => 'X-Key'], [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Key', 'value' => ['secret' => 'desk']]]];
        yield 'a key in the query' => [['type' => 'apiKey', 'in' => 'query', 'name' => 'key'], [['scheme' => 'api-key', 'in' => 'query', 'name' => 'key', 'value' => ['secret' => 'desk']]]];
        yield 'a key in a cookie' => [['type' => 'apiKey', 'in' => 'cookie', 'name' => 'sid'], [['scheme' => 'api-key', 'in' => 'cookie', 'name' => 'sid', 'value' => ['secret' => 'desk']]]];
        yield 'basic' => [['type' => 'http', 'scheme' => 'Basic'], [['scheme' => 'basic', 'username' => ['secret' => 'username'], 'password' => ['secret' => 'password']]]];
        yield 'bearer' => [['type' => 'http', 'scheme' => 'bearer'], [['scheme' => 'bearer', 'token' => ['secret' => 'desk']]]];
        yield 'basic of version 2' => [['type' => 'basic'], [['scheme' => 'basic', 'username' => ['secret' => 'username'], 'password' => ['secret' => 'password']]]];
        yield 'client credentials' => [['type' => 'oauth2', 'flows' => ['clientCredentials' => $flow]], [['scheme' => 'oauth2-client-credentials', 'token_url' => 'https://loans.saltmarsh.example/oauth/token', 'client_id' => ['secret' => 'client_id'], 'client_secret' => ['secret' => 'client_secret'], 'scope' => 'read']]];
        yield 'authorization code' => [['type' => 'oauth2', 'flows' => ['authorizationCode' => $flow]], [['scheme' => 'oauth2-authorization-code', 'authorize_url' => 'https://id.saltmarsh.example/authorize', 'token_url' => 'https://loans.saltmarsh.example/oauth/token', 'client_id' => ['secret' => 'client_id'], 'client_secret' => ['secret' => 'client_secret'], 'scope' => 'read', 'pkce' => true, 'shared' => true]]];
        yield 'application of version 2' => [['type' => 'oauth2', 'flow' => 'application'] + $flow, [['scheme' => 'oauth2-client-credentials', 'token_url' => 'https://loans.saltmarsh.example/oauth/token', 'client_id' => ['secret' => 'client_id'], 'client_secret' => ['secret' => 'client_secret'], 'scope' => 'read']]];
        yield 'implicit' => [['type' => 'oauth2', 'flows' => ['implicit' => $flow]], [['scheme' => 'bearer', 'token' => ['secret' => 'token']]]];
        yield 'OpenID Connect' => [['type' => 'openIdConnect', 'openIdConnectUrl' => 'https://id.saltmarsh.example/.well-known/openid-configuration'], [['scheme' => 'bearer', 'token' => ['secret' => 'desk']]]];
        yield 'mutual TLS' => [['type' => 'mutualTLS'], [['scheme' => 'client-certificate', 'certificate' => ['secret' => 'certificate'], 'key' => ['secret' => 'certificate_key']]]];
    }

    /**
     * @param  array<string, mixed>  $scheme
     * @param  list<array<string, mixed>>  $access
     */
    #[DataProvider('schemes')]
    public function test_a_security_scheme_becomes_access(array $scheme, array $access): void
    {
        $found = $this->read((string) json_encode(['openapi' => '3.0.3', 'servers' => [['url' => 'https://loans.saltmarsh.example/v2']], 'security' => [[], ['desk' => ['read', 'unknown']]], 'components' => ['securitySchemes' => ['desk' => $scheme]], 'paths' => ['/x' => ['get' => ['operationId' => 'a']]]]));
        self::assertSame($access, $found->access);
    }

    /**
     * @return iterable<string, array{list<string>, array<string, mixed>, array<string, mixed>|null}>
     */
    public static function paging(): iterable
    {
        $text = ['type' => 'string'];
        $number = ['type' => 'integer'];
        yield 'page and pages' => [['page', 'per_page'], ['pages' => $number], ['style' => 'page', 'send_as' => 'page', 'size_as' => 'per_page', 'size' => 50, 'pages' => '$.pages']];
        yield 'page and total in meta' => [['pageNumber', 'pageSize'], ['meta' => ['type' => 'object', 'properties' => ['totalCount' => $number]]], ['style' => 'page', 'send_as' => 'pageNumber', 'size_as' => 'pageSize', 'size' => 50, 'total' => '$.meta.totalCount']];
        yield 'a cursor' => [['after', 'limit'], ['next' => $text, 'has_more' => ['type' => 'boolean']], ['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next', 'more' => '$.has_more', 'size_as' => 'limit', 'size' => 50]];
        yield 'a page token' => [['pageToken'], ['nextPageToken' => $text], ['style' => 'cursor', 'send_as' => 'pageToken', 'next' => '$.nextPageToken']];
        yield 'a cursor deep inside' => [['cursor'], ['meta' => ['type' => 'object', 'properties' => ['next_cursor' => ['type' => ['string', 'null']]]]], ['style' => 'cursor', 'send_as' => 'cursor', 'next' => '$.meta.next_cursor']];
        yield 'an offset' => [['offset', 'limit'], ['total' => $number], ['style' => 'offset', 'send_as' => 'offset', 'size_as' => 'limit', 'size' => 50, 'total' => '$.total']];
        yield 'a link is preferred to an offset' => [['offset', 'limit'], ['next' => ['type' => 'string', 'format' => 'uri']], ['style' => 'next-link', 'link' => '$.next', 'size_as' => 'limit', 'size' => 50]];
        yield 'a link' => [[], ['next' => ['type' => 'string', 'format' => 'uri']], ['style' => 'next-link', 'link' => '$.next']];
        yield 'a link among links' => [[], ['links' => ['type' => 'object', 'properties' => ['next' => $text]]], ['style' => 'next-link', 'link' => '$.links.next']];
        yield 'no sign of it' => [['status'], ['as_of' => $text], null];
        yield 'a size alone' => [['limit'], ['as_of' => $text], null];
    }

    /**
     * @param  list<string>  $query
     * @param  array<string, mixed>  $members
     * @param  array<string, mixed>|null  $onward
     */
    #[DataProvider('paging')]
    public function test_paging_is_recognised_and_its_parameters_are_no_inputs(array $query, array $members, ?array $onward): void
    {
        $parameters = array_map(static fn (string $name): array => ['name' => $name, 'in' => 'query', 'schema' => ['type' => 'string']], $query);
        $schema = ['type' => 'object', 'properties' => ['data' => ['type' => 'array', 'items' => ['type' => 'object', 'properties' => ['id' => ['type' => 'integer']]]]] + $members];
        $found = $this->read((string) json_encode(['openapi' => '3.1.0', 'paths' => ['/loans' => ['get' => ['operationId' => 'a', 'parameters' => $parameters, 'responses' => ['200' => ['content' => ['application/json' => ['schema' => $schema]]]]]]]]));
        $endpoint = $found->endpoints[0]->endpoint;
        self::assertSame($onward, $endpoint['onward'] ?? null);
        self::assertSame('$.data[*]', $endpoint['answer']['records']);
        self::assertCount($onward === null ? count($query) : 0, $endpoint['ask']['inputs'] ?? []);
    }

    public function test_schemas_become_columns_before_any_request(): void
    {
        $flatten = $this->standIn('loans-desk/openapi.yaml')->endpoints[0]->endpoint['flatten'];
        $types = array_column($flatten['columns'], 'type', 'name');
        foreach (['id' => 'integer', 'ref' => 'text', 'due' => 'date', 'packed_at' => 'datetime', 'fee' => 'decimal', 'borrower_contact_email' => 'text', 'insurance_value' => 'decimal', 'tags' => 'text'] as $name => $type) {
            self::assertSame($type, $types[$name] ?? 'missing', $name);
        }
        self::assertSame(['id'], $flatten['key']);
        self::assertSame(['loans_items', '$.items[*]', ['loan_id', 'position']], [$flatten['branches'][0]['table'], $flatten['branches'][0]['from'], $flatten['branches'][0]['key']]);
    }

    public function test_a_body_has_required_members_optional_objects_and_examples(): void
    {
        $ask = $this->standIn('loans-desk/openapi.yaml')->endpoints[1]->endpoint['ask'];
        $inputs = array_column($ask['inputs'], null, 'name');
        self::assertSame(['$.insurance'], $ask['body']['optional']);
        self::assertTrue($inputs['borrower']['required'] && $inputs['policy']['required']);
        self::assertSame(['gull-tower', ['0042.01'], 'SMK', 'number'], [$inputs['borrower']['try'], $inputs['objects']['try'], $inputs['currency']['default'], $inputs['value']['type']]);
        self::assertArrayNotHasKey('required', $inputs['note']);
    }

    public function test_circles_end(): void
    {
        $found = $this->read((string) json_encode(['openapi' => '3.0.0', 'components' => ['schemas' => ['Box' => ['type' => 'object', 'properties' => ['id' => ['type' => 'string'], 'inner' => ['$ref' => '#/components/schemas/Box'], 'all' => ['type' => 'array', 'items' => ['$ref' => '#/components/schemas/Box']]]], 'Loop' => ['$ref' => '#/components/schemas/Loop'], 'Both' => ['allOf' => [['$ref' => '#/components/schemas/Both']]]]], 'paths' => [
            '/boxes' => ['get' => ['operationId' => 'a', 'responses' => ['200' => ['content' => ['application/json' => ['schema' => ['type' => 'array', 'items' => ['$ref' => '#/components/schemas/Box']]]]]]], 'post' => ['operationId' => 'b', 'requestBody' => ['content' => ['application/json' => ['schema' => ['$ref' => '#/components/schemas/Box']]]]]],
            '/loops' => ['get' => ['operationId' => 'c', 'responses' => ['200' => ['content' => ['application/json' => ['schema' => ['$ref' => '#/components/schemas/Loop']]]]]]],
            '/both' => ['get' => ['operationId' => 'd', 'responses' => ['200' => ['content' => ['application/json' => ['schema' => ['$ref' => '#/components/schemas/Both']]]]]]],
        ]]));
        self::assertCount(4, $found->endpoints);
        self::assertSame(['id' => 'text', 'inner_' => 'json', 'all_' => 'json'], array_column($found->endpoints[0]->endpoint['flatten']['columns'], 'type', 'name'));
        self::assertSame(['id' => 'text', 'inner' => 'json', 'all' => 'json'], array_map(static fn (array $one): string => $one['type'] ?? 'text', array_column($found->endpoints[1]->endpoint['ask']['inputs'], null, 'name')));
    }

    public function test_parameters_of_the_path_are_overridden_by_the_operation(): void
    {
        $found = $this->read((string) json_encode(['openapi' => '3.0.0', 'paths' => ['/loans/{id}' => ['parameters' => [['name' => 'id', 'in' => 'path', 'required' => true, 'schema' => ['type' => 'string']], ['name' => 'full', 'in' => 'query', 'schema' => ['type' => 'boolean']]], 'get' => ['operationId' => 'a', 'parameters' => [['name' => 'id', 'in' => 'path', 'required' => true, 'schema' => ['type' => 'integer'], 'example' => 7]]]]]]));
        self::assertSame([['name' => 'id', 'in' => 'path', 'required' => true, 'type' => 'integer', 'try' => 7], ['name' => 'full', 'in' => 'query', 'type' => 'boolean']], $found->endpoints[0]->endpoint['ask']['inputs']);
    }

    public function test_references_into_other_files(): void
    {
        $main = "openapi: 3.0.0\npaths:\n  /loans:\n    \$ref: paths/loans.yaml\n";
        $files = ['api/openapi.yaml' => $main, 'api/paths/loans.yaml' => "get:\n  operationId: loans\n  responses:\n    '200':\n      content:\n        application/json:\n          schema:\n            type: array\n            items:\n              \$ref: ../schemas.yaml#/Loan\n", 'api/schemas.yaml' => "Loan:\n  type: object\n  properties:\n    id: {type: integer}\n    house: {\$ref: '#/House'}\nHouse:\n  type: object\n  properties:\n    name: {type: string}\n"];
        $found = Importers::read(new ImportInput($main, 'api/openapi.yaml', null, new Files($files)));
        self::assertSame(['id', 'house_name'], array_column($found->endpoints[0]->endpoint['flatten']['columns'], 'name'));
    }

    public function test_other_media_types(): void
    {
        $content = static fn (string $type, array $schema): array => ['openapi' => '3.0.0', 'paths' => ['/x' => ['post' => ['operationId' => 'a', 'requestBody' => ['content' => [$type => ['schema' => $schema]]]]]]];
        $object = ['type' => 'object', 'required' => ['title'], 'properties' => ['title' => ['type' => 'string', 'example' => 'Lantern'], 'scan' => ['type' => 'string', 'format' => 'binary']]];
        $ask = fn (string $type, array $schema): array => $this->read((string) json_encode($content($type, $schema)))->endpoints[0]->endpoint['ask'];
        self::assertSame(['multipart', 'file'], [$ask('multipart/form-data', $object)['body']['as'], $ask('multipart/form-data', $object)['inputs'][1]['type']]);
        self::assertSame('form', $ask('application/x-www-form-urlencoded', $object)['body']['as']);
        self::assertSame(['content-type' => 'application/merge-patch+json'], $ask('application/merge-patch+json', $object)['headers']);
        self::assertSame(['xml', "<request>\n  <title>{title}</title>\n  <scan>{scan}</scan>\n</request>\n"], [$ask('application/xml', $object)['body']['as'], $ask('application/xml', $object)['body']['of']]);
        self::assertSame(['text', '{body}', 'file'], [$ask('application/octet-stream', ['type' => 'string'])['body']['as'], $ask('application/octet-stream', ['type' => 'string'])['body']['of'], $ask('application/octet-stream', ['type' => 'string'])['inputs'][0]['type']]);
    }

    public function test_the_flawed_files_of_the_stand_ins_become_valid_sources(): void
    {
        $stores = $this->standIn('stores/openapi.json');
        self::assertSame(['http://127.0.0.1:8401/stores/v1'], $stores->bases);
        self::assertSame(['list', 'get', 'update'], array_map(static fn (ImportedEndpoint $one): string => $one->endpoint['does'], $stores->endpoints));
        $labels = $this->standIn('label-writer/openapi.yaml');
        self::assertSame(['title', 'materials', 'tone', 'words'], array_column($labels->endpoints[0]->endpoint['ask']['inputs'], 'name'));
        self::assertSame(["Pilot's coat", ['wool', 'horn'], 'warm'], array_column($labels->endpoints[0]->endpoint['ask']['inputs'], 'try'));
    }

    public function test_what_is_no_description_is_refused(): void
    {
        foreach (['{"openapi": "3.0.0"}', '{"openapi": "3.0.0", "paths": {}}', '{"openapi": "3.0.0", "paths": {"/x": {}}}', "openapi: 3.0.0\n  bad: [", "openapi: *x\n"] as $text) {
            try {
                $this->read($text);
                self::fail($text);
            } catch (CannotDescribe $cannot) {
                self::assertNotSame('', $cannot->getMessage());
            }
        }
    }

    private function standIn(string $file): Described
    {
        return $this->read((string) file_get_contents(dirname(__DIR__, 4)."/standins/$file"), "http://127.0.0.1:8401/$file");
    }

    private function read(string $text, ?string $from = null): Described
    {
        $found = Importers::read(new ImportInput($text, '', $from));
        SourceFile::of($found->document('x', 'X', 'trial', 'https://loans.saltmarsh.example'));

        return $found;
    }
}
