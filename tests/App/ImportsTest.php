<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\PendingImport;
use App\Models\Secret;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Tries;
use App\Secrets\Vault;
use DeepSpring\Describe\Slugs;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Facades\Artisan;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * From whatever describes an API to endpoints that work.
 */
final class ImportsTest extends AppTestCase
{
    /**
     * @return iterable<string, array{string, array<string, string>, list<string>, list<string>}>
     */
    public static function standIns(): iterable
    {
        yield 'Loans desk' => ['loans-desk/openapi.yaml', ['client_id' => 'circle-desk', 'client_secret' => 'ld-secret-4f0c2a77b1e9d358'], ['list-loans', 'get-loan', 'create-loan', 'change-loan', 'close-loan', 'withdraw-loan'], []];
        yield 'Stores' => ['stores/openapi.json', ['gate' => 'st-demo-0b8e5c71f9a2d446', 'stores' => 'st-demo-0b8e5c71f9a2d446'], ['get-positions', 'position'], []];
        yield 'Label writer' => ['label-writer/openapi.yaml', ['key' => 'lw-demo-93e1d07ac5b2486f'], ['draft-label', 'tones-that-can-be-asked-for'], []];
        yield 'Ledger query service' => ['ledger/openapi.json', ['bearer' => 'lq-demo-5d20c8e1b7f94a36'], ['run-statement'], ['--base' => 'HERE/ledger/v1']];
    }

    /**
     * @param  array<string, string>  $secrets
     * @param  list<string>  $endpoints
     * @param  array<string, string>  $options
     */
    #[DataProvider('standIns')]
    public function test_endpoints_from_a_stand_ins_own_file_work_against_it_without_an_edit(string $file, array $secrets, array $endpoints, array $options): void
    {
        $this->faults('label-writer', ['seconds' => 0.05]);
        $this->person();
        $options = array_map(static fn (string $one): string => str_replace('HERE', self::$standinsAddress, $one), $options);
        self::assertSame(0, Artisan::call('spring:import', ['file' => [self::$standinsAddress."/$file"], '--environment' => 'trial', '--slug' => 'round'] + $options), Artisan::output());
        $source = Source::query()->where('slug', 'round')->firstOrFail();
        self::assertNotNull($source->published());
        foreach ($secrets as $name => $value) {
            self::assertContains($name, $source->current()->secretNames());
            app(Vault::class)->put($source, $this->trial(), $name, $value, null);
        }
        foreach ($endpoints as $slug) {
            $definition = $source->current()->endpoint($slug);
            self::assertNotNull($definition, $slug);
            $try = app(Tries::class)->endpoint($this->endpoint($source, $slug), $source->current(), $definition, $this->trial(), null);
            self::assertTrue($try->succeeded, "$slug: ".json_encode($try->diagnosis));
        }
        foreach ($source->current()->endpoints() as $one) {
            if ($one->plan() !== null) {
                self::assertSame('done', $this->refresh($source, $one->slug)->state->value);
            }
        }
        self::assertSame(['loans-desk' => 1200, 'stores' => 640][explode('/', $file)[0]] ?? 0, (int) (\App\Models\KeptTable::query()->where('is_branch', false)->max('rows') ?? 0) > 1000 ? 1200 : (int) (\App\Models\KeptTable::query()->where('is_branch', false)->max('rows') ?? 0));
    }

    public function test_a_person_chooses_what_is_made_of_a_description(): void
    {
        $this->actingAs($this->person());
        $page = $this->post('/sources', ['start' => self::$standinsAddress.'/stores/openapi.json'])->assertRedirectContains('/imports/')->headers->get('Location');
        $this->get((string) $page)->assertOk()->assertSee('3 operations')->assertSee('machine of whoever wrote it')->assertSee('leads nowhere')->assertSee('page by page');
        self::assertSame(0, Source::query()->count(), 'nothing is stored yet');
        $this->post((string) $page, ['chosen' => '', 'slug' => 'st', 'name' => 'St'])->assertSessionHasErrors('chosen');
        $this->post((string) $page, ['chosen' => 'get-positions', 'slug' => 'st', 'name' => 'St', 'base' => 'nonsense'])->assertSessionHasErrors('base');
        $this->post((string) $page, ['chosen' => "get-positions\nposition", 'slug' => 'st', 'name' => 'St', 'base' => self::$standinsAddress.'/stores/v1'])->assertRedirect('/sources/st');
        self::assertSame(['get-positions', 'position'], Source::query()->firstOrFail()->endpoints()->pluck('slug')->all());
        self::assertNull(Source::query()->firstOrFail()->published_version, 'nothing is published by it');
        self::assertSame(0, PendingImport::query()->count());
        $this->get((string) $page)->assertNotFound();
    }

    public function test_what_waits_is_for_whoever_handed_it_in(): void
    {
        $this->actingAs($this->person());
        $page = (string) $this->post('/sources', ['start' => self::$standinsAddress.'/stores/openapi.json'])->headers->get('Location');
        $this->actingAs($this->person());
        $this->get($page)->assertNotFound();
        $this->post($page, ['chosen' => 'position'])->assertNotFound();
        $this->actingAs($this->person(\App\Models\Role::Analyst));
        $this->get($page)->assertNotFound();
    }

    public function test_files_are_taken_too(): void
    {
        $this->actingAs($this->person());
        $folder = dirname(__DIR__, 2);
        $zip = new \ZipArchive;
        $path = (string) tempnam(sys_get_temp_dir(), 'zip');
        $zip->open($path, \ZipArchive::OVERWRITE);
        $zip->addFromString('api/openapi.yaml', "openapi: 3.0.0\ninfo: {title: In parts}\npaths:\n  /loans: {\$ref: 'loans.yaml'}\n");
        $zip->addFromString('api/loans.yaml', "get:\n  operationId: loans\n");
        $zip->addFromString('readme.txt', 'x');
        $zip->close();
        $page = (string) $this->post('/sources', ['files' => [new UploadedFile($path, 'api.zip', null, null, true)]])->headers->get('Location');
        $this->get($page)->assertSee('In parts')->assertSee('/loans');
        $page = (string) $this->post('/sources', ['files' => [UploadedFile::fake()->createWithContent('a.yaml', str_replace('slug: stores', 'slug: stores-a', (string) file_get_contents("$folder/database/demo/stores.yaml"))), UploadedFile::fake()->createWithContent('b.yaml', (string) file_get_contents("$folder/database/demo/label-writer.yaml"))]])->headers->get('Location');
        $this->get($page)->assertSee('2 source files')->assertSee('stores-a');
        $this->post($page)->assertRedirect('/sources');
        self::assertSame(['label-writer', 'stores-a'], Source::query()->orderBy('slug')->pluck('slug')->all());
        // A command with the file that it names beside it.
        $this->post('/sources', ['start' => 'curl -F scan=@wall.txt '.self::$standinsAddress.'/doors/open', 'files' => [UploadedFile::fake()->createWithContent('wall.txt', 'two words')], 'slug' => 'scan'])->assertRedirect('/sources/scan');
        self::assertStringContainsString('wall.txt', (string) json_encode(Source::query()->where('slug', 'scan')->firstOrFail()->current()->document['endpoints'][0]['ask']['inputs'][0]['try']));
        foreach ([['bomb.zip', "PK\x03\x04damaged", 'damaged'], ['x.pdf', '%PDF-1.7', 'none of what can be read'], ['x.json', '{"openapi": "3.0.0"}', 'no paths']] as [$name, $content, $says]) {
            $this->from('/sources/new')->post('/sources', ['files' => [UploadedFile::fake()->createWithContent($name, $content)]])->assertSessionHasErrors('start');
            self::assertStringContainsString($says, implode(' ', session('errors')?->get('start') ?? []));
        }
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function unfetchable(): iterable
    {
        yield 'not allowed' => ['http://127.0.0.1:1/openapi.json', 'cannot be fetched'];
        yield 'nothing there' => ['HERE/loans-desk/openapi.json', 'answered 401'];
        yield 'a page' => ['HERE/loans-desk/?openapi', 'is a web page'];
        yield 'inside' => ['http://169.254.169.254/openapi.json', 'cannot be fetched'];
    }

    #[DataProvider('unfetchable')]
    public function test_an_address_that_cannot_be_fetched_is_said(string $address, string $says): void
    {
        $this->actingAs($this->person());
        $this->from('/sources/new')->post('/sources', ['start' => str_replace('HERE', self::$standinsAddress, $address), 'read' => '1'])->assertSessionHasErrors('start');
        self::assertStringContainsString($says, implode(' ', session('errors')?->get('start') ?? []));
    }

    public function test_a_command_adds_an_endpoint_to_a_source_and_its_key_to_the_secrets(): void
    {
        $source = $this->source('stores', withSecrets: false);
        $this->actingAs($this->person());
        $page = (string) $this->post('/sources/stores/import', ['start' => "curl -X PUT '".self::$standinsAddress."/stores/v1/positions/00007' -H 'X-Stores-Key: st-demo-0b8e5c71f9a2d446' -d '{\"locked\": true}'"])->assertRedirectContains('/imports/')->headers->get('Location');
        // The same request is there already, so there is nothing to choose but what is new.
        $this->get($page)->assertSee('already added');
        // One that is new is added at once.
        $this->post('/sources/stores/import', ['start' => 'curl '.self::$standinsAddress."/stores/v1/rooms/17 -H 'X-Stores-Key: st-demo-0b8e5c71f9a2d446'"])->assertRedirect('/sources/stores/endpoints/one-room');
        self::assertSame('/rooms/{room_id}', $source->refresh()->current()->endpoint('one-room')?->ask()->path);
        self::assertSame(['key'], Secret::query()->pluck('name')->all());
        self::assertSame(3, count($source->published()?->endpoints() ?? []), 'what others use is as it was');
        $this->from('/sources/stores/endpoints/new')->post('/sources/stores/import', ['start' => 'hello'])->assertSessionHasErrors('start');
    }

    public function test_a_newer_file_shows_what_changed_and_keeps_what_people_edited(): void
    {
        $this->actingAs($this->person());
        $file = static fn (string $version): string => (string) json_encode(['openapi' => '3.0.0', 'info' => ['title' => 'Marsh'], 'servers' => [['url' => 'https://marsh.saltmarsh.example']], 'paths' => ['/loans' => ['get' => ['operationId' => 'loans', 'summary' => "Loans $version", 'parameters' => [['name' => 'status', 'in' => 'query', 'schema' => ['type' => 'string']], ['name' => 'house', 'in' => 'query', 'schema' => ['type' => $version === 'one' ? 'string' : 'integer']]]]]] + ($version === 'one' ? ['/old' => ['get' => ['operationId' => 'old']]] : ['/new' => ['get' => ['operationId' => 'new']]])]);
        $page = (string) $this->post('/sources', ['files' => [UploadedFile::fake()->createWithContent('api.json', $file('one'))]])->headers->get('Location');
        $this->post($page, ['chosen' => "loans\nold", 'slug' => 'marsh', 'name' => 'Marsh', 'base' => 'https://marsh.saltmarsh.example']);
        $source = Source::query()->where('slug', 'marsh')->firstOrFail();
        $document = $source->current()->document;
        $document['endpoints'][0]['name'] = 'Our loans';
        $document['endpoints'][0]['ask']['inputs'][0]['try'] = 'open';
        app(\App\Sources\SourceStore::class)->draft(SourceFile::of($document), null, $source);
        $page = (string) $this->post('/sources/marsh/import', ['files' => [UploadedFile::fake()->createWithContent('api.json', $file('two'))]])->headers->get('Location');
        $this->get($page)->assertSee('1 conflict')->assertSee('Yours stays unless')->assertSee('Our loans')->assertSee('Loans two')->assertDontSee('names the server')->assertSee('no longer in the description')->assertSee('endpoint')->assertSee('integer');
        $this->post($page, ['chosen' => 'new'])->assertRedirect('/sources/marsh')->assertSessionHas('said');
        $after = $source->refresh()->current();
        self::assertSame(['loans', 'old', 'new'], array_column($after->document['endpoints'], 'slug'));
        self::assertSame(['Our loans', 'open', 'integer'], [$after->document['endpoints'][0]['name'], $after->document['endpoints'][0]['ask']['inputs'][0]['try'], $after->document['endpoints'][0]['ask']['inputs'][1]['type']]);

        // The other side is taken, on screen and on the command line; a new server is named and not gone to.
        $moved = str_replace(['marsh.saltmarsh.example', 'Loans three'], ['moved.saltmarsh.example', 'Loans anew'], $file('three'));
        $page = (string) $this->post('/sources/marsh/import', ['files' => [UploadedFile::fake()->createWithContent('api.json', $moved)]])->headers->get('Location');
        $this->get($page)->assertSee('The description names the server')->assertSee('https://moved.saltmarsh.example');
        $this->post($page, ['chosen' => '', 'take' => ['', 'loans › name', ['x']]])->assertRedirect('/sources/marsh');
        self::assertSame(['Loans anew', 'https://marsh.saltmarsh.example'], [$source->refresh()->current()->document['endpoints'][0]['name'], $source->current()->source()->base('trial')]);
        $path = (string) tempnam(sys_get_temp_dir(), 'api');
        $document = $source->current()->document;
        $document['endpoints'][0]['ask']['inputs'][0]['type'] = 'integer';
        app(\App\Sources\SourceStore::class)->draft(SourceFile::of($document), null, $source);
        foreach ([['boolean', [], 'integer', 'where the description says boolean'], ['number', ['loans › ask › inputs › status › type'], 'number', 'Taken from the description'], ['number', ['no › such'], 'number', 'There is no such conflict: no › such']] as [$now, $take, $type, $said]) {
            file_put_contents($path, str_replace('string', $now, $moved));
            self::assertSame(0, \Illuminate\Support\Facades\Artisan::call('spring:import', ['file' => [$path], '--into' => 'marsh', '--take' => $take, '--draft' => true]));
            self::assertSame($type, $source->refresh()->current()->document['endpoints'][0]['ask']['inputs'][0]['type']);
            $output = \Illuminate\Support\Facades\Artisan::output();
            self::assertStringContainsString($said, $output);
            self::assertStringContainsString('No longer in the description, and kept: old', $output);
            self::assertStringContainsString('names the server https://moved.saltmarsh.example', $output);
        }
        unlink($path);
    }

    public function test_the_shelf_has_the_stand_ins_and_what_an_administrator_adds(): void
    {
        $folder = sys_get_temp_dir().'/spring-shelf-'.getmypid();
        @mkdir($folder);
        config(['spring.shelf' => $folder, 'spring.demo.standins' => self::$standinsAddress]);
        file_put_contents("$folder/marsh.json", '{"openapi": "3.0.0", "info": {"title": "Marsh of the shelf", "version": "1"}, "servers": [{"url": "https://marsh.saltmarsh.example"}], "paths": {"/x": {"get": {"operationId": "x"}}}}');
        $this->actingAs($this->person());
        $this->get('/sources/new')->assertSee('Label writer')->assertSee('Ledger query service')->assertSee('Marsh of the shelf');
        $this->post('/sources', ['shelf' => 'ledger'])->assertRedirect('/sources/ledger');
        $source = Source::query()->where('slug', 'ledger')->firstOrFail();
        app(Vault::class)->put($source, $this->trial(), 'token', 'lq-demo-5d20c8e1b7f94a36', null);
        $this->post('/sources/ledger/test');
        self::assertTrue(Tryout::query()->latest('id')->firstOrFail()->succeeded);
        $this->get('/sources/new')->assertSee('already added');
        $this->post('/sources', ['shelf' => 'marsh'])->assertRedirectContains('/imports/');
        $this->post('/sources', ['shelf' => '../../.env'])->assertSessionHasErrors('start');
        array_map(unlink(...), (array) glob("$folder/*"));
        rmdir($folder);
    }

    public function test_the_list_is_one_json_document_and_stores_nothing(): void
    {
        $folder = dirname(__DIR__, 2).'/standins';
        ob_start();
        self::assertSame(0, Artisan::call('spring:import', ['file' => ["$folder/stores/openapi.json"], '--list' => true, '--json' => true]));
        $said = (string) ob_get_clean().Artisan::output();
        $list = json_decode(substr($said, (int) strpos($said, '{')), true);
        self::assertSame(['openapi', 'Stores'], [$list['kind'], $list['title']]);
        self::assertSame(['GET /positions', 'GET /positions/{positionId}', 'PUT /positions/{positionId}'], array_map(static fn (array $one): string => "{$one['method']} {$one['path']}", $list['endpoints']));
        self::assertSame(['slug', 'name', 'does', 'group', 'method', 'base', 'path', 'headers', 'inputs', 'body', 'answer', 'onward', 'columns', 'key', 'branches', 'missing_files', 'deprecated', 'refused'], array_keys($list['endpoints'][0]));
        self::assertSame('position_id', $list['endpoints'][0]['columns'][0]['name']);
        self::assertSame(['position_id'], $list['endpoints'][0]['key']);
        self::assertContains('mended', array_column($list['mends'], 'kind'));
        self::assertSame(0, Source::query()->count());
        self::assertSame(2, Artisan::call('spring:import', ['file' => ['nowhere.yaml'], '--list' => true]));
        $poem = (string) tempnam(sys_get_temp_dir(), 'poem');
        file_put_contents($poem, 'The tide came in');
        self::assertSame(1, Artisan::call('spring:import', ['file' => [$poem], '--list' => true]));
        unlink($poem);
    }

    public function test_the_command_line_adds_to_a_source_as_the_screen_does(): void
    {
        $this->person();
        $this->source('stores');
        $file = (string) tempnam(sys_get_temp_dir(), 'curl');
        file_put_contents($file, 'curl '.self::$standinsAddress."/stores/v1/rooms/17\ncurl -X DELETE ".self::$standinsAddress.'/stores/v1/rooms/17');
        self::assertSame(0, Artisan::call('spring:import', ['file' => [$file], '--into' => 'stores', '--only' => ['one-room'], '--environment' => 'trial']));
        self::assertSame(['positions', 'position', 'change-position', 'one-room'], array_column(Source::query()->firstOrFail()->published()->document['endpoints'] ?? [], 'slug'));
        self::assertSame(2, Artisan::call('spring:import', ['file' => [$file], '--into' => 'stores', '--only' => ['two-rooms']]));
        self::assertSame(2, Artisan::call('spring:import', ['file' => [$file], '--into' => 'nowhere']));
        unlink($file);
    }

    public function test_one_of_several_ways_of_authentication_is_chosen(): void
    {
        $this->actingAs($this->person());
        $file = (string) json_encode(['openapi' => '3.0.0', 'info' => ['title' => 'Doors'], 'servers' => [['url' => 'https://doors.saltmarsh.example']], 'paths' => ['/loans' => ['get' => ['summary' => 'Loans']]], 'security' => [['key' => []], ['token' => []]], 'components' => ['securitySchemes' => ['key' => ['type' => 'apiKey', 'in' => 'header', 'name' => 'Authorization'], 'token' => ['type' => 'http', 'scheme' => 'bearer']]]]);
        foreach (['' => 'api-key', 'token' => 'bearer', 'none of them' => 'api-key'] as $chosen => $scheme) {
            $slug = 'doors-'.Slugs::clean($chosen === '' ? 'first' : $chosen);
            $page = (string) $this->post('/sources', ['files' => [UploadedFile::fake()->createWithContent('api.json', $file)]])->headers->get('Location');
            $this->get($page)->assertSee('Authentication, one of')->assertSee('value="token"', false);
            $this->post($page, ['chosen' => 'loans', 'slug' => $slug, 'name' => 'Doors', 'base' => 'https://doors.saltmarsh.example', 'access' => $chosen]);
            self::assertSame([$scheme], array_column(Source::query()->where('slug', $slug)->firstOrFail()->current()->document['source']['access'] ?? [], 'scheme'));
        }
        $path = (string) tempnam(sys_get_temp_dir(), 'api');
        file_put_contents($path, $file);
        self::assertSame(0, \Illuminate\Support\Facades\Artisan::call('spring:import', ['file' => [$path], '--slug' => 'cli', '--access' => 'token']));
        self::assertSame(['bearer'], array_column(Source::query()->where('slug', 'cli')->firstOrFail()->current()->document['source']['access'] ?? [], 'scheme'));
        self::assertSame(2, \Illuminate\Support\Facades\Artisan::call('spring:import', ['file' => [$path], '--slug' => 'cli-2', '--access' => 'other']));
        self::assertStringContainsString('It offers: key, token.', \Illuminate\Support\Facades\Artisan::output());
        unlink($path);
    }
}
