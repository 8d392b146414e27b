<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\KeptTable;
use App\Models\Role;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Models\Service;
use App\Models\Source;
use App\Models\Tryout;
use App\OData\MetadataFetcher;
use App\OData\ServiceModels;
use App\OData\ServiceReader;
use App\Runs\Tries;
use App\Sources\SourceStore;
use DeepSpring\OData\Csdl\Metadata;
use DeepSpring\OData\Derive\Derived;
use DeepSpring\OData\ODataVersion;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\Facades\Artisan;

final class ODataTest extends AppTestCase
{
    public function test_a_service_is_asked_what_it_offers_in_both_versions(): void
    {
        foreach (['v4' => ['4.01', 6], 'v2' => ['2.0', 5]] as $path => [$version, $sets]) {
            $source = $this->registrar($path);
            $service = app(ServiceModels::class)->service($source, $this->trial());
            self::assertSame([$version, $sets], [$service?->version, $service?->sets]);
            self::assertSame('odata', $source->current()->document['source']['kind']);
            self::assertSame((int) $version[0], $source->current()->document['source']['odata']['version']);
        }
    }

    public function test_a_short_file_is_all_that_is_needed_to_keep_parents_and_branches(): void
    {
        $source = $this->source('registrar-odata');
        self::assertNull($source->current()->endpoint('exhibitions')?->plan(), 'nothing is known of the service yet');
        self::assertTrue(app(MetadataFetcher::class)->read($source, $this->trial(), null)->succeeded);
        app(SourceStore::class)->publish($source, null);
        $source->refresh();
        foreach (['exhibitions' => 60, 'condition-reports' => 2803] as $endpoint => $rows) {
            $run = $this->refresh($source, $endpoint);
            self::assertSame([RunState::Done, $rows, 0], [$run->state, KeptTable::query()->where('name', str_replace('-', '_', $endpoint))->value('rows'), $run->rejects], (string) json_encode($run->diagnosis));
        }
        self::assertSame(['condition_reports', 'exhibitions', 'exhibitions_objects'], $this->tablesInTrial());
        $joined = $this->rows('select e.id, e.venue_name, e.venue_address_town as town, count(*) as n from exhibitions e join exhibitions_objects o on o.exhibition_id = e.id group by e.id, e.venue_name, e.venue_address_town order by e.id limit 2');
        foreach ($joined as $row) {
            $venue = json_decode($this->ask("/v4/Exhibitions({$row->id})/Venue"));
            self::assertSame([$venue->Name, $venue->Address->Town, (int) $this->ask("/v4/Exhibitions({$row->id})/Objects/\$count")], [$row->venue_name, $row->town, (int) $row->n]);
        }
    }

    public function test_branches_of_branches_are_kept_and_their_values_to_try_with_stay(): void
    {
        $source = $this->registrar('v4', [
            ['slug' => 'houses', 'name' => 'Houses', 'entity_set' => 'Venues', 'select' => ['Name'], 'expand' => ['Objects' => ['select' => ['Title'], 'expand' => ['Reports' => ['select' => ['Grade']]]]]],
            ['slug' => 'change', 'name' => 'Change', 'does' => 'update', 'entity_set' => 'Objects', 'try' => ['Number' => '0004.02']],
        ]);
        $run = $this->refresh($source, 'houses');
        self::assertSame(RunState::Done, $run->state, (string) json_encode($run->diagnosis));
        self::assertSame([24, 930, 2803], array_map(static fn (string $table): int => (int) KeptTable::query()->where('name', $table)->value('rows'), ['houses', 'houses_objects', 'houses_objects_reports']));
        self::assertSame(['Number' => ['0004.02']], $source->current()->endpoint('change')?->ask()->tryValues());
    }

    public function test_long_numbers_and_decimals_keep_their_digits(): void
    {
        $source = $this->registrar('v4', [['slug' => 'couriers', 'name' => 'Couriers', 'entity_set' => 'Couriers', 'page' => ['count' => false, 'long_numbers' => true]], ['slug' => 'plain', 'name' => 'Plain', 'entity_set' => 'Couriers', 'page' => ['count' => false]]]);
        foreach (['couriers', 'plain'] as $slug) {
            self::assertSame(RunState::Done, $this->refresh($source, $slug)->state);
            self::assertSame('9007199254740993', (string) $this->rows("select mileage from $slug where id = 3")[0]->mileage);
        }
    }

    public function test_version_2_gives_the_same_rows_with_its_own_ways_of_writing(): void
    {
        $endpoint = ['slug' => 'old-exhibitions', 'name' => 'Exhibitions', 'entity_set' => 'Exhibitions', 'filter' => "Opens ge datetime'2030-06-01T00:00:00'", 'order' => 'Opens', 'select' => ['Title', 'Opens', 'Doors'], 'expand' => ['Objects' => ['select' => ['Title', 'Value', 'Changed']], 'Venue' => ['select' => ['Name']]]];
        $two = $this->registrar('v2', [$endpoint]);
        $four = $this->registrar('v4', [['slug' => 'new-exhibitions', 'filter' => 'Opens ge 2030-06-01'] + $endpoint]);
        foreach ([[$two, 'old-exhibitions'], [$four, 'new-exhibitions']] as [$source, $slug]) {
            $run = $this->refresh($source, $slug);
            self::assertSame([RunState::Done, 0], [$run->state, $run->rejects], (string) json_encode($run->diagnosis));
        }
        $rows = fn (string $table): array => $this->rows("select id, title, date(opens) as opens, venue_name from {$table}_exhibitions order by id");
        self::assertNotSame([], $rows('old'));
        self::assertEquals($rows('new'), $rows('old'));
        $column = static fn (array $rows): array => array_map(static fn (object $one): array => array_values((array) $one), $rows);
        self::assertEquals($column($this->rows('select new_exhibition_id, number, value, changed from new_exhibitions_objects order by 1, 2')), $column($this->rows('select old_exhibition_id, number, value, changed from old_exhibitions_objects order by 1, 2')));
    }

    public function test_pages_come_as_the_service_hands_them_out_or_cut_here(): void
    {
        $source = $this->registrar('v4', [
            ['slug' => 'by-service', 'name' => 'A', 'entity_set' => 'Objects', 'select' => ['Title'], 'page' => ['size' => 250]],
            ['slug' => 'by-client', 'name' => 'B', 'entity_set' => 'Objects', 'select' => ['Title'], 'order' => 'Title', 'page' => ['by' => 'client', 'size' => 70, 'stable' => ['Number']]],
            ['slug' => 'some', 'name' => 'C', 'entity_set' => 'Objects', 'select' => ['Title'], 'top' => 130],
        ]);
        foreach (['by-service' => [930, 4], 'by-client' => [930, 14], 'some' => [130, 2]] as $slug => [$rows, $pages]) {
            $run = $this->refresh($source, $slug);
            self::assertSame([RunState::Done, $rows, $pages], [$run->state, $run->rows, $run->pages], $slug.json_encode($run->diagnosis));
        }
        self::assertEquals($this->rows('select number from by_service order by 1'), $this->rows('select number from by_client order by 1'));

        // A service that does not follow the size, or has a smaller one, is read whole, and it is said.
        foreach ([['heedless' => true, 'page' => 400], ['heedless' => true, 'page' => 100]] as $fault) {
            $this->faults('registrar', $fault);
            $try = $this->send($source, 'by-service', []);
            self::assertSame([$fault['page'] > 250 ? 'maxpagesize-ignored' : 'maxpagesize-smaller'], array_column($try->notes ?? [], 'code'));
            $this->actingAs($this->person())->get("/sources/$source->slug/endpoints/by-service")->assertSee("Pages of 250 were asked for, and {$fault['page']} records came");
            self::assertSame(930, $this->refresh($source, 'by-service')->rows);
        }
        $this->faults('registrar', []);
        self::assertSame([], $this->send($source, 'by-service', [])->notes ?? []);
    }

    public function test_what_it_offers_is_browsed_searched_counted_and_looked_at(): void
    {
        $source = $this->registrar('v4');
        $this->actingAs($this->person());
        $this->get('/sources/here/service')->assertOk()->assertSee('OData 4.01')->assertSee('The houses of the Circle')->assertSee('OnDisplay')->assertSee('Exhibitions that are open on a day');
        $this->get('/sources/here/service?q=report')->assertSee('ConditionReports')->assertDontSee('The houses of the Circle')->assertDontSee('OnDisplay');
        $this->get('/sources/here/service?q=open+on+a+day')->assertSee('OnDisplay')->assertDontSee('ConditionReports');
        $this->get('/sources/here/service?q=nothing-like-it')->assertSee('No set is like');
        $this->get('/sources/here/service/Objects')->assertSee('What it is insured for')->assertSee('no filter, no sorting')->assertSee('VenueSlug = Slug')->assertSee('Similar');
        $this->get('/sources/here/service/Nothing')->assertNotFound();
        $this->post('/sources/here/service/Objects/count')->assertSee('930');
        $this->post('/sources/here/service/Couriers/count')->assertSee('cannot be counted');
        $this->post('/sources/here/service/counts', ['sets' => ['Objects', 'Venues', 'Couriers', 'Nothing']])->assertSee('<span id="count-Objects" hx-swap-oob="true" >930</span>', false)->assertSee('>24</span>', false)->assertDontSee('Couriers');
        $this->post('/sources/here/service/Objects/rows')->assertSee('0001.02')->assertSee('made_of')->assertSee('$top=20', false);
        $this->actingAs($this->person(Role::Analyst));
        $this->post('/sources/here/service/Objects/count')->assertForbidden();
        $this->post('/sources/here/service')->assertForbidden();
        self::assertSame(1, Service::query()->count());
        self::assertNotNull($source);
    }

    public function test_several_sets_of_version_2_are_counted_in_one_request(): void
    {
        $source = $this->registrar('v2', access: [['scheme' => 'csrf-token', 'fetch' => ['method' => 'GET', 'path' => '/']]]);
        $model = app(ServiceModels::class)->of($source) ?? self::fail();
        self::assertSame(['Objects' => 930, 'Venues' => 24, 'Couriers' => "The entity set 'Couriers' cannot be counted."], app(ServiceReader::class)->counts($source, $this->trial(), null, $model, ['Objects', 'Venues', 'Couriers']));
    }

    public function test_columns_conditions_order_and_related_sets_are_picked(): void
    {
        $source = $this->registrar('v4');
        $this->actingAs($this->person());
        $this->post('/sources/here/service/take', ['set' => 'Objects'])->assertRedirect('/sources/here/endpoints/objects/choice');
        $this->get('/sources/here/endpoints/objects/choice')->assertOk()->assertSee('/registrar/v4/Objects?$count=true', false);
        $fields = ['levels' => [['path' => '', 'select' => ['Number', 'Title', 'Value'], 'filter' => '', 'filter_was' => '', 'conditions' => [['path' => 'Value', 'operator' => 'gt', 'value' => '80000'], ['path' => 'Venue/Name', 'operator' => 'contains', 'value' => "O'S"], ['path' => '', 'operator' => 'eq', 'value' => '']], 'order' => [['by' => 'Value', 'way' => 'desc']], 'top' => '9', 'expand' => ['Reports']], ['path' => 'Reports', 'select' => ['ObjectNumber', 'Line', 'Grade'], 'filter' => 'Line le 2', 'filter_was' => '', 'top' => '1']], 'page' => ['by' => 'service', 'count' => '1', 'long_numbers' => '1']];
        $this->post('/sources/here/endpoints/objects/choice', $fields)->assertOk()->assertSee('2 of 11', false);
        $fields['levels'][0]['conditions'][1]['value'] = 'a';
        $this->post('/sources/here/endpoints/objects/choice', $fields)->assertSee('contains(Venue/Name,&#039;a&#039;)', false);
        $endpoint = $source->refresh()->current()->endpoint('objects')->endpoint ?? self::fail();
        self::assertSame(['select' => ['Title', 'Value'], 'filter' => "Value gt 80000 and contains(Venue/Name,'a')", 'order' => 'Value desc', 'top' => 9, 'expand' => ['Reports' => ['select' => ['Grade'], 'filter' => 'Line le 2', 'top' => 1]], 'page' => ['long_numbers' => true]], array_intersect_key($endpoint, array_flip(['select', 'filter', 'order', 'top', 'expand', 'page'])));
        self::assertSame([], (new Derived(ODataVersion::V4, app(ServiceModels::class)->of($source)))->own($endpoint));
        $this->post('/sources/here/endpoints/objects/choice/rows', $fields)->assertSee('objects_reports')->assertSee('9 rows');
    }

    public function test_a_sheet_that_is_saved_as_it_is_makes_nothing_ones_own(): void
    {
        $source = $this->source('registrar-odata');
        app(MetadataFetcher::class)->read($source, $this->trial(), null);
        $this->actingAs($this->person());
        foreach ($source->refresh()->current()->endpoints() as $endpoint) {
            $address = "/sources/registrar-odata/endpoints/$endpoint->slug";
            $this->post($address, $this->fields((string) $this->get($address)->assertOk()->getContent(), 'sheet-form'))->assertOk();
            $saved = $source->refresh()->current()->endpoint($endpoint->slug)->endpoint ?? self::fail();
            self::assertSame([], (new Derived(ODataVersion::V4, app(ServiceModels::class)->of($source)))->own($saved), $endpoint->slug);
        }
    }

    public function test_what_cannot_be_asked_is_said_where_it_was_typed_and_nothing_is_lost(): void
    {
        $source = $this->registrar('v2', [['slug' => 'objects', 'name' => 'Objects', 'entity_set' => 'Objects']]);
        $this->actingAs($this->person());
        $level = ['path' => '', 'select' => ['Title'], 'filter' => '', 'filter_was' => '', 'conditions' => [['path' => 'Acquired', 'operator' => 'lt', 'value' => '1.5.2030'], ['path' => 'Title', 'operator' => 'startswith', 'value' => 'Eel']], 'top' => 'many'];
        $this->post('/sources/here/endpoints/objects/choice', ['levels' => [$level], 'page' => ['count' => '1']])
            ->assertSee('is no Edm.DateTime')->assertSee('value="1.5.2030"', false)->assertSee('is no number of rows')->assertSee('startswith(Title,');
        $this->post('/sources/here/endpoints/objects/choice', ['levels' => [['filter' => "contains(Remarks,'x')", 'conditions' => []] + $level]])->assertSee('the part first, then the text')->assertSee('cannot filter by Remarks');
        $this->post('/sources/here/endpoints/objects/choice/rows', ['levels' => [['filter' => "Remarks eq 'x'", 'filter_was' => '', 'top' => ''] + $level]])->assertSee('cannot be used in the $filter query option');
        $this->post('/sources/here/endpoints/objects/choice', ['levels' => [['filter' => "(Title eq 'x'", 'filter_was' => '', 'top' => ''] + $level]])->assertSee('was expected, and the filter ends');
        self::assertSame("(Title eq 'x'", $source->refresh()->current()->endpoint('objects')->endpoint['filter'] ?? '');
    }

    public function test_an_entity_is_created_changed_and_deleted_and_a_lost_update_is_told(): void
    {
        $endpoints = array_map(static fn (string $does): array => ['slug' => $does, 'name' => ucfirst($does), 'does' => $does, 'entity_set' => 'Objects'], ['get', 'create', 'update', 'delete']);
        foreach (['v4' => '201', 'v2' => '201'] as $version => $created) {
            $source = $this->registrar($version, $endpoints, $version === 'v2' ? [['scheme' => 'csrf-token', 'fetch' => ['method' => 'GET', 'path' => '/']]] : []);
            $made = $this->send($source, 'create', ['Number' => ["9000/$version"], 'Title' => ["Pilot's \"coat\""], 'Value' => ['12.50'], 'Venue' => ["Venues('rope-walk')"]] + ($version === 'v4' ? ['MadeOf' => ['["wool"]'], 'Reports' => ['[{"Grade": "Worn"}]']] : ['OnLoan' => ['false']]));
            self::assertSame((int) $created, $made->exchanges->where('purpose', 'request')->first()?->status, $made->diagnosis['what'] ?? '');
            $got = $this->send($source, 'get', ['Number' => ["9000/$version"]]);
            self::assertTrue($got->succeeded, $got->diagnosis['what'] ?? '');
            $exchange = $got->exchanges->first() ?? self::fail();
            preg_match('/^etag: (.+)$/mi', $exchange->headers, $etag);
            $changed = $this->send($source, 'update', ['Number' => ["9000/$version"], 'Value' => ['99.90'], 'If-Match' => [trim($etag[1])]]);
            self::assertTrue($changed->succeeded, $changed->diagnosis['what'] ?? '');
            $late = $this->send($source, 'update', ['Number' => ["9000/$version"], 'Value' => ['1'], 'If-Match' => [trim($etag[1])]]);
            self::assertSame('412', $late->diagnosis['code'] ?? '');
            self::assertStringContainsString('changed by somebody else', $late->diagnosis['what'] ?? '');
            $without = $this->send($source, 'update', ['Number' => ["9000/$version"], 'Value' => ['1']]);
            self::assertStringContainsString('If-Match', $without->diagnosis['what'] ?? '');
            self::assertTrue($this->send($source, 'delete', ['Number' => ["9000/$version"], 'If-Match' => ['*']])->succeeded);
            self::assertSame(404, $this->send($source, 'get', ['Number' => ["9000/$version"]])->exchanges->last()?->status);
        }
    }

    public function test_functions_and_actions_are_endpoints(): void
    {
        $source = $this->registrar('v4');
        $this->actingAs($this->person());
        foreach ([['operation' => 'OnDisplay'], ['operation' => 'Saltmarsh.Registrar.Extend', 'set' => 'Exhibitions'], ['operation' => 'Saltmarsh.Registrar.Similar', 'set' => 'Objects']] as $what) {
            $this->post('/sources/here/service/take', $what)->assertRedirect();
        }
        $this->post('/sources/here/service/take', ['operation' => 'Nothing'])->assertNotFound();
        $source->refresh();
        $display = $this->send($source, 'on-display', ['day' => ['2030-05-01']]);
        self::assertSame([true, 7], [$display->succeeded, $display->records]);
        self::assertTrue($this->send($source, 'extend-of-exhibitions', ['ID' => ['3'], 'days' => ['7'], 'reason' => ['Storm']])->succeeded);
        self::assertStringContainsString("'days' is a whole number", $this->send($source, 'extend-of-exhibitions', ['ID' => ['3'], 'days' => ['900']])->diagnosis['what'] ?? '');
        self::assertSame(2, $this->send($source, 'similar-of-objects', ['Number' => ['0004.02'], 'most' => ['2']])->records);
    }

    public function test_metadata_that_cannot_be_had_says_why_and_leaves_what_was_known(): void
    {
        $source = $this->registrar('v4');
        $before = Service::query()->firstOrFail()->read_at;
        $this->actingAs($this->person());
        $this->faults('registrar', ['outage_until' => microtime(true) + 60]);
        $this->post('/sources/here/service')->assertRedirect();
        $this->get('/sources/here/service')->assertSee('503');
        $this->faults('registrar', []);
        app(SourceStore::class)->edit($source->refresh(), null, static function (array $document): array {
            $document['source']['odata']['metadata'] = '/lists/venues';

            return $document;
        });
        $this->post('/sources/here/service');
        $this->get('/sources/here/service')->assertSee('There is nothing at')->assertSee('ConditionReports');
        self::assertEquals($before, Service::query()->firstOrFail()->read_at);
    }

    public function test_what_a_service_says_of_itself_is_shown_as_text(): void
    {
        $source = $this->registrar('v4');
        $evil = '"><script>alert(1)</script>';
        $model = Metadata::model(Metadata::read('<edmx:Edmx Version="4.01" xmlns:edmx="http://docs.oasis-open.org/odata/ns/edmx"><edmx:DataServices><Schema Namespace="S" xmlns="http://docs.oasis-open.org/odata/ns/edm"><EntityType Name="A"><Key><PropertyRef Name="ID"/></Key><Property Name="ID" Type="Edm.Int32"/><Property Name="Text" Type="Edm.String"><Annotation Term="Org.OData.Core.V1.Description" String="'.htmlspecialchars($evil).'"/></Property><NavigationProperty Name="Next" Type="S.Nowhere"/></EntityType><EntityContainer Name="C"><EntitySet Name="As" EntityType="S.A"><Annotation Term="Org.OData.Core.V1.Description" String="'.htmlspecialchars($evil).'"/></EntitySet><EntitySet Name="Lost" EntityType="S.Nothing"/></EntityContainer></Schema></edmx:DataServices></edmx:Edmx>'));
        app(ServiceModels::class)->keep($source, $this->trial(), $model, 1, str_repeat('0', 32), []);
        $this->actingAs($this->person());
        $this->post('/sources/here/service/take', ['set' => 'As'])->assertRedirect('/sources/here/endpoints/as/choice');
        foreach (['/sources/here/service', '/sources/here/service/As', '/sources/here/service/Lost', '/sources/here/endpoints/as/choice', '/sources/here/endpoints/as'] as $page) {
            $this->get($page)->assertOk()->assertDontSee('<script>alert', false);
        }
        $this->post('/sources/here/service/take', ['set' => 'Lost'])->assertRedirect('/sources/here/endpoints/lost/choice');
        $this->get('/sources/here/endpoints/lost/choice')->assertOk();
        $this->post('/sources/here/service/Lost/rows')->assertOk()->assertSee('Resource not found');
    }

    public function test_a_file_is_exported_as_short_as_it_was_and_taken_again(): void
    {
        $source = $this->source('registrar-odata');
        app(MetadataFetcher::class)->read($source, $this->trial(), null);
        $this->actingAs($this->person());
        $text = (string) $this->get('/sources/registrar-odata/export')->getContent();
        self::assertStringContainsString('entity_set: Exhibitions', $text);
        self::assertStringNotContainsString('flatten:', $text);
        self::assertStringNotContainsString('onward:', $text);
        self::assertStringContainsString('2030-05-01', $text, 'what it is tried with goes along');
        $again = app(SourceStore::class)->draft(SourceFile::read($text), null);
        self::assertNotNull($again->current()->endpoint('exhibitions')?->plan());
        self::assertStringContainsString('$select=Slug,Name', $again->current()->endpoint('exhibitions')->endpoint['ask']['inputs'][0]['fixed']);
        self::assertTrue($again->current()->says($source->refresh()->current()));
    }

    public function test_the_command_line_lists_reads_and_describes(): void
    {
        $this->source('registrar-odata');
        self::assertSame(0, Artisan::call('spring:odata', ['source' => 'registrar-odata', '--read' => true, '--environment' => 'trial']));
        self::assertStringContainsString('ConditionReports', Artisan::output());
        Artisan::call('spring:odata', ['source' => 'registrar-odata', 'set' => 'Objects', '--environment' => 'trial']);
        self::assertStringContainsString('Number', $said = Artisan::output());
        self::assertStringContainsString('Reports', $said);
        self::assertNotSame(0, Artisan::call('spring:odata', ['source' => 'registrar-odata', 'set' => 'Objcets', '--environment' => 'trial']));
        self::assertStringContainsString('"Objects" was probably meant', Artisan::output());
    }

    /**
     * @param  list<array<string, mixed>>  $endpoints
     * @param  list<array<string, mixed>>  $access
     */
    private function registrar(string $version, array $endpoints = [], array $access = []): Source
    {
        $slug = Source::query()->where('slug', 'here')->exists() ? "here-$version" : 'here';
        $source = $this->draft(self::$standinsAddress."/registrar/$version", [['scheme' => 'basic', 'username' => 'circle', 'password' => 'rg-demo-lamp-and-oar'], ...$access], $endpoints, ['slug' => $slug, 'kind' => 'odata', 'odata' => ['version' => (int) $version[1]]]);
        $try = app(MetadataFetcher::class)->read($source, $this->trial(), null);
        self::assertTrue($try->succeeded, (string) json_encode($try->diagnosis));
        app(SourceStore::class)->publish($source->refresh(), null);

        return $source->refresh();
    }

    public function test_only_changes_are_asked_for_where_the_service_keeps_track_of_them(): void
    {
        $source = $this->registrar('v4', [
            ['slug' => 'reports', 'name' => 'Reports', 'entity_set' => 'ConditionReports', 'track' => true],
            ...array_map(static fn (string $does): array => ['slug' => $does, 'name' => ucfirst($does), 'does' => $does, 'entity_set' => 'ConditionReports'], ['create', 'update', 'delete']),
        ]);
        $first = $this->refresh($source, 'reports');
        self::assertSame([RunState::Done, 2803], [$first->state, $first->rows], (string) json_encode($first->diagnosis));
        $quiet = $this->refresh($source, 'reports');
        self::assertSame([RunState::Done, 1, 0, 2803], [$quiet->state, $quiet->pages, $quiet->records, $quiet->rows]);
        $key = static fn (string $object, int $line): array => ['ObjectNumber' => [$object], 'Line' => [(string) $line]];
        self::assertTrue($this->send($source, 'update', $key('0001.02', 1) + ['Note' => ["Now it's \"whole\""], 'If-Match' => ['*']])->succeeded);
        self::assertTrue($this->send($source, 'update', $key('0001.02', 1) + ['Grade' => ['Sound'], 'If-Match' => ['*']])->succeeded);
        self::assertTrue($this->send($source, 'delete', $key('0002.03', 1) + ['If-Match' => ['*']])->succeeded);
        self::assertTrue($this->send($source, 'create', $key('0001.02', 9) + ['Grade' => ['Worn'], 'Seen' => ['2030-09-09T10:00:00Z']])->succeeded);
        $run = $this->refresh($source, 'reports');
        self::assertSame([RunState::Done, 1, 2, 2803], [$run->state, $run->pages, $run->records, $run->rows], (string) json_encode($run->diagnosis));
        self::assertStringStartsWith('2 rows are new or changed and 1 is gone since', (string) $run->ended);
        self::assertSame(["Now it's \"whole\"", 'Sound'], array_values((array) $this->rows("select note, grade from reports where object_number = '0001.02' and line = 1")[0]));
        self::assertSame([0, 1], array_map(fn (string $where): int => (int) $this->rows("select count(*) as n from reports where $where")[0]->n, ["object_number = '0002.03' and line = 1", "object_number = '0001.02' and line = 9"]));
        $this->faults('registrar', ['forgets' => true]);
        self::assertTrue($this->send($source, 'delete', $key('0001.02', 9) + ['If-Match' => ['*']])->succeeded);
        $anew = $this->refresh($source, 'reports');
        self::assertSame([RunState::Done, 2802], [$anew->state, $anew->rows], (string) json_encode($anew->diagnosis));
        self::assertGreaterThan(20, $anew->pages);
        self::assertStringContainsString('does not know any more what changed', (string) RunEvent::query()->where('run_id', $anew->id)->where('kind', 'whole')->value('text'));
        $this->faults('registrar', []);
    }

    public function test_a_copied_address_becomes_a_source_that_describes_itself(): void
    {
        $this->actingAs($this->person());
        $this->post('/sources', ['start' => self::$standinsAddress.'/registrar/v4/$metadata', 'name' => 'Registrar'])->assertRedirect('/sources/registrar');
        $this->get('/sources/registrar')->assertSee('Choose from what it offers')->assertSee('401');
        $source = Source::query()->where('slug', 'registrar')->firstOrFail();
        self::assertSame(['odata', 'auto', self::$standinsAddress.'/registrar/v4'], [$source->current()->document['source']['kind'], $source->current()->document['source']['odata']['version'], $source->current()->source()->base('trial')]);
        $this->post('/sources/registrar/service');
        $this->get('/sources/registrar/service')->assertSee('has not been read yet')->assertSee('401');
        $this->post('/sources', ['start' => self::$standinsAddress."/registrar/v2/Objects?\$filter=Title eq 'Eel trap'&\$expand=Venue&\$inlinecount=allpages&\$skiptoken=9", 'slug' => 'old'])->assertRedirect('/sources/old');
        $this->get('/sources/old')->assertSee('Left out of the address: $skiptoken');
        $endpoint = Source::query()->where('slug', 'old')->firstOrFail()->current()->endpoint('objects')->endpoint ?? self::fail();
        self::assertSame(["Title eq 'Eel trap'", ['Venue' => []], '$.d.results[*]'], [$endpoint['filter'], $endpoint['expand'], $endpoint['answer']['records']]);
    }

    public function test_a_pasted_command_of_a_service_brings_its_authentication_and_is_read_at_once(): void
    {
        $this->actingAs($this->person());
        $this->post('/sources', ['start' => 'curl -u circle:rg-demo-lamp-and-oar \''.self::$standinsAddress.'/registrar/v4/$metadata\'', 'slug' => 'pasted'])->assertRedirect('/sources/pasted/service');
        $this->get('/sources/pasted/service')->assertSee('its metadata was read')->assertSee('The houses of the Circle')->assertSee('use all of it');
        $this->post('/sources/pasted/service/take', ['set' => 'Venues', 'tried' => '1'])->assertRedirect('/sources/pasted/endpoints/venues');
        $this->get('/sources/pasted/endpoints/venues')->assertSee('tried just now')->assertSee('24 records');
        // Of a set, with spaces as an address has them: what was asked is what is asked.
        $this->post('/sources', ['start' => 'curl -u circle:rg-demo-lamp-and-oar \''.self::$standinsAddress.'/registrar/v4/Objects?$filter=OnLoan%20eq%20true&$top=5\'', 'slug' => 'asked'])->assertRedirect('/sources/asked/endpoints/objects');
        $source = Source::query()->where('slug', 'asked')->firstOrFail();
        self::assertSame(['OnLoan eq true', 5], [$source->current()->endpoint('objects')->endpoint['filter'] ?? null, $source->current()->endpoint('objects')->endpoint['top'] ?? null]);
        self::assertStringContainsString('filter=OnLoan%20eq%20true', (string) Tryout::query()->latest('id')->firstOrFail()->exchanges->first()?->request);
        self::assertSame(5, Tryout::query()->latest('id')->value('records'));
    }

    public function test_what_a_version_cannot_do_is_refused_and_never_left_out_in_silence(): void
    {
        $choice = ['slug' => 'venues', 'name' => 'Venues', 'entity_set' => 'Venues', 'expand' => ['Objects' => ['filter' => 'OnLoan eq true', 'top' => 3]]];
        $document = static fn (string $version): array => ['deepspring' => 1, 'source' => ['slug' => "asks-$version", 'name' => 'Asks', 'kind' => 'odata', 'odata' => ['version' => (int) $version], 'environments' => ['trial' => ['base' => 'http://127.0.0.1:1/x']]], 'endpoints' => [$choice]];
        self::assertNotNull(app(SourceStore::class)->draft(SourceFile::of($document('4')), null));
        $path = (string) tempnam(sys_get_temp_dir(), 'file');
        file_put_contents($path, (string) json_encode($document('2')));
        self::assertSame(1, Artisan::call('spring:import', ['file' => [$path]]));
        self::assertStringContainsString('endpoints[0].expand: Version 2 cannot filter what is expanded, as Objects is here.', Artisan::output());
        unlink($path);
        $this->actingAs($this->person());
        $this->from('/sources/new')->post('/sources', ['start' => (string) json_encode($document('2'))])->assertSessionHasErrors('start');
        self::assertSame(1, Source::query()->count());
    }

    public function test_a_refresh_before_the_draft_with_the_columns_is_published_says_so(): void
    {
        $source = $this->draft(self::$standinsAddress.'/registrar/v4', [['scheme' => 'basic', 'username' => 'circle', 'password' => 'rg-demo-lamp-and-oar']], [['slug' => 'venues', 'name' => 'Venues', 'entity_set' => 'Venues']], ['kind' => 'odata', 'odata' => ['version' => 4]]);
        app(SourceStore::class)->publish($source, null);
        app(MetadataFetcher::class)->read($source->refresh(), $this->trial(), null);
        $run = $this->refresh($source->refresh(), 'venues');
        self::assertStringContainsString('only the draft has them, since the metadata of the service was read after that was published. Publish the draft', (string) ($run->diagnosis['what'] ?? ''));
        app(SourceStore::class)->publish($source->refresh(), null);
        self::assertSame(RunState::Done, $this->refresh($source->refresh(), 'venues')->state);
    }

    /**
     * What the registrar itself answers.
     */
    private function ask(string $path): string
    {
        return (string) file_get_contents(self::$standinsAddress."/registrar$path", false, stream_context_create(['http' => ['header' => 'Authorization: Basic '.base64_encode('circle:rg-demo-lamp-and-oar')]]));
    }

    /**
     * @param  array<string, list<string>>  $inputs
     */
    private function send(Source $source, string $slug, array $inputs): Tryout
    {
        return app(Tries::class)->endpoint($this->endpoint($source, $slug), $source->current(), $source->current()->endpoint($slug) ?? self::fail(), $this->trial(), null, $inputs);
    }
}
