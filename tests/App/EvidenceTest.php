<?php

declare(strict_types=1);

namespace Tests\App;

use App\Evidence\AnswerParts;
use App\Evidence\CurrentAnswer;
use App\Evidence\Tree\DocumentNodes;
use App\Evidence\Tree\StoredNodes;
use App\Models\AnswerPart;
use App\Models\Endpoint;
use App\Models\Exchange;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Tries;
use DeepSpring\Answer\JsonDecoder;
use Illuminate\Support\Facades\Artisan;

/**
 * What is kept of tries, and how it is shown.
 */
final class EvidenceTest extends AppTestCase
{
    public function test_all_of_a_try_is_kept_and_shown(): void
    {
        $source = $this->source();
        $try = $this->tryIt($source, 'loans');
        $this->actingAs($this->person());
        $page = $this->get("/tries/$try->id")->assertOk();
        foreach (['GET /loans-desk/v2/loans?expand=items&amp;limit=50 HTTP/1.1', 'authorization: Bearer ••••••', 'name lookup', 'first byte', 'transfer', '127.0.0.1', 'HTTP/1.1, without TLS', 'once', 'Request 3', 'As a table', 'Copy the cURL command', '# Set $TOKEN before.'] as $part) {
            $page->assertSee($part, false);
        }
        $timing = $try->exchanges[0]->timing;
        self::assertGreaterThan(1000, $timing['bytesReceived']);
        self::assertSame(['HTTP/1.1', 'http', '127.0.0.1'], [$timing['protocol'], $timing['scheme'], $timing['address']]);
        $har = json_decode((string) $this->get("/tries/$try->id/har")->assertOk()->getContent(), true);
        self::assertCount(3, $har['log']['entries']);
        self::assertStringContainsString('"data":[', (string) $har['log']['entries'][0]['response']['content']['text']);
        $this->get("/tries/$try->id/1/raw?q=north-quay")->assertOk()->assertSee('<mark>north-quay</mark>', false);
        $this->get("/tries/$try->id/1/raw?q=".urlencode('<script>'))->assertSee('Nothing found')->assertDontSee('<script>x', false);
        $this->get("/tries/$try->id/1/raw?at=99999999")->assertOk();
        $this->get("/tries/$try->id/9/raw")->assertNotFound();
        $this->get('/sources/loans-desk/endpoints/loans/tries')->assertSee('150')->assertSee('GET /loans-desk/v2/loans');
        $this->get('/sources/loans-desk/endpoints/create-loan/tries')->assertSee('It was not tried yet');
        $this->actingAs($this->person(\App\Models\Role::Analyst));
        foreach (["/tries/$try->id", "/tries/$try->id/har", "/tries/$try->id/1/raw", "/tries/$try->id/1/tree?at=[]", '/sources/loans-desk/endpoints/loans/tries', '/sources/loans-desk/versions'] as $path) {
            $this->get($path)->assertForbidden();
        }
    }

    public function test_two_tries_are_compared_by_structure(): void
    {
        $source = $this->source('stores');
        $one = $this->tryIt($source, 'position');
        Artisan::call('spring:try', ['what' => 'stores/change-position', '--environment' => 'trial', '--yes' => true]);
        $two = $this->tryIt($source, 'position');
        $this->actingAs($this->person());
        $was = json_decode((string) $one->exchanges[0]->text())->locked;
        $page = $this->get("/sources/stores/endpoints/position/tries/compare?a=$two->id&b=$one->id")->assertOk();
        $was ? $page->assertSee('no path differs') : $page->assertSee('$.locked')->assertSee('1 path differs');
        $this->get("/sources/stores/endpoints/position/tries/compare?a=$two->id&b=99999")->assertNotFound();
        $other = $this->tryIt($source, 'positions');
        $this->get("/sources/stores/endpoints/position/tries/compare?a=$two->id&b=$other->id")->assertNotFound();
        $two->exchanges()->update(['body' => null]);
        $this->get("/sources/stores/endpoints/position/tries/compare?a=$two->id&b=$one->id")->assertSee('no longer kept');
    }

    public function test_the_last_fifty_are_kept_and_large_bodies_of_older_ones_go_with_their_parts(): void
    {
        $source = $this->source('stores');
        $row = $this->endpoint($source, 'position');
        $first = $this->tryIt($source, 'position');
        Exchange::query()->where('try_id', $first->id)->update(['bytes' => 3_000_000]);
        AnswerPart::query()->create(['exchange_id' => $first->exchanges[0]->id, 'node' => AnswerParts::node([]), 'number' => 1, 'first' => 0, 'content' => 'x']);
        for ($n = 0; $n < 5; $n++) {
            $this->tryIt($source, 'position');
        }
        self::assertSame(0, AnswerPart::query()->count());
        self::assertNull(Exchange::query()->where('try_id', $first->id)->firstOrFail()->text());
        foreach (range(1, 48) as $n) {
            Tryout::query()->create(['source_id' => $source->id, 'endpoint_id' => $row->id, 'environment_id' => $this->trial()->id, 'succeeded' => true, 'milliseconds' => 1, 'records' => 0, 'strata' => []]);
        }
        $this->tryIt($source, 'position');
        self::assertSame(50, Tryout::query()->where('endpoint_id', $row->id)->count());
        self::assertNull(Tryout::query()->find($first->id));
    }

    public function test_a_large_answer_is_read_in_parts_that_are_the_same_as_the_whole(): void
    {
        $document = (object) [
            'data' => array_map(static fn (int $n): object => (object) ['id' => $n, 'name' => "Crate \"$n\"\u{2028}", 'tags' => ['a', (object) []], 'deep' => (object) ['x' => [$n, null, 1.0, 9007199254740993]]], range(1, 6000)),
            'by_id' => (object) array_combine(array_map(static fn (int $n): string => "k$n", range(1, 3000)), array_map(static fn (int $n): array => array_fill(0, 20, "v$n"), range(1, 3000))),
            'long' => str_repeat('z', 300_000), 'none' => [], '0' => 'zero', 'nested' => (object) ['one' => (object) ['two' => array_fill(0, 40_000, 7)]],
        ];
        $text = (string) json_encode($document, JSON_PRESERVE_ZERO_FRACTION);
        $exchange = Exchange::query()->create(['try_id' => null, 'number' => 1, 'request' => 'GET / HTTP/1.1', 'status' => 200, 'headers' => '', 'bytes' => strlen($text), 'timing' => [], 'body' => gzdeflate($text)]);
        (new AnswerParts)->store($exchange, JsonDecoder::decode($text));
        self::assertGreaterThan(20, AnswerPart::query()->count());
        self::assertLessThan(400_000, (int) AnswerPart::query()->get()->max(static fn (AnswerPart $one): int => strlen((string) gzinflate($one->content))));
        $whole = new DocumentNodes(JsonDecoder::decode($text));
        $parts = new StoredNodes($exchange);
        $paths = [[], [['data', 0]], [['data', 0], [0, 0]], [['data', 0], [5999, 5999]], [['data', 0], [3210, 3210], ['deep', 3]], [['data', 0], [3210, 3210], ['deep', 3], ['x', 0]], [['by_id', 1]], [['by_id', 1], ['k2999', 2998]], [['none', 3]], [['nested', 5]], [['nested', 5], ['one', 0], ['two', 0]], [['nowhere', 9]], [['long', 2]]];
        foreach ($paths as $steps) {
            foreach ([0, 90, 250, 5990] as $from) {
                $wanted = $whole->children($steps, $from, 100);
                $found = $parts->children($steps, $from, 100);
                self::assertSame($wanted === null, $found === null, (string) json_encode($steps));
                if ($wanted !== null && $found !== null) {
                    self::assertSame([$wanted->isArray, $wanted->total, array_column($wanted->items, 0)], [$found->isArray, $found->total, array_column($found->items, 0)], json_encode($steps)." from $from");
                    foreach ($found->items as $number => [, $value]) {
                        if (! $value instanceof \App\Evidence\Tree\UnreadContainer) {
                            self::assertEquals($wanted->items[$number][1], $value);
                        }
                    }
                }
            }
        }
    }

    public function test_a_sheet_with_a_large_answer_works_on_its_beginning_and_shows_all_of_it(): void
    {
        $source = $this->draft(self::$standinsAddress.'/loans-desk/v2', [['scheme' => 'bearer', 'token' => 'ld-demo-71c0a9d4e25b3f2a']], [['slug' => 'x', 'name' => 'X', 'does' => 'list', 'ask' => ['path' => '/loans', 'inputs' => [['name' => 'limit', 'in' => 'query', 'fixed' => 200], ['name' => 'expand', 'in' => 'query', 'fixed' => 'items']]], 'answer' => ['records' => '$.data[*]']]]);
        $row = $this->endpoint($source, 'x');
        $try = $this->tryIt($source, 'x');
        // 200 loans with their items are some 300 KB; the same a few times over is large.
        $body = json_decode((string) $try->exchanges[0]->text());
        $body->data = array_merge(...array_fill(0, 6, $body->data));
        $text = (string) json_encode($body);
        self::assertGreaterThan(AnswerParts::LARGE, strlen($text));
        Exchange::query()->whereKey($try->exchanges[0]->id)->update(['body' => gzdeflate($text), 'bytes' => strlen($text), 'records' => 1200, 'digest' => gzdeflate((string) json_encode(\DeepSpring\Answer\Digest::of($body)))]);
        (new AnswerParts)->store(Exchange::query()->findOrFail($try->exchanges[0]->id), $body);
        $answer = CurrentAnswer::of($row->lastTry($this->trial())?->exchanges->first(), null);
        self::assertTrue($answer->isDigest);
        $this->actingAs($this->person());
        $page = $this->get('/sources/here/endpoints/x')->assertOk()->assertSee("1\u{2009}200 records in the first answer, of which")->assertSee('are looked at here');
        self::assertLessThan(150_000, strlen((string) $page->getContent()));
        $this->get("/tries/$try->id/1/tree?at=".urlencode('[["data",0]]').'&from=1150')->assertSee('[1199]');
        $this->get("/tries/$try->id/1/tree?at=".urlencode('[["data",0],[1199,1199],["borrower",5]]'))->assertSee('post_code');
    }

    public function test_versions_are_compared_and_brought_back(): void
    {
        $source = $this->source();
        $this->actingAs($this->person());
        $fields = $this->fields((string) $this->get('/sources/loans-desk/endpoints/loan')->getContent(), 'sheet-form');
        $this->post('/sources/loans-desk/endpoints/loan', ['path' => '/loans/{id}/x', 'name' => 'One'] + $fields);
        $this->get('/sources/loans-desk/versions')->assertSee('What the draft changes');
        $this->get('/sources/loans-desk/versions/compare?a=1&b=draft')->assertSee('endpoint loan › ask › path')->assertSee('/loans/{id}/x')->assertSee('2 changes');
        self::assertSame('/loans/{id}', $source->refresh()->published()?->endpoint('loan')?->ask()->path, 'what others use is what is published');
        $this->post('/sources/loans-desk/publish');
        $this->get('/sources/loans-desk/versions')->assertSee('in use');
        $this->post('/sources/loans-desk/versions/1')->assertRedirect('/sources/loans-desk/versions')->assertSessionHas('said');
        self::assertSame('/loans/{id}', $source->refresh()->current()->endpoint('loan')?->ask()->path);
        self::assertSame(2, $source->published_version);
        $this->delete('/sources/loans-desk/draft');
        self::assertSame('/loans/{id}/x', $source->refresh()->current()->endpoint('loan')?->ask()->path);
        $this->get('/sources/loans-desk/versions/compare?a=1&b=7')->assertNotFound();
        $this->post('/sources/loans-desk/versions/7')->assertNotFound();
        ob_start();
        self::assertSame(0, Artisan::call('spring:versions', ['source' => 'loans-desk', '--compare' => '1..2']));
        $said = ob_get_clean().Artisan::output();
        self::assertStringContainsString('endpoint loan › ask › path: changed, /loans/{id} → /loans/{id}/x', $said);
        self::assertSame(0, Artisan::call('spring:versions', ['source' => 'loans-desk', '--restore' => '1', '--publish' => true]));
        self::assertSame(3, $source->refresh()->published_version);
        self::assertSame(2, Artisan::call('spring:versions', ['source' => 'loans-desk', '--compare' => '1..9']));
    }

    private function tryIt(Source $source, string $slug): Tryout
    {
        $row = Endpoint::query()->where('source_id', $source->id)->where('slug', $slug)->firstOrFail();

        return app(Tries::class)->endpoint($row->load('source'), $source->current(), $source->current()->endpoint($slug) ?? self::fail(), $this->trial(), null)->load('exchanges');
    }
}
