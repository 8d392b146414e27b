<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Access\GivenSecrets;
use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\RequestBuilder;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\Files;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Describe\Seen\Path;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Requests that somebody sent or wrote down become endpoints.
 */
final class SeenTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string, array<string, string>}>
     */
    public static function paths(): iterable
    {
        yield 'a number' => ['/loans/8812', '/loans/{loan_id}', ['loan_id' => '8812']];
        yield 'a number in the middle' => ['/loans/8812/items', '/loans/{loan_id}/items', ['loan_id' => '8812']];
        yield 'two numbers' => ['/loans/8812/items/3', '/loans/{loan_id}/items/{item_id}', ['loan_id' => '8812', 'item_id' => '3']];
        yield 'a UUID' => ['/couriers/0b8e5c71-f9a2-4d46-8a1c-55d0b7e23f2a', '/couriers/{courier_id}', ['courier_id' => '0b8e5c71-f9a2-4d46-8a1c-55d0b7e23f2a']];
        yield 'a day' => ['/sales/2031-03-02', '/sales/{sale_id}', ['sale_id' => '2031-03-02']];
        yield 'a number with letters before' => ['/crates/CR-117', '/crates/{crate_id}', ['crate_id' => 'CR-117']];
        yield 'hexadecimal' => ['/labels/5f2b8c0d9e1a4b3c', '/labels/{label_id}', ['label_id' => '5f2b8c0d9e1a4b3c']];
        yield 'an object number' => ['/objects/0042.01', '/objects/{object_id}', ['object_id' => '0042.01']];
        yield 'a version is none' => ['/v2/loans', '/v2/loans', []];
        yield 'words are none' => ['/loans/north-quay/open', '/loans/north-quay/open', []];
        yield 'a placeholder in braces' => ['/loans/{id}', '/loans/{id}', ['id' => '']];
        yield 'a placeholder with a colon' => ['/loans/:loanId', '/loans/{loanId}', ['loanId' => '']];
        yield 'a placeholder in angles' => ['/loans/%3Cloan id%3E', '/loans/{loan_id}', ['loan_id' => '']];
        yield 'a variable of a shell' => ['/loans/${LOAN}', '/loans/{loan}', ['loan' => '']];
        yield 'a slash at the end' => ['/loans/', '/loans/', []];
        yield 'a plural in -ies' => ['/bodies/12', '/bodies/{body_id}', ['body_id' => '12']];
    }

    /**
     * @param  array<string, string>  $values
     */
    #[DataProvider('paths')]
    public function test_what_varies_in_a_path_is_found(string $path, string $template, array $values): void
    {
        self::assertSame([$template, $values], Path::template($path));
    }

    public function test_a_command_becomes_an_endpoint_without_its_secrets(): void
    {
        $found = $this->read("curl -u 'desk:open sesame' -H 'X-Freight-Key: ft-9981-aa' -H 'X-Circle-House: hq' 'https://track.saltmarsh.example/v3/consignments?since=2030-01-01&token=tt-1&page=2&tag=a&tag=b&kind[]=x'");
        self::assertSame(['https://track.saltmarsh.example/v3'], $found->bases);
        self::assertSame([
            ['scheme' => 'basic', 'username' => 'desk', 'password' => ['secret' => 'password']],
            ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Freight-Key', 'value' => ['secret' => 'key']],
            ['scheme' => 'api-key', 'in' => 'query', 'name' => 'token', 'value' => ['secret' => 'key_2']],
        ], $found->access);
        self::assertSame(['x-circle-house' => 'hq'], $found->headers);
        self::assertSame(['slug' => 'consignments', 'name' => 'Consignments', 'does' => 'list', 'ask' => ['method' => 'GET', 'path' => '/consignments', 'inputs' => [
            ['name' => 'since', 'in' => 'query', 'try' => '2030-01-01'], ['name' => 'page', 'in' => 'query', 'try' => '2'],
            ['name' => 'tag', 'in' => 'query', 'many' => 'repeat', 'try' => ['a', 'b']], ['name' => 'kind', 'in' => 'query', 'many' => 'brackets', 'try' => ['x']],
        ]], 'keep' => ['inputs' => ['since' => '2030-01-01', 'page' => '2', 'tag' => [['a', 'b']], 'kind' => 'x']]], $found->endpoints[0]->endpoint);
        self::assertSame(['key' => 'ft-9981-aa', 'key_2' => 'tt-1', 'password' => 'open sesame'], $this->sorted($found->secrets));
    }

    public function test_a_json_body_becomes_a_tree_with_typed_inputs(): void
    {
        $found = $this->read("curl https://loans.saltmarsh.example/v2/loans --json '{\"borrower\": \"gull-tower\", \"count\": 2, \"fee\": 12.5, \"sealed\": true, \"due\": \"2031-03-02\", \"objects\": [\"0042.01\"], \"insurance\": {\"value\": 10}, \"lender\": {\"value\": 11}, \"note\": null, \"moves\": [{\"to\": \"x\"}], \"odd\": {}}' -H 'Idempotency-Key: 77'");
        $ask = $found->endpoints[0]->endpoint['ask'];
        self::assertSame('create', $found->endpoints[0]->endpoint['does']);
        self::assertSame(['idempotency-key' => 'text', 'borrower' => 'text', 'count' => 'integer', 'fee' => 'number', 'sealed' => 'boolean', 'due' => 'date', 'objects' => 'text', 'value' => 'integer', 'lender_value' => 'integer', 'moves' => 'json'], array_map(static fn (array $input): string => $input['type'] ?? 'text', array_column($ask['inputs'], null, 'name')));
        self::assertEquals(json_decode('{"borrower":{"input":"borrower"},"count":{"input":"count"},"fee":{"input":"fee"},"sealed":{"input":"sealed"},"due":{"input":"due"},"objects":{"input":"objects"},"insurance":{"value":{"input":"value"}},"lender":{"value":{"input":"lender_value"}},"note":{"literal":null},"moves":{"input":"moves"},"odd":{"literal":{}}}'), $ask['body']['of']);
    }

    public function test_other_bodies(): void
    {
        $form = $this->read("curl https://a.saltmarsh.example/v1/x -d 'a=1&b=x%20y&a=2'")->endpoints[0]->endpoint['ask'];
        self::assertSame(['form', ['1', '2'], 'x y'], [$form['body']['as'], $form['inputs'][0]['try'], $form['inputs'][1]['try']]);
        $parts = Importers::read(new ImportInput('curl https://a.saltmarsh.example/v1/x -F label=@wall.pdf -F note=hello', '', null, new Files(['wall.pdf' => 'PDF'])))->endpoints[0]->endpoint['ask'];
        self::assertSame(['multipart', 'file', 'data:application/octet-stream;name=wall.pdf;base64,UERG'], [$parts['body']['as'], $parts['inputs'][0]['type'], $parts['inputs'][0]['try']]);
        $text = $this->read("curl https://a.saltmarsh.example/v1/x -H 'Content-Type: application/sql' --data-binary 'select {a}'")->endpoints[0]->endpoint['ask'];
        self::assertSame(['text', 'select {{a}}', 'application/sql'], [$text['body']['as'], $text['body']['of'], $text['headers']['content-type']]);
        $xml = $this->read("curl https://a.saltmarsh.example/v1/x -H 'Content-Type: application/xml' -d '<a/>'")->endpoints[0]->endpoint['ask'];
        self::assertSame('xml', $xml['body']['as']);
    }

    public function test_a_password_in_a_body_is_not_kept(): void
    {
        $found = $this->read("curl https://a.saltmarsh.example/v1/session --json '{\"user\": \"desk\", \"password\": \"canary-99\"}'");
        self::assertStringNotContainsString('canary', serialize($found->endpoints).serialize($found->mends));
        self::assertStringContainsString('looks like a secret', $found->mends[0]->what);
    }

    public function test_a_secret_under_an_innocent_name_is_still_one(): void
    {
        $found = $this->read("curl -H 'X-Reader: st-0b8e-5c71' -H 'X-Gate-Key: st-0b8e-5c71' -H 'X-Door: 9f61c07ae4d8532b9f61c07a' -H 'X-House: north-quay' -H 'Accept: application/vnd.saltmarsh.loans+json' -b 'sid=5577; lang=en' https://a.saltmarsh.example/v1/x");
        self::assertSame(['accept' => 'application/vnd.saltmarsh.loans+json', 'x-house' => 'north-quay'], $found->headers);
        self::assertSame(['sid' => 'session', 'X-Reader' => 'key', 'X-Gate-Key' => 'key', 'X-Door' => 'key_2'], array_map(static fn (array $value): string => $value['secret'], array_column($found->access, 'value', 'name')));
        self::assertSame([['name' => 'lang', 'in' => 'cookie', 'try' => 'en']], $found->endpoints[0]->endpoint['ask']['inputs']);
    }

    public function test_what_stands_beside_a_secret_in_a_header_of_the_same_name_is_named(): void
    {
        $found = $this->read("curl -H 'X-House: hq' -H 'X-Api-Key: k-1' -H 'X-House: k-1' -H 'X-Desk: 2' https://loans.saltmarsh.example/v2/loans");
        self::assertSame([['X-Api-Key', 'key'], ['X-House', 'key']], array_map(static fn (array $one): array => [$one['name'], $one['value']['secret']], $found->access));
        self::assertSame(['x-desk' => '2'], $found->headers);
        self::assertSame(['Another value of the header X-House: what is sent under this name is a secret.'], array_map(static fn (ImportNotice $one): string => $one->what, $found->mends));
    }

    public function test_placeholders_of_a_documentation_are_no_secrets(): void
    {
        foreach (['YOUR_TOKEN', '<token>', '{token}', '$TOKEN', '${TOKEN}', 'xxxx', '{{ token }}', '••••••3f2a'] as $placeholder) {
            $found = $this->read("curl -H 'Authorization: Bearer $placeholder' https://a.saltmarsh.example/v1/x");
            self::assertSame([], $found->secrets, $placeholder);
            self::assertSame([['scheme' => 'bearer', 'token' => ['secret' => 'token']]], $found->access);
        }
    }

    public function test_a_name_that_was_given_to_the_client_is_kept_and_that_of_a_browser_is_not(): void
    {
        self::assertSame(['user-agent' => 'Circle/1.0'], $this->read("curl -A 'Circle/1.0' https://a.saltmarsh.example/v1/x")->headers);
        self::assertSame([], $this->read("curl -H 'User-Agent: Mozilla/5.0 (X11)' -H 'Accept-Language: en' https://a.saltmarsh.example/v1/x")->headers);
    }

    public function test_requests_that_differ_only_in_values_are_one_endpoint(): void
    {
        $found = $this->read("curl https://a.saltmarsh.example/v1/loans/1?expand=items\ncurl https://a.saltmarsh.example/v1/loans/2?status=open\ncurl -X DELETE https://a.saltmarsh.example/v1/loans/2\ncurl https://elsewhere.saltmarsh.example/v1/x");
        self::assertSame(['GET /loans/{loan_id}', 'DELETE /loans/{loan_id}'], array_map(static fn (ImportedEndpoint $one): string => $one->id, $found->endpoints));
        self::assertSame(['loan_id', 'expand', 'status'], array_column($found->endpoints[0]->endpoint['ask']['inputs'], 'name'));
        self::assertStringContainsString('another server', $found->mends[0]->what);
    }

    public function test_the_base_address_of_the_source_is_taken_off(): void
    {
        $found = Importers::read(new ImportInput('curl http://127.0.0.1:8401/loans-desk/v2/loans', bases: ['https://loans.saltmarsh.example/v2', 'http://127.0.0.1:8401/loans-desk/v2']));
        self::assertSame(['/loans', []], [$found->endpoints[0]->endpoint['ask']['path'], $found->mends]);
        $other = Importers::read(new ImportInput('curl https://other.saltmarsh.example/v2/loans', bases: ['https://loans.saltmarsh.example/v2']));
        self::assertSame('/loans', $other->endpoints[0]->endpoint['ask']['path']);
        self::assertStringContainsString('the source is at', $other->mends[0]->what);
    }

    public function test_a_recording_keeps_what_is_data_and_groups_it(): void
    {
        $entry = static fn (string $method, string $url, string $type, string $answer = '', array $more = []): array => ['request' => ['method' => $method, 'url' => $url, 'headers' => [['name' => 'Cookie', 'value' => 'sid=canary-1'], ['name' => 'sec-ch-ua', 'value' => 'x'], ['name' => 'X-House', 'value' => 'hq']]] + $more, 'response' => ['status' => 200, 'content' => ['mimeType' => $type, 'text' => $answer]]];
        $har = ['log' => ['entries' => [
            $entry('GET', 'https://box.saltmarsh.example/', 'text/html', '<html>'),
            $entry('GET', 'https://box.saltmarsh.example/app.js', 'text/javascript'),
            $entry('OPTIONS', 'https://box.saltmarsh.example/api/sales', 'application/json'),
            $entry('GET', 'https://box.saltmarsh.example/api/sales?page=1', 'application/json', '{"sales": [{"id": 1, "day": "2031-01-02", "price": "12.30"}], "total": 90}'),
            $entry('GET', 'https://box.saltmarsh.example/api/sales?page=2', 'application/json', '{"sales": []}'),
            $entry('GET', 'https://box.saltmarsh.example/api/doors/17', 'application/json', '{"id": 17}'),
            $entry('POST', 'https://box.saltmarsh.example/api/sales', 'application/json', '{"id": 2}', ['postData' => ['mimeType' => 'application/json', 'text' => '{"day": "2031-01-03"}']]),
        ]]];
        $found = Importers::read(new ImportInput((string) json_encode($har)));
        self::assertSame(['GET /sales', 'GET /doors/{door_id}', 'POST /sales'], array_map(static fn (ImportedEndpoint $one): string => $one->id, $found->endpoints));
        self::assertSame(['https://box.saltmarsh.example/api'], $found->bases);
        self::assertSame('$.sales[*]', $found->endpoints[0]->endpoint['answer']['records']);
        self::assertSame(['id', 'day', 'price'], array_column($found->endpoints[0]->endpoint['flatten']['columns'], 'name'));
        self::assertSame(['day' => 'date'], array_column($found->endpoints[2]->endpoint['ask']['inputs'], 'type', 'name'));
        self::assertSame(['session' => 'canary-1'], $found->secrets);
        self::assertSame(['x-house' => 'hq'], $found->headers);
        self::assertCount(4, $found->mends);
        SourceFile::of($found->document('box', 'Box', 'trial', null));
    }

    public function test_a_recording_keeps_what_was_sent(): void
    {
        $parts = "--b1\r\nContent-Disposition: form-data; name=\"title\"\r\n\r\ntwo\r\nlines\r\n--b1\r\nContent-Disposition: form-data; name=\"file\"; filename=\"a \\\"b\\\".txt\"\r\nContent-Type: text/plain\r\n\r\nfirst\r\n--b1\r\nContent-Disposition: form-data; name=\"file\"; filename=\"c.txt\"\r\nContent-Type: text/plain\r\n\r\nsecond\r\n--b1--\r\n";
        $entry = static fn (string $path, array $asked): array => ['request' => ['method' => 'POST', 'url' => "https://box.saltmarsh.example/api/$path"] + $asked, 'response' => ['status' => 200, 'content' => ['mimeType' => 'application/json', 'text' => '{}']]];
        $har = ['log' => ['entries' => [
            $entry('upload', ['headers' => [], 'postData' => ['mimeType' => 'multipart/form-data; boundary=b1', 'text' => $parts]]),
            $entry('params', ['headers' => [], 'postData' => ['mimeType' => 'multipart/form-data', 'params' => [['name' => 'tag', 'value' => 'a'], ['name' => 'tag', 'value' => 'b']]]]),
            $entry('digits', ['headers' => [['name' => 'X-House', 'value' => 'a'], ['name' => 'X-House', 'value' => 'b'], ['name' => 'Accept', 'value' => 'application/json']], 'cookies' => [['name' => 'desk', 'value' => '2'], ['name' => 'desk', 'value' => '3']], 'postData' => ['mimeType' => 'application/json', 'text' => '{"n":12345678901234567890,"l":[12345678901234567890],"f":1.0}']]),
            $entry('torn', ['headers' => [], 'postData' => ['mimeType' => 'multipart/form-data', 'text' => 'no boundary {here}']]),
            $entry('half', ['headers' => [], 'postData' => ['mimeType' => 'multipart/form-data; boundary=b1', 'text' => "--b1\r\nContent-Disposition: form-data; name=\"a\"\r\n\r\n1\r\n--b1\r\nno head\r\n--b1--\r\n"]]),
            ['request' => ['method' => 'GET', 'url' => 'wss://box.saltmarsh.example/live', 'headers' => []], 'response' => []],
        ]]];
        $found = Importers::read(new ImportInput((string) json_encode($har)));
        self::assertCount(5, $found->only(null)->endpoints);
        self::assertSame(['1 × no request over HTTP'], array_map(static fn ($one): string => $one->what, $found->mends));
        $sent = static function (int $number) use ($found): array {
            $ask = AskDefinition::of($found->endpoints[$number]->endpoint['ask']);
            $request = (new RequestBuilder($found->bases[0], $found->headers, [], []))->build($ask, $ask->tryValues(), new GivenSecrets([]));

            return [(string) $request->getBody(), $request];
        };
        [$body, $request] = $sent(0);
        preg_match('/boundary=(\S+)/', $request->getHeaderLine('content-type'), $boundary);
        self::assertSame(strtr($parts, ['b1' => $boundary[1], '\\"' => '%22']), $body);
        self::assertSame(2, substr_count($sent(1)[0], 'name="tag"'));
        [$body, $request] = $sent(2);
        self::assertSame('{"n":12345678901234567890,"l":[12345678901234567890],"f":1.0}', $body);
        self::assertSame([['a', 'b'], 'desk=2; desk=3'], [$request->getHeader('x-house'), $request->getHeaderLine('cookie')]);
        [$body, $request] = $sent(3);
        self::assertSame(['no boundary {here}', 'multipart/form-data'], [$body, $request->getHeaderLine('content-type')]);
        // One of its parts cannot be read, so it is sent as it was recorded.
        self::assertStringContainsString("--b1\r\nno head\r\n--b1--", $sent(4)[0]);
    }

    private function read(string $text): Described
    {
        $found = Importers::read(new ImportInput($text));
        SourceFile::of($found->document('x', 'X', 'trial', null));

        return $found;
    }

    /**
     * @param  array<string, string>  $map
     * @return array<string, string>
     */
    private function sorted(array $map): array
    {
        ksort($map);

        return $map;
    }
}
