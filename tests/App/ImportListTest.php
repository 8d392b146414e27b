<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\PendingImport;
use App\Models\Source;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use App\View\Show;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Facades\Artisan;

/**
 * What is listed, what is chosen from it, and what of that is kept: counted at both ends.
 */
final class ImportListTest extends AppTestCase
{
    private const COMMANDS = "curl 'https://loans.saltmarsh.example/imp/loans/5?loan_id=3'\ncurl --json '{\"text\":\"hello\"}' https://loans.saltmarsh.example/imp/say\ncurl https://loans.saltmarsh.example/imp/loans/";

    public function test_three_commands_are_listed_and_three_are_kept(): void
    {
        $this->actingAs($this->person());
        $page = (string) $this->post('/sources', ['start' => self::COMMANDS])->assertRedirectContains('/imports/')->headers->get('Location');
        $this->get($page)->assertSee('3 operations')->assertDontSee('cannot be kept');
        $slugs = (string) $this->get(strtok($page, '?').'/slugs')->assertOk()->getContent();
        self::assertCount(3, explode("\n", $slugs));
        $this->post($page, ['chosen' => $slugs, 'slug' => 'imp', 'name' => 'Imp', 'base' => 'https://loans.saltmarsh.example'])->assertRedirect('/sources/imp')->assertSessionHas('mends', []);
        self::assertSame(explode("\n", $slugs), array_column(Source::query()->where('slug', 'imp')->firstOrFail()->current()->document['endpoints'] ?? [], 'slug'));
    }

    public function test_what_cannot_be_kept_is_said_on_the_page_after_it_and_on_the_command_line(): void
    {
        $this->actingAs($this->person());
        $text = self::COMMANDS."\ncurl -X FETCH https://loans.saltmarsh.example/imp/x";
        $refused = Importers::read(new ImportInput($text))->refused()[0]->slug();
        $page = (string) $this->post('/sources', ['start' => $text])->headers->get('Location');
        $this->get($page)->assertSee('4 operations')->assertSee('1 operation cannot be kept')->assertSee('is not possible here')->assertSee('value="loans" data-choice', false)->assertDontSee("value=\"$refused\" data-choice", false);
        // Somebody who sends it nevertheless is told.
        $this->post($page, ['chosen' => "loans\n$refused", 'slug' => 'imp', 'name' => 'Imp', 'base' => 'https://loans.saltmarsh.example'])->assertRedirect('/sources/imp');
        $this->get('/sources/imp')->assertSee('A source file cannot hold this');

        $file = (string) tempnam(sys_get_temp_dir(), 'curl');
        file_put_contents($file, $text);
        self::assertSame(1, Artisan::call('spring:import', ['file' => [$file], '--slug' => 'other', '--name' => 'Other']));
        self::assertCount(3, Source::query()->where('slug', 'other')->firstOrFail()->published()?->document['endpoints'] ?? []);
        self::assertSame(0, Artisan::call('spring:import', ['file' => [$file], '--slug' => 'third', '--name' => 'Third', '--only' => ['loans']]));
        ob_start();
        Artisan::call('spring:import', ['file' => [$file], '--list' => true, '--json' => true]);
        $said = (string) ob_get_clean().Artisan::output();
        $list = json_decode(substr($said, (int) strpos($said, '{')), true);
        self::assertSame([4, 1], [$list['listed'], $list['refused']]);
        self::assertCount(1, array_filter(array_column($list['endpoints'], 'refused')));
        unlink($file);
    }

    public function test_headers_of_a_command_go_with_it_into_a_source_that_has_others(): void
    {
        $source = $this->source('stores');
        $this->actingAs($this->person());
        $this->post('/sources/stores/import', ['start' => 'curl '.self::$standinsAddress."/stores/v1/rooms -H 'X-House: gull-tower' -H 'Accept: text/csv'"])->assertRedirect('/sources/stores/endpoints/rooms');
        self::assertSame(['accept' => 'text/csv', 'x-house' => 'gull-tower'], $source->refresh()->current()->endpoint('rooms')?->ask()->headers);
    }

    public function test_a_long_list_is_searched_and_chosen_from_in_pages(): void
    {
        $this->actingAs($this->person());
        $paths = [];
        foreach (range(1, 1200) as $number) {
            $paths["/things/t$number"] = ['get' => ['summary' => "Thing $number", 'tags' => [$number % 2 === 0 ? 'even' : 'odd']]];
        }
        $file = (string) json_encode(['openapi' => '3.0.0', 'info' => ['title' => 'Things'], 'servers' => [['url' => 'https://things.saltmarsh.example']], 'paths' => $paths]);
        $page = (string) $this->post('/sources', ['files' => [UploadedFile::fake()->createWithContent('api.json', $file)]])->headers->get('Location');
        $this->get($page)->assertSee(Show::count(1200, 'operation'))->assertSee('Thing 1')->assertDontSee('Thing 700')->assertSee('1–200 of '.Show::count(1200, 'operation'))->assertSee(Show::count(1200, 'time'));
        $this->get($page, ['HX-Request' => 'true'])->assertDontSee('<html', false);
        $this->get("$page?page=4")->assertSee('Thing 700');
        $this->get("$page?q=thing+odd+119")->assertSee('Thing 1199')->assertDontSee('Thing 1198<', false);
        $this->get("$page?q=nothing-like-it")->assertSee('No operation has all of these words');
        $slugs = explode("\n", (string) $this->get("$page/slugs?q=even")->getContent());
        self::assertCount(600, $slugs);
        $this->get("$page/notices/0?page=12")->assertSee('paths./things/t1150.get.operationId')->assertOk();
        $this->get("$page/notices/99")->assertNotFound();
        $this->post($page, ['chosen' => implode("\n", $slugs), 'slug' => 'things', 'name' => 'Things', 'base' => 'https://things.saltmarsh.example'])->assertRedirect('/sources/things');
        self::assertCount(600, Source::query()->where('slug', 'things')->firstOrFail()->current()->document['endpoints'] ?? []);
    }

    public function test_a_source_of_many_endpoints_is_kept_whole_through_edits_versions_and_a_newer_description(): void
    {
        $this->actingAs($this->person());
        $schema = ['type' => 'object', 'properties' => array_map(static fn (string $type): array => ['type' => $type], ['id' => 'integer', 'title' => 'string', 'borrower' => 'string'])];
        $paths = [];
        foreach (range(1, 400) as $number) {
            $paths["/things$number"] = [
                'get' => ['summary' => "Things $number", 'operationId' => "list$number", 'responses' => ['200' => ['description' => 'x', 'content' => ['application/json' => ['schema' => ['type' => 'array', 'items' => ['$ref' => '#/components/schemas/Thing']]]]]]],
                'post' => ['summary' => "Create $number", 'operationId' => "create$number", 'requestBody' => ['content' => ['application/json' => ['schema' => ['$ref' => '#/components/schemas/Thing']]]], 'responses' => ['201' => ['description' => 'x']]],
            ];
        }
        $document = ['openapi' => '3.0.0', 'info' => ['title' => 'Things', 'version' => '1'], 'servers' => [['url' => 'https://things.saltmarsh.example']], 'paths' => $paths, 'components' => ['schemas' => ['Thing' => $schema]]];
        $file = (string) tempnam(sys_get_temp_dir(), 'things');
        file_put_contents($file, json_encode($document));
        self::assertSame(0, Artisan::call('spring:import', ['file' => [$file], '--slug' => 'things', '--name' => 'Things']));
        $source = Source::query()->where('slug', 'things')->firstOrFail();
        $listed = Importers::read(new ImportInput((string) file_get_contents($file)))->endpoints;
        self::assertEquals(array_map(static fn (ImportedEndpoint $one): array => $one->endpoint, $listed), $source->published()?->document['endpoints'] ?? []);
        self::assertSame(800, $source->endpoints()->count());
        $stored = $source->documents()->firstOrFail();
        self::assertSame([true, true], [strlen($stored->document) < 1000, strlen((string) $stored->endpoints) < 60_000]);

        // One body is changed, and those that were the same stay as they are.
        app(SourceStore::class)->edit($source, $this->person(), static function (array $document): array {
            $document['endpoints'][1]['ask']['body']['of'] = (object) ['title' => (object) ['input' => 'title'], 'made' => true, 'borrower' => (object) ['input' => 'borrower'], 'id' => (object) ['input' => 'id']];
            unset($document['endpoints'][799]);

            return $document;
        });
        $bodies = array_map(static fn (array $endpoint): string => (string) json_encode($endpoint['ask']['body']['of'] ?? null), $source->refresh()->current()->document['endpoints'] ?? []);
        self::assertSame([799, 1], [count($bodies), count(array_filter($bodies, static fn (string $body): bool => str_contains($body, 'made')))]);
        self::assertSame(799, $source->endpoints()->count());
        self::assertCount(800, $source->published()?->document['endpoints'] ?? []);

        // A newer description: what it has changed comes, what was edited stays, what was removed is not added again.
        $document['components']['schemas']['Thing']['properties']['house'] = ['type' => 'string'];
        file_put_contents($file, json_encode($document));
        self::assertSame(0, Artisan::call('spring:import', ['file' => [$file], '--into' => 'things']));
        $endpoints = $source->refresh()->current()->document['endpoints'] ?? [];
        self::assertCount(799, $endpoints);
        self::assertCount(400, array_filter($endpoints, static fn (array $one): bool => in_array('house', array_column($one['flatten']['columns'] ?? [], 'name'), true)));
        self::assertStringContainsString('"made":true', (string) json_encode($endpoints[1]['ask']['body']));
        app(SourceStore::class)->restore($source, 1, $this->person());
        self::assertCount(800, $source->refresh()->current()->document['endpoints'] ?? []);
        self::assertSame(800, $source->endpoints()->count());
        unlink($file);
    }

    public function test_what_an_earlier_version_has_read_is_handed_in_again(): void
    {
        $person = $this->person();
        $this->actingAs($person);
        $old = PendingImport::query()->create(['token' => bin2hex(random_bytes(16)), 'user_id' => $person->id, 'kind' => 'curl', 'title' => '', 'found' => app(Vault::class)->seal((string) gzdeflate(serialize([Importers::read(new ImportInput(self::COMMANDS))]), 1))]);
        $this->get(route('imports.show', $old))->assertStatus(410);
    }
}
