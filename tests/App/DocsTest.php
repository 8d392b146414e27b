<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Role;
use App\Models\Source;
use App\View\Markdown;
use Illuminate\Support\Facades\Artisan;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * The documentation of a provider beside the sheets: links, notes and pages, kept in the file of the source.
 */
final class DocsTest extends AppTestCase
{
    public function test_links_notes_and_pages_are_kept_in_the_file_and_exported_with_it(): void
    {
        $source = $this->source();
        $this->actingAs($this->person());
        $this->get('/sources/loans-desk/docs?endpoint=loans')->assertOk()->assertSee('Nothing is kept yet')->assertSee('Links and notes of this endpoint');
        $this->post('/sources/loans-desk/docs', ['of' => 'source', 'endpoint' => 'loans', 'links' => "https://docs.saltmarsh.example/loans The loans desk\n\nhttps://status.saltmarsh.example", 'notes' => "# Mind\n\nAsk **Tomas** for a key."])
            ->assertOk()->assertSee('The loans desk')->assertSee('<strong>Tomas</strong>', false);
        $this->post('/sources/loans-desk/docs', ['of' => 'endpoint', 'endpoint' => 'loans', 'links' => 'https://docs.saltmarsh.example/list List loans', 'notes' => ''])->assertSeeInOrder(['List loans', 'The loans desk']);
        $this->post('/sources/loans-desk/docs/pages', ['page_text' => self::$standinsAddress.'/loans-desk/', 'endpoint' => 'loans'])->assertOk()->assertSee('kept '.now('UTC')->format('Y-m-d'))->assertSee('north-quay')->assertSee('<th>Parameter</th>', false)->assertDontSee('<script', false);
        $this->post('/sources/loans-desk/docs/pages', ['page_text' => "# By hand\n\n| Field | Type |\n|---|---|\n| fee | decimal |", 'page_title' => 'Fees'])->assertSee('Fees')->assertSee('<td>fee</td>', false);
        $docs = $source->refresh()->current()->document['source']['docs'] ?? [];
        self::assertSame(['Fees', 'Loans desk API, version 2'], array_column($docs['pages'], 'title'));
        self::assertSame([['title' => 'The loans desk', 'url' => 'https://docs.saltmarsh.example/loans'], ['url' => 'https://status.saltmarsh.example']], $docs['links']);
        // Fetched again, it takes its own place.
        $this->post('/sources/loans-desk/docs/pages', ['page_text' => self::$standinsAddress.'/loans-desk/']);
        self::assertSame(['Loans desk API, version 2', 'Fees'], array_column($source->refresh()->current()->document['source']['docs']['pages'] ?? [], 'title'));
        // Found again, and let go.
        $this->get('/sources/loans-desk/docs?q=FEE')->assertSee('<mark>fee</mark>', false);
        $this->get('/sources/loans-desk/docs?q=nowhere+to+be+found')->assertSee('is on none of the pages');
        $this->delete('/sources/loans-desk/docs/pages/0')->assertOk()->assertDontSee('version 2</button>', false);
        $exported = (string) $this->get('/sources/loans-desk/export')->getContent();
        foreach (['https://docs.saltmarsh.example/list', 'Ask **Tomas** for a key.', '| fee | decimal |'] as $part) {
            self::assertStringContainsString($part, $exported);
        }
        // What others read is as it was until it is published; then it is imported as it was exported.
        $path = (string) tempnam(sys_get_temp_dir(), 'file');
        file_put_contents($path, str_replace('slug: loans-desk', 'slug: loans-again', $exported));
        self::assertSame(0, Artisan::call('spring:import', ['file' => [$path]]), Artisan::output());
        self::assertEquals($source->refresh()->current()->document['source']['docs'] ?? null, Source::query()->where('slug', 'loans-again')->firstOrFail()->current()->document['source']['docs'] ?? null);
        unlink($path);
    }

    /**
     * @return iterable<string, array{string, array<string, string>, string}>
     */
    public static function refused(): iterable
    {
        yield 'a link that is none' => ['/sources/loans-desk/docs', ['of' => 'source', 'links' => 'javascript:alert(1) Press', 'notes' => 'kept as typed'], 'A link is an address, and its title after it'];
        yield 'nothing' => ['/sources/loans-desk/docs/pages', ['page_text' => ' '], 'Give the address of a page, or paste it'];
        yield 'an address that is closed' => ['/sources/loans-desk/docs/pages', ['page_text' => 'http://127.0.0.1:9/docs'], 'cannot be fetched'];
        yield 'a page that is not there' => ['/sources/loans-desk/docs/pages', ['page_text' => 'STANDINS/none/docs'], 'answered 404. Paste the page instead.'];
        yield 'a page without text' => ['/sources/loans-desk/docs/pages', ['page_text' => '<html><body><script>run()</script></body></html>'], 'There is no text on that page'];
    }

    /**
     * @param  array<string, string>  $sent
     */
    #[DataProvider('refused')]
    public function test_what_cannot_be_kept_is_said_and_nothing_is_lost(string $path, array $sent, string $said): void
    {
        $source = $this->source();
        $this->actingAs($this->person());
        $sent = str_replace('STANDINS', self::$standinsAddress, $sent);
        $answer = $this->post($path, $sent)->assertOk()->assertSee($said);
        if (isset($sent['notes'])) {
            $answer->assertSee('kept as typed')->assertSee('javascript:alert(1) Press');
        }
        self::assertArrayNotHasKey('docs', $source->refresh()->current()->document['source']);
    }

    public function test_the_file_holds_no_secret_though_the_page_shows_it(): void
    {
        $source = $this->source();
        $this->actingAs($this->person());
        $secret = 'ld-secret-4f0c2a77b1e9d358';
        $this->post('/sources/loans-desk/docs/pages', ['page_text' => self::$standinsAddress.'/loans-desk/'])->assertOk()->assertDontSee($secret)->assertSee('Client id of the trial desk');
        $this->post('/sources/loans-desk/docs', ['of' => 'source', 'notes' => "The secret is $secret", 'links' => "https://docs.saltmarsh.example/?key=$secret"])->assertDontSee($secret);
        $this->post('/sources/loans-desk/docs', ['of' => 'endpoint', 'endpoint' => 'loans', 'notes' => "It is $secret"])->assertDontSee($secret);
        self::assertStringNotContainsString($secret, (string) json_encode($source->refresh()->current()->document));
    }

    public function test_only_those_who_build_change_it(): void
    {
        $this->source();
        $this->actingAs($this->person(Role::Analyst));
        $this->get('/sources/loans-desk/docs')->assertForbidden();
        $this->post('/sources/loans-desk/docs', ['of' => 'source', 'notes' => 'x'])->assertForbidden();
        $this->post('/sources/loans-desk/docs/pages', ['page_text' => 'x'])->assertForbidden();
        $this->delete('/sources/loans-desk/docs/pages/0')->assertForbidden();
    }

    public function test_a_table_becomes_inputs_or_a_sample_and_what_is_none_is_said(): void
    {
        $source = $this->source();
        $this->actingAs($this->person());
        $address = '/sources/loans-desk/endpoints/loans';
        $fields = fn (): array => $this->fields((string) $this->get($address)->getContent(), 'sheet-form');
        $table = (string) json_encode([['Parameter', 'Type', ''], ['status', 'text', 'there already'], ['limit', 'number', 'at most 200']]);
        $this->post($address, $fields() + ['do' => 'fields-of-table', 'table' => $table])->assertOk()->assertSee('at most 200');
        $inputs = $source->refresh()->current()->endpoint('loans')->endpoint['ask']['inputs'] ?? [];
        self::assertSame(['status', 'expand', 'limit'], array_column($inputs, 'name'));
        $this->post($address, $fields() + ['do' => 'fields-of-table', 'as' => 'sample', 'table' => $table])->assertOk();
        self::assertNotNull($source->refresh()->current()->endpoint('loans')->endpoint['answer']['sample'] ?? null);
        foreach (['', 'no json', '[]', '[["a"], [["deep"]]]', '{"a": 1}'] as $wrong) {
            $this->post($address, $fields() + ['do' => 'fields-of-table', 'table' => $wrong])->assertOk()->assertSee('No names of fields are found');
        }
    }

    /**
     * @return iterable<string, array{string, list<string>, list<string>}>
     */
    public static function hostile(): iterable
    {
        yield 'a script' => ['<script>alert(1)</script>', ['&lt;script&gt;'], ['<script']];
        yield 'a link that runs' => ['[x](javascript:alert(1)) [y](data:text/html,x) [z](https://ok.saltmarsh.example)', ['https://ok.saltmarsh.example'], ['href="javascript', 'href="data']];
        yield 'a handler' => ['<p onclick="alert(1)">x</p> <a href="https://x" onmouseover="y">z</a>', [], ['<p onclick', '<a href="https://x" onmouseover']];
        yield 'a picture, which would be asked for elsewhere' => ['![the map](https://elsewhere.example/x.png)', ['the map'], ['<img']];
        yield 'an address that breaks out of its place' => ['[x](https://a.example/"onclick="alert(1))', [], ['"onclick="alert']];
    }

    /**
     * @param  list<string>  $there
     * @param  list<string>  $not
     */
    #[DataProvider('hostile')]
    public function test_notes_do_nothing(string $markdown, array $there, array $not): void
    {
        $html = (string) Markdown::html($markdown, '<');
        foreach ($there as $part) {
            self::assertStringContainsString($part, (string) Markdown::html($markdown));
        }
        foreach ($not as $part) {
            self::assertStringNotContainsString($part, (string) Markdown::html($markdown));
            self::assertStringNotContainsString($part, $html, 'nor where something is marked in it');
        }
    }
}
