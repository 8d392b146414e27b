<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Local\Instance;
use App\Models\AllowedHost;
use App\Models\Consumer;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\OpenSession;
use App\Models\Role;
use App\Models\Run;
use App\Models\Source;
use App\Models\User;
use App\Reservoir\ReaderAccounts;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Secrets\KeyFile;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\Auth\Authenticatable;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Foundation\Application;
use Illuminate\Foundation\Testing\TestCase;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Tests\Lane;

/**
 * The application on a real MariaDB, in the schemas of `deep_spring_test`, with real stand-ins.
 */
abstract class AppTestCase extends TestCase
{
    private const SECRETS = [
        'loans-desk' => ['client_id' => 'circle-desk', 'client_secret' => 'ld-secret-4f0c2a77b1e9d358'],
        'stores' => ['key' => 'st-demo-0b8e5c71f9a2d446'],
        'freight-tracker' => ['password' => 'tide-and-rope-22', 'key' => 'ft-demo-8a1c55d0b7e23f2a'],
        'box-office' => ['client_secret' => 'bo-secret-1d77c0a94be2f683'],
        'crate-loggers' => ['key' => 'cr-demo-7d13f0a96be4c258'],
        'registrar' => ['password' => 'rg-demo-lamp-and-oar'],
        'registrar-odata' => ['password' => 'rg-demo-lamp-and-oar'],
        'ledger' => ['token' => 'lq-demo-5d20c8e1b7f94a36'],
    ];

    private static bool $migrated = false;

    private static ?Child $standins = null;

    protected static string $standinsAddress = '';

    protected static string $standinsState = '';

    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        if (self::$standins === null) {
            $root = dirname(__DIR__, 2);
            self::$standinsState = $state = sys_get_temp_dir().'/spring-standins-'.getmypid();
            @mkdir($state);
            $port = Lane::ports(8740)->web;
            self::$standinsAddress = "http://127.0.0.1:$port";
            self::$standins = $standins = Child::start('stand-ins', [PHP_BINARY, '-S', "127.0.0.1:$port", "$root/standins/router.php"], ['STANDINS' => 'all', 'STANDINS_STATE' => $state, 'PHP_CLI_SERVER_WORKERS' => '4'], '/dev/null', $root);
            register_shutdown_function(static fn () => $standins->stop(1));
            for ($until = microtime(true) + 60; @file_get_contents(self::$standinsAddress.'/') === false && microtime(true) < $until; usleep(20_000));
        }
    }

    public function createApplication(): Application
    {
        // Files of the suite lie apart from those of the instance, which may belong to another account.
        $var = Lane::folder().'/suite';
        foreach (['log', 'keys', 'views', 'tmp', 'cache'] as $part) {
            @mkdir(dirname(__DIR__, 2)."/$var/$part", 0700, true);
        }
        $caches = Instance::caches(dirname(__DIR__, 2)."/$var");
        foreach ($caches + ['SPRING_VAR' => $var, 'APP_ENV' => 'testing', 'DB_SCHEMA' => 'deep_spring_test', 'SESSION_DRIVER' => 'array', 'CACHE_STORE' => 'array', 'QUEUE_CONNECTION' => 'database', 'LOG_CHANNEL' => 'file', 'SPRING_QUERY_SECONDS' => '30', 'MAIL_MAILER' => 'none', 'SPRING_STANDINS_MAIL' => '', 'BCRYPT_ROUNDS' => '4'] as $name => $value) {
            $_ENV[$name] = $_SERVER[$name] = $value;
            putenv("$name=$value");
        }
        $app = require dirname(__DIR__, 2).'/bootstrap/app.php';
        $app->make(Kernel::class)->bootstrap();

        return $app;
    }

    protected function setUp(): void
    {
        parent::setUp();
        if (! self::$migrated) {
            Artisan::call('migrate:fresh', ['--force' => true]);
            self::$migrated = true;
        }
        $this->empty();
        KeyFile::ofInstallation()->ensure();
        // What earlier tests wrote at the services is as if it had not been.
        array_map(unlink(...), (array) glob(self::$standinsState.'/standin-*-notes.json'));
        foreach (['production' => 'Production', 'trial' => 'Trial'] as $slug => $name) {
            Environment::query()->create(['slug' => $slug, 'name' => $name, 'position' => $slug === 'production' ? 0 : 1]);
        }
        $this->allow((int) parse_url(self::$standinsAddress, PHP_URL_PORT));
        $this->withoutVite();
    }

    /**
     * Lets requests go to a port of this machine.
     */
    protected function allow(int $port): void
    {
        AllowedHost::query()->firstOrCreate(['host' => '127.0.0.1', 'port' => $port]);
    }

    /**
     * Signed in, with a session that is open.
     */
    public function actingAs(Authenticatable $user, $guard = null): static
    {
        parent::actingAs($user, $guard);
        $mark = bin2hex(random_bytes(20));
        OpenSession::query()->create(['user_id' => $user->getAuthIdentifier(), 'mark' => hash('sha256', $mark), 'agent' => 'test', 'ip' => '127.0.0.1', 'begun_at' => now(), 'seen_at' => now()]);

        return $this->withSession(['open_session' => $mark]);
    }

    private function empty(): void
    {
        $app = DB::connection('app');
        $app->statement('set foreign_key_checks = 0');
        foreach ($app->select('select table_name as name from information_schema.tables where table_schema = database() and table_rows > 0 or (table_schema = database() and table_name <> "migrations")') as $row) {
            if ($row->name !== 'migrations') {
                // A killed process may still hold what it had in hand for a moment.
                retry(5, fn () => $app->statement("delete from `{$row->name}`"), 200);
            }
        }
        $app->statement('set foreign_key_checks = 1');
        $keeper = DB::connection('keeper');
        foreach ($keeper->select("select table_schema as s, table_name as t, if(table_type = 'VIEW', 'view', 'table') as k from information_schema.tables where table_schema in ('deep_spring_test_data', 'deep_spring_test_data_trial')") as $row) {
            $keeper->statement("drop $row->k `{$row->s}`.`{$row->t}`");
        }
    }

    protected function person(Role $role = Role::Builder): User
    {
        $name = $role->value.User::query()->count();

        return User::query()->create(['name' => ucfirst($name), 'email' => "$name@saltmarsh.example", 'password' => 'a long password', 'role' => $role, 'environment_id' => $this->trial()->id]);
    }

    protected function trial(): Environment
    {
        return Environment::named('trial') ?? self::fail('There is no Trial.');
    }

    /**
     * A demo source, pointed at the stand-ins of this run and published.
     *
     * @param  array<string, string>  $changes  to its text
     */
    protected function source(string $slug = 'loans-desk', array $changes = [], bool $withSecrets = true): Source
    {
        $text = strtr((string) file_get_contents(database_path("demo/$slug.yaml")), ['http://127.0.0.1:8401' => self::$standinsAddress]);
        foreach ($changes as $old => $new) {
            self::assertStringContainsString($old, $text);
            $text = str_replace($old, $new, $text);
        }
        $store = app(SourceStore::class);
        $source = $store->draft(SourceFile::read($text), null);
        $store->publish($source, null);
        if ($withSecrets) {
            foreach (self::SECRETS[$slug] as $name => $value) {
                app(Vault::class)->put($source, $this->trial(), $name, $value, null);
            }
        }

        return $source->refresh();
    }

    /**
     * What a stand-in does wrong from now on; nothing, with an empty list.
     *
     * @param  array<string, mixed>  $set
     */
    protected function faults(string $name, array $set): void
    {
        $this->tell("/$name/_faults", (string) json_encode($set === [] ? new \stdClass : $set));
    }

    protected function tell(string $path, string $body): void
    {
        file_get_contents(self::$standinsAddress.$path, false, stream_context_create(['http' => ['method' => 'PUT', 'header' => 'Content-Type: text/plain', 'content' => $body]]));
    }

    /**
     * A source made here, with one address in Trial.
     *
     * @param  list<array<string, mixed>>  $access
     * @param  list<array<string, mixed>>  $endpoints
     * @param  array<string, mixed>  $more  of the source
     */
    protected function draft(string $base, array $access = [], array $endpoints = [], array $more = []): Source
    {
        $document = ['deepspring' => 1, 'source' => $more + ['slug' => 'here', 'name' => 'Here', 'environments' => ['trial' => ['base' => $base]]] + ($access === [] ? [] : ['access' => $access]), 'endpoints' => $endpoints];

        return app(SourceStore::class)->draft(SourceFile::of($document), null)->refresh();
    }

    protected function endpoint(Source $source, string $slug): Endpoint
    {
        return $source->endpoints()->where('slug', $slug)->firstOrFail();
    }

    protected function refresh(Source $source, string $slug): Run
    {
        return app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, $slug), $this->trial(), null));
    }

    /**
     * @return list<object>
     */
    protected function rows(string $sql): array
    {
        DB::connection('keeper')->unprepared('use deep_spring_test_data_trial');

        return DB::connection('keeper')->select($sql, [], false);
    }

    /**
     * @return list<string> tables of the data schema of Trial
     */
    protected function tablesInTrial(): array
    {
        $names = array_map(static fn (object $row): string => (string) $row->name, DB::connection('keeper')->select("select table_name as name from information_schema.tables where table_schema = 'deep_spring_test_data_trial' and table_name not like 'pages\\_\\_%'", [], false));
        sort($names);

        return $names;
    }

    /**
     * The fields of a form as a browser would send them.
     *
     * @return array<string, mixed>
     */
    protected function fields(string $html, string $form): array
    {
        $document = new \DOMDocument;
        @$document->loadHTML('<?xml encoding="utf-8">'.$html);
        $xpath = new \DOMXPath($document);
        $pairs = [];
        foreach ($xpath->query("//*[@id='$form']//*[self::input or self::select or self::textarea][@name] | //*[@form='$form'][@name]") ?: [] as $field) {
            if (! $field instanceof \DOMElement || ($field->getAttribute('type') === 'checkbox' && ! $field->hasAttribute('checked'))) {
                continue;
            }
            if ($field->tagName === 'select') {
                $option = $xpath->query('.//option[@selected]', $field)->item(0) ?? $xpath->query('.//option', $field)->item(0);
                $value = $option instanceof \DOMElement ? ($option->hasAttribute('value') ? $option->getAttribute('value') : trim($option->textContent)) : '';
            } else {
                $value = $field->tagName === 'textarea' ? $field->textContent : $field->getAttribute('value');
            }
            $pairs[] = urlencode($field->getAttribute('name')).'='.urlencode($value);
        }
        parse_str(implode('&', $pairs), $fields);

        return $fields;
    }

    protected function tearDown(): void
    {
        foreach ([...User::query()->get(), ...Consumer::query()->get()] as $reader) {
            app(ReaderAccounts::class)->drop($reader);
        }
        DB::disconnect('app');
        DB::disconnect('keeper');
        parent::tearDown();
    }

    /**
     * @return array{int, string, string}
     */
    protected function artisanProcess(string ...$words): array
    {
        $process = proc_open([PHP_BINARY, 'artisan', ...array_values($words)], [1 => ['pipe', 'w'], 2 => ['pipe', 'w']], $pipes, base_path());
        self::assertIsResource($process);
        $out = (string) stream_get_contents($pipes[1]);
        $errors = (string) stream_get_contents($pipes[2]);

        return [proc_close($process), $out, $errors];
    }
}
