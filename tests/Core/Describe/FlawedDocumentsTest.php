<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\ImportNotice;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Small documents with the flaws that descriptions have, each of them listed and kept whole, or refused with its reason.
 */
final class FlawedDocumentsTest extends TestCase
{
    /**
     * @return iterable<string, array{string, int, string|null, string}> the document; endpoints that are listed; a part of what is kept, null when it is refused; a part of what is said
     */
    public static function documents(): iterable
    {
        $ok = ['responses' => ['200' => ['description' => 'x']]];
        $api = static fn (array $paths, array $more = []): string => (string) json_encode($more + ['openapi' => '3.0.3', 'info' => ['title' => 'Marsh', 'version' => '1'], 'servers' => [['url' => 'https://marsh.saltmarsh.example/v1']], 'paths' => $paths], JSON_UNESCAPED_SLASHES);
        $get = static fn (array $more = []): array => ['get' => $more + ['summary' => 'Loans', 'responses' => ['200' => ['description' => 'x']]]];
        $list = static fn (array $properties): array => ['get' => ['summary' => 'Loans', 'responses' => ['200' => ['description' => 'x', 'content' => ['application/json' => ['schema' => ['type' => 'array', 'items' => ['type' => 'object', 'properties' => $properties]]]]]]]];
        $curl = 'curl https://marsh.saltmarsh.example/v1';
        yield 'a summary of a full stop' => [$api(['/loans' => $get(['summary' => '.'])]), 1, '"name":"Loans"', ''];
        yield 'two with one name' => [$api(['/loans' => $get(), '/returns' => $get()]), 2, '"name":"Loans (GET /returns)"', ''];
        yield 'one operationId twice' => [$api(['/loans' => $get(['operationId' => 'list']), '/returns' => $get(['operationId' => 'list'])]), 2, '"slug":"list"', 'is the id of GET /loans as well'];
        yield 'no operationId and no summary' => [$api(['/loans' => ['get' => $ok]]), 1, '"name":"Loans"', 'It has no operationId'];
        yield 'a name of 400 letters' => [$api(['/loans' => $get(['summary' => str_repeat('Loans ', 70)])]), 1, '…"', ''];
        yield 'a name in another script' => [$api(['/貸出' => $get(['summary' => '貸出一覧'])]), 1, '"name":"貸出一覧"', ''];
        yield 'a fragment in the path' => [$api(['/loans#open' => $get(), '/loans' => $get()]), 2, '"path":"/loans"}},{"slug":"loans-2"', 'What follows # in a path is never sent'];
        yield 'a query in the path' => [$api(['/loans?action=open&house={house}' => $get(['parameters' => [['name' => 'house', 'in' => 'path', 'required' => true, 'schema' => ['type' => 'string']]]])]), 1, '{"name":"action","in":"query","fixed":"open"}', 'it became fixed inputs'];
        yield 'a placeholder twice' => [$api(['/houses/{house}/to/{house}' => $get(['parameters' => [['name' => 'house', 'in' => 'path', 'required' => true, 'schema' => ['type' => 'string']]]])]), 1, '/houses/{house}/to/{house}', ''];
        yield 'a placeholder nobody describes' => [$api(['/houses/{house}' => $get()]), 1, '{"name":"house","in":"path","required":true}', 'which is described nowhere'];
        $elsewhere = static fn (string $from): string => $api(['/houses' => $get(['parameters' => [['name' => 'gull', 'in' => 'query', 'schema' => ['type' => 'integer']]]]), '/loans' => $get(['parameters' => [['$ref' => $from]]])], ['components' => new \stdClass]);
        yield 'a reference into another path' => [$elsewhere('#/paths/~1houses/get/parameters/0'), 2, '"path":"/loans","inputs":[{"name":"gull","in":"query","type":"integer"}]', ''];
        yield 'a reference into another path, encoded' => [str_replace('#', '\u0023', $elsewhere('#/paths/%7E1houses/get/parameters/0')), 2, '"path":"/loans","inputs":[{"name":"gull","in":"query","type":"integer"}]', ''];
        yield 'a reference into another path, with its first step encoded' => [$elsewhere('#/%70aths/~1houses/get/parameters/0'), 2, '"path":"/loans","inputs":[{"name":"gull","in":"query","type":"integer"}]', ''];
        yield 'a reference into a path that is not there' => [$elsewhere('#/paths/~1gone/get/parameters/0'), 2, '"path":"/loans"}', 'leads nowhere'];
        yield 'an input of the path without a place' => [$api(['/houses' => $get(['parameters' => [['name' => 'house', 'in' => 'path', 'required' => true, 'schema' => ['type' => 'string']]]])]), 1, '"path":"/houses"', 'the path has no place for it'];
        yield 'one name in two places' => [$api(['/loans/{id}' => $get(['parameters' => [['name' => 'id', 'in' => 'path', 'required' => true, 'schema' => ['type' => 'string']], ['name' => 'id', 'in' => 'query', 'schema' => ['type' => 'string']]]])]), 1, '{"name":"id_2","in":"query","send_as":"id"}', ''];
        yield 'an input without a place' => [$api(['/loans' => $get(['parameters' => [['name' => 'status']]])]), 1, '"path":"/loans"}', 'without a name or a place was left out'];
        yield 'an input that refers to nothing' => [$api(['/loans' => $get(['parameters' => [['$ref' => '#/components/parameters/None']]])]), 1, '"path":"/loans"}', 'leads nowhere'];
        yield 'a schema that refers to itself' => [$api(['/loans' => $list(['id' => ['type' => 'integer'], 'parent' => ['$ref' => '#/components/schemas/Loan']])], ['components' => ['schemas' => ['Loan' => ['type' => 'object', 'properties' => ['id' => ['type' => 'integer'], 'parent' => ['$ref' => '#/components/schemas/Loan']]]]]]), 1, '{"name":"parent_id","from":"$.parent.id","type":"integer"}', ''];
        yield 'references in a circle' => [$api(['/loans' => $list(['a' => ['$ref' => '#/components/schemas/A']])], ['components' => ['schemas' => ['A' => ['$ref' => '#/components/schemas/B'], 'B' => ['$ref' => '#/components/schemas/A']]]]), 1, '{"name":"a","from":"$.a","type":"json"}', ''];
        yield 'whole numbers or text' => [$api(['/loans' => $list(['code' => ['anyOf' => [['type' => 'integer'], ['type' => 'string']]]])]), 1, '"from":"$.code","type":"text"', ''];
        yield 'types as a list' => [$api(['/loans' => $list(['code' => ['type' => ['integer', 'string', 'null']]])], ['openapi' => '3.1.0']), 1, '"from":"$.code","type":"text"', ''];
        yield 'whole numbers or others' => [$api(['/loans' => $list(['fee' => ['oneOf' => [['type' => 'integer'], ['type' => 'number']]]])]), 1, '"from":"$.fee","type":"decimal"', ''];
        yield 'an unknown type' => [$api(['/loans' => $list(['fee' => ['type' => 'money']])]), 1, '"from":"$.fee","type":"json"', ''];
        yield 'an unknown format' => [$api(['/loans' => $list(['fee' => ['type' => 'string', 'format' => 'shillings']])]), 1, '"from":"$.fee","type":"text"', 'The format "shillings" is unknown'];
        yield 'columns that differ only in capitals' => [$api(['/loans' => $list(['Id' => ['type' => 'integer'], 'ID' => ['type' => 'integer'], 'id' => ['type' => 'integer']])]), 1, '{"name":"id_3","from":"$.id","type":"integer"}', ''];
        yield 'a column with the name of a word of SQL' => [$api(['/select' => $list(['order' => ['type' => 'integer'], 'group' => ['type' => 'string']])]), 1, '{"name":"order_","from":"$.order","type":"integer"}', ''];
        yield 'no answer that succeeds' => [$api(['/loans' => ['get' => ['summary' => 'Loans', 'responses' => ['404' => ['description' => 'none']]]]]), 1, '"path":"/loans"}', ''];
        yield 'a default answer only' => [$api(['/loans' => ['get' => ['summary' => 'Loans', 'responses' => ['default' => ['description' => 'x']]]]]), 1, '"path":"/loans"}', ''];
        yield 'a server of the path' => [$api(['/loans' => $get(), '/labels' => ['servers' => [['url' => 'https://labels.saltmarsh.example']]] + $get(['summary' => 'Labels'])]), 2, '"base":"https://labels.saltmarsh.example"', ''];
        yield 'a server of the operation' => [$api(['/labels' => $get(['servers' => [['url' => 'https://labels.saltmarsh.example/v2']]])]), 1, '"base":"https://labels.saltmarsh.example/v2"', ''];
        yield 'a server that is a path' => [$api(['/loans' => $get()], ['servers' => [['url' => '/v1']]]), 1, '"bases":[]', 'which is not known for a paste'];
        yield 'a server with variables' => [$api(['/loans' => $get()], ['servers' => [['url' => 'https://{house}.saltmarsh.example', 'variables' => ['house' => ['default' => 'gull-tower']]]]]), 1, '"bases":["https://gull-tower.saltmarsh.example"]', ''];
        yield 'no server' => [$api(['/loans' => $get()], ['servers' => []]), 1, '"bases":[]', 'The file names no server'];
        yield 'OPTIONS and TRACE' => [$api(['/loans' => ['options' => $ok, 'trace' => $ok] + $get()]), 3, '"method":"TRACE"', ''];
        yield 'two schemes instead of each other' => [$api(['/loans' => $get()], ['security' => [['key' => []], ['token' => []]], 'components' => ['securitySchemes' => ['key' => ['type' => 'apiKey', 'in' => 'header', 'name' => 'X-Key'], 'token' => ['type' => 'http', 'scheme' => 'bearer']]]]), 1, '"alternatives":["key","token"]', 'It is another way to authenticate'];
        yield 'two schemes together' => [$api(['/loans' => $get()], ['security' => [['key' => [], 'token' => []]], 'components' => ['securitySchemes' => ['key' => ['type' => 'apiKey', 'in' => 'header', 'name' => 'X-Key'], 'token' => ['type' => 'http', 'scheme' => 'bearer']]]]), 1, '"alternatives":[]', ''];
        yield 'a scheme that nobody describes' => [$api(['/loans' => $get()], ['security' => [['none' => []]]]), 1, '"access":[]', 'described nowhere'];
        yield 'UTF-16 with a mark' => ["\xFF\xFE".mb_convert_encoding($api(['/loans' => $get()]), 'UTF-16LE', 'UTF-8'), 1, '"path":"/loans"', ''];
        yield 'UTF-16 without a mark' => [mb_convert_encoding($api(['/loans' => $get()]), 'UTF-16BE', 'UTF-8'), 1, '"path":"/loans"', ''];
        yield 'Swagger 2 with a body in the form' => [(string) json_encode(['swagger' => '2.0', 'info' => ['title' => 'Marsh'], 'host' => 'marsh.saltmarsh.example', 'basePath' => '/v1', 'schemes' => ['https'], 'paths' => ['/loans' => ['post' => ['summary' => 'New', 'consumes' => ['application/x-www-form-urlencoded'], 'parameters' => [['name' => 'house', 'in' => 'formData', 'type' => 'string', 'required' => true]]] + $ok]]]), 1, '"body":{"as":"form","of":{"house":{"input":"house"}}}', ''];
        yield 'a comment before the log of a HAR file' => ['{"comment": "by \\"hand\\"", "log": {"version": "1.2", "entries": [{"request": {"method": "GET", "url": "https://marsh.saltmarsh.example/v1/loans", "headers": [], "queryString": []}, "response": {"status": 200, "headers": [], "content": {"mimeType": "application/json", "text": "[{\\"id\\": 1}]"}}}]}}', 1, '"path":"/loans"', ''];
        yield 'a body with the one member text' => ["$curl/say --json '{\"text\": \"hello\"}'", 1, '"of":{"text":{"input":"text"}}', ''];
        yield 'three commands for one path' => ["$curl/loans/5?loan_id=3\n$curl/loans/\n$curl/loans", 3, '"path":"/loans/"', ''];
        yield 'YAML with a tab and a quote left open' => ["openapi: 3.0.0\ninfo:\n  title: \"Marsh\npaths:\n\t/loans: {}\n", 0, null, 'The file is not YAML'];
        yield 'no paths' => [$api([]), 0, null, 'This file describes no paths'];
    }

    #[DataProvider('documents')]
    public function test_what_is_flawed_is_kept_whole_or_refused_with_its_reason(string $document, int $listed, ?string $kept, string $said): void
    {
        try {
            $described = Importers::read(new ImportInput($document));
        } catch (CannotDescribe $cannot) {
            self::assertNull($kept, $cannot->getMessage());
            self::assertStringContainsString($said, implode(' ', $cannot->sentences));

            return;
        }
        $whole = $described->only(null);
        self::assertSame([$listed, $listed], [count($described->endpoints), count($whole->endpoints)]);
        self::assertCount($listed, array_unique(array_map(static fn (ImportedEndpoint $one): string => $one->slug(), $whole->endpoints)));
        $text = (string) json_encode(['bases' => $whole->bases, 'access' => $whole->access, 'alternatives' => array_keys($whole->alternatives), 'endpoints' => array_map(static fn (ImportedEndpoint $one): array => $one->endpoint, $whole->endpoints), 'elsewhere' => array_map(static fn (ImportedEndpoint $one): array => ['base' => $one->base], $whole->endpoints)], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES);
        self::assertStringContainsString((string) $kept, $text);
        if ($said !== '') {
            self::assertStringContainsString($said, implode("\n", array_map(static fn (ImportNotice $one): string => $one->what, $whole->mends)));
        }
    }
}
