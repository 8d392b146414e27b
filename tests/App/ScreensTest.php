<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Endpoint;
use App\Models\KeptTable;
use App\Models\QueryRun;
use App\Models\Role;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Models\Tryout;
use Illuminate\Testing\TestResponse;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Lane;

final class ScreensTest extends AppTestCase
{
    private const STYLE = "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-";

    public function test_nobody_sees_anything_before_signing_in(): void
    {
        foreach (['/', '/sources', '/tables', '/queries', '/runs', '/sources/loans-desk/endpoints/loans'] as $path) {
            $this->get($path)->assertRedirect('/sign-in');
        }
        $this->post('/queries/run', ['sql' => 'select 1'])->assertRedirect('/sign-in');
    }

    public function test_signing_in_and_out(): void
    {
        $user = $this->person();
        $this->post('/sign-in', ['email' => $user->email, 'password' => 'wrong'])->assertSessionHasErrors('email');
        $this->assertGuest();
        $this->post('/sign-in', ['email' => $user->email, 'password' => 'a long password'])->assertRedirect('/');
        $this->assertAuthenticated();
        $this->post('/sign-out')->assertRedirect('/sign-in');
        $this->assertGuest();
    }

    public function test_guessing_is_slowed_down(): void
    {
        $user = $this->person();
        for ($try = 1; $try <= 5; $try++) {
            $this->post('/sign-in', ['email' => $user->email, 'password' => "guess $try"])->assertStatus(302);
        }
        $this->post('/sign-in', ['email' => $user->email, 'password' => 'a long password'])->assertStatus(429)->assertSee('Too many attempts');
    }

    public function test_every_answer_carries_the_security_headers(): void
    {
        foreach (['/sign-in', '/nowhere'] as $path) {
            $response = $this->get($path);
            self::assertStringStartsWith(self::STYLE, (string) $response->headers->get('Content-Security-Policy'));
            self::assertStringContainsString("frame-ancestors 'none'", (string) $response->headers->get('Content-Security-Policy'));
            $response->assertHeader('X-Content-Type-Options', 'nosniff')->assertHeader('Referrer-Policy', 'same-origin');
        }
    }

    public function test_no_page_has_inline_script_or_style(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $this->actingAs($this->person());
        foreach (['/', '/sources', '/sources/new', '/sources/loans-desk', '/sources/loans-desk/file', '/sources/loans-desk/endpoints/loans', '/tables', '/tables/loans', '/queries', '/queries/new', '/runs', '/find?q=loan'] as $path) {
            $html = (string) $this->get($path)->assertOk()->getContent();
            self::assertDoesNotMatchRegularExpression('/<script(?![^>]*(src=|type="application\/json"))/', $html, $path);
            self::assertDoesNotMatchRegularExpression('/\s(style|on[a-z]+)="/', $html, $path);
        }
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function forBuilders(): iterable
    {
        foreach (['get /sources', 'get /sources/new', 'get /sources/loans-desk', 'get /sources/loans-desk/file', 'get /sources/loans-desk/export', 'get /sources/loans-desk/endpoints/new', 'get /sources/loans-desk/endpoints/loans', 'get /runs', 'post /sources', 'post /address', 'post /sources/loans-desk/address', 'post /sources/loans-desk/discover', 'post /sources/loans-desk/consent', 'post /sources/loans-desk/consent/forget', 'get /environments', 'post /environments', 'get /sources/loans-desk/endpoints/loans/compare', 'post /sources/loans-desk', 'post /sources/loans-desk/test', 'post /sources/loans-desk/secrets', 'post /sources/loans-desk/publish', 'post /sources/loans-desk/file', 'delete /sources/loans-desk', 'post /sources/loans-desk/endpoints', 'post /sources/loans-desk/endpoints/loans', 'post /sources/loans-desk/endpoints/loans/try', 'post /sources/loans-desk/endpoints/loans/keep', 'delete /sources/loans-desk/endpoints/loans', 'post /tables/loans/refresh'] as $request) {
            [$method, $path] = explode(' ', $request);
            yield $request => [$method, $path];
        }
    }

    #[DataProvider('forBuilders')]
    public function test_an_analyst_never_sees_or_changes_a_source(string $method, string $path): void
    {
        $this->refresh($this->source(), 'loans');
        $before = Source::query()->firstOrFail()->current()->document;
        $this->actingAs($this->person(Role::Analyst))->call(strtoupper($method), $path)->assertForbidden()->assertDontSee('8401')->assertSee('for those who build');
        self::assertEquals($before, Source::query()->firstOrFail()->current()->document);
    }

    public function test_an_analyst_reads_tables_without_seeing_where_they_come_from(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($this->person(Role::Analyst));
        foreach (['/', '/tables', '/tables/loans', '/queries/new'] as $path) {
            $this->get($path)->assertOk()->assertSee('loans')->assertDontSee('$.borrower')->assertDontSee('loans-desk/v2');
        }
    }

    public function test_a_source_is_added_with_a_clear_sentence_for_each_mistake(): void
    {
        $this->actingAs($this->person());
        $this->post('/sources', ['base' => 'api.saltmarsh.example/v2/', 'name' => 'Loans'])->assertSessionHasErrors('start')->assertRedirectContains('offer='.rawurlencode('https://api.saltmarsh.example/v2'));
        $this->post('/sources', ['base' => 'https://api.saltmarsh.example/v2', 'name' => 'Loans'])->assertRedirect('/sources/loans');
        $this->post('/sources', ['base' => 'https://api.saltmarsh.example/v2', 'name' => 'Loans'])->assertSessionHasErrors('slug');
    }

    public function test_what_is_typed_is_kept_as_a_draft_and_what_is_wrong_is_said_and_not_kept(): void
    {
        $source = $this->source();
        $this->actingAs($this->person());
        $form = ['path' => '/loans', 'records' => '$.data[*]', 'name' => 'Loans'];
        $this->post('/sources/loans-desk/endpoints/loans', $form)->assertOk()->assertSee('edits kept as draft');
        self::assertSame('Loans', $source->refresh()->current()->endpoint('loans')?->name);
        self::assertSame('Loans out, newest first', $source->published()?->endpoint('loans')?->name);
        $this->post('/sources/loans-desk/endpoints/loans', ['records' => '$.data[*'] + $form)->assertOk()->assertSee('not saved')->assertSee('A bracket is not closed');
        self::assertSame('$.data[*]', $source->refresh()->current()->document['endpoints'][0]['answer']['records']);
        $this->post('/sources/loans-desk/publish')->assertRedirect();
        self::assertSame([2, 'Loans'], [$source->refresh()->published_version, $source->published()?->endpoint('loans')?->name]);
    }

    public function test_an_older_change_that_arrives_late_undoes_nothing(): void
    {
        $source = $this->source();
        $this->actingAs($this->person());
        $page = str_repeat('a1', 12);
        $form = ['path' => '/loans', 'name' => 'Loans'];
        $send = fn (string $turn, array $more): TestResponse => $this->withHeader('X-Sheet', $turn)->post('/sources/loans-desk/endpoints/loans', $more + $form)->assertOk();
        $records = static fn (): mixed => $source->refresh()->current()->document['endpoints'][0]['answer']['records'] ?? null;
        $send("$page:2", ['records' => '$.data[0]']);
        $send("$page:1", ['records' => '']);
        self::assertSame('$.data[0]', $records());
        $send("$page:3", ['records' => '$.data[1]']);
        self::assertSame('$.data[1]', $records());
        $send(str_repeat('b2', 12).':1', ['records' => '$.data[2]']);
        self::assertSame('$.data[2]', $records(), 'another sheet counts for itself');
        $this->withHeader('X-Sheet', "$page:1")->post('/sources/loans-desk', ['name' => 'Late', 'bases' => ['trial' => self::$standinsAddress]])->assertOk();
        self::assertSame('Loans desk', $source->refresh()->name);
    }

    public function test_the_whole_sheet_sent_back_unchanged_changes_nothing(): void
    {
        $source = $this->source();
        $this->actingAs($this->person());
        $before = $source->current()->document;
        $html = (string) $this->get('/sources/loans-desk/endpoints/loans')->getContent();
        $this->post('/sources/loans-desk/endpoints/loans', $this->fields($html, 'sheet-form'))->assertOk()->assertSee('version 1');
        self::assertEquals($before, $source->refresh()->current()->document);
        $html = (string) $this->get('/sources/loans-desk')->getContent();
        $this->post('/sources/loans-desk', $this->fields($html, 'source-form'))->assertOk();
        self::assertEquals($before, $source->refresh()->current()->document);
        self::assertNull($source->draft());
    }

    public function test_a_try_shows_request_answer_rows_and_masks_the_secret(): void
    {
        $this->source();
        $this->actingAs($this->person());
        $html = (string) $this->get('/sources/loans-desk/endpoints/loans')->getContent();
        $this->post('/sources/loans-desk/endpoints/loans/try', $this->fields($html, 'sheet-form'))->assertOk()
            ->assertSee('GET /loans-desk/v2/loans?expand=items&amp;limit=50', false)->assertSee('authorization: Bearer ••••••')->assertDontSee('ld-secret-4f0c2a77b1e9d358')
            ->assertSee('50 records')->assertSee('TH-8812')->assertSee('version 1');
        $this->get('/sources/loans-desk/endpoints/loans')->assertSee('07120 keeps its zero');
        self::assertTrue(Tryout::query()->firstOrFail()->succeeded);
        $this->get('/tries/'.Tryout::query()->firstOrFail()->id.'/1/body')->assertOk()->assertHeader('Content-Type', 'text/plain; charset=utf-8')->assertSee('TH-8812');
    }

    public function test_what_an_api_sends_is_never_markup(): void
    {
        $evil = '<img src=x onerror=alert(1)>';
        $port = Lane::ports(8790)->web;
        $this->allow($port);
        $folder = sys_get_temp_dir().'/spring-evil-'.getmypid();
        @mkdir($folder);
        file_put_contents("$folder/evil.json", (string) json_encode([['id' => 1, $evil => $evil, 'note' => '</pre><script>1</script>']]));
        $server = \App\Local\Child::start('server', [PHP_BINARY, '-S', "127.0.0.1:$port", '-t', $folder], [], '/dev/null', $folder);
        try {
            for ($until = microtime(true) + 60; @file_get_contents("http://127.0.0.1:$port/evil.json") === false && microtime(true) < $until; usleep(20_000));
            $this->actingAs($this->person());
            $this->post('/sources', ['base' => "http://127.0.0.1:$port", 'name' => $evil, 'slug' => 'evil'])->assertRedirect('/sources/evil');
            $this->post('/sources/evil/endpoints', ['path' => '/evil.json', 'name' => $evil])->assertRedirect('/sources/evil/endpoints/img-src-x-onerror-alert-1');
            $sheet = '/sources/evil/endpoints/img-src-x-onerror-alert-1';
            $this->post("$sheet/try", ['path' => '/evil.json', 'records' => '$[*]'])->assertOk();
            $this->post($sheet, ['path' => '/evil.json', 'records' => '$[*]', 'do' => 'propose'])->assertOk();
        } finally {
            $server->stop(1);
        }
        foreach (['/', '/sources', '/sources/evil', $sheet] as $path) {
            $html = (string) $this->get($path)->assertOk()->getContent();
            self::assertStringNotContainsString($evil, $html, $path);
            self::assertStringNotContainsString('<script>1', $html, $path);
        }
    }

    public function test_a_secret_goes_in_and_never_comes_out(): void
    {
        $canary = 'canary-5f0c9a1e77d3b2c4';
        $source = $this->source(withSecrets: false);
        $this->actingAs($this->person());
        $this->post('/sources/loans-desk/secrets', ['secret_name' => 'token', 'secret_value' => $canary])->assertOk()->assertDontSee($canary);
        $this->post('/sources/loans-desk/test')->assertOk();
        $this->post('/sources/loans-desk/endpoints/loan/try', ['path' => '/loans/{id}', 'inputs' => [['was' => '0', 'name' => 'id', 'in' => 'path', 'type' => 'integer', 'value' => '1']]])->assertOk();
        $this->refresh($source, 'loans');
        foreach (['/', '/sources', '/sources/loans-desk', '/sources/loans-desk/file', '/sources/loans-desk/export', '/sources/loans-desk/endpoints/loans', '/sources/loans-desk/endpoints/loan', '/runs', '/runs/'.\App\Models\Run::query()->firstOrFail()->id] as $path) {
            $this->get($path)->assertOk()->assertDontSee($canary)->assertDontSee(base64_encode($canary));
        }
        $database = \Illuminate\Support\Facades\DB::connection('app');
        foreach ($database->select('select table_name as t, column_name as c from information_schema.columns where table_schema = database()') as $column) {
            self::assertSame(0, (int) ($database->selectOne("select count(*) as n from `{$column->t}` where instr(`{$column->c}`, ?) > 0", [$canary])->n ?? 0), "{$column->t}.{$column->c}");
        }
        foreach (\App\Models\Exchange::query()->get() as $exchange) {
            self::assertStringNotContainsString($canary, $exchange->request.$exchange->headers.$exchange->text());
        }
        self::assertStringNotContainsString($canary, (string) @file_get_contents(base_path(config('spring.var').'/log/application.log')));
    }

    public function test_a_table_is_paged_sorted_and_searched_by_the_server(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($this->person(Role::Analyst));
        $seen = [];
        $url = '/tables/loans?sort=status&dir=desc';
        for ($page = 0; $url !== null && $page < 20; $page++) {
            $html = (string) $this->get($url)->assertOk()->getContent();
            preg_match_all('/<td class="n">(\d{4})<\/td>\s*<td/', $html, $found);
            array_push($seen, ...$found[1]);
            $url = preg_match('/<a href="([^"]+)" rel="next">/', $html, $next) === 1 ? '/tables/loans'.html_entity_decode($next[1]) : null;
        }
        self::assertCount(12, array_chunk($seen, 100));
        self::assertCount(1200, array_unique($seen));
        $this->get('/tables/loans?q=TH-8812')->assertSee('TH-8812')->assertDontSee('AS-8811')->assertSee('1 row shown');
        $this->get('/tables/loans?q=th-8812')->assertSee('TH-8812');
        $this->get('/tables/loans?q=%25')->assertSee('No row has');
        $this->get('/tables/loans?from=rubbish&sort=nope')->assertOk();
        $this->get('/tables/nope')->assertNotFound()->assertSee('There is no table');
    }

    public function test_going_back_gives_the_page_that_was_seen(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($this->person(Role::Analyst));
        foreach (['', 'sort=due', 'sort=due&dir=desc', 'sort=cover'] as $order) {
            $first = (string) $this->get("/tables/loans?$order")->getContent();
            $second = $this->follow($first, 'next');
            $third = $this->follow($second, 'next');
            self::assertSame($this->ids($second), $this->ids($this->follow($third, 'prev')), $order);
            self::assertSame($this->ids($first), $this->ids($this->follow($second, 'prev')), $order);
            self::assertNotSame($this->ids($first), $this->ids($second));
        }
    }

    public function test_another_environment_shows_its_own_tables(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($user = $this->person());
        $this->get('/tables')->assertSee('loan_items');
        $this->from('/tables')->post('/environment', ['environment' => 'production'])->assertRedirect('/tables');
        $this->app?->forgetInstance(\App\Models\Environment::class);
        $this->actingAs($user->refresh())->get('/tables')->assertDontSee('loan_items')->assertSee('Nothing is kept in Production yet');
    }

    public function test_a_source_that_keeps_tables_is_not_deleted(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $this->actingAs($this->person());
        $this->from('/sources/loans-desk')->delete('/sources/loans-desk')->assertSessionHasErrors('source');
        self::assertTrue(Source::query()->whereKey($source->id)->exists());
    }

    public function test_a_source_file_with_faults_is_handed_back_with_lines_and_nothing_lost(): void
    {
        $source = $this->source();
        $this->actingAs($this->person());
        $text = str_replace('style: cursor', 'style: magic', $source->current()->yaml());
        $this->post('/sources/loans-desk/file', ['text' => $text])->assertOk()->assertSee('endpoints[0].onward.style')->assertSee('style: magic');
        $this->post('/sources/loans-desk/file', ['text' => str_replace("'Loans desk'", 'Loans office', $source->current()->yaml())])->assertRedirect('/sources/loans-desk');
        self::assertSame('Loans office', $source->refresh()->name);
    }

    public function test_tables_keep_their_identity_when_an_endpoint_leaves_the_document(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $this->actingAs($this->person())->delete('/sources/loans-desk/endpoints/loans')->assertRedirect();
        self::assertSame(2, KeptTable::query()->count());
        self::assertTrue(Endpoint::query()->where('slug', 'loans')->exists());
        $this->get('/tables/loans')->assertOk();
        $this->get('/sources/loans-desk/endpoints/loans')->assertNotFound();
    }

    public function test_queries_are_kept_by_their_author_and_read_by_all(): void
    {
        $author = $this->person(Role::Analyst);
        $this->actingAs($author)->post('/queries', ['name' => 'Mine', 'sql' => 'select 1'])->assertRedirect();
        $query = SavedQuery::query()->firstOrFail();
        $this->actingAs($this->person(Role::Analyst));
        $this->get("/queries/$query->id")->assertOk()->assertSee('select 1');
        $this->post("/queries/$query->id", ['name' => 'Yours', 'sql' => 'select 2'])->assertForbidden();
        $this->delete("/queries/$query->id")->assertForbidden();
        self::assertSame(0, QueryRun::query()->count());
    }

    private function follow(string $html, string $rel): string
    {
        self::assertSame(1, preg_match('/<a href="([^"]+)" rel="'.$rel.'">/', $html, $found), "no link $rel");

        return (string) $this->get('/tables/loans'.html_entity_decode($found[1]))->assertOk()->getContent();
    }

    /**
     * @return list<string>
     */
    private function ids(string $html): array
    {
        preg_match_all('/<td class="n">(\d{4})<\/td>\s*<td/', $html, $found);

        return $found[1];
    }
}
