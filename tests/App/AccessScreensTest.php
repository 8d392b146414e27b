<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Environment;
use App\Models\Secret;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Tries;
use App\Secrets\Vault;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;

final class AccessScreensTest extends AppTestCase
{
    private function opened(string $name): string
    {
        return app(Vault::class)->open(Secret::query()->where('name', $name)->where('environment_id', $this->trial()->id)->firstOrFail());
    }

    public function test_a_secret_is_replaced_once_the_service_takes_the_new_one(): void
    {
        $this->source('stores');
        $this->actingAs($this->person());
        $this->post('/sources/stores/secrets', ['secret_name' => 'key', 'secret_value' => 'st-wrong-00000000'])->assertOk()
            ->assertSee('the old one is still in use')->assertSee('refused')->assertDontSee('st-wrong-00000000');
        self::assertSame('st-demo-0b8e5c71f9a2d446', $this->opened('key'));
        $this->post('/sources/stores/secrets/discard', ['secret_name' => 'key'])->assertDontSee('the old one is still in use');
        $this->post('/sources/stores/secrets', ['secret_name' => 'key', 'secret_value' => 'st-demo-0b8e5c71f9a2d446', 'secret_ends' => '2031-05-01'])->assertSee('ends 2031-05-01')->assertDontSee('still in use')->assertDontSee('Changed since the test');
        $this->post('/sources/stores/secrets', ['secret_name' => 'key', 'secret_value' => 'st-wrong-00000000', 'secret_ends' => '2032-01-01'])->assertSee('ends 2031-05-01');
        $this->post('/sources/stores/secrets/accept', ['secret_name' => 'key'])->assertOk();
        self::assertSame(['st-wrong-00000000', '2032-01-01'], [$this->opened('key'), Secret::query()->where('name', 'key')->firstOrFail()->ends_on?->format('Y-m-d')]);
    }

    public function test_a_test_proves_only_the_settings_that_it_was_made_with(): void
    {
        $source = $this->source('stores');
        app(Tries::class)->source($source, $source->current(), $this->trial(), null);
        $this->actingAs($this->person());
        $html = (string) $this->get('/sources/stores')->assertDontSee('Changed since the test')->assertSee('class="node ok" id="node-access"', false)->getContent();
        $fields = $this->fields($html, 'source-form');
        $this->post('/sources/stores', ['headers' => [['name' => 'x-house', 'value' => 'hq']]] + $fields)->assertSee('Changed since the test')->assertSee('class="node no" id="node-access"', false);
        $this->get('/sources/stores')->assertSee('Changed since the test');
        $renamed = $fields;
        $renamed['access'][0]['name'] = 'X-Renamed';
        $this->post('/sources/stores', $renamed)->assertSee('adds x-renamed: ••••••')->assertSee('adds x-stores-reader: ••••••');
        $this->post('/sources/stores', ['name' => 'Another name'] + $fields)->assertDontSee('Changed since the test');
        Tryout::query()->update(['created_at' => Carbon::now()->subMinute()]);
        app(Vault::class)->put($source, $this->trial(), 'key', 'another', null);
        $this->get('/sources/stores')->assertSee('Changed since the test');
        $this->post('/sources/stores/test')->assertDontSee('Changed since the test')->assertSee('class="node bad" id="node-access"', false);
    }

    public function test_what_ends_within_two_weeks_is_on_the_watershed_for_those_who_can_replace_it(): void
    {
        $this->source('stores');
        $vault = app(Vault::class);
        $source = $this->source('freight-tracker');
        $vault->put($source, $this->trial(), 'key', 'ft-demo-8a1c55d0b7e23f2a', null, Carbon::now()->addDays(9)->format('Y-m-d'));
        $vault->put($source, $this->trial(), 'password', 'tide-and-rope-22', null, Carbon::now()->addDays(20)->format('Y-m-d'));
        $this->actingAs($this->person())->get('/')->assertSee('Its secret &quot;key&quot; ends', false)->assertSee('in 9 days')->assertSee('Replace it')->assertSee('secret=key#secret-form', false)->assertDontSee('&quot;password&quot;', false);
        $vault->put($source, $this->trial(), 'key', 'ft-demo-8a1c55d0b7e23f2a', null, Carbon::now()->subDay()->format('Y-m-d'));
        $this->get('/')->assertSee('ended');
        $this->actingAs($this->person(\App\Models\Role::Analyst))->get('/')->assertDontSee('Its secret');
    }

    public function test_a_source_says_how_it_fares_in_every_environment(): void
    {
        $source = $this->source('stores');
        app(Tries::class)->source($source, $source->current(), $this->trial(), null);
        $document = $source->current()->document;
        $document['source']['environments']['production'] = ['base' => self::$standinsAddress.'/stores/v1'];
        app(\App\Sources\SourceStore::class)->draft(\DeepSpring\SourceFile\SourceFile::of($document), null, $source);
        $production = Environment::named('production') ?? self::fail();
        app(Vault::class)->put($source, $production, 'key', 'wrong-wrong-wrong', null);
        app(Tries::class)->source($source, $source->refresh()->current(), $production, null);
        Tryout::query()->where('environment_id', $production->id)->update(['created_at' => Carbon::now()->subDays(2)->setTime(6, 10)]);
        $this->actingAs($this->person())->get('/sources')->assertSee('proven')->assertSee('refused since '.Carbon::now()->subDays(2)->format('l').' 06:10');
        $this->get('/sources/stores')->assertSee('works in Trial')->assertSee('Production: refused since');
    }

    public function test_settings_are_copied_to_another_environment_without_secrets(): void
    {
        $source = $this->source('box-office');
        $production = Environment::named('production') ?? self::fail();
        $person = $this->person();
        $person->forceFill(['environment_id' => $production->id])->save();
        $this->actingAs($person)->get('/sources/box-office')->assertSee('Copy address and variables from Trial');
        $this->post('/sources/box-office', ['do' => 'copy', 'from' => 'trial', 'bases' => ['trial' => self::$standinsAddress.'/box-office/v1'], 'access' => [['scheme' => 'oauth2-authorization-code', 'was' => '0']]])->assertOk();
        $environments = $source->refresh()->current()->document['source']['environments'];
        self::assertEquals($environments['trial'], $environments['production']);
        self::assertSame(0, Secret::query()->where('environment_id', $production->id)->count());
    }

    public function test_environments_are_added_with_a_schema_of_their_own_and_removed_when_empty(): void
    {
        $this->actingAs($this->person());
        $this->post('/environments', ['name' => ''])->assertSessionHasErrors('name');
        $this->post('/environments', ['name' => 'Trial'])->assertSessionHasErrors('name');
        $this->post('/environments', ['name' => str_repeat('long ', 10)])->assertSessionHasErrors('name');
        self::assertSame(0, Artisan::call('spring:environment', ['name' => 'From a command']), Artisan::output());
        self::assertSame(1, Artisan::call('spring:environment', ['name' => 'From a command']), Artisan::output());
        self::assertSame(0, Artisan::call('spring:environment', ['name' => 'from-a-command', '--rename' => 'Renamed']), Artisan::output());
        self::assertSame(0, Artisan::call('spring:environment'));
        self::assertStringContainsString('Renamed', Artisan::output());
        self::assertSame(0, Artisan::call('spring:environment', ['name' => 'from-a-command', '--remove' => true]), Artisan::output());
        self::assertSame(2, Artisan::call('spring:environment', ['name' => 'from-a-command', '--remove' => true]), Artisan::output());
        $this->post('/environments', ['name' => 'Dress rehearsal'])->assertRedirect('/environments');
        $added = Environment::named('dress-rehearsal') ?? self::fail();
        self::assertSame('deep_spring_test_data_dress_rehearsal', $added->schema());
        $source = $this->source('stores');
        $document = $source->current()->document;
        $document['source']['environments']['dress-rehearsal'] = $document['source']['environments']['trial'];
        app(\App\Sources\SourceStore::class)->draft(\DeepSpring\SourceFile\SourceFile::of($document), null, $source);
        app(\App\Sources\SourceStore::class)->publish($source, null);
        app(Vault::class)->put($source, $added, 'key', 'st-demo-0b8e5c71f9a2d446', null);
        $run = app(\App\Runs\Refresh::class)->run(app(\App\Runs\Runs::class)->ask($this->endpoint($source, 'positions'), $added, null));
        self::assertSame(640, $run->rows, (string) json_encode($run->diagnosis));
        self::assertSame([], $this->tablesInTrial());
        $this->get('/environments')->assertSee('Dress rehearsal')->assertSee('Stores');
        $this->delete('/environments/dress-rehearsal')->assertSessionHasErrors('environment');
        $this->post('/environments/dress-rehearsal', ['name' => 'Rehearsal'])->assertRedirect('/environments');
        self::assertSame('Rehearsal', $added->refresh()->name);

        // A person may query there as an account that can only read.
        $analyst = $this->person(\App\Models\Role::Analyst);
        $analyst->forceFill(['environment_id' => $added->id])->save();
        $this->actingAs($analyst)->post('/queries/run', ['sql' => 'select count(*) n from positions'])->assertOk()->assertSee('640');
        \App\Models\KeptTable::query()->delete();
        app(\App\Sources\SourceStore::class)->draft(\DeepSpring\SourceFile\SourceFile::of(['source' => ['environments' => ['trial' => $document['source']['environments']['trial']]] + $document['source']] + $document), null, $source);
        $this->actingAs($this->person())->delete('/environments/dress-rehearsal')->assertRedirect('/environments');
        self::assertSame([], DB::connection('keeper')->select("select 1 from information_schema.schemata where schema_name = 'deep_spring_test_data_dress_rehearsal'"));
        $this->actingAs($analyst->refresh())->get('/tables')->assertOk();
    }

    public function test_an_endpoint_is_compared_in_two_environments(): void
    {
        $source = $this->source('stores', ['environments:' => "environments:\n    production: {base: \"".self::$standinsAddress.'/doors"}']);
        $this->actingAs($this->person());
        $this->get('/sources/stores/endpoints/positions/compare')->assertOk()->assertSee('Not tried there yet');
        $this->post('/sources/stores/endpoints/positions/compare', ['with' => 'production'])->assertRedirect('/sources/stores/endpoints/positions/compare?with=production');
        $this->get('/sources/stores/endpoints/positions/compare?with=production')->assertSee('proven')->assertSee('has no value in Production');

        $production = Environment::named('production') ?? self::fail();
        $same = $this->draft(self::$standinsAddress.'/doors', [], [['slug' => 'x', 'name' => 'X', 'ask' => ['path' => '/open'], 'answer' => ['records' => '$.data[*]']]], ['environments' => ['trial' => ['base' => self::$standinsAddress.'/doors'], 'production' => ['base' => self::$standinsAddress.'/doors']]]);
        $this->assertNotNull($same->current());
        $this->post('/sources/here/endpoints/x/compare', ['with' => $production->slug]);
        $this->get('/sources/here/endpoints/x/compare?with=production')->assertSee('every path has the same types in both');
        Tryout::query()->latest('id')->firstOrFail()->exchanges()->update(['body' => gzdeflate('{"data":[{"id":"a","name":"b"}],"more":[]}')]);
        $this->get('/sources/here/endpoints/x/compare?with=production')->assertSee('$.data[*].name')->assertSee('$.more')->assertSee('$.data[*].id')->assertSee('whole number');
        self::assertNotNull($source);
    }

    /**
     * @return iterable<string, array{string, string, list<string>}>
     */
    public static function starts(): iterable
    {
        yield 'an address' => ['HERE/stores/v1', 'stores', []];
        yield 'a command' => ["curl -H 'X-Stores-Key: st-demo-0b8e5c71f9a2d446' -H 'X-Stores-Reader: st-demo-0b8e5c71f9a2d446' 'HERE/stores/v1/positions?per_page=20'", 'stores', ['key'], '/endpoints/positions'];
        yield 'an address with a query' => ['HERE/stores/v1/positions?per_page=20', 'stores', [], '/endpoints/positions'];
        yield 'a file' => ["# Stores\ndeepspring: 1\nsource: {slug: by-file, name: By file, environments: {trial: {base: 'HERE/stores/v1'}}}", 'by-file', []];
    }

    /**
     * @param  list<string>  $secrets
     */
    #[DataProvider('starts')]
    public function test_a_source_begins_with_whatever_is_at_hand_and_is_tested_at_once(string $start, string $slug, array $secrets, string $opens = ''): void
    {
        $this->actingAs($this->person());
        $this->post('/sources', ['start' => str_replace('HERE', self::$standinsAddress, $start)])->assertRedirect("/sources/$slug$opens");
        $source = Source::query()->where('slug', $slug)->firstOrFail();
        self::assertSame(self::$standinsAddress.'/stores/v1', $source->current()->source()->base('trial'));
        self::assertSame($secrets, Secret::query()->pluck('name')->all());
        self::assertSame($secrets !== [], Tryout::query()->firstOrFail()->succeeded);
        $this->get("/sources/$slug")->assertOk()->assertDontSee('st-demo-0b8e5c71f9a2d446');
        $again = $this->post('/sources', ['start' => str_replace('HERE', self::$standinsAddress, $start)]);
        str_starts_with($start, '#') ? $again->assertRedirectContains('/imports/') : $again->assertSessionHasErrors('slug');
    }

    public function test_what_cannot_begin_a_source_is_said_and_kept(): void
    {
        $this->actingAs($this->person());
        foreach (['' => 'Give an address', "curl 'http://a" => 'never closed', 'curl -s' => 'no address', "deepspring: 1\nsource: {slug: X}" => 'Line 2', 'mysql://db/x' => 'http'] as $start => $says) {
            $this->from('/sources/new')->post('/sources', ['start' => $start, 'name' => 'Kept'])->assertSessionHasErrors('start');
            self::assertStringContainsString($says, implode(' ', session('errors')?->get('start') ?? []), $start);
            self::assertSame('Kept', old('name'));
        }
        $this->post('/sources', ['start' => 'curl -X POST -d a=1 --moonlight '.self::$standinsAddress.'/doors/ledger', 'name' => 'Writes'])->assertSessionHas('mends');
        self::assertSame(0, Tryout::query()->whereNotNull('endpoint_id')->count(), 'what writes is not sent by adding it');
    }

    public function test_an_address_is_looked_at_while_it_is_typed(): void
    {
        $this->source();
        $this->actingAs($this->person());
        $this->post('/address', ['start' => 'api.saltmarsh.example/v2/', 'field' => 'start'])->assertOk()->assertSee('The scheme is missing.')->assertSee('Take https://api.saltmarsh.example/v2/');
        $this->post('/address', ['start' => 'http://10.1.2.3'])->assertSee('private network');
        $this->post('/address', ['start' => self::$standinsAddress])->assertDontSee('this machine itself');
        $this->post('/address', ['start' => "curl -u a:b http://10.1.2.3\n"])->assertDontSee('private network');
        $this->post('/sources/loans-desk/address', ['bases' => ['trial' => 'https://loans.saltmarsh.example/v2/loans'], 'field' => 'base-trial'])->assertSee('/loans is the path of an endpoint')->assertSee('data-fill="base-trial"', false);
        $this->actingAs($this->person(\App\Models\Role::Analyst))->post('/address', ['start' => 'x'])->assertForbidden();
    }

    public function test_a_variable_serves_every_environment_and_one_that_is_missing_is_named(): void
    {
        $source = $this->draft(self::$standinsAddress.'/doors', [['scheme' => 'bearer', 'token' => ['secret' => 'key']]], [], ['headers' => ['x-circle-house' => ['variable' => 'house']], 'environments' => ['trial' => ['base' => self::$standinsAddress.'/doors/open', 'variables' => ['house' => 'hq']], 'production' => ['base' => self::$standinsAddress.'/doors/open']]]);
        foreach ([$this->trial(), Environment::named('production') ?? self::fail()] as $environment) {
            app(Vault::class)->put($source, $environment, 'key', 'x', null);
            $try = app(Tries::class)->source($source, $source->current(), $environment, null);
            $environment->slug === 'trial' ? self::assertStringContainsString('x-circle-house: hq', (string) $try->exchanges->first()?->request) : self::assertSame(['variable', 'address'], [$try->diagnosis['code'] ?? null, $try->diagnosis['where'] ?? null]);
        }
        $this->actingAs($this->person())->get('/sources/here')->assertOk()->assertSee('value="{house}"', false);
    }

    public function test_every_scheme_is_edited_on_the_sheet_and_comes_back_the_same(): void
    {
        $this->actingAs($this->person());
        foreach (array_diff(\DeepSpring\Access\Schemes::family()->names(), ['none']) as $kind) {
            $entry = \App\Http\Sources\SchemeFields::fresh($kind) ?? self::fail();
            $entry = json_decode(str_replace('"https:\/\/"', '"https:\/\/a.example\/token"', (string) json_encode($entry)), true);
            $more = match ($kind) {
                'oauth2-client-credentials' => ['extra' => ['resource' => 'a b'], 'audience' => 'x', 'credentials_in' => 'body'],
                'oauth2-authorization-code' => ['shared' => false, 'pkce' => false],
                'jwt-assertion' => ['lifetime' => 120, 'subject' => ['secret' => 'sub']],
                'login' => ['lifetime' => 60, 'take' => ['cookie' => 'sid']],
                'api-key' => ['prefix' => 'Key'],
                default => [],
            };
            $source = $this->draft('https://a.example/v1', [$more + $entry]);
            $before = $source->current()->document;
            $html = (string) $this->get('/sources/here')->assertOk()->getContent();
            $this->post('/sources/here', $this->fields($html, 'source-form'))->assertOk()->assertDontSee('Not saved yet');
            self::assertEquals($before, $source->refresh()->current()->document, $kind);
        }
    }

    public function test_a_test_says_its_stages_on_the_command_line_too(): void
    {
        $this->source('freight-tracker');
        self::assertSame(0, Artisan::call('spring:try', ['what' => 'freight-tracker']), Artisan::output());
        app(Vault::class)->put(Source::query()->firstOrFail(), $this->trial(), 'password', 'wrong', null);
        self::assertSame(1, Artisan::call('spring:try', ['what' => 'freight-tracker']), Artisan::output());
    }
}
