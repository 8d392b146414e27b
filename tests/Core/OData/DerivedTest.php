<?php

declare(strict_types=1);

namespace Tests\Core\OData;

use DeepSpring\Access\GivenSecrets;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Flatten\Plan;
use DeepSpring\OData\Derive\Derived;
use DeepSpring\OData\ODataVersion;
use DeepSpring\SourceFile\Chosen;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\TestCase;

final class DerivedTest extends TestCase
{
    public function test_a_choice_is_all_that_a_file_has_to_say(): void
    {
        $file = self::file(['slug' => 'houses', 'name' => 'Houses', 'entity_set' => 'Venues', 'select' => ['Name'], 'filter' => 'Rooms gt 3', 'expand' => ['Objects' => ['top' => 5]]]);
        $endpoint = $file->endpoint('houses') ?? self::fail();
        self::assertSame('/registrar/v4/Venues?%24select=Name&%24expand=Objects%28%24top%3D5%29&%24filter=Rooms%20gt%203&%24count=true', self::uri($file, 'houses'));
        self::assertSame(['list', '$.value[*]', 'next-link'], [$endpoint->does()->value, $endpoint->endpoint['answer']['records'], $endpoint->endpoint['onward']['style']]);
        self::assertNull($endpoint->plan());
        $model = CsdlTest::registrar(4);
        $full = SourceFile::of(Chosen::filled($file->document, model: $model));
        self::assertStringContainsString('%24select=Slug%2CName&%24expand=Objects', self::uri($full, 'houses'));
        self::assertSame(['houses', 'houses_objects'], array_map(static fn ($table): string => $table->name, $full->endpoint('houses')?->plan()?->tables() ?? []));
        $short = Chosen::short($full->document, $model);
        self::assertSame(['slug', 'name', 'entity_set', 'select', 'filter', 'expand'], array_keys($short['endpoints'][0]));
        self::assertTrue(SourceFile::of(Chosen::filled(SourceFile::of($short)->document, model: $model))->says($full), 'what was left out is derived again');
    }

    public function test_what_is_ones_own_stays_and_what_is_derived_follows_the_choice(): void
    {
        $file = self::file(['slug' => 'houses', 'name' => 'Houses', 'entity_set' => 'Venues', 'onward' => ['style' => 'none']]);
        $document = $file->document;
        $document['endpoints'][0]['filter'] = 'Rooms gt 9';
        $changed = $file->changed($document);
        self::assertStringContainsString('filter=Rooms%20gt%209', self::uri($changed, 'houses'));
        self::assertSame(['style' => 'none'], $changed->document['endpoints'][0]['onward']);
        $document = $changed->document;
        $document['endpoints'][0]['ask']['headers']['x-house'] = 'north-quay';
        $mine = $changed->changed($document);
        $document = $mine->document;
        $document['endpoints'][0]['filter'] = 'Rooms gt 10';
        self::assertStringContainsString('filter=Rooms%20gt%209', self::uri($mine->changed($document), 'houses'), 'a request of one\'s own is not overwritten');
        self::assertSame(['ask', 'onward'], (new Derived(ODataVersion::V4))->own($mine->document['endpoints'][0]));
    }

    public function test_pages_are_those_of_the_service_or_ones_own_in_a_stable_order(): void
    {
        $of = static fn (array $more, int $version = 4): array => (new Derived(ODataVersion::from($version)))->parts(['slug' => 'x', 'entity_set' => 'Objects'] + $more);
        self::assertSame(['odata-maxversion' => '4.01', 'prefer' => 'odata.maxpagesize=200,odata.track-changes'], array_diff_key($of(['page' => ['size' => 200], 'track' => true])['ask']['headers'], ['accept' => 1]));
        $mine = $of(['order' => 'Title', 'page' => ['by' => 'client', 'size' => 50, 'stable' => ['Number']]]);
        self::assertSame(['style' => 'offset', 'send_as' => '$skip', 'size_as' => '$top', 'size' => 50, 'total' => "$['@odata.count','@count']"], $mine['onward']);
        self::assertSame('Title,Number', array_column($mine['ask']['inputs'], 'fixed', 'name')['$orderby']);
        self::assertSame(['style' => 'next-link', 'link' => '$.d.__next', 'max_records' => 7], $of(['top' => 7], 2)['onward']);
        self::assertSame(['$format' => 'json', '$inlinecount' => 'allpages'], array_column($of([], 2)['ask']['inputs'], 'fixed', 'name'));
        self::assertArrayNotHasKey('total', $of(['page' => ['count' => false]])['onward']);
        self::assertStringContainsString('IEEE754Compatible=true', $of(['page' => ['long_numbers' => true]])['ask']['headers']['accept']);
    }

    public function test_tables_have_the_types_of_the_model_and_branches_the_keys_of_their_parents(): void
    {
        foreach ([4, 2] as $version) {
            $model = CsdlTest::registrar($version);
            $flatten = (new Derived($model->version, $model))->parts(['slug' => 'objects', 'entity_set' => 'Objects', 'expand' => ['Venue' => ['select' => ['Name']], 'Reports' => ['select' => ['Seen', 'Grade']]]])['flatten'] ?? self::fail();
            Plan::of($flatten);
            $types = array_column($flatten['columns'], 'type', 'name');
            self::assertSame(['text', 'decimal', 'float', 'datetime', 'boolean', 'uuid', 'text'], array_map(static fn (string $name): string => $types[$name], ['number', 'value', 'weight', 'changed', 'on_loan', 'mark', 'venue_name']));
            self::assertSame(2, array_column($flatten['columns'], 'scale', 'name')['value']);
            self::assertSame($version === 4 ? 'json' : 'text', $types['made_of']);
            self::assertSame($version === 4 ? 'date' : 'datetime', $types['acquired']);
            self::assertArrayNotHasKey('photo', $types, 'a stream is no value');
            $branch = $flatten['branches'][0];
            self::assertSame(['objects_reports', $version === 4 ? '$.Reports[*]' : '$.Reports.results[*]', ['object_number', 'object_number_2', 'line']], [$branch['table'], $branch['from'], $branch['key']]);
            self::assertSame($version === 2 ? ['odata-v2'] : [], array_values(array_filter(array_column($branch['columns'], 'read_as'))));
        }
    }

    public function test_a_deep_branch_whose_key_fits_no_index_has_none(): void
    {
        $model = CsdlTest::registrar(4);
        $flatten = (new Derived($model->version, $model))->parts(['slug' => 'venues', 'entity_set' => 'Venues', 'expand' => ['Objects' => ['expand' => ['Reports' => null]]]])['flatten'] ?? self::fail();
        $objects = $flatten['branches'][0];
        self::assertSame([['slug'], ['venue_slug', 'number']], [$flatten['key'], $objects['key']]);
        self::assertArrayNotHasKey('key', $objects['branches'][0]);
        self::assertSame(['venue_slug', 'venues_object_number', 'object_number', 'line'], array_slice(array_column($objects['branches'][0]['columns'], 'name'), 0, 4), 'what joins it to those above is there all the same');
    }

    public function test_types_that_hold_themselves_come_to_an_end(): void
    {
        $model = CsdlTest::four('<ComplexType Name="Box"><Property Name="Label" Type="Edm.String"/><Property Name="Inside" Type="S.Box"/><Property Name="Others" Type="Collection(S.Box)"/></ComplexType><EntityType Name="Crate"><Key><PropertyRef Name="ID"/></Key><Property Name="ID" Type="Edm.Int32"/><Property Name="Box" Type="S.Box"/><Property Name="Boxes" Type="Collection(S.Box)"/></EntityType><EntityContainer Name="C"><EntitySet Name="Crates" EntityType="S.Crate"/></EntityContainer>');
        $flatten = (new Derived($model->version, $model))->parts(['slug' => 'crates', 'entity_set' => 'Crates'])['flatten'] ?? self::fail();
        $tables = Plan::of($flatten)->tables();
        self::assertGreaterThan(5, count($tables));
        self::assertLessThanOrEqual(61, count($tables));
        self::file(['slug' => 'crates', 'name' => 'Crates', 'entity_set' => 'Crates', 'flatten' => $flatten]);
    }

    public function test_a_singleton_is_one_record(): void
    {
        $model = CsdlTest::registrar(4);
        $parts = (new Derived($model->version, $model))->parts(['slug' => 'office', 'entity_set' => 'Office']);
        self::assertSame([['style' => 'none'], false, []], [$parts['onward'], isset($parts['answer']['records']), $parts['ask']['inputs']]);
    }

    public function test_keys_are_literals_of_the_version(): void
    {
        foreach ([4 => "/ConditionReports(ObjectNumber='O''Shee%2F1',Line=3)", 2 => "/ConditionReports(ObjectNumber='O''Shee%2F1',Line=3)"] as $version => $path) {
            $file = self::file(['slug' => 'one', 'name' => 'One', 'does' => 'get', 'entity_set' => 'ConditionReports'], $version);
            self::assertSame(str_replace("'", '%27', $path), str_replace('/registrar/v4', '', self::uri($file, 'one', ['ObjectNumber' => ["O'Shee/1"], 'Line' => ['3']])));
        }
        $this->expectException(InvalidInput::class);
        $this->expectExceptionMessage('a whole number');
        self::uri($file, 'one', ['ObjectNumber' => ['1'], 'Line' => ['3) or (1 eq 1']]);
    }

    public function test_an_entity_is_created_with_what_can_be_given_and_what_is_needed(): void
    {
        $model = CsdlTest::registrar(4);
        $parts = (new Derived($model->version, $model))->parts(['slug' => 'new', 'entity_set' => 'Objects', 'does' => 'create']);
        $inputs = array_column($parts['ask']['inputs'], null, 'name');
        self::assertSame(['Number', 'Title', 'MadeOf'], array_keys(array_filter($inputs, static fn (array $one): bool => $one['required'] ?? false)));
        self::assertArrayNotHasKey('Changed', $inputs, 'the service fills it');
        self::assertArrayNotHasKey('Photo', $inputs);
        self::assertSame(['input' => 'Venue'], (array) $parts['ask']['body']['of']->{'Venue@odata.bind'});
        self::assertSame(['json', 'json'], [$inputs['Reports']['type'], $inputs['MadeOf']['type']]);
        $file = self::file(['slug' => 'new', 'name' => 'New', 'entity_set' => 'Objects', 'does' => 'create']);
        $request = $file->source()->requests('trial')->build(($file->endpoint('new') ?? self::fail())->ask(), ['Number' => ['9000.01'], 'Title' => ['Eel "trap"'], 'MadeOf' => ['["reed"]'], 'Value' => ['12.50'], 'Venue' => ["Venues('rope-walk')"], 'Reports' => ['[{"Grade":"Sound"}]']], new GivenSecrets([]));
        self::assertSame('POST {"Number":"9000.01","Title":"Eel \"trap\"","MadeOf":["reed"],"Value":12.50,"Venue@odata.bind":"Venues(\'rope-walk\')","Reports":[{"Grade":"Sound"}]}', $request->getMethod().' '.$request->getBody());
    }

    public function test_an_update_sends_what_is_given_with_the_etag(): void
    {
        foreach ([4 => 'PATCH', 2 => 'MERGE'] as $version => $method) {
            $file = self::file(['slug' => 'change', 'name' => 'Change', 'entity_set' => 'Objects', 'does' => 'update'], $version);
            $request = $file->source()->requests('trial')->build(($file->endpoint('change') ?? self::fail())->ask(), ['Number' => ['0004.02'], 'Value' => ['5.10'], 'If-Match' => ['W/"a"']], new GivenSecrets([]));
            self::assertSame([$method, $version === 4 ? '{"Value":5.10}' : '{"Value":"5.10"}', 'W/"a"'], [$request->getMethod(), (string) $request->getBody(), $request->getHeaderLine('If-Match')]);
        }
        $whole = self::file(['slug' => 'change', 'name' => 'Change', 'entity_set' => 'Objects', 'does' => 'update', 'whole' => true]);
        self::assertSame('PUT', $whole->endpoint('change')?->ask()->method);
        $this->expectException(InvalidInput::class);
        $this->expectExceptionMessage('If-Match');
        $whole->source()->requests('trial')->build($whole->endpoint('change')->ask(), ['Number' => ['1'], 'Title' => ['x'], 'MadeOf' => ['[]'], 'OnLoan' => ['true']], new GivenSecrets([]));
    }

    public function test_functions_and_actions_have_typed_inputs(): void
    {
        $similar = self::file(['slug' => 'op', 'name' => 'Op', 'operation' => 'Similar', 'entity_set' => 'Objects']);
        self::assertSame('/registrar/v4/Objects(%270004.02%27)/Saltmarsh.Registrar.Similar(most=3)', self::uri($similar, 'op', ['Number' => ['0004.02'], 'most' => ['3']]));
        self::assertSame('list', $similar->endpoint('op')?->does()->value);
        $display = self::file(['slug' => 'op', 'name' => 'Op', 'operation' => 'OnDisplay']);
        self::assertSame('/registrar/v4/OnDisplay(day=2030-05-01)', self::uri($display, 'op', ['day' => ['2030-05-01']]));
        $old = self::file(['slug' => 'op', 'name' => 'Op', 'operation' => 'OnDisplay'], 2);
        self::assertSame('/registrar/v4/OnDisplay?day=datetime%272030-05-01T00%3A00%3A00%27', self::uri($old, 'op', ['day' => ['2030-05-01']]));
        $extend = self::file(['slug' => 'op', 'name' => 'Op', 'operation' => 'Extend', 'entity_set' => 'Exhibitions']);
        $request = $extend->source()->requests('trial')->build(($extend->endpoint('op') ?? self::fail())->ask(), ['ID' => ['3'], 'days' => ['14']], new GivenSecrets([]));
        self::assertSame([200, 201, 202, 204], $extend->endpoint('op')?->answer()->ok);
        self::assertSame([200], $display->endpoint('op')?->answer()->ok);
        self::assertSame(['call', 'POST', '/registrar/v4/Exhibitions(3)/Saltmarsh.Registrar.Extend', '{"days":14}'], [$extend->endpoint('op')?->does()->value, $request->getMethod(), $request->getUri()->getPath(), (string) $request->getBody()]);
    }

    public function test_a_choice_with_faults_is_refused_at_its_place(): void
    {
        foreach ([[['entity_set' => 7], 'endpoints[0].entity_set'], [['entity_set' => 'A', 'expand' => ['B' => ['tap' => 1]]], 'endpoints[0].expand.B'], [['entity_set' => 'A', 'select' => ['x;y']], 'endpoints[0].select[0]'], [['entity_set' => 'A', 'page' => ['by' => 'chance']], 'endpoints[0].page.by'], [[], 'endpoints[0]']] as [$choice, $path]) {
            try {
                self::file(['slug' => 'x', 'name' => 'X'] + $choice);
                self::fail('It was taken.');
            } catch (InvalidSourceFile $invalid) {
                self::assertSame($path, $invalid->faults[0]->path);
            }
        }
    }

    /**
     * @param  array<string, mixed>  $endpoint
     */
    private static function file(array $endpoint, int $version = 4): SourceFile
    {
        $file = SourceFile::of(['deepspring' => 1, 'source' => ['slug' => 'registrar', 'name' => 'Registrar', 'kind' => 'odata', 'odata' => ['version' => $version], 'environments' => ['trial' => ['base' => 'http://127.0.0.1:8401/registrar/v4']]], 'endpoints' => [$endpoint]]);

        return isset($endpoint['operation']) || isset($endpoint['does']) ? SourceFile::of(Chosen::filled($file->document, model: CsdlTest::registrar($version))) : $file;
    }

    /**
     * @param  array<string, list<string>>  $given
     */
    private static function uri(SourceFile $file, string $endpoint, array $given = []): string
    {
        $uri = $file->source()->requests('trial')->build(($file->endpoint($endpoint) ?? self::fail())->ask(), $given, new GivenSecrets([]))->getUri();

        return $uri->getPath().($uri->getQuery() === '' ? '' : '?'.$uri->getQuery());
    }
}
