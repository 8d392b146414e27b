<?php

declare(strict_types=1);

namespace Tests\App;

use App\Access\TokenStore;
use App\Models\Source;
use App\Models\StoredToken;
use App\Runs\Runs;
use App\Runs\Tries;
use App\Secrets\Vault;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Tests\Core\Access\Keys;

/**
 * A canary in every scheme: after the application was driven, it must be nowhere but in the vault.
 */
final class CanaryTest extends AppTestCase
{
    public function test_no_secret_is_anywhere_after_the_application_was_driven(): void
    {
        $here = self::$standinsAddress;
        $s = static fn (string $name): array => ['secret' => $name];
        $pem = Keys::pair('ES256')[0];
        $canaries = ['k1' => 'canary-one-4411aa', 'k2' => 'canary/two+44=22', 'k3' => 'canary three "44 33"', 'k4' => 'canary-four-4444dd', 'k5' => 'canary-five-4455ee', 'k6' => 'canary-six-4466ff', 'k7' => $pem, 'k8' => 'canary-eight-88'];
        $accesses = [
            'basic' => [['scheme' => 'basic', 'username' => $s('k1'), 'password' => $s('k3')]],
            'header' => [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Door-Key', 'value' => $s('k1')], ['scheme' => 'api-key', 'in' => 'cookie', 'name' => 'door', 'value' => $s('k4')]],
            'query' => [['scheme' => 'api-key', 'in' => 'query', 'name' => 'token', 'value' => $s('k2')]],
            'bearer' => [['scheme' => 'bearer', 'token' => $s('k1')]],
            'oauth' => [['scheme' => 'oauth2-client-credentials', 'token_url' => "$here/loans-desk/oauth/token", 'client_id' => $s('k5'), 'client_secret' => $s('k2')]],
            'consent' => [['scheme' => 'oauth2-authorization-code', 'authorize_url' => "$here/box-office/oauth/authorize", 'token_url' => "$here/box-office/oauth/token", 'client_id' => $s('k5'), 'client_secret' => $s('k2')]],
            'forgery' => [['scheme' => 'bearer', 'token' => $s('k4')], ['scheme' => 'csrf-token', 'fetch' => ['path' => '/ledger']]],
            'refresh' => [['scheme' => 'oauth2-refresh-token', 'token_url' => "$here/doors/oauth/token", 'client_id' => 'circle-desk', 'client_secret' => $s('k6'), 'refresh_token' => $s('k4')]],
            'assertion' => [['scheme' => 'jwt-assertion', 'token_url' => "$here/doors/oauth/token", 'key' => $s('k7'), 'algorithm' => 'ES256', 'issuer' => $s('k5')]],
            'login' => [['scheme' => 'login', 'request' => ['path' => '/session', 'body' => ['as' => 'json', 'of' => ['user' => $s('k1'), 'password' => $s('k3')]]], 'take' => ['json' => '$.token'], 'send' => ['in' => 'header', 'name' => 'X-Session']]],
            'certificate' => [['scheme' => 'client-certificate', 'certificate' => $s('k1'), 'key' => $s('k7'), 'passphrase' => $s('k8')]],
        ];
        $log = storage_path('logs');
        $person = $this->person();
        $this->actingAs($person);
        $seen = '';
        ob_start();
        foreach ($accesses as $slug => $access) {
            $document = ['deepspring' => 1, 'source' => ['slug' => $slug, 'name' => "Door $slug", 'environments' => ['trial' => ['base' => "$here/doors"]], 'access' => $access, 'test' => ['endpoint' => 'x']], 'endpoints' => [['slug' => 'x', 'name' => 'X', 'ask' => ['path' => '/key'], 'flatten' => ['table' => "t_$slug", 'columns' => [['name' => 'a', 'from' => '$.in', 'type' => 'boolean']]]]]];
            $source = app(\App\Sources\SourceStore::class)->draft(\DeepSpring\SourceFile\SourceFile::of($document), $person)->refresh();
            app(\App\Sources\SourceStore::class)->publish($source, $person);
            foreach ($canaries as $name => $value) {
                $seen .= $this->post("/sources/$slug/secrets", ['secret_name' => $name, 'secret_value' => $value])->assertOk()->getContent();
                // Once more: a value that replaces another, which the service refuses, waits beside it.
                $seen .= $this->post("/sources/$slug/secrets", ['secret_name' => $name, 'secret_value' => $value])->getContent();
                app(Vault::class)->put($source, $this->trial(), $name, $value, $person);
            }
            foreach (['/broken', '/key', '/strict', '/website', '/elsewhere', '/token'] as $path) {
                $seen .= $this->post("/sources/$slug/endpoints/x", ['path' => $path])->getContent();
                $seen .= $this->post("/sources/$slug/endpoints/x/try", ['path' => $path])->getContent();
            }
            $seen .= $this->post("/sources/$slug/test", [])->getContent();
            app(Runs::class)->queue($this->endpoint($source, 'x')->load('source'), $this->trial(), $person);
            $run = $this->refresh($source, 'x');
            foreach (["/sources/$slug", "/sources/$slug/endpoints/x", "/sources/$slug/file", "/sources/$slug/export", "/runs/$run->id", "/runs/$run->id/progress", '/', '/sources', '/runs', "/sources/$slug/endpoints/x/compare"] as $page) {
                $seen .= $this->get($page)->assertOk()->getContent();
            }
            Artisan::call('spring:try', ['what' => $slug]);
            $seen .= Artisan::output();
            Artisan::call('spring:export', ['source' => $slug]);
            $seen .= Artisan::output();
            try {
                throw new \RuntimeException('trouble', 0, new \Exception(implode(' ', array_map(static fn ($one): string => $one->label(), $source->current()->source()->access('trial')))));
            } catch (\RuntimeException $trouble) {
                report($trouble);
            }
        }
        $seen .= ob_get_clean();
        // What was handed out counts as well.
        $this->source();
        $loans = Source::query()->where('slug', 'loans-desk')->firstOrFail();
        self::assertTrue(app(Tries::class)->source($loans, $loans->current(), $this->trial(), null)->succeeded);
        // A request that has not been sent shows no token that was kept either.
        foreach (['loans', 'create-loan', 'loan'] as $one) {
            $seen .= $this->get("/sources/loans-desk/endpoints/$one")->assertOk()->assertSee('authorization: Bearer ••••••')->getContent();
            $seen .= $this->post("/sources/loans-desk/endpoints/$one/preview", ['path' => '/loans'])->assertOk()->getContent();
        }
        // Everything that shows or hands on evidence.
        foreach (\App\Models\Tryout::query()->pluck('id') as $id) {
            foreach (["/tries/$id", "/tries/$id/har", "/tries/$id/1/raw?q=canary", "/tries/$id/1/tree?at=[]", "/tries/$id/1/body"] as $page) {
                $seen .= $this->get($page)->getContent();
            }
        }
        Artisan::call('spring:try', ['what' => 'loans-desk/loans', '--curl' => true]);
        $seen .= Artisan::output();
        // What is handed in to be described.
        $command = "curl -H 'Authorization: Bearer canary-nine-4499ii' https://loans.saltmarsh.example/v2/a\ncurl -u desk:canary-ten-4410jj https://loans.saltmarsh.example/v2/b/7 -d '{\"password\": \"canary-eleven-4411kk\"}'";
        $canaries += ['k9' => 'canary-nine-4499ii', 'k10' => 'canary-ten-4410jj', 'k11' => 'canary-eleven-4411kk'];
        $import = $this->post('/sources', ['start' => $command])->assertRedirectContains('/imports/')->headers->get('Location');
        $seen .= $this->get((string) $import)->assertOk()->getContent();
        $seen .= $this->post((string) $import, ['name' => 'Pasted', 'slug' => 'pasted', 'base' => "$here/doors", 'chosen' => "a\nchange-a-b"])->getContent();
        $seen .= $this->get('/sources/pasted')->assertOk()->getContent();
        $canaries['token'] = (string) app(TokenStore::class)->token(StoredToken::query()->where('source_id', $loans->id)->firstOrFail())?->value;

        foreach (DB::connection('app')->select('select table_name as name from information_schema.tables where table_schema = database()') as $table) {
            foreach (DB::connection('app')->table($table->name)->get() as $row) {
                foreach ((array) $row as $column => $value) {
                    $text = (string) $value;
                    $seen .= "\n$table->name.$column ".(in_array($table->name, ['exchanges', 'answer_parts'], true) && in_array($column, ['body', 'request_body', 'digest', 'content'], true) && $text !== '' ? (string) gzinflate($text) : $text);
                }
            }
        }
        foreach ([...(array) glob(base_path(config('spring.var').'/log/*')), ...(array) glob(base_path('var/log/laravel*')), ...(array) glob("$log/*"), ...(array) glob(base_path(config('spring.var').'/views/*'))] as $file) {
            $seen .= is_file((string) $file) ? (string) file_get_contents((string) $file) : '';
        }
        self::assertGreaterThan(200_000, strlen($seen));
        foreach ($canaries as $name => $value) {
            $core = str_contains($value, 'BEGIN') ? trim((string) preg_split('/\n/', $value)[1]) : $value;
            foreach (['as it is' => $core, 'percent-encoded' => rawurlencode($core), 'as a form' => urlencode($core), 'in Base64' => base64_encode($core), 'as JSON' => substr((string) json_encode($core), 1, -1), 'as HTML' => htmlspecialchars($core)] as $how => $form) {
                $at = strpos($seen, $form);
                self::assertFalse($at, "$name, $how: …".substr($seen, max(0, (int) $at - 300), 600));
            }
        }
        self::assertFalse(strpos($seen, base64_encode('canary-one-4411aa:canary three "44 33"')), 'basic credentials');
        self::assertSame('canary-one-4411aa', app(TokenStore::class)->secretsOf($basic = Source::query()->where('slug', 'basic')->firstOrFail(), $basic->current()->source(), $this->trial())->get('k1'), 'the vault has it');
    }
}
