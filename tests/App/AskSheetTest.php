<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Exchange;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Tries;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Testing\TestResponse;
use Tests\Lane;

/**
 * The Ask and Answer of an endpoint's sheet.
 */
final class AskSheetTest extends AppTestCase
{
    private const PAGE = 'a1b2c3d4e5f6a1b2c3d4e5f6';

    private int $turn = 0;

    public function test_the_preview_follows_what_is_typed_without_a_request(): void
    {
        $this->source();
        $fields = $this->opened('loans-desk', 'create-loan');
        $fields['inputs'][1]['value'] = 'gull-tower';
        $fields['inputs'][4]['value'] = "two \"crates\"\nand straw";
        $page = $this->post('/sources/loans-desk/endpoints/create-loan/preview', $fields)->assertOk();
        $page->assertSee('"note":"two \"crates\"\nand straw"', true)->assertSee('POST /loans-desk/v2/loans')->assertSee('edits kept as draft');
        self::assertSame(0, Tryout::query()->count());
        $fields['inputs'][2]['value'] = 'tomorrow';
        $this->post('/sources/loans-desk/endpoints/create-loan/preview', $fields)->assertSee('is not a date like 2031-03-02')->assertSee('id="in-2-fault"', false);
        $fields['inputs'][2]['value'] = '2031-03-02';
        $fields['inputs'][5]['value'] = '0047';
        $this->post('/sources/loans-desk/endpoints/create-loan/preview', $fields)->assertSee('needs this as well');
        $get = $this->opened('loans-desk', 'loans');
        $get['inputs'][0]['value'] = 'open, pa&cked';
        $this->post('/sources/loans-desk/endpoints/loans/preview', $get)->assertSee('status=open,pa%26cked&amp;expand=items', false);
    }

    public function test_a_body_is_edited_as_text_and_a_mistake_in_it_loses_nothing(): void
    {
        $source = $this->source();
        $fields = $this->opened('loans-desk', 'create-loan');
        $fields['body']['of'] = '{"borrower": {"input": "borrower"},';
        $this->post('/sources/loans-desk/endpoints/create-loan', $fields)->assertSee('The body is not JSON')->assertSee('not saved');
        $this->post('/sources/loans-desk/endpoints/create-loan', ['do' => 'add-input'] + $fields)->assertHeader('HX-Reswap', 'none');
        $fields['body']['of'] = '{"borrower": {"input": "borower"}, "due": {"input": "due"}, "objects": {"input": "objects"}, "note": {"input": "note"}, "insurance": {"policy": {"input": "policy"}, "value": {"input": "value"}}}';
        $this->post('/sources/loans-desk/endpoints/create-loan', $fields)->assertSee('"borrower" was probably meant')->assertSee('the body does not name it');
        $fields['body']['of'] = str_replace('borower', 'borrower', $fields['body']['of']).' ';
        $this->post('/sources/loans-desk/endpoints/create-loan', $fields)->assertDontSee('not saved');
        self::assertSame(['$.insurance'], $source->refresh()->current()->document['endpoints'][2]['ask']['body']['optional']);
        unset($fields['body']['optional']);
        $fields['inputs'][1]['about'] = 'who borrows';
        $fields['inputs'][1]['many'] = '';
        $fields['headers_text'] = "prefer: return=minimal\nx-house: hq";
        $this->post('/sources/loans-desk/endpoints/create-loan', $fields);
        $ask = $source->refresh()->current()->document['endpoints'][2]['ask'];
        self::assertSame([false, 'who borrows', ['prefer' => 'return=minimal', 'x-house' => 'hq']], [isset($ask['body']['optional']), $ask['inputs'][1]['about'], $ask['headers']]);
        $fields['headers_text'] = 'no colon';
        $this->post('/sources/loans-desk/endpoints/create-loan', $fields)->assertSee('is no header');
    }

    public function test_a_sheet_that_is_saved_as_it_came_changes_nothing(): void
    {
        foreach (['loans-desk', 'stores', 'freight-tracker', 'box-office', 'label-writer', 'ledger'] as $slug) {
            $source = $this->source($slug, withSecrets: false);
            foreach ($source->current()->endpoints() as $endpoint) {
                $fields = $this->opened($slug, $endpoint->slug);
                $this->post("/sources/$slug/endpoints/$endpoint->slug", $fields)->assertOk()->assertDontSee('not saved');
                self::assertSame([], array_map(static fn ($one): string => implode(' › ', $one->place()), $source->draft() === null ? [] : (new \DeepSpring\SourceFile\DocumentComparison)->of($source->published()->document ?? [], $source->current()->document)), "$slug/$endpoint->slug");
                self::assertNull($source->draft(), "$slug/$endpoint->slug");
            }
        }
    }

    public function test_the_format_of_the_answer_is_chosen_with_its_settings(): void
    {
        $source = $this->draft(self::$standinsAddress.'/doors', [], [['slug' => 'x', 'name' => 'X', 'ask' => ['path' => '/open'], 'answer' => ['ok' => [200]]]]);
        $sheet = '/sources/here/endpoints/x';
        $answer = static fn (): array => $source->refresh()->current()->document['endpoints'][0]['answer'];
        $fields = $this->opened('here', 'x');
        self::assertSame(['as' => 'auto'], $fields['format']);
        $this->post($sheet, ['do' => 'reshape', 'format' => ['as' => 'csv']] + $fields)->assertOk()->assertSee('name="format[delimiter]"', false)->assertSee('names the fields');
        self::assertEquals(['ok' => [200], 'format' => 'csv'], $answer());
        $fields = $this->opened('here', 'x');
        $fields['format'] = ['delimiter' => '\\t', 'header' => '0'] + $fields['format'];
        $this->post($sheet, $fields)->assertOk();
        self::assertEquals(['ok' => [200], 'format' => 'csv', 'csv' => ['delimiter' => "\t", 'header' => false]], $answer());
        self::assertSame(['\\t', '0'], [$this->opened('here', 'x')['format']['delimiter'], $this->opened('here', 'x')['format']['header']], 'shown as it was typed');
        $this->post($sheet, ['format' => ['delimiter' => ';;'] + $fields['format']] + $fields)->assertOk()->assertSee('not saved')->assertSee('delimiter: is too long');
        $this->post($sheet, ['do' => 'reshape', 'format' => ['as' => 'text']] + $fields)->assertDontSee('name="format[delimiter]"', false);
        self::assertSame('text', $answer()['format']);
    }

    public function test_kinds_of_bodies_and_inputs_made_of_values(): void
    {
        $source = $this->draft(self::$standinsAddress.'/doors', [], [['slug' => 'x', 'name' => 'X', 'does' => 'create', 'ask' => ['method' => 'POST', 'path' => '/open']]]);
        $fields = $this->opened('here', 'x');
        foreach (['json', 'form', 'multipart', 'text', 'xml', ''] as $as) {
            $fields['body'] = ['as' => $as, 'of' => ''];
            $this->post('/sources/here/endpoints/x', ['do' => 'reshape'] + $fields)->assertOk()->assertDontSee('not saved');
            self::assertSame($as === '' ? null : $as, $source->refresh()->current()->document['endpoints'][0]['ask']['body']['as'] ?? null);
        }
        $fields['body'] = ['as' => 'json', 'of' => ''];
        $this->post('/sources/here/endpoints/x', ['do' => 'reshape'] + $fields);
        $fields['body'] = ['as' => 'json', 'of' => '{"title": "Lantern", "words": 40, "crate": {"id": "CR-1"}}'];
        $this->post('/sources/here/endpoints/x', ['do' => 'body-inputs'] + $fields)->assertSee('Value of words');
        $ask = $source->refresh()->current()->document['endpoints'][0]['ask'];
        self::assertSame([['name' => 'title', 'in' => 'body', 'try' => 'Lantern'], ['name' => 'words', 'in' => 'body', 'type' => 'integer', 'try' => 40], ['name' => 'id', 'in' => 'body', 'try' => 'CR-1']], $ask['inputs']);
        $fields = $this->opened('here', 'x');
        $fields['body']['of'] = str_replace('}}', '}, "more": {"input": "more"}}', $fields['body']['of']);
        $fields['body']['of'] = '{"title": {"input": "title"}, "words": {"input": "words"}, "id": {"input": "id"}, "more": {"text": "{more} and {most}"}}';
        $this->post('/sources/here/endpoints/x', ['do' => 'body-inputs'] + $fields);
        self::assertSame(['title', 'words', 'id', 'more', 'most'], array_column($source->refresh()->current()->document['endpoints'][0]['ask']['inputs'], 'name'));
    }

    public function test_what_writes_is_asked_about_once_and_never_repeated(): void
    {
        $this->source();
        $fields = $this->opened('loans-desk', 'create-loan');
        $this->post('/sources/loans-desk/endpoints/create-loan/try', $fields)->assertSee('This creates a loan at Loans desk, in Trial.')->assertSee('never again by itself');
        self::assertSame(0, Tryout::query()->count(), 'nothing was sent');
        $this->post('/sources/loans-desk/endpoints/create-loan/try', ['confirmed' => '1'] + $fields)->assertSee('201');
        $exchange = Exchange::query()->where('purpose', 'request')->firstOrFail();
        self::assertSame('{"borrower":"gull-tower","due":"2031-03-02","objects":["0042.01"]}', $exchange->carried());
        self::assertStringContainsString('POST /loans-desk/v2/loans HTTP/1.1', $exchange->request);
        $key = $fields;
        $key['inputs'][0]['value'] = 'once-4711';
        $this->post('/sources/loans-desk/endpoints/create-loan/try', $key)->assertSee('idempotency key');
        $ids = [];
        foreach ([1, 2] as $time) {
            $this->post('/sources/loans-desk/endpoints/create-loan/try', ['confirmed' => '1'] + $key)->assertSee('201');
            $ids[] = json_decode((string) Exchange::query()->where('purpose', 'request')->latest('id')->firstOrFail()->text())->id;
        }
        self::assertSame($ids[0], $ids[1], 'the service did it once');
        // A value of the wrong type is refused here, before anything is sent.
        $before = Tryout::query()->count();
        $fields['inputs'][6]['value'] = 'much';
        $this->post('/sources/loans-desk/endpoints/create-loan/try', ['confirmed' => '1'] + $fields)->assertSee('is not a number');
        self::assertSame(0, Exchange::query()->where('try_id', '>', Tryout::query()->orderByDesc('id')->skip(1)->value('id'))->where('purpose', 'request')->count());
        self::assertSame($before + 1, Tryout::query()->count());
    }

    public function test_field_errors_of_the_service_stand_at_the_fields(): void
    {
        $this->source('loans-desk', ['name: borrower, in: body, required: true, try: gull-tower' => 'name: borrower, in: body, required: true, try: nowhere']);
        $fields = $this->opened('loans-desk', 'create-loan');
        $this->post('/sources/loans-desk/endpoints/create-loan/try', ['confirmed' => '1'] + $fields)->assertSee('422')->assertSee('The service says: is not the short name of a house');
        $this->get('/sources/loans-desk/endpoints/create-loan')->assertSee('The service says: is not the short name of a house');
    }

    public function test_an_update_can_start_from_the_answer_of_get(): void
    {
        $source = $this->source();
        $fields = $this->opened('loans-desk', 'change-loan');
        $this->post('/sources/loans-desk/endpoints/change-loan', ['do' => 'body-from-get'] + $fields)->assertSee('Try that one first');
        app(Tries::class)->endpoint($this->endpoint($source, 'loan'), $source->current(), $source->current()->endpoint('loan') ?? self::fail(), $this->trial(), null);
        $this->post('/sources/loans-desk/endpoints/change-loan', ['do' => 'body-from-get'] + $fields)->assertSee('Value of due')->assertSee('Value of post_code');
        $inputs = array_column($source->refresh()->current()->document['endpoints'][3]['ask']['inputs'], null, 'name');
        self::assertSame(['path', 'body'], [$inputs['id']['in'], $inputs['ref']['in']]);
        self::assertSame('integer', $inputs['register_no']['type']);
    }

    public function test_endpoints_over_the_same_records_say_what_is_missing(): void
    {
        $this->source('loans-desk', ['does: delete' => 'does: call']);
        $this->opened('loans-desk', 'loan');
        $this->get('/sources/loans-desk/endpoints/loan')->assertSee('With the same records')->assertSee('Create a loan')->assertSee('still missing');
        $this->get('/sources/loans-desk')->assertSee('still missing')->assertSee('writes');
        $this->get('/sources/loans-desk/endpoints/new?does=delete&from=loan')->assertSee('value="/loans/{id}"', false);
        $this->post('/sources/loans-desk/endpoints', ['path' => '/loans/{id}', 'does' => 'delete'])->assertRedirect('/sources/loans-desk/endpoints/delete-a-loan');
        self::assertSame('DELETE', Source::query()->firstOrFail()->current()->endpoint('delete-a-loan')?->ask()->method);
    }

    public function test_of_two_tabs_the_later_one_is_told_and_nothing_is_lost(): void
    {
        $source = $this->source();
        $one = $this->opened('loans-desk', 'loan');
        $other = $one;
        $one['path'] = '/loans/{id}/one';
        $this->send('loan', $one, self::PAGE)->assertSee('edits kept as draft');
        $other['path'] = '/loans/{id}/other';
        $other['name'] = 'Another name';
        $told = $this->send('loan', $other, 'ffffffffffffffffffffffff')->assertHeader('HX-Reswap', 'none');
        $told->assertSee('changed this')->assertSee('/loans/{id}/one')->assertSee('/loans/{id}/other')->assertSee('Keep what is typed here');
        self::assertSame('/loans/{id}/one', $source->refresh()->current()->endpoint('loan')?->ask()->path);
        $this->send('loan', ['insist' => '1'] + $other, 'ffffffffffffffffffffffff')->assertSee('Another name');
        self::assertSame('/loans/{id}/other', $source->refresh()->current()->endpoint('loan')?->ask()->path);
        // The first tab goes on with what it saw, and is told now.
        $this->send('loan', $one, self::PAGE)->assertSee('changed this');
        // So is a sheet when something that is no sheet changed the endpoint: an import, the command line.
        $seen = $this->opened('loans-desk', 'loan');
        $document = $source->refresh()->current()->document;
        $document['endpoints'][1]['about'] = 'Of an import';
        app(\App\Sources\SourceStore::class)->draft(\DeepSpring\SourceFile\SourceFile::of($document), null, $source);
        $this->send('loan', ['name' => 'Of a sheet'] + $seen, 'ffffffffffffffffffffffff')->assertSee('changed this')->assertSee('Of a sheet');
        self::assertSame('Of an import', $source->refresh()->current()->endpoint('loan')?->endpoint['about'] ?? null);
        // A sheet that saw the last state, or changes nothing, is not in the way.
        $this->send('loan', $this->opened('loans-desk', 'loan'), 'eeeeeeeeeeeeeeeeeeeeeeee')->assertDontSee('changed this');
    }

    public function test_an_answer_given_by_hand_carries_on_to_a_table(): void
    {
        $source = $this->draft('http://127.0.0.1:1/nowhere', [], [['slug' => 'x', 'name' => 'X', 'does' => 'list', 'ask' => ['path' => '/loans']]]);
        $this->actingAs($this->person());
        $fields = $this->opened('here', 'x');
        $this->post('/sources/here/endpoints/x', ['do' => 'sample', 'sample_text' => '?? no'] + $fields)->assertSee('one field a line');
        $this->post('/sources/here/endpoints/x', ['do' => 'sample', 'sample_text' => "id integer 8812\nborrower.name text Gull Tower\ndue date 2031-03-02"] + $fields)->assertSee('This is a sample');
        $this->post('/sources/here/endpoints/x', ['do' => 'sample', 'sample_file' => UploadedFile::fake()->createWithContent('a.json', '{"data": [{"id": 1, "house": "hq", "gone": true}], "as_of": "2031"}')] + $fields)->assertSee('1 record in the sample');
        $fields = $this->opened('here', 'x');
        $this->post('/sources/here/endpoints/x', ['do' => 'propose'] + $fields)->assertSee('1 row from');
        self::assertSame('$.data[*]', $source->refresh()->current()->document['endpoints'][0]['answer']['records']);
        $this->get('/sources/here/endpoints/x/sample?at='.urlencode('[["data",0],[0,0]]'))->assertOk()->assertSee('house');
        // It cannot be reached: the sample goes on, and the failure is said.
        $this->post('/sources/here/endpoints/x/try', $this->opened('here', 'x'))->assertSee('This is a sample');
        // Now it can, and differs.
        $document = $source->refresh()->current()->document;
        $document['source']['environments']['trial']['base'] = self::$standinsAddress.'/label-writer/v1';
        $document['source']['access'] = [['scheme' => 'bearer', 'token' => 'lw-demo-93e1d07ac5b2486f']];
        $document['endpoints'][0]['ask']['path'] = '/tones';
        $document['endpoints'][0]['answer']['records'] = '$.tones[*]';
        unset($document['endpoints'][0]['flatten']);
        app(\App\Sources\SourceStore::class)->draft(\DeepSpring\SourceFile\SourceFile::of($document), null, $source);
        $page = $this->post('/sources/here/endpoints/x/try', $this->opened('here', 'x'));
        $page->assertSee('The real answer differs from the sample')->assertSee('$.data')->assertSee('$.tones')->assertDontSee('This is a sample');
        $this->post('/sources/here/endpoints/x', ['do' => 'sample-forget'] + $this->opened('here', 'x'))->assertDontSee('differs from the sample');
    }

    public function test_from_a_node_of_the_answer(): void
    {
        $source = $this->source();
        $fields = $this->opened('loans-desk', 'loans');
        $this->post('/sources/loans-desk/endpoints/loans/try', $fields);
        $try = Tryout::query()->firstOrFail();
        $acts = fn (string $at): TestResponse => $this->get("/tries/$try->id/1/tree?acts=1&at=".urlencode($at), ['HX-Current-URL' => 'http://x/sources/loans-desk/endpoints/loans']);
        $acts('[["data",0],[3,3],["borrower",5],["town",2]]')->assertSee('$.data[3].borrower.town')->assertSee('Make it a column')->assertSee('Try status with it')->assertDontSee('Use as the cursor');
        $acts('[["next",2]]')->assertSee('Use as the cursor')->assertDontSee('Make it a column');
        $acts('[["data",0]]')->assertSee('"at":"$.data[*]"');
        $acts('[["data",0],[3,3],["borrower",5]]')->assertSee('"at":"$.data[3].borrower.*"');
        $this->get("/tries/$try->id/1/tree?at=".urlencode('[["data",0]]').'&from=10')->assertOk()->assertSee('[49]')->assertDontSee('[9]');
        foreach (['nonsense', '{"a":1}', '[["a"]]', '[[null,0]]'] as $bad) {
            $this->get("/tries/$try->id/1/tree?at=".urlencode($bad))->assertNotFound();
        }
        $this->post('/sources/loans-desk/endpoints/loans', ['do' => 'records-at', 'at' => '$.data[3].borrower.*'] + $fields)->assertOk();
        self::assertSame('$.data[3].borrower.*', $source->refresh()->current()->document['endpoints'][0]['answer']['records']);
        $this->post('/sources/loans-desk/endpoints/loans', ['do' => 'node-column', 'node' => '$.data[3].borrower.contact.email', 'type' => 'text'] + $fields)->assertSee('borrower_contact_email');
        $this->post('/sources/loans-desk/endpoints/loans', ['do' => 'node-input', 'input' => 'status', 'value' => 'out'] + $fields)->assertOk();
        self::assertSame(['out'], $source->refresh()->current()->document['endpoints'][0]['ask']['inputs'][0]['try']);
        $this->post('/sources/loans-desk/endpoints/loans', ['do' => 'node-cursor', 'node' => '$.next', 'value' => 'c_6s1'] + $fields)->assertOk();
        $endpoint = $source->refresh()->current()->document['endpoints'][0];
        self::assertSame(['cursor', '$.next'], [$endpoint['onward']['style'], $endpoint['onward']['next']]);
        $this->post('/sources/loans-desk/endpoints/loans', ['do' => 'node-cursor', 'node' => '$.next', 'value' => 'https://x/2'] + $fields);
        self::assertSame('next-link', $source->refresh()->current()->document['endpoints'][0]['onward']['style']);
    }

    public function test_a_try_can_be_stopped_and_says_where_it_was(): void
    {
        $this->faults('label-writer', ['seconds' => 8]);
        $source = $this->draft(self::$standinsAddress.'/label-writer/v1', [['scheme' => 'bearer', 'token' => 'lw-demo-93e1d07ac5b2486f']], [['slug' => 'x', 'name' => 'X', 'does' => 'list', 'ask' => ['method' => 'POST', 'path' => '/labels', 'body' => ['as' => 'json', 'of' => ['object' => ['title' => 'x']]]]]]);
        $begun = microtime(true);
        $try = app(Tries::class)->endpoint($this->endpoint($source, 'x'), $source->current(), $source->current()->endpoint('x') ?? self::fail(), $this->trial(), null, stopped: static fn (): bool => microtime(true) - $begun > 1);
        self::assertSame('stopped', $try->diagnosis['code'] ?? '');
        self::assertStringContainsString('waiting for the first byte', $try->diagnosis['what'] ?? '');
        $slow = $this->draft(self::$standinsAddress.'/label-writer/v1', [['scheme' => 'bearer', 'token' => 'lw-demo-93e1d07ac5b2486f']], [['slug' => 'x', 'name' => 'X', 'does' => 'list', 'ask' => ['method' => 'POST', 'path' => '/labels', 'body' => ['as' => 'json', 'of' => ['object' => ['title' => 'x']]]]]], ['pace' => ['timeout' => 1]]);
        $try = app(Tries::class)->endpoint($this->endpoint($slow, 'x'), $slow->current(), $slow->current()->endpoint('x') ?? self::fail(), $this->trial(), null);
        self::assertSame('timeout', $try->diagnosis['code'] ?? '');
        self::assertStringContainsString('The time ran out while waiting for the first byte', $try->diagnosis['what'] ?? '');
        $this->actingAs($this->person());
        $this->post('/sources/here/stop', ['page' => self::PAGE])->assertNoContent();
        self::assertTrue(\Illuminate\Support\Facades\Cache::get('stop.'.self::PAGE));
        $this->faults('label-writer', []);
    }

    public function test_nothing_writes_by_the_way(): void
    {
        // Not a refresh, not a test of the source, not a repair, not a comparison.
        $source = $this->source('loans-desk', ['  - slug: withdraw-loan' => "    flatten: {table: changed, columns: [{name: id, from: \"$.id\"}]}\n  - slug: withdraw-loan", 'path: /loans/{id}/close' => 'path: /loan/{id}/close']);
        $run = $this->refresh($source, 'change-loan');
        self::assertSame('failed', $run->state->value);
        self::assertStringContainsString('writes', $run->diagnosis['what'] ?? '');
        $document = $source->current()->document;
        $document['source']['test'] = ['endpoint' => 'change-loan'];
        try {
            \DeepSpring\SourceFile\SourceFile::of($document);
            self::fail('A source cannot be tested by what writes.');
        } catch (\DeepSpring\SourceFile\InvalidSourceFile $invalid) {
            self::assertStringContainsString('tested by what reads', $invalid->getMessage());
        }
        $fields = $this->opened('loans-desk', 'close-loan');
        $this->post('/sources/loans-desk/endpoints/close-loan/try', ['confirmed' => '1'] + $fields)->assertSee('405');
        $tries = Tryout::query()->count();
        $last = Tryout::query()->latest('id')->firstOrFail();
        $last->forceFill(['diagnosis' => ['repair' => \DeepSpring\Diagnose\Repair::set('Ask /loans and try', ['endpoint', 'ask', 'path'], '/loans/{id}/close')->toArray()] + (array) $last->diagnosis])->save();
        $this->post('/tries/'.Tryout::query()->latest('id')->value('id').'/repair/0', $fields)->assertStatus(303);
        $this->post('/sources/loans-desk/endpoints/close-loan/compare', ['with' => 'production']);
        self::assertSame($tries, Tryout::query()->count());
        self::assertStringContainsString('/loans', (string) $source->refresh()->current()->endpoint('close-loan')?->ask()->path, 'the repair itself was made');
        $this->get('/sources/loans-desk/endpoints/close-loan')->assertSee('This endpoint writes');
    }

    public function test_a_write_is_not_sent_again_after_an_error_of_the_service_and_what_reads_is(): void
    {
        $counter = (string) tempnam(sys_get_temp_dir(), 'count');
        $script = (string) tempnam(sys_get_temp_dir(), 'busy').'.php';
        file_put_contents($script, '<?php file_put_contents('.var_export($counter, true).', ".", FILE_APPEND); http_response_code(503); header("Content-Type: application/json"); header("Retry-After: 0"); echo "{}";');
        $port = Lane::ports(8790)->web;
        $server = \App\Local\Child::start('busy', [PHP_BINARY, '-S', "127.0.0.1:$port", $script], [], '/dev/null', sys_get_temp_dir());
        for ($until = microtime(true) + 60; @fsockopen('127.0.0.1', $port) === false && microtime(true) < $until; usleep(20_000)) {
            continue;
        }
        $this->allow($port);
        $sent = function (string $does, array $inputs) use ($counter, $port): int {
            file_put_contents($counter, '');
            $source = $this->draft("http://127.0.0.1:$port", [], [['slug' => 'x', 'name' => 'X', 'does' => $does, 'ask' => ['method' => 'POST', 'path' => '/x'] + $inputs]]);
            $reading = app(\App\Pipeline\SourceConnections::class)->open($source, $source->current()->source(), $this->trial());
            try {
                $endpoint = $source->current()->endpoint('x') ?? self::fail();
                (new \App\Pipeline\PageReader($reading, app(\App\Transport\Transport::class)))->read($endpoint, $endpoint->ask()->tryValues(), new \App\Transport\Limits(5, 3, 65536), new Onlooker, new \App\Pace\Pacer(app(\App\Pace\RateLimitStore::class), $source->id, $this->trial()->id, new \DeepSpring\Pace\Settings(tries: 3, patience: 0)))->current();
            } catch (\App\Pipeline\ReadingFailed) {
                // As it should be: the service is never well.
            }

            return strlen((string) file_get_contents($counter));
        };
        self::assertSame(1, $sent('create', []));
        self::assertSame(1, $sent('call', []));
        self::assertSame(3, $sent('list', []), 'a list that is asked for by POST only reads');
        self::assertSame(3, $sent('create', ['inputs' => [['name' => 'Idempotency-Key', 'in' => 'header', 'try' => 'k-1']]]));
        self::assertSame(1, $sent('create', ['inputs' => [['name' => 'Idempotency-Key', 'in' => 'header']]]));
        $server->stop(1);
        array_map(unlink(...), [$counter, $script]);
    }

    public function test_the_command_line_asks_before_it_writes(): void
    {
        $this->source();
        self::assertSame(2, Artisan::call('spring:try', ['what' => 'loans-desk/create-loan', '--environment' => 'trial']));
        self::assertSame(0, Exchange::query()->count());
        self::assertSame(0, Artisan::call('spring:try', ['what' => 'loans-desk/create-loan', '--environment' => 'trial', '--yes' => true, '--in' => ['note=by hand']]));
        self::assertStringContainsString('"note":"by hand"', Exchange::query()->where('purpose', 'request')->firstOrFail()->carried());
        self::assertSame(2, Artisan::call('spring:try', ['what' => 'loans-desk/create-loan', '--environment' => 'trial', '--yes' => true, '--in' => ['value=much']]));
    }

    /**
     * @return array<string, mixed> the fields as the page has them
     */
    private function opened(string $source, string $endpoint): array
    {
        $this->actingAs(\App\Models\User::query()->first() ?? $this->person());

        return $this->fields((string) $this->get("/sources/$source/endpoints/$endpoint")->assertOk()->getContent(), 'sheet-form');
    }

    /**
     * @param  array<string, mixed>  $fields
     */
    private function send(string $endpoint, array $fields, string $page): TestResponse
    {
        return $this->post("/sources/loans-desk/endpoints/$endpoint", $fields, ['X-Sheet' => $page.':'.++$this->turn]);
    }
}
