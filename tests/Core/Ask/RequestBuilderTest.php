<?php

declare(strict_types=1);

namespace Tests\Core\Ask;

use DeepSpring\Access\ApiKey;
use DeepSpring\Access\GivenSecrets;
use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Ask\RequestBuilder;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Psr\Http\Message\RequestInterface;

final class RequestBuilderTest extends TestCase
{
    /**
     * @return iterable<string, array{array<string, mixed>, array<string, list<string>>, string}>
     */
    public static function targets(): iterable
    {
        $path = ['path' => '/loans/{house}', 'inputs' => [['name' => 'house', 'in' => 'path']]];
        $query = static fn (array $input): array => ['path' => '/loans', 'inputs' => [['name' => 'q', 'in' => 'query'] + $input]];
        yield 'nothing' => [['path' => ''], [], '/v2'];
        yield 'a slash' => [['path' => '/'], [], '/v2/'];
        yield 'a path without a slash' => [['path' => 'loans'], [], '/v2/loans'];
        yield 'a path input' => [$path, ['house' => ['north-quay']], '/v2/loans/north-quay'];
        yield 'a slash in a path input' => [$path, ['house' => ['a/b']], '/v2/loans/a%2Fb'];
        yield 'a question mark in a path input' => [$path, ['house' => ['a?b#c']], '/v2/loans/a%3Fb%23c'];
        yield 'braces in a path input' => [$path, ['house' => ['{house}']], '/v2/loans/%7Bhouse%7D'];
        yield 'a percent in a path input' => [$path, ['house' => ['50%']], '/v2/loans/50%25'];
        yield 'unreserved characters' => [$path, ['house' => ['aZ9-._~']], '/v2/loans/aZ9-._~'];
        yield 'other alphabets' => [$path, ['house' => ['渡 é']], '/v2/loans/%E6%B8%A1%20%C3%A9'];
        yield 'a query input' => [$query([]), ['q' => ['a b&c=d+e']], '/v2/loans?q=a%20b%26c%3Dd%2Be'];
        yield 'a name to encode' => [['path' => '/loans', 'inputs' => [['name' => 'filter[a b]', 'in' => 'query']]], ['filter[a b]' => ['x']], '/v2/loans?filter%5Ba%20b%5D=x'];
        yield 'an input left empty' => [$query([]), ['q' => ['']], '/v2/loans'];
        yield 'an input left empty and sent' => [$query(['send_empty' => true]), [], '/v2/loans?q='];
        yield 'a fixed value' => [$query(['fixed' => 'items']), [], '/v2/loans?q=items'];
        yield 'a default' => [$query(['default' => 'open']), [], '/v2/loans?q=open'];
        yield 'a default overruled' => [$query(['default' => 'open']), ['q' => ['out']], '/v2/loans?q=out'];
        yield 'a fixed boolean' => [$query(['fixed' => true]), [], '/v2/loans?q=true'];
        yield 'a fixed number' => [$query(['fixed' => 1.50]), [], '/v2/loans?q=1.5'];
        yield 'many with commas' => [$query(['many' => 'comma']), ['q' => ['open', 'packed']], '/v2/loans?q=open,packed'];
        yield 'a comma inside one of many' => [$query(['many' => 'comma']), ['q' => ['a,b', 'c']], '/v2/loans?q=a%2Cb,c'];
        yield 'many in a path' => [['path' => '/loans/{house}', 'inputs' => [['name' => 'house', 'in' => 'path', 'many' => 'comma']]], ['house' => ['a/b', 'c']], '/v2/loans/a%2Fb,c'];
        yield 'many repeated' => [$query(['many' => 'repeat']), ['q' => ['a', 'b']], '/v2/loans?q=a&q=b'];
        yield 'many in brackets' => [$query(['many' => 'brackets']), ['q' => ['a', 'b']], '/v2/loans?q%5B%5D=a&q%5B%5D=b'];
        yield 'many with pipes' => [$query(['many' => 'pipe']), ['q' => ['a', 'b']], '/v2/loans?q=a%7Cb'];
        yield 'many with spaces' => [$query(['many' => 'space']), ['q' => ['a', 'b']], '/v2/loans?q=a%20b'];
        yield 'a zero' => [$query([]), ['q' => ['0']], '/v2/loans?q=0'];
    }

    /**
     * @param  array<string, mixed>  $ask
     * @param  array<string, list<string>>  $given
     */
    #[DataProvider('targets')]
    public function test_a_request_is_encoded_as_rfc_3986_says(array $ask, array $given, string $target): void
    {
        self::assertSame($target, $this->build($ask, $given)->getRequestTarget());
    }

    /**
     * @return iterable<string, array{array<string, mixed>, array<string, list<string>>, string}>
     */
    public static function refused(): iterable
    {
        $one = static fn (array $input): array => ['path' => '/x', 'inputs' => [['name' => 'q', 'in' => 'query'] + $input]];
        yield 'a path input missing' => [['path' => '/loans/{house}', 'inputs' => [['name' => 'house', 'in' => 'path']]], [], 'needs a value'];
        yield 'a required one missing' => [$one(['required' => true]), ['q' => ['']], 'needs a value'];
        yield 'a path that climbs' => [['path' => '/loans/{house}', 'inputs' => [['name' => 'house', 'in' => 'path']]], ['house' => ['..']], 'cannot stand in a path'];
        yield 'no whole number' => [$one(['type' => 'integer']), ['q' => ['1.5']], 'not a whole number'];
        yield 'no number' => [$one(['type' => 'number']), ['q' => ['1,5']], 'not a number'];
        yield 'no boolean' => [$one(['type' => 'boolean']), ['q' => ['yes']], 'neither true nor false'];
        yield 'no date' => [$one(['type' => 'date']), ['q' => ['2031-02-30']], 'not a date'];
        yield 'no time' => [$one(['type' => 'datetime']), ['q' => ['2031-03-02']], 'not a time'];
        yield 'none of the choices' => [$one(['choices' => ['open', 'out']]), ['q' => ['opne']], 'none of open, out'];
        yield 'several for one' => [$one([]), ['q' => ['a', 'b']], 'takes one value'];
        yield 'an unknown input' => [$one([]), ['p' => ['a']], 'not an input of this endpoint; it has q'];
        yield 'a fixed one given' => [$one(['fixed' => 'a']), ['q' => ['b']], 'not an input'];
        yield 'a header with a line break' => [['path' => '/x', 'inputs' => [['name' => 'x-house', 'in' => 'header']]], ['x-house' => ["a\r\nx-evil: 1"]], 'line break'];
    }

    /**
     * @param  array<string, mixed>  $ask
     * @param  array<string, list<string>>  $given
     */
    #[DataProvider('refused')]
    public function test_a_value_that_cannot_be_sent_is_refused_with_the_reason(array $ask, array $given, string $reason): void
    {
        $this->expectException(InvalidInput::class);
        $this->expectExceptionMessage($reason);
        $this->build($ask, $given);
    }

    public function test_what_an_endpoint_on_another_server_is_sent(): void
    {
        $key = ApiKey::of(['in' => 'header', 'name' => 'X-Key', 'value' => ['secret' => 'k']], '', []);
        $builder = new RequestBuilder('https://api.saltmarsh.example/v2', ['x-house' => 'hq', 'accept' => 'application/json'], ['tenant' => 't1'], [$key], 'trial');
        $sent = static function (array $ask) use ($builder): array {
            $request = $builder->build(AskDefinition::of($ask), [], new GivenSecrets(['k' => 'canary']));

            return [(string) $request->getUri(), $request->getHeaderLine('x-key'), $request->getHeaderLine('x-house'), $request->getHeaderLine('accept'), $request->getHeaderLine('x-own')];
        };
        $ask = ['path' => '/loans', 'headers' => ['x-own' => 'mine']];
        self::assertSame(['https://api.saltmarsh.example/v2/loans?tenant=t1', 'canary', 'hq', 'application/json', 'mine'], $sent($ask));
        self::assertSame(['https://api.saltmarsh.example/v2/loans?tenant=t1', 'canary', 'hq', 'application/json', 'mine'], $sent($ask + ['base' => ['production' => 'https://files.saltmarsh.example']]));
        self::assertSame(['https://files.saltmarsh.example/loans', '', '', 'application/json', 'mine'], $sent($ask + ['base' => ['trial' => 'https://files.saltmarsh.example']]));
        self::assertSame(['https://files.saltmarsh.example/loans?tenant=t1', 'canary', 'hq', 'application/json', 'mine'], $sent($ask + ['base' => ['trial' => 'https://files.saltmarsh.example'], 'access' => 'source']));
        // Another path of the same server is at home.
        self::assertSame('canary', $sent($ask + ['base' => ['trial' => 'https://API.saltmarsh.example:443/v3']])[1]);
        self::assertSame('https://files.saltmarsh.example:443', $builder->elsewhere(AskDefinition::of($ask + ['base' => ['trial' => 'https://files.saltmarsh.example']])));
        self::assertNull($builder->elsewhere(AskDefinition::of($ask + ['base' => ['trial' => 'https://API.saltmarsh.example:443/v3']])));
    }

    public function test_names_in_the_request_and_values_that_stand_alone(): void
    {
        $ask = AskDefinition::of(['path' => '/a/{id}', 'inputs' => [
            ['name' => 'id', 'in' => 'path'], ['name' => 'id_2', 'in' => 'query', 'send_as' => 'id'], ['name' => 'wsdl', 'in' => 'query', 'send_empty' => 'bare'], ['name' => 'b', 'in' => 'query', 'send_empty' => 'bare', 'many' => 'repeat'],
            ['name' => 'x', 'in' => 'header', 'send_as' => 'X-House', 'many' => 'repeat'], ['name' => 'c', 'in' => 'cookie', 'many' => 'repeat', 'send_as' => 'desk'],
        ]]);
        $request = (new RequestBuilder('https://h.example', [], [], []))->build($ask, ['id' => ['5'], 'id_2' => ['3'], 'b' => ['', ''], 'x' => ['1, 2', '3'], 'c' => ['2', '"q" z']], new GivenSecrets([]));
        self::assertSame(['/a/5?id=3&wsdl&b&b', ['1, 2', '3'], 'desk=2; desk="q" z'], [$request->getRequestTarget(), $request->getHeader('x-house'), $request->getHeaderLine('cookie')]);
    }

    public function test_headers_of_the_endpoint_go_before_those_of_the_source(): void
    {
        $request = $this->build(['path' => '/x', 'headers' => ['Accept' => 'text/csv'], 'inputs' => [['name' => 'X-House', 'in' => 'header']]], ['X-House' => ['hq']]);
        self::assertSame('text/csv', $request->getHeaderLine('accept'));
        self::assertSame('hq', $request->getHeaderLine('x-house'));
    }

    public function test_a_pager_replaces_members_of_the_query_or_the_whole_address(): void
    {
        $ask = ['path' => '/x', 'inputs' => [['name' => 'limit', 'in' => 'query', 'fixed' => 5], ['name' => 'q', 'in' => 'query', 'fixed' => 'a']]];
        self::assertSame('/v2/x?q=a&limit=50&after=c_1%2F', $this->build($ask, [], new PageRequest(['limit' => '50', 'after' => 'c_1/']))->getRequestTarget());
        self::assertSame('/elsewhere?z=1', $this->build($ask, [], new PageRequest(uri: 'http://127.0.0.1:8401/elsewhere?z=1'))->getRequestTarget());
    }

    /**
     * @param  array<string, mixed>  $ask
     * @param  array<string, list<string>>  $given
     */
    private function build(array $ask, array $given, PageRequest $page = new PageRequest): RequestInterface
    {
        return (new RequestBuilder('http://127.0.0.1:8401/v2', ['accept' => 'application/json'], [], []))->build(AskDefinition::of($ask), $given, new GivenSecrets([]), $page);
    }
}
