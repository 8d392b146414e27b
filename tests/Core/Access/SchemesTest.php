<?php

declare(strict_types=1);

namespace Tests\Core\Access;

use DeepSpring\Access\GivenSecrets;
use DeepSpring\Access\MissingSecret;
use DeepSpring\Access\OAuth\AuthorizationCode;
use DeepSpring\Access\Schemes;
use DeepSpring\Access\SecretMask;
use DeepSpring\Access\UnusableSecret;
use GuzzleHttp\Psr7\Request;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Psr\Http\Message\RequestInterface;

final class SchemesTest extends TestCase
{
    private const SECRETS = ['user' => 'circle-desk', 'password' => 'pä ss:"word"', 'token' => 'tk-51c0a9d4e25b3f2a', 'key' => 'k/e+y=1234567890&x'];

    /**
     * @return iterable<string, array{array<string, mixed>, string, string}>
     */
    public static function schemes(): iterable
    {
        yield 'basic' => [['scheme' => 'basic', 'username' => 'circle-desk', 'password' => ['secret' => 'password']], 'authorization', 'Basic '.base64_encode('circle-desk:'.self::SECRETS['password'])];
        yield 'basic with a secret name' => [['scheme' => 'basic', 'username' => ['secret' => 'user'], 'password' => ['secret' => 'password']], 'authorization', 'Basic '.base64_encode('circle-desk:'.self::SECRETS['password'])];
        yield 'bearer' => [['scheme' => 'bearer', 'token' => ['secret' => 'token']], 'authorization', 'Bearer '.self::SECRETS['token']];
        yield 'bearer with its own prefix' => [['scheme' => 'bearer', 'token' => ['secret' => 'token'], 'prefix' => 'Token'], 'authorization', 'Token '.self::SECRETS['token']];
        yield 'bearer without a prefix' => [['scheme' => 'bearer', 'token' => ['secret' => 'token'], 'prefix' => ''], 'authorization', self::SECRETS['token']];
        yield 'key in a header' => [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Stores-Key', 'value' => ['secret' => 'key']], 'x-stores-key', self::SECRETS['key']];
        yield 'key with a prefix' => [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Stores-Key', 'value' => ['secret' => 'key'], 'prefix' => 'Key '], 'x-stores-key', 'Key '.self::SECRETS['key']];
        yield 'key in a cookie' => [['scheme' => 'api-key', 'in' => 'cookie', 'name' => 'sid', 'value' => ['secret' => 'token']], 'cookie', 'house=hq; sid='.self::SECRETS['token']];
        yield 'key in the query' => [['scheme' => 'api-key', 'in' => 'query', 'name' => 'api key', 'value' => ['secret' => 'key']], '', 'a=1&api%20key=k%2Fe%2By%3D1234567890%26x'];
    }

    /**
     * @param  array<string, mixed>  $scheme
     */
    #[DataProvider('schemes')]
    public function test_a_scheme_adds_exactly_its_part(array $scheme, string $header, string $value): void
    {
        [$one] = Schemes::all([$scheme]);
        $request = $one->apply($this->request(), new GivenSecrets(self::SECRETS));
        self::assertSame($value, $header === '' ? $request->getUri()->getQuery() : $request->getHeaderLine($header));
        self::assertSame($header === '' ? null : $header, $one->header());
    }

    public function test_a_consent_is_one_for_all_unless_the_file_says_otherwise(): void
    {
        $entry = ['scheme' => 'oauth2-authorization-code', 'authorize_url' => 'https://desk.saltmarsh.example/agree', 'token_url' => 'https://desk.saltmarsh.example/token', 'client_id' => 'desk', 'client_secret' => ['secret' => 'key']];
        $personal = [];
        foreach ([[], ['shared' => true], ['shared' => false]] as $more) {
            [$scheme] = Schemes::all([$more + $entry]);
            self::assertInstanceOf(AuthorizationCode::class, $scheme);
            $personal[] = $scheme->isPersonal();
        }
        self::assertSame([false, false, true], $personal);
    }

    /**
     * @param  array<string, mixed>  $scheme
     */
    #[DataProvider('schemes')]
    public function test_nothing_secret_is_left_once_masked(array $scheme): void
    {
        $secrets = new GivenSecrets(self::SECRETS);
        [$one] = Schemes::all([$scheme]);
        $request = $one->apply($this->request(), $secrets);
        $mask = new SecretMask($one->sensitive($secrets));
        $shown = $mask->apply($request->getUri()->getQuery().' '.json_encode($request->getHeaders()).' '.json_encode(self::SECRETS['password']));
        foreach ($one->secretNames() as $name) {
            if ($name === 'user') {
                continue;
            }
            foreach ([self::SECRETS[$name], rawurlencode(self::SECRETS[$name]), base64_encode('circle-desk:'.self::SECRETS[$name])] as $form) {
                self::assertStringNotContainsString($form, $shown);
            }
        }
        self::assertStringContainsString('••••••', $shown);
    }

    /**
     * @param  array<string, mixed>  $scheme
     */
    #[DataProvider('schemes')]
    public function test_a_secret_without_a_value_is_named(array $scheme): void
    {
        [$one] = Schemes::all([$scheme]);
        $this->expectException(MissingSecret::class);
        $this->expectExceptionMessage('has no value in Trial');
        $one->apply($this->request(), new GivenSecrets([], 'Trial'));
    }

    /**
     * @param  array<string, mixed>  $scheme
     */
    #[DataProvider('schemes')]
    public function test_a_line_break_in_a_secret_cannot_make_a_header(array $scheme): void
    {
        [$one] = Schemes::all([$scheme]);
        $secrets = new GivenSecrets(array_map(static fn (string $value): string => "$value\r\nx-evil: 1", self::SECRETS));
        try {
            $request = $one->apply($this->request(), $secrets);
            self::assertFalse($request->hasHeader('x-evil'));
            self::assertStringNotContainsString("\n", $request->getUri().implode('', array_merge(...array_values($request->getHeaders()))));
        } catch (UnusableSecret $unusable) {
            self::assertStringContainsString('line break', $unusable->getMessage());
        }
    }

    public function test_schemes_apply_in_their_order(): void
    {
        $secrets = new GivenSecrets(self::SECRETS);
        $request = $this->request();
        foreach (Schemes::all([['scheme' => 'none'], ['scheme' => 'basic', 'username' => 'a', 'password' => 'b'], ['scheme' => 'api-key', 'in' => 'header', 'name' => 'x-key', 'value' => ['secret' => 'key']]]) as $scheme) {
            $request = $scheme->apply($request, $secrets);
        }
        self::assertSame('Basic YTpi', $request->getHeaderLine('authorization'));
        self::assertSame(self::SECRETS['key'], $request->getHeaderLine('x-key'));
    }

    public function test_a_mask_spares_the_last_four_of_long_secrets_only(): void
    {
        self::assertSame('••••••3f2a', SecretMask::shown('tk-51c0a9d4e25b3f2a'));
        self::assertSame('••••••', SecretMask::shown(base64_encode('circle-desk:short-22')), 'the end of a password is not shown');
        self::assertSame('••••••', SecretMask::shown('short-secret'));
        self::assertSame('a ••••••3f2a b', (new SecretMask(['tk-51c0a9d4e25b3f2a']))->apply('a tk-51c0a9d4e25b3f2a b'));
    }

    private function request(): RequestInterface
    {
        return new Request('GET', 'http://127.0.0.1:8401/v1/list?a=1', ['cookie' => 'house=hq']);
    }
}
