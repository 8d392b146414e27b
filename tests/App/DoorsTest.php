<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Tries;
use App\Secrets\Vault;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Doors that stay shut, each met for real: what is said, and that the repair which is offered opens
 * the door.
 */
final class DoorsTest extends AppTestCase
{
    private const BEARER = [['scheme' => 'bearer', 'token' => ['secret' => 'key']]];

    private const KEY = 'dr-demo-2b9f61c07ae4d853';

    /**
     * @return iterable<string, array{array<string, mixed>, string, bool}> what to ask, the code, whether one click opens it
     */
    public static function doors(): iterable
    {
        $in = static fn (string $name, string $try = '1'): array => [['name' => $name, 'in' => 'query', 'try' => $try]];
        $table = [
            ['/expired', '401-expired', false, ['access' => self::BEARER]], ['/silent', '401-refused', false, ['access' => self::BEARER]], ['/bearer', '401-none', false, []],
            ['/bearer', '401-place', true, ['access' => [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-K', 'value' => ['secret' => 'key']]]]],
            ['/key', '401-header', true, ['access' => [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Api-Key', 'value' => ['secret' => 'key']]]]],
            ['/bearer', 'secret-prefixed', true, ['access' => self::BEARER, 'secret' => 'Bearer '.self::KEY]], ['/bearer', 'secret-quoted', true, ['access' => self::BEARER, 'secret' => '"'.self::KEY.'"']], ['/bearer', 'secret-spaced', true, ['access' => self::BEARER, 'secret' => ' '.self::KEY]],
            ['/scope', '403-scope', false, ['access' => self::BEARER]], ['/role', '403-role', false, []], ['/address', '403-ip', false, []], ['/denied', '403', false, []],
            ['/strict', '400-parameter', true, ['inputs' => $in('hause', 'north-quay')]], ['/strict', '400-type', false, ['inputs' => $in('limit', 'many')]],
            ['/missing', '422-missing', false, []], ['/nested', '422-nested', false, []], ['/fields', '422-fields', false, []], ['/unclear', '400', false, []],
            ['/post-only', '405', false, []], ['/picky', '406', true, []], ['/body', '415', false, []], ['/conflict', '409', false, []], ['/gone', '410', false, []], ['/heavy', '413', false, []], ['/changed', '412', false, []],
            ['/crowd', '429', false, []], ['/crowd-silent', '429', false, []], ['/broken', '500', false, []], ['/broken-silent', '500', false, []], ['/behind', '502', false, []], ['/closed', '503', false, []], ['/tired', '504', false, []],
            ['/elsewhere', 'redirect', false, []], ['/to-sign-in', 'redirect-sign-in', false, []], ['/open?', '', false, []],
            ['/sign-in-page', 'html-sign-in', false, []], ['/proxy-page', 'html-proxy', false, []], ['/website', 'html', false, []], ['/error-inside', '200-error', false, ['records' => '$.data[*]']], ['/nothing', '204', false, []], ['/empty', 'empty', false, []],
            ['/latin', 'charset', false, []], ['/gzip-absent', 'gzip-absent', true, []], ['/gzip-silent', '', false, []], ['/script', 'jsonp', false, []], ['/lines', '', false, []], ['/xml', '', false, []], ['/token', 'token-instead', false, []], ['/prose', 'not-json', false, []],
            ['/v2/doors', '404-doubled', true, ['base' => '/v2']], ['/rooms', '404-version', false, ['production' => 'https://doors.saltmarsh.example/v2']], ['/v2/doors/', '404-slash', true, []], ['/v2/slashed', '404-slash', true, ['records' => '$.data[*]']], ['/v2/nowhere', '404-id', false, ['inputs' => $in('id')]], ['/lost', '404', false, []],
            ['/open?slow', 'timeout', false, ['inputs' => $in('slow', '3000'), 'pace' => ['timeout' => 1, 'tries' => 1]]],
        ];
        foreach ($table as [$path, $code, $opens, $more]) {
            yield "$path: $code" => [['path' => strtok($path, '?')] + $more, $code, $opens];
        }
    }

    /**
     * @param  array<string, mixed>  $ask
     */
    #[DataProvider('doors')]
    public function test_a_door_says_why_it_stays_shut(array $ask, string $code, bool $opens): void
    {
        $source = $this->door($ask);
        $try = app(Tries::class)->endpoint($this->endpoint($source, 'door'), $source->current(), $source->current()->endpoint('door') ?? self::fail(), $this->trial(), null);
        self::assertSame($code, $try->diagnosis['code'] ?? '', (string) json_encode($try->diagnosis));
        self::assertStringNotContainsString(self::KEY, (string) json_encode($try->diagnosis));
        $this->actingAs($this->person());
        foreach (['/sources/doors/endpoints/door', '/sources/doors'] as $path) {
            $this->get($path)->assertOk()->assertDontSee(self::KEY)->assertSee($try->diagnosis['what'] ?? 'Doors');
        }
        if ($opens) {
            $this->post("/tries/$try->id/repair/0")->assertRedirect('/sources/doors/endpoints/door');
            $again = Tryout::query()->latest('id')->firstOrFail();
            self::assertNotSame($try->id, $again->id);
            self::assertTrue($again->succeeded, (string) json_encode($again->diagnosis));
            self::assertNotNull($source->refresh()->draft(), 'a repair is a draft, as any edit');
        }
    }

    public function test_what_is_no_failure_is_noted_beside_the_answer(): void
    {
        foreach (['/mark' => 'byte order mark', '/guard' => 'guard against being run', '/filtered' => 'no record at all'] as $path => $says) {
            $source = $this->door(['path' => $path, 'records' => '$.data[*]', 'inputs' => $path === '/filtered' ? [['name' => 'house', 'in' => 'query', 'try' => 'x']] : []]);
            $try = app(Tries::class)->endpoint($this->endpoint($source, 'door'), $source->current(), $source->current()->endpoint('door') ?? self::fail(), $this->trial(), null);
            self::assertTrue($try->succeeded, (string) json_encode($try->diagnosis));
            $this->actingAs($this->person())->get('/sources/doors/endpoints/door')->assertSee($says);
        }
    }

    public function test_a_source_is_mended_by_its_repairs_alone(): void
    {
        $source = $this->door(['path' => '/doors/bearer', 'access' => [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-K', 'value' => ['secret' => 'key']]], 'secret' => '"Bearer '.self::KEY.'"']);
        $try = app(Tries::class)->endpoint($this->endpoint($source, 'door'), $source->current(), $source->current()->endpoint('door') ?? self::fail(), $this->trial(), null);
        $this->actingAs($this->person());
        $codes = [];
        for ($round = 0; $round < 6 && ! $try->succeeded; $round++) {
            $codes[] = $try->diagnosis['code'] ?? '';
            $this->post("/tries/$try->id/repair/0");
            $try = Tryout::query()->latest('id')->firstOrFail();
        }
        self::assertTrue($try->succeeded, (string) json_encode([$codes, $try->diagnosis]));
        self::assertSame(['404-doubled', 'secret-prefixed', '401-place'], $codes);
    }

    public function test_a_repair_is_for_builders_and_for_what_was_offered(): void
    {
        $source = $this->door(['path' => '/role']);
        $try = app(Tries::class)->endpoint($this->endpoint($source, 'door'), $source->current(), $source->current()->endpoint('door') ?? self::fail(), $this->trial(), null);
        $this->actingAs($this->person())->post("/tries/$try->id/repair/0")->assertNotFound();
        $this->post("/tries/$try->id/repair/3")->assertNotFound();
        $this->actingAs($this->person(\App\Models\Role::Analyst))->post("/tries/$try->id/repair/0")->assertForbidden();
    }

    /**
     * @param  array<string, mixed>  $ask
     */
    private function door(array $ask): Source
    {
        $document = ['deepspring' => 1, 'source' => [
            'slug' => 'doors', 'name' => 'Doors', 'environments' => ['trial' => ['base' => self::$standinsAddress.'/doors'.($ask['base'] ?? '')]] + (isset($ask['production']) ? ['production' => ['base' => $ask['production']]] : []),
        ] + array_filter(['access' => $ask['access'] ?? [], 'pace' => $ask['pace'] ?? []]), 'endpoints' => [['slug' => 'door', 'name' => 'Door', 'ask' => ['path' => $ask['path']] + (($ask['inputs'] ?? []) === [] ? [] : ['inputs' => $ask['inputs']])] + (isset($ask['records']) ? ['answer' => ['records' => $ask['records']]] : [])]];
        $source = app(\App\Sources\SourceStore::class)->draft(\DeepSpring\SourceFile\SourceFile::of($document), null)->refresh();
        app(Vault::class)->put($source, $this->trial(), 'key', $ask['secret'] ?? self::KEY, null);

        return $source;
    }
}
