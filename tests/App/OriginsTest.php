<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Exchange;
use App\Models\LogEntry;
use App\Models\Secret;
use App\Models\Source;
use App\Models\StoredToken;
use App\Models\User;
use App\Runs\Tries;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\Facades\Artisan;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Lane;

/**
 * A secret belongs to the addresses that it was given for, in whichever way these change.
 */
final class OriginsTest extends AppTestCase
{
    private const KEY = 'st-demo-0b8e5c71f9a2d446';

    private User $giver;

    private User $other;

    /** Where requests to the new address arrive. */
    private string $inbox = '';

    private string $elsewhere = '';

    private ?\App\Local\Child $server = null;

    protected function setUp(): void
    {
        parent::setUp();
        $this->giver = $this->person();
        $this->other = $this->person();
        $this->inbox = (string) tempnam(sys_get_temp_dir(), 'inbox');
        $port = Lane::ports(8872)->web;
        $this->elsewhere = "http://127.0.0.1:$port";
        $router = sys_get_temp_dir().'/inbox-'.getmypid().'.php';
        file_put_contents($router, '<?php file_put_contents('.var_export($this->inbox, true).', print_r([$_SERVER["REQUEST_URI"], getallheaders(), file_get_contents("php://input")], true), FILE_APPEND); header("Content-Type: application/json"); echo json_encode(["ok" => true, "access_token" => "tk-elsewhere-99", "token_type" => "Bearer", "expires_in" => 600]);');
        $this->server = \App\Local\Child::start('elsewhere', [PHP_BINARY, '-S', "127.0.0.1:$port", $router], [], '/dev/null', sys_get_temp_dir());
        \App\Local\Ports::await($port, 'Elsewhere');
        $this->allow($port);
    }

    protected function tearDown(): void
    {
        $this->server?->stop(1);
        @unlink($this->inbox);
        parent::tearDown();
    }

    /**
     * A source with a key that somebody gave, proven at its address.
     */
    private function given(): Source
    {
        $source = $this->draft(self::$standinsAddress.'/doors', [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Door-Key', 'value' => ['secret' => 'key']]], [['slug' => 'x', 'name' => 'X', 'ask' => ['path' => '/key'], 'flatten' => ['table' => 'doors', 'columns' => [['name' => 'a', 'from' => '$.in', 'type' => 'json']]]]]);
        app(SourceStore::class)->publish($source, $this->giver);
        app(Vault::class)->put($source, $this->trial(), 'key', self::KEY, $this->giver);

        return $source->refresh();
    }

    private function arrived(): string
    {
        return (string) file_get_contents($this->inbox);
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function ways(): iterable
    {
        foreach (['sheet', 'file', 'import', 'command line', 'variable', 'version brought back', 'draft that is published', 'token address', 'repair'] as $way) {
            yield $way => [$way];
        }
    }

    #[DataProvider('ways')]
    public function test_a_secret_does_not_follow_a_changed_address(string $way): void
    {
        $source = $this->given();
        $this->actingAs($this->other);
        $slug = $source->slug;
        $text = $source->current()->yaml();
        $moved = str_replace(self::$standinsAddress, $this->elsewhere, $text);
        $store = app(SourceStore::class);
        match ($way) {
            'sheet' => $this->post("/sources/$slug", ['bases' => ['trial' => "$this->elsewhere/doors"], 'access' => [['scheme' => 'api-key', 'was' => '0', 'in' => 'header', 'name' => 'X-Door-Key', 'value' => 'secret key']], 'name' => 'Here'])->assertOk(),
            'file' => $this->post("/sources/$slug/file", ['text' => $moved])->assertRedirect(),
            'import' => $store->draft(SourceFile::read($moved), $this->other),
            'command line' => $this->imported($moved),
            'variable' => $this->byVariable($source),
            'version brought back' => $this->broughtBack($source, $moved),
            'draft that is published' => [$store->draft(SourceFile::read($moved), $this->other), $this->post("/sources/$slug/publish")],
            'token address' => $store->edit($source, $this->other, function (array $document): array {
                $document['source']['access'][] = ['scheme' => 'oauth2-client-credentials', 'token_url' => "$this->elsewhere/token", 'client_id' => 'x', 'client_secret' => ['secret' => 'key']];

                return $document;
            }),
            'repair' => $store->edit($source, $this->other, fn (array $document): array => \DeepSpring\Diagnose\Repair::set('Use it', ['source', 'environments', 'trial', 'base'], "$this->elsewhere/doors")->apply($document, null)),
        };
        $source->refresh();
        // A test, a try, a run, a try on the command line: nothing leaves.
        $this->post("/sources/$slug/test")->assertOk()->assertSee('is not sent to');
        $this->post("/sources/$slug/endpoints/x/try", ['path' => '/key'])->assertOk()->assertSee('is not sent to');
        Artisan::call('spring:try', ['what' => "$slug/x"]);
        if ($way === 'draft that is published' || $way === 'command line') {
            $run = $this->refresh($source, 'x');
            self::assertSame('secret-elsewhere', $run->diagnosis['code'] ?? null);
        }
        self::assertStringNotContainsString(self::KEY, $this->arrived());
        self::assertSame(0, Exchange::query()->where('request', 'like', '%st-demo%')->count());

        // Neither can whoever changed it confirm it, in either way.
        $this->post("/sources/$slug/secrets/confirm")->assertOk();
        $this->post("/sources/$slug/test")->assertOk()->assertSee('is not sent to');
        self::assertStringNotContainsString(self::KEY, $this->arrived());

        // The one who gave it can.
        $this->actingAs($this->giver)->get("/sources/$slug")->assertOk()->assertSee('Send my secrets there too');
        $this->post("/sources/$slug/secrets/confirm")->assertOk();
        $this->post("/sources/$slug/test");
        self::assertStringContainsString(self::KEY, in_array($way, ['token address', 'variable'], true) ? base64_decode((string) preg_replace('/.*Basic ([A-Za-z0-9+\/=]+).*/s', '$1', $this->arrived())) : $this->arrived());
        self::assertTrue(LogEntry::query()->where('action', 'secret confirmed for a new address')->where('subject', "$slug: key")->exists());
    }

    public function test_an_endpoint_on_another_server_gets_a_secret_only_when_the_file_says_so_and_its_giver_agrees(): void
    {
        $source = $this->given();
        $slug = $source->slug;
        $this->actingAs($this->other);
        $own = fn (array $more): array => ['path' => '/key', 'base' => ['trial' => "$this->elsewhere/files"]] + $more;
        $this->post("/sources/$slug/endpoints/x", $own([]))->assertOk();
        self::assertSame(['trial' => "$this->elsewhere/files"], $source->refresh()->current()->endpoint('x')?->ask()->bases);
        $this->post("/sources/$slug/endpoints/x/try", $own([]))->assertOk()->assertDontSee('is not sent to');
        self::assertStringContainsString('/files/key', $this->arrived());
        self::assertStringNotContainsStringIgnoringCase('x-door-key', $this->arrived());

        // Now the file says so, which does not concern what goes to the source's own server.
        $this->post("/sources/$slug/endpoints/x/try", $own(['base_access' => '1']))->assertOk()->assertSee('is not sent to');
        $this->post("/sources/$slug/test")->assertOk();
        self::assertNotSame('secret-elsewhere', \App\Models\Tryout::query()->latest('id')->firstOrFail()->diagnosis['code'] ?? null);
        $this->post("/sources/$slug/secrets/confirm")->assertOk();
        $this->post("/sources/$slug/endpoints/x/try", $own(['base_access' => '1']))->assertSee('is not sent to');
        self::assertStringNotContainsString(self::KEY, $this->arrived());

        $this->actingAs($this->giver)->get("/sources/$slug")->assertSee('Send my secrets there too')->assertSee($this->elsewhere);
        $this->post("/sources/$slug/secrets/confirm")->assertOk();
        $this->post("/sources/$slug/endpoints/x/try", $own(['base_access' => '1']))->assertOk()->assertDontSee('is not sent to');
        self::assertStringContainsString(self::KEY, $this->arrived());
        self::assertStringNotContainsString(self::KEY, (string) Exchange::query()->latest('id')->value('request'));

        // Left empty, it is at the address of the source again.
        $this->post("/sources/$slug/endpoints/x", ['path' => '/key', 'base' => ['trial' => '']])->assertOk();
        self::assertSame([], $source->refresh()->current()->endpoint('x')?->ask()->bases);
    }

    public function test_an_address_of_its_own_is_looked_at_by_the_guard(): void
    {
        $source = $this->given();
        $this->actingAs($this->giver)->post("/sources/$source->slug/endpoints/x/try", ['path' => '/latest', 'base' => ['trial' => 'http://169.254.169.254']])->assertOk()->assertSee('169.254.169.254');
        self::assertSame('outbound', \App\Models\Tryout::query()->latest('id')->firstOrFail()->diagnosis['code'] ?? null);
    }

    private function imported(string $text): void
    {
        $file = (string) tempnam(sys_get_temp_dir(), 'source');
        file_put_contents($file, $text);
        self::assertSame(0, Artisan::call('spring:import', ['file' => [$file]]), Artisan::output());
        unlink($file);
    }

    private function byVariable(Source $source): void
    {
        $store = app(SourceStore::class);
        // The address itself names no variable, but that of the tokens does.
        $store->edit($source, $this->giver, function (array $document): array {
            $document['source']['environments']['trial']['variables'] = ['door' => self::$standinsAddress.'/doors/oauth/token'];
            $document['source']['access'] = [['scheme' => 'oauth2-client-credentials', 'token_url' => ['variable' => 'door'], 'client_id' => 'x', 'client_secret' => ['secret' => 'key']], ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Door-Key', 'value' => ['secret' => 'key']]];

            return $document;
        });
        app(Vault::class)->put($source->refresh(), $this->trial(), 'key', self::KEY, $this->giver);
        $store->edit($source, $this->other, function (array $document): array {
            $document['source']['environments']['trial']['variables']['door'] = "$this->elsewhere/oauth/token";
            array_pop($document['source']['access']);
            $document['source']['access'][] = ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Door-Key', 'value' => ['secret' => 'key']];

            return $document;
        });
    }

    private function broughtBack(Source $source, string $moved): void
    {
        $store = app(SourceStore::class);
        // A version of long ago led elsewhere; the key was given after that.
        $store->draft(SourceFile::read($moved), $this->other);
        $store->publish($source->refresh(), $this->other);
        $store->draft(SourceFile::read(str_replace($this->elsewhere, self::$standinsAddress, $moved)), $this->giver);
        $store->publish($source->refresh(), $this->giver);
        Secret::query()->delete();
        app(Vault::class)->put($source->refresh(), $this->trial(), 'key', self::KEY, $this->giver);
        $this->post("/sources/{$source->slug}/versions/2")->assertRedirect();
    }

    public function test_a_secret_that_is_given_again_belongs_to_where_the_source_leads_now(): void
    {
        $source = $this->given();
        app(SourceStore::class)->draft(SourceFile::read(str_replace(self::$standinsAddress, $this->elsewhere, $source->current()->yaml())), $this->other);
        $this->actingAs($this->other)->post('/sources/here/secrets', ['secret_name' => 'key', 'secret_value' => 'another-key-of-mine'])->assertOk();
        self::assertStringContainsString('another-key-of-mine', $this->arrived());
        self::assertStringNotContainsString(self::KEY, $this->arrived());
    }

    public function test_a_value_that_waits_to_be_accepted_belongs_to_the_address_of_its_proposal(): void
    {
        $source = $this->given();
        $this->faults('doors', []);
        $this->actingAs($this->giver);
        app(SourceStore::class)->edit($source, $this->giver, static function (array $document): array {
            $document['source']['test'] = ['endpoint' => 'x'];
            $document['endpoints'][0]['ask']['path'] = '/broken';

            return $document;
        });
        $this->post('/sources/here/secrets', ['secret_name' => 'key', 'secret_value' => 'proposed-key-77'])->assertOk();
        $secret = Secret::query()->firstOrFail();
        if ($secret->pending === null) {
            app(Vault::class)->propose($secret, 'proposed-key-77', null);
        }
        app(SourceStore::class)->draft(SourceFile::read(str_replace(self::$standinsAddress, $this->elsewhere, $source->refresh()->current()->yaml())), $this->other);
        $this->actingAs($this->other)->post('/sources/here/secrets/accept', ['secret_name' => 'key']);
        $this->post('/sources/here/test')->assertSee('is not sent to');
        self::assertStringNotContainsString('proposed-key-77', $this->arrived());
    }

    public function test_a_repair_of_a_secret_leaves_it_where_and_whose_it_was(): void
    {
        $source = $this->given();
        $secret = Secret::query()->firstOrFail();
        app(SourceStore::class)->draft(SourceFile::read(str_replace(self::$standinsAddress, $this->elsewhere, $source->current()->yaml())), $this->other);
        app(Vault::class)->clean($secret, 'cleaned-key');
        $secret->refresh();
        self::assertSame([$this->giver->id, [rtrim(self::$standinsAddress, '/')]], [$secret->set_by, $secret->origins]);
    }

    public function test_a_token_that_was_agreed_to_does_not_follow_either(): void
    {
        $source = $this->source('box-office');
        $scheme = $source->current()->source()->access('trial')[0];
        self::assertInstanceOf(\DeepSpring\Access\TokenScheme::class, $scheme);
        $row = StoredToken::query()->create(['source_id' => $source->id, 'environment_id' => $this->trial()->id, 'person' => $scheme->isPersonal() ? $this->giver->id : 0, 'scheme' => $scheme->id(), 'renewable' => false, 'asked' => 1,
            'sealed' => app(Vault::class)->seal((string) json_encode(['value' => 'tk-agreed-4411', 'obtainedAt' => time(), 'expiresAt' => time() + 600])), 'origins' => $source->current()->source()->origins('trial')]);
        app(SourceStore::class)->edit($source, $this->other, function (array $document): array {
            $document['source']['environments']['trial']['base'] = "$this->elsewhere/v1";

            return $document;
        });
        $file = $source->refresh()->current();
        $try = app(Tries::class)->source($source, $file, $this->trial(), $this->giver);
        self::assertContains($try->diagnosis['code'] ?? '', ['consent', 'secret-elsewhere']);
        self::assertStringNotContainsString('tk-agreed-4411', $this->arrived());
        // Nor is the service at the new address told to withdraw it.
        $this->actingAs($this->giver)->post('/sources/box-office/consent/forget', ['scheme' => '0'])->assertRedirect();
        self::assertStringNotContainsString('tk-agreed-4411', $this->arrived());
        self::assertNull(StoredToken::query()->find($row->id));
    }

    public function test_the_operator_lists_and_confirms_on_the_command_line(): void
    {
        $source = $this->given();
        app(SourceStore::class)->draft(SourceFile::read(str_replace(self::$standinsAddress, $this->elsewhere, $source->current()->yaml())), $this->other);
        Artisan::call('spring:secrets', ['source' => 'here']);
        self::assertStringContainsString("not sent to $this->elsewhere", Artisan::output());
        Artisan::call('spring:secrets', ['source' => 'here', '--confirm' => true]);
        self::assertStringNotContainsString('not sent to', Artisan::output());
        self::assertStringNotContainsString(self::KEY, Artisan::output());
    }

    public function test_a_page_that_stands_elsewhere_is_asked_for_without_what_proves_who_asks(): void
    {
        $source = $this->given();
        $definition = $source->current()->source();
        $reading = app(\App\Pipeline\SourceConnections::class)->open($source, $definition, $this->trial());
        $endpoint = $source->current()->endpoint('x') ?? self::fail();
        $request = $reading->request($endpoint, [], new \DeepSpring\Ask\PageRequest(uri: "$this->elsewhere/next?page=2"));
        self::assertSame([], array_intersect(['X-Door-Key', 'x-door-key'], array_keys($request->getHeaders())));
        self::assertTrue($reading->request($endpoint, [], new \DeepSpring\Ask\PageRequest(uri: self::$standinsAddress.'/doors/next?page=2'))->hasHeader('X-Door-Key'));
    }
}
