<?php

declare(strict_types=1);

namespace Tests\Core\Ask;

use DeepSpring\Access\GivenSecrets;
use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\Body\Bodies;
use DeepSpring\Ask\Body\BodyNode;
use DeepSpring\Ask\File;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\RequestBuilder;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Psr\Http\Message\RequestInterface;

final class BodyTest extends TestCase
{
    /** Texts that break what is put together by hand. */
    private const HOSTILE = ['', '"', '\\', "\n", "\r\n", "\t", "\0", "\x1f", "\u{2028}", '</script>', '{"a": 1}', '{input}', '{{', '}', '${x}', '%22', "' or 1=1 --", "a\"b\\\"c\nd", '🚢', "e\u{301}", 'ليلى', '&amp;', ']]>', 'null', 'true', '12.30', '--part-x', "\u{feff}", '0', ' '];

    /**
     * @return iterable<string, array{string, string, string, string}> body, inputs, values, and the JSON that leaves
     */
    public static function documents(): iterable
    {
        $text = '[{"name": "a", "in": "body"}, {"name": "b", "in": "body"}]';
        yield 'a tree without inputs' => ['{"x": [1, 2.50, "s", null, true, {}, []]}', '[]', '{}', '{"x":[1,2.5,"s",null,true,{},[]]}'];
        yield 'an object like a list' => ['{"0": "a", "1": "b"}', '[]', '{}', '{"0":"a","1":"b"}'];
        yield 'an input' => ['{"x": {"input": "a"}}', $text, '{"a": "o\"k"}', '{"x":"o\"k"}'];
        yield 'an input alone' => ['{"input": "a"}', $text, '{"a": "x"}', '"x"'];
        yield 'an absent input' => ['{"x": {"input": "a"}, "y": 1}', $text, '{}', '{"y":1}'];
        yield 'an absent input in a list' => ['{"x": [{"input": "a"}, {"input": "b"}]}', $text, '{"b": "2"}', '{"x":["2"]}'];
        yield 'an object left without members' => ['{"x": {"y": {"input": "a"}}, "z": 1}', $text, '{}', '{"z":1}'];
        yield 'an object written empty' => ['{"x": {}, "z": {"input": "a"}}', $text, '{}', '{"x":{}}'];
        yield 'everything left out' => ['{"x": {"input": "a"}}', $text, '{}', '{}'];
        yield 'a text' => ['{"x": {"text": "Loan to {a}, {b} objects"}}', $text, '{"a": "Gull Tower", "b": "2"}', '{"x":"Loan to Gull Tower, 2 objects"}'];
        yield 'a text with one part absent' => ['{"x": {"text": "{a}/{b}"}}', $text, '{"a": "1"}', '{"x":"1/"}'];
        yield 'a text with all absent' => ['{"x": {"text": "{a}/{b}"}, "y": 0}', $text, '{}', '{"y":0}'];
        yield 'a text without inputs' => ['{"x": {"text": "plain"}}', $text, '{}', '{"x":"plain"}'];
        yield 'a text with doubled braces' => ['{"x": {"text": "{{{a}}}"}}', $text, '{"a": "1"}', '{"x":"{1}"}'];
        yield 'nothing is percent-encoded' => ['{"x": {"text": "{a}"}}', $text, '{"a": "a b&c"}', '{"x":"a b&c"}'];
        yield 'a literal input' => ['{"x": {"literal": {"input": "a"}}}', $text, '{"a": "1"}', '{"x":{"input":"a"}}'];
        yield 'a literal literal' => ['{"literal": {"literal": 1}}', '[]', '{}', '{"literal":1}'];
        yield 'input beside others is no input' => ['{"input": "a", "more": 1}', '[]', '{}', '{"input":"a","more":1}'];
        yield 'a whole number keeps its digits' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "type": "integer"}]', '{"a": "9007199254740993123"}', '{"x":9007199254740993123}'];
        yield 'a number keeps its digits' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "type": "number"}]', '{"a": "12.30"}', '{"x":12.30}'];
        yield 'leading zeros of a number' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "type": "integer"}]', '{"a": "-007"}', '{"x":-7}'];
        yield 'a number without a digit before the point' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "type": "number"}]', '{"a": "+.5E3"}', '{"x":0.5e3}'];
        yield 'a boolean' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "type": "boolean"}]', '{"a": "false"}', '{"x":false}'];
        yield 'a date' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "type": "date"}]', '{"a": "2031-03-02"}', '{"x":"2031-03-02"}'];
        yield 'a part of a document' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "type": "json"}]', '{"a": " {\"y\": 1.0} "}', '{"x":{"y": 1.0}}'];
        yield 'null as a part of a document' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "type": "json"}]', '{"a": "null"}', '{"x":null}'];
        yield 'a list of numbers' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "type": "integer", "many": "comma"}]', '{"a": ["1", "2"]}', '{"x":[1,2]}'];
        yield 'a list with commas inside' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "many": "comma"}]', '{"a": ["a,b", "c"]}', '{"x":["a,b","c"]}'];
        yield 'a fixed value' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "type": "integer", "fixed": 7}]', '{}', '{"x":7}'];
        yield 'a default' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "default": "d"}]', '{}', '{"x":"d"}'];
        yield 'an empty text sent' => ['{"x": {"input": "a"}}', '[{"name": "a", "in": "body", "send_empty": true}]', '{}', '{"x":""}'];
        yield 'an input of the path in the body' => ['{"x": {"input": "q"}}', '[{"name": "q", "in": "query"}]', '{"q": "1"}', '{"x":"1"}'];
    }

    #[DataProvider('documents')]
    public function test_a_tree_becomes_the_document_it_stands_for(string $tree, string $inputs, string $values, string $json): void
    {
        $request = $this->request(['as' => 'json', 'of' => json_decode($tree)], $inputs, $values);
        self::assertSame($json, (string) $request->getBody());
        self::assertSame('application/json', $request->getHeaderLine('content-type'));
        self::assertSame((string) strlen($json), $request->getHeaderLine('content-length'));
    }

    public function test_what_is_empty_is_kept_when_asked(): void
    {
        $request = $this->request(['as' => 'json', 'of' => json_decode('{"x": {"y": {"input": "a"}}, "z": {}}'), 'keep_empty' => true], '[{"name": "a", "in": "body"}]', '{}');
        self::assertSame('{"x":{"y":null},"z":{}}', (string) $request->getBody());
    }

    public function test_a_thousand_random_trees_decode_to_the_intended_value(): void
    {
        mt_srand(2031);
        for ($round = 0; $round < 1000; $round++) {
            $inputs = [];
            $given = [];
            [$tree, $intended] = $this->tree(0, $inputs, $given);
            $body = Bodies::of(['as' => 'json', 'of' => $tree, 'keep_empty' => true]);
            self::assertSame([], $body->faults());
            $request = $this->request(['as' => 'json', 'of' => $tree, 'keep_empty' => true], (string) json_encode($inputs), (string) json_encode((object) $given));
            self::assertEquals($intended, json_decode((string) $request->getBody(), false, 512, JSON_THROW_ON_ERROR), "round $round");
            self::assertSame(json_encode($intended), json_encode(json_decode((string) $request->getBody())), "round $round, types and order");
        }
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function hostile(): iterable
    {
        foreach (self::HOSTILE as $text) {
            yield (string) json_encode($text) => [$text];
        }
    }

    #[DataProvider('hostile')]
    public function test_no_value_breaks_a_form_or_its_parts(string $text): void
    {
        $of = (object) ['a' => (object) ['input' => 'a'], "b\"\r\nx" => (object) ['literal' => $text], 'c' => (object) ['text' => 'c {a}']];
        $inputs = '[{"name": "a", "in": "body", "send_empty": true}]';
        $values = (string) json_encode(['a' => $text]);
        parse_str((string) $this->request(['as' => 'form', 'of' => $of], $inputs, $values)->getBody(), $form);
        self::assertSame($text, $form['a']);
        self::assertSame("c $text", $form['c']);
        $request = $this->request(['as' => 'multipart', 'of' => $of], $inputs, $values);
        self::assertSame(['a' => $text, 'b%22%0D%0Ax' => $text, 'c' => "c $text"], $this->parts($request));
    }

    /**
     * @return iterable<string, array{mixed, string, string|null}> a field, the values, and what is sent of it
     */
    public static function fields(): iterable
    {
        $text = static fn (string $text): \stdClass => (object) ['text' => $text];
        yield 'a text with all it names' => [$text('{a} to {b}'), '{"a": "1", "b": "2"}', '1 to 2'];
        yield 'a text with one of two' => [$text('{a} to {b}'), '{"b": "2"}', ' to 2'];
        yield 'a text with none of what it names' => [$text('{a} to {b}'), '{}', null];
        yield 'a text that names nothing' => [$text('plain'), '{}', 'plain'];
        yield 'an input' => [(object) ['input' => 'a'], '{"a": "1"}', '1'];
        yield 'an absent input' => [(object) ['input' => 'a'], '{}', null];
        yield 'true' => [true, '{}', 'true'];
        yield 'false' => [false, '{}', 'false'];
        yield 'a number' => [12, '{}', '12'];
        yield 'nothing' => [null, '{}', null];
        yield 'a literal object' => [(object) ['literal' => (object) ['input' => 'a']], '{}', '{"input":"a"}'];
    }

    #[DataProvider('fields')]
    public function test_a_field_of_a_form_is_sent_or_left_out(mixed $field, string $values, ?string $sent): void
    {
        $inputs = '[{"name": "a", "in": "body"}, {"name": "b", "in": "body"}]';
        $of = (object) ['x' => $field, 'y' => 'always'];
        parse_str((string) $this->request(['as' => 'form', 'of' => $of], $inputs, $values)->getBody(), $form);
        $expected = $sent === null ? ['y' => 'always'] : ['x' => $sent, 'y' => 'always'];
        self::assertSame($expected, $form);
        self::assertSame($expected, $this->parts($this->request(['as' => 'multipart', 'of' => $of], $inputs, $values)));
    }

    #[DataProvider('hostile')]
    public function test_no_value_breaks_xml(string $text): void
    {
        $body = ['as' => 'xml', 'of' => '<label note="{a}"><title>{a}</title></label>'];
        $inputs = '[{"name": "a", "in": "body", "send_empty": true}]';
        if (preg_match('/[\x00-\x08\x0b\x0c\x0e-\x1f]/', $text) === 1) {
            $this->expectException(InvalidInput::class);
            $this->expectExceptionMessage('XML cannot carry');
        }
        $document = new \DOMDocument;
        self::assertTrue($document->loadXML((string) $this->request($body, $inputs, (string) json_encode(['a' => $text]))->getBody()));
        self::assertSame($text, $document->documentElement?->getAttribute('note'));
        self::assertSame($text, $document->documentElement->textContent);
    }

    public function test_text_is_filled_and_braces_are_doubled(): void
    {
        $request = $this->request(['as' => 'text', 'of' => 'select {{a}} where x = {a}'], '[{"name": "a", "in": "body"}]', '{"a": "<1> {b}"}');
        self::assertSame('select {a} where x = <1> {b}', (string) $request->getBody());
        self::assertSame('text/plain; charset=utf-8', $request->getHeaderLine('content-type'));
    }

    public function test_a_header_of_the_endpoint_overrules_the_type_of_its_body(): void
    {
        $ask = AskDefinition::of(['method' => 'POST', 'path' => '/x', 'headers' => ['Content-Type' => 'application/sql'], 'body' => ['as' => 'text', 'of' => 'select 1']]);
        self::assertSame('application/sql', (new RequestBuilder('http://loans.saltmarsh.example', [], [], []))->build($ask, [], new GivenSecrets([]))->getHeaderLine('content-type'));
    }

    public function test_files_go_as_parts_with_name_and_type(): void
    {
        $file = new File('wall "label".pdf', 'application/pdf', "%PDF-1\r\n--part-\0\xff");
        self::assertEquals($file, File::of($file->value()));
        $inputs = '[{"name": "label", "in": "body", "type": "file"}]';
        $values = (string) json_encode(['label' => $file->value()]);
        $bytes = (string) $this->request(['as' => 'multipart', 'of' => (object) ['label' => (object) ['input' => 'label']]], $inputs, $values)->getBody();
        self::assertStringContainsString("name=\"label\"; filename=\"wall %22label%22.pdf\"\r\nContent-Type: application/pdf\r\n\r\n{$file->content}\r\n", $bytes);
        self::assertSame('{"label":"'.base64_encode($file->content).'"}', str_replace('\/', '/', (string) $this->request(['as' => 'json', 'of' => (object) ['label' => (object) ['input' => 'label']]], $inputs, $values)->getBody()));
    }

    public function test_cookies_join_those_of_the_source(): void
    {
        $ask = AskDefinition::of(['path' => '/x', 'inputs' => [['name' => 'house', 'in' => 'cookie'], ['name' => 'desk', 'in' => 'cookie']]]);
        self::assertSame('house=gull-tower; desk=2', (new RequestBuilder('http://loans.saltmarsh.example', [], [], []))->build($ask, ['house' => ['gull-tower'], 'desk' => ['2']], new GivenSecrets([]))->getHeaderLine('cookie'));
    }

    /**
     * @return iterable<string, array{string, array<string, string>}>
     */
    public static function nested(): iterable
    {
        yield 'nothing of it is filled' => ['{"borrower": "reed-house"}', []];
        yield 'all of it is filled' => ['{"borrower": "reed-house", "policy": "0012", "value": "10"}', []];
        yield 'one of two is filled' => ['{"borrower": "reed-house", "policy": "0012"}', ['value' => '"policy" is filled']];
        yield 'an optional one is filled' => ['{"borrower": "reed-house", "since": "2031-01-01"}', ['policy' => 'insurance is sent', 'value' => '"since" is filled']];
        yield 'what is always needed is missing' => ['{}', ['borrower' => 'needs a value']];
        yield 'a wrong type is said first' => ['{"borrower": "reed-house", "policy": "1", "value": "ten"}', ['value' => 'not a number']];
    }

    /**
     * @param  array<string, string>  $faults
     */
    #[DataProvider('nested')]
    public function test_an_optional_object_needs_its_required_members_once_one_is_filled(string $values, array $faults): void
    {
        $ask = AskDefinition::of([
            'method' => 'POST', 'path' => '/loans', 'inputs' => [
                ['name' => 'borrower', 'in' => 'body', 'required' => true], ['name' => 'policy', 'in' => 'body', 'required' => true],
                ['name' => 'value', 'in' => 'body', 'type' => 'number', 'required' => true], ['name' => 'since', 'in' => 'body', 'type' => 'date'], ['name' => 'currency', 'in' => 'body', 'fixed' => 'SMK'], ['name' => 'cover', 'in' => 'body', 'default' => 'all risks'],
            ],
            'body' => ['as' => 'json', 'optional' => ['$.insurance'], 'of' => json_decode('{"borrower": {"input": "borrower"}, "insurance": {"policy": {"input": "policy"}, "value": {"input": "value"}, "since": {"input": "since"}, "currency": {"input": "currency"}, "cover": {"input": "cover"}}}')],
        ]);
        $given = array_map(static fn (mixed $one): array => [(string) $one], (array) json_decode($values, true));
        $found = $ask->faults($given);
        self::assertSame(array_keys($faults), array_keys($found));
        foreach ($faults as $name => $part) {
            self::assertStringContainsString($part, $found[$name]->reason);
        }
        if ($faults === []) {
            $sent = json_decode((string) (new RequestBuilder('http://loans.saltmarsh.example', [], [], []))->build($ask, $given, new GivenSecrets([]))->getBody(), true);
            self::assertSame(isset($given['policy']), isset($sent['insurance']));
        }
    }

    /**
     * @return iterable<string, array{array<string, mixed>, string, string}>
     */
    public static function faulty(): iterable
    {
        yield 'a stray brace in text' => [['as' => 'text', 'of' => 'select }'], 'of', 'character 8'];
        yield 'a stray brace in a tree' => [['of' => json_decode('{"a": {"text": "{"}}')], 'of.a', 'character 1'];
        yield 'an input that is no name' => [['of' => json_decode('{"a": [{"input": 5}]}')], 'of.a[0]', 'literal'];
        yield 'an optional object that is not there' => [['of' => json_decode('{"a": 1}'), 'optional' => ['$.b']], 'optional[0]', 'nothing at $.b'];
        yield 'a form that is not flat' => [['as' => 'form', 'of' => json_decode('{"a": {"b": 1}}')], 'of.a', 'flat'];
    }

    /**
     * @param  array<string, mixed>  $body
     */
    #[DataProvider('faulty')]
    public function test_a_body_says_where_it_is_wrong(array $body, string $place, string $part): void
    {
        $faults = Bodies::of($body)->faults();
        self::assertArrayHasKey($place, $faults);
        self::assertStringContainsString($part, $faults[$place]);
    }

    /**
     * @param  array<string, mixed>  $body
     */
    private function request(array $body, string $inputs, string $values): RequestInterface
    {
        $ask = AskDefinition::of(['method' => 'POST', 'path' => '/loans', 'inputs' => json_decode($inputs, true), 'body' => $body]);
        $given = array_map(static fn (mixed $one): array => array_map(strval(...), is_array($one) ? $one : [$one]), (array) json_decode($values, true));

        return (new RequestBuilder('http://loans.saltmarsh.example/v2', [], [], []))->build($ask, $given, new GivenSecrets([]));
    }

    /**
     * @param  list<array<string, mixed>>  $inputs
     * @param  array<string, string>  $given
     * @return array{mixed, mixed} the tree, and what it is to become
     */
    private function tree(int $depth, array &$inputs, array &$given): array
    {
        $text = fn (): string => self::HOSTILE[mt_rand(0, count(self::HOSTILE) - 1)].(mt_rand(0, 1) === 0 ? '' : self::HOSTILE[mt_rand(0, count(self::HOSTILE) - 1)]);
        $name = 'i'.count($inputs);
        switch (mt_rand(0, $depth > 3 ? 6 : 9)) {
            case 0:
                $inputs[] = ['name' => $name, 'in' => 'body', 'send_empty' => true];
                $given[$name] = $text();

                return [(object) ['input' => $name], $given[$name]];
            case 1:
                $inputs[] = ['name' => $name, 'in' => 'body', 'type' => 'integer'];
                $given[$name] = (string) mt_rand(-9999, 9999);

                return [(object) ['input' => $name], (int) $given[$name]];
            case 2:
                $inputs[] = ['name' => $name, 'in' => 'body', 'type' => 'boolean'];
                $given[$name] = mt_rand(0, 1) === 0 ? 'true' : 'false';

                return [(object) ['input' => $name], $given[$name] === 'true'];
            case 3:
                $inputs[] = ['name' => $name, 'in' => 'body', 'type' => 'json'];
                $value = (object) ['x' => $text(), 'y' => [mt_rand(0, 9), null, new \stdClass]];
                $given[$name] = (string) json_encode($value);

                return [(object) ['input' => $name], $value];
            case 4:
                $inputs[] = ['name' => $name, 'in' => 'body', 'send_empty' => true];
                $given[$name] = $text();

                return [(object) ['text' => "<{{{$name}}}> "."{{$name}}"], '<{'.$name.'}> '.$given[$name]];
            case 5:
                $value = [(object) ['input' => 'x'], (object) ['literal' => (object) ['text' => $text()]], $text()][mt_rand(0, 2)];

                return [BodyNode::literally($value), $value];
            case 6:
                $value = [$text(), mt_rand(-5, 5), null, true, 0.5, new \stdClass, []][mt_rand(0, 6)];

                return [$value, $value];
            case 7:
                $tree = [];
                $intended = [];
                for ($n = mt_rand(1, 4); $n > 0; $n--) {
                    [$tree[], $intended[]] = $this->tree($depth + 1, $inputs, $given);
                }

                return [$tree, $intended];
            default:
                $tree = new \stdClass;
                $intended = new \stdClass;
                for ($n = mt_rand(2, 5); $n > 0; $n--) {
                    // A name that starts with NUL cannot be a member of a PHP object.
                    $member = 'm'.mt_rand(0, 99).(mt_rand(0, 1) === 0 ? '' : $text());
                    [$tree->{$member}, $intended->{$member}] = $this->tree($depth + 1, $inputs, $given);
                }
                $tree->last = 1;
                $intended->last = 1;

                return [$tree, $intended];
        }
    }

    /**
     * @return array<string, string>
     */
    private function parts(RequestInterface $request): array
    {
        preg_match('/boundary=(\S+)$/', $request->getHeaderLine('content-type'), $boundary);
        $parts = [];
        foreach (array_slice(explode("--{$boundary[1]}", (string) $request->getBody()), 1, -1) as $part) {
            [$head, $content] = explode("\r\n\r\n", $part, 2);
            preg_match('/name="([^"]*)"/', $head, $name);
            $parts[$name[1]] = substr($content, 0, -2);
        }

        return $parts;
    }
}
