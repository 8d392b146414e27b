<?php

declare(strict_types=1);

namespace Tests\App;

use App\Evidence\EvidenceWriter;
use App\Http\Sources\SchemeFields;
use App\Http\Sources\SourceForm;
use App\Models\Exchange;
use App\Models\Tryout;
use App\Runs\Tries;
use App\Transport\Sent;
use App\Transport\Timing;
use App\View\SourceState;
use App\View\Stages;
use DeepSpring\Access\SecretMask;
use GuzzleHttp\Psr7\Request;
use Illuminate\Support\Carbon;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * What stands between the documents and the screens of access.
 */
final class SheetPartsTest extends AppTestCase
{
    /**
     * @return iterable<string, array{string, array<string, string>, array<string, mixed>, array<string, mixed>}>
     */
    public static function forms(): iterable
    {
        $s = static fn (string $name): array => ['secret' => $name];
        yield 'a user name written out' => ['basic', ['username' => ' desk ', 'password' => ''], [], ['username' => 'desk', 'password' => $s('password')]];
        yield 'a user name that is a secret' => ['basic', ['username' => 'secret:who', 'password' => 'secret:pw_2'], [], ['username' => $s('who'), 'password' => $s('pw_2')]];
        yield 'an emptied user name' => ['basic', ['username' => ''], ['username' => 'x', 'password' => $s('p')], ['username' => $s('username'), 'password' => $s('p')]];
        yield 'a secret typed where its name belongs is not kept' => ['bearer', ['token' => 'eyJhbGciOi-the-token-itself'], [], ['token' => $s('token')]];
        yield 'the usual prefix is left out' => ['bearer', ['token' => 'secret:t', 'prefix' => 'Bearer'], ['prefix' => 'Token', 'token' => $s('t')], ['token' => $s('t')]];
        yield 'another prefix' => ['bearer', ['token' => 'secret:t', 'prefix' => 'Token'], [], ['token' => $s('t'), 'prefix' => 'Token']];
        yield 'a variable' => ['oauth2-client-credentials', ['token_url' => '{token_url}', 'client_id' => 'desk', 'client_secret' => 'secret:cs', 'scope' => '{scopes}', 'audience' => ''], [], ['token_url' => ['variable' => 'token_url'], 'client_id' => 'desk', 'client_secret' => $s('cs'), 'scope' => ['variable' => 'scopes']]];
        yield 'a public client' => ['oauth2-authorization-code', ['client_secret' => '', 'shared' => '0', 'pkce' => '1'], ['client_secret' => $s('x'), 'authorize_url' => 'https://a', 'token_url' => 'https://a', 'client_id' => 'i'], ['authorize_url' => 'https://a', 'token_url' => 'https://a', 'client_id' => 'i', 'shared' => false]];
        yield 'further parameters' => ['oauth2-client-credentials', ['extra' => 'resource=a b&tenant = 7'], [], ['extra' => ['resource' => 'a b', 'tenant' => '7']]];
        yield 'the place of the credentials' => ['oauth2-client-credentials', ['credentials_in' => 'body'], [], ['credentials_in' => 'body']];
        yield 'a number, and none' => ['jwt-assertion', ['lifetime' => '120', 'issuer' => 'desk', 'subject' => ''], ['subject' => 'old'], ['lifetime' => 120, 'issuer' => 'desk']];
        yield 'what is no number is said by the schema' => ['jwt-assertion', ['lifetime' => 'soon'], [], ['lifetime' => 'soon']];
        yield 'a sign-in' => ['login', ['path' => '/in', 'as' => 'form', 'of' => 'user=secret:u&kind=desk', 'take' => 'cookie sid', 'send_in' => 'cookie', 'send_name' => 'sid', 'send_prefix' => '', 'lifetime' => ''], [], ['request' => ['path' => '/in', 'body' => ['as' => 'form', 'of' => ['user' => $s('u'), 'kind' => 'desk']]], 'take' => ['cookie' => 'sid'], 'send' => ['in' => 'cookie', 'name' => 'sid']]];
        yield 'a sign-in that keeps what the form does not show' => ['login', ['path' => '/in', 'take' => '$.t'], ['request' => ['path' => '/old', 'method' => 'PUT', 'headers' => ['x' => 'y']], 'send' => ['in' => 'header', 'name' => 'X']], ['request' => ['path' => '/in', 'method' => 'PUT', 'headers' => ['x' => 'y']], 'send' => ['in' => 'header', 'name' => 'X'], 'take' => ['json' => '$.t']]];
        yield 'a prefix keeps its space' => ['login', ['send_prefix' => 'Bearer '], ['send' => ['in' => 'header', 'name' => 'A']], ['send' => ['in' => 'header', 'name' => 'A', 'prefix' => 'Bearer ']]];
        yield 'another scheme takes nothing over' => ['csrf-token', ['path' => '/x', 'header' => ''], [], ['fetch' => ['path' => '/x']]];
    }

    /**
     * @param  array<string, string>  $row
     * @param  array<string, mixed>  $was
     * @param  array<string, mixed>  $wanted
     */
    #[DataProvider('forms')]
    public function test_a_form_becomes_a_scheme(string $scheme, array $row, array $was, array $wanted): void
    {
        self::assertEquals(['scheme' => $scheme] + $wanted, SchemeFields::entry($scheme, $row, $was === [] ? [] : ['scheme' => $scheme] + $was));
    }

    public function test_schemes_change_places_and_settings_are_copied(): void
    {
        $source = ['access' => ['a', 'b', 'c'], 'environments' => ['trial' => ['base' => 'x', 'variables' => ['v' => '1']]]];
        self::assertSame(['b', 'a', 'c'], SourceForm::earlier($source, 1)['access']);
        foreach ([0, 3, -1] as $number) {
            self::assertSame(['a', 'b', 'c'], SourceForm::earlier($source, $number)['access']);
        }
        self::assertSame($source['environments']['trial'], SourceForm::copied($source, 'trial', 'production')['environments']['production']);
        self::assertSame($source, SourceForm::copied($source, 'nowhere', 'production'));
    }

    public function test_an_order_changed_on_the_sheet_is_the_order_of_the_request(): void
    {
        $source = $this->source('freight-tracker');
        $this->actingAs($this->person());
        $html = (string) $this->get('/sources/freight-tracker')->assertSee('Apply API key earlier')->getContent();
        $this->post('/sources/freight-tracker', ['do' => 'earlier', 'scheme' => '1'] + $this->fields($html, 'source-form'))->assertOk();
        self::assertSame(['api-key', 'basic'], array_column($source->refresh()->current()->document['source']['access'], 'scheme'));
        self::assertTrue(app(Tries::class)->source($source, $source->current(), $this->trial(), null)->succeeded);
    }

    public function test_a_scope_that_was_not_granted_is_said(): void
    {
        $source = $this->source();
        $this->faults('loans-desk', ['read_only' => true]);
        try {
            self::assertTrue(app(Tries::class)->source($source, $source->current(), $this->trial(), null)->succeeded);
        } finally {
            $this->faults('loans-desk', []);
        }
        $this->actingAs($this->person())->get('/sources/loans-desk')->assertSee('not granted: loans.write');
    }

    /**
     * @return iterable<string, array{array<string, mixed>|null, array<string, mixed>|null, list<string>}> diagnosis, exchange, and each stage as its state and name
     */
    public static function stages(): iterable
    {
        $times = ['name' => 1.0, 'connect' => 2.0, 'tls' => 0.0, 'firstByte' => 3.0, 'address' => '1.1.1.1'];
        $secure = ['tls' => 4.0, 'certificate' => ['subject' => 's', 'issuer' => 'Circle authority', 'until' => time() + 9 * 86400 + 43200]] + $times;
        yield 'all well' => [null, ['status' => 200, 'timing' => $times], ['ok name found', 'ok connected', 'ok answers', 'ok authenticated', 'ok expected response']];
        yield 'all well, with TLS' => [null, ['status' => 200, 'timing' => $secure], ['ok name found', 'ok connected', 'ok TLS', 'ok answers', 'ok authenticated', 'ok expected response']];
        yield 'no such name' => [['code' => 'dns', 'where' => 'address'], ['status' => null, 'timing' => $times], ['bad name found', 'no connected', 'no answers', 'no authenticated', 'no expected response']];
        yield 'not allowed' => [['code' => 'outbound', 'where' => 'address'], ['status' => null, 'timing' => $times], ['ok name found', 'bad may go there', 'no connected', 'no answers', 'no authenticated', 'no expected response']];
        yield 'refused' => [['code' => 'refused', 'where' => 'address'], ['status' => null, 'timing' => $times], ['ok name found', 'bad connected', 'no answers', 'no authenticated', 'no expected response']];
        yield 'a bad certificate' => [['code' => 'tls-expired', 'where' => 'address'], ['status' => null, 'timing' => $times], ['ok name found', 'ok connected', 'bad TLS', 'no answers', 'no authenticated', 'no expected response']];
        yield 'no answer' => [['code' => 'timeout', 'where' => 'ask'], ['status' => null, 'timing' => $times], ['ok name found', 'ok connected', 'bad answers', 'no authenticated', 'no expected response']];
        yield 'another host' => [['code' => 'redirect', 'where' => 'address'], ['status' => 301, 'timing' => $times], ['ok name found', 'ok connected', 'bad answers', 'no authenticated', 'no expected response']];
        yield 'not known' => [['code' => '401-refused', 'where' => 'access'], ['status' => 401, 'timing' => $times], ['ok name found', 'ok connected', 'ok answers', 'bad authenticated', 'no expected response']];
        yield 'nothing sent' => [['code' => 'consent', 'where' => 'access'], null, ['no name found', 'no connected', 'no answers', 'bad authenticated', 'no expected response']];
        $file = "GET /loans.csv HTTP/1.1\r\nHost: uploads.invalid\r\nAccept: text/csv";
        yield 'a file that is kept here' => [null, ['status' => 200, 'timing' => $times, 'request' => $file], ['ok file found', 'ok expected response']];
        yield 'its name in the address of another' => [null, ['status' => 200, 'timing' => $times, 'request' => "GET /?of=uploads.invalid HTTP/1.1\r\nHost: loans.example"], ['ok name found', 'ok connected', 'ok answers', 'ok authenticated', 'ok expected response']];
        yield 'not as promised' => [['code' => 'html', 'where' => 'answer'], ['status' => 200, 'timing' => $times], ['ok name found', 'ok connected', 'ok answers', 'ok authenticated', 'bad expected response']];
    }

    /**
     * @param  array<string, mixed>|null  $diagnosis
     * @param  array<string, mixed>|null  $exchange
     * @param  list<string>  $wanted
     */
    #[DataProvider('stages')]
    public function test_a_test_is_told_stage_by_stage(?array $diagnosis, ?array $exchange, array $wanted): void
    {
        $try = new Tryout(['succeeded' => $diagnosis === null, 'diagnosis' => $diagnosis, 'records' => 3]);
        $stages = new Stages($try, $exchange === null ? null : new Exchange($exchange), true);
        self::assertSame($wanted, array_map(static fn (array $stage): string => "{$stage['state']} {$stage['name']}", $stages->all));
        foreach ($stages->all as $stage) {
            self::assertSame($stage['state'] === 'no', $stage['state'] === 'no' && $stage['ms'] === null && $stage['note'] === '');
        }
        if (($exchange['timing']['certificate'] ?? null) !== null) {
            self::assertSame('Circle authority, 9 days left', $stages->all[2]['note']);
        }
    }

    public function test_how_a_source_fares_is_said_in_a_few_words(): void
    {
        Carbon::setTestNow('2031-01-15 12:00:00');
        try {
            $words = static fn (?string $where, ?string $since, string $code = 'x'): string => (new SourceState(new Tryout(['diagnosis' => $where === null ? null : ['where' => $where, 'code' => $code]]), Carbon::parse('2031-01-15 11:59:46'), $since === null ? null : Carbon::parse($since)))->words();
            self::assertSame('proven 14 s ago', $words(null, null));
            self::assertSame('refused since 06:10', $words('access', '2031-01-15 06:10:00'));
            self::assertSame('refused since Tuesday 06:10', $words('access', '2031-01-14 06:10:00'));
            self::assertSame('not reached since 2030-12-24', $words('address', '2030-12-24 06:10:00'));
            self::assertSame('fails since 06:10', $words('answer', '2031-01-15 06:10:00'));
            self::assertSame('waits for consent', $words('access', '2031-01-15 06:10:00', 'consent'));
        } finally {
            Carbon::setTestNow();
        }
    }

    /**
     * @return iterable<string, array{string, string, list<string>, list<string>}> request body, answer, what stays, what goes
     */
    public static function tokenTraffic(): iterable
    {
        yield 'a form and JSON' => ['grant_type=refresh_token&refresh_token=rt-771&client_secret=cs-772', '{"access_token":"at-773","token_type":"Bearer","refresh_token":"rt-774","id_token":"it-775","expires_in":600}', ['grant_type=refresh_token', '"token_type":"Bearer"', '600'], ['rt-771', 'cs-772', 'at-773', 'rt-774', 'it-775']];
        yield 'an assertion' => ['grant_type=jwt&assertion=aa.bb.cc-776', '{"error":"invalid_grant","error_description":"No."}', ['invalid_grant', 'No.'], ['aa.bb.cc-776']];
        yield 'a code with its verifier' => ['grant_type=authorization_code&code=co-777&code_verifier=cv-778&redirect_uri=http%3A%2F%2Fx', 'access_token=at-779&scope=a', ['redirect_uri=http%3A%2F%2Fx', 'scope=a'], ['co-777', 'cv-778', 'at-779']];
        yield 'a sign-in' => ['{"user":"keeper","password":"pw-780"}', '{"session":{"token":"se-781 with \"quotes\""}}', ['keeper', 'session'], ['pw-780', 'se-781', 'quotes']];
    }

    /**
     * @param  list<string>  $stays
     * @param  list<string>  $goes
     */
    #[DataProvider('tokenTraffic')]
    public function test_what_a_token_endpoint_hears_and_says_is_kept_without_its_tokens(string $request, string $answer, array $stays, array $goes): void
    {
        $sent = new Sent(new Request('POST', 'https://a.example/token', [], $request), 200, 'OK', '1.1', ['set-cookie' => 'sid=ck-782; Path=/, other=ck-783; HttpOnly', 'content-type' => 'application/json'], $answer, null, '', new Timing(0, 0, 0, 0, 0, 0, 1, ''));
        $exchange = app(EvidenceWriter::class)->write($sent, new SecretMask([]), 0, null, purpose: EvidenceWriter::TOKEN);
        $kept = "$exchange->request\n$exchange->headers\n{$exchange->text()}";
        foreach ($stays as $text) {
            self::assertStringContainsString($text, $kept);
        }
        foreach ([...$goes, 'ck-782', 'ck-783'] as $text) {
            self::assertStringNotContainsString($text, $kept);
        }
        self::assertStringContainsString('sid=••••••; Path=/', $kept);
    }

    public function test_headers_of_an_answer_are_kept_as_they_came_but_for_secrets_and_values_of_cookies(): void
    {
        $headers = [
            'link' => '<https://a.example/loans?_page=2&limit=5>; rel="next", <https://a.example/loans?_page=9>; rel="last"', 'cache-control' => 'private, max-age=60, s-maxage=0', 'vary' => 'accept, x=1',
            'content-type' => 'application/json; charset=utf-8', 'x-echo' => 'key=k-canary-784, next=2', 'set-cookie' => 'sid=ck-785; Expires=Wed, 21 Oct 2031 07:28:00 GMT; Path=/, theme="a=b; c"; Max-Age=60, last=ck-786',
        ];
        $sent = new Sent(new Request('GET', 'https://a.example/loans'), 200, 'OK', '1.1', $headers, '[]', null, '', new Timing(0, 0, 0, 0, 0, 0, 1, ''));
        $kept = app(EvidenceWriter::class)->write($sent, new SecretMask(['k-canary-784']), 0, null)->headers;
        foreach (array_diff_key($headers, ['x-echo' => 1, 'set-cookie' => 1]) as $name => $value) {
            self::assertStringContainsString("$name: $value\n", $kept);
        }
        self::assertStringContainsString('x-echo: key=••••••, next=2', $kept);
        self::assertStringContainsString('set-cookie: sid=••••••; Expires=Wed, 21 Oct 2031 07:28:00 GMT; Path=/, theme=••••••', $kept);
        self::assertStringContainsString('last=••••••', $kept);
        foreach (['canary', 'ck-785', 'ck-786', 'a=b'] as $value) {
            self::assertStringNotContainsString($value, $kept);
        }
    }

    public function test_an_input_that_nobody_can_supply_says_so(): void
    {
        $inputs = ['nobody' => ['private' => true], 'constant' => ['private' => true, 'fixed' => 'x'], 'by_default' => ['private' => true, 'default' => 'x'], 'open' => []];
        foreach ($inputs as $name => $more) {
            $this->draft('http://127.0.0.1:1', [], [['slug' => 'loans', 'name' => 'Loans', 'ask' => ['path' => '/loans', 'inputs' => [['name' => $name, 'in' => 'query'] + $more]]]]);
            $sheet = $this->actingAs($this->person())->get('/sources/here/endpoints/loans')->assertOk();
            $name === 'nobody' ? $sheet->assertSee('nobody who uses the endpoint can supply it') : $sheet->assertDontSee('nobody who uses the endpoint can supply it');
        }
    }
}
