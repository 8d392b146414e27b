<?php

declare(strict_types=1);

namespace Tests\App;

use App\Access\TokenStore;
use App\Models\AllowedHost;
use App\Models\Source;
use App\Models\Tryout;
use App\Models\User;
use App\Runs\Tries;
use App\Secrets\Vault;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;

/**
 * Several at once on the same source, and what the demo begins with.
 */
final class TogetherTest extends AppTestCase
{
    /**
     * Runs commands at the same time, each in a process of its own.
     *
     * @param  list<list<string>>  $commands  arguments of artisan
     * @return list<array{int, string}> exit code and what was said
     */
    private function atOnce(array $commands): array
    {
        $env = ['APP_ENV' => 'testing', 'DB_SCHEMA' => 'deep_spring_test', 'CACHE_STORE' => 'array', 'LOG_CHANNEL' => 'file', 'SPRING_CWD' => base_path()] + getenv();
        $running = [];
        foreach ($commands as $number => $command) {
            $running[] = [proc_open([PHP_BINARY, base_path('artisan'), ...$command], [['file', '/dev/null', 'r'], ['pipe', 'w'], ['redirect', 1]], $pipes[$number], base_path(), $env), $pipes[$number][1]];
        }

        return array_map(static function (array $one): array {
            $said = (string) stream_get_contents($one[1]);

            return [is_resource($one[0]) ? proc_close($one[0]) : -1, $said];
        }, $running);
    }

    public function test_six_imports_of_one_source_at_once_leave_one_whole_document(): void
    {
        $folder = sys_get_temp_dir().'/spring-together-'.bin2hex(random_bytes(4));
        mkdir($folder);
        $names = [];
        $commands = [];
        for ($n = 1; $n <= 6; $n++) {
            $names[] = "Doors $n";
            $endpoints = implode('', array_map(static fn (int $of): string => "  - {slug: e$of, name: Endpoint $of, ask: {path: /open}}\n", range(1, $n)));
            file_put_contents("$folder/$n.yaml", "deepspring: 1\nsource:\n  slug: doors\n  name: Doors $n\n  environments: {trial: {base: '".self::$standinsAddress."/doors'}}\nendpoints:\n$endpoints");
            $commands[] = ['spring:import', "$folder/$n.yaml"];
        }
        try {
            foreach ($this->atOnce($commands) as [$code, $said]) {
                self::assertSame(0, $code, $said);
            }
        } finally {
            exec('rm -rf '.escapeshellarg($folder));
        }
        $source = Source::query()->where('slug', 'doors')->firstOrFail();
        self::assertContains($source->name, $names);
        $document = $source->current();
        self::assertSame($source->name, $document->document['source']['name'], 'row and document are of one import');
        self::assertSame(array_column($document->document['endpoints'], 'slug'), $source->endpoints()->orderBy('slug')->pluck('slug')->all());
        $versions = $source->documents()->whereNotNull('version')->orderBy('version')->pluck('version')->all();
        self::assertSame(range(1, count($versions)), $versions, 'numbers without a gap');
    }

    public function test_many_tries_and_edits_at_once_stand_in_nobodys_way(): void
    {
        $source = $this->source('stores');
        $this->actingAs($this->person());
        $commands = array_fill(0, 6, ['spring:try', 'stores/positions']);
        // Edits go on in this process while the others try.
        $pid = pcntl_fork();
        if ($pid === 0) {
            DB::disconnect('app');
            // The way it ends says how they fared, and runs nothing that belongs to the suite.
            $failed = array_filter($this->atOnce($commands), static fn (array $one): bool => $one[0] !== 0);
            posix_kill((int) getmypid(), $failed === [] ? SIGKILL : SIGTERM);
        }
        DB::reconnect('app');
        $html = (string) $this->get('/sources/stores')->getContent();
        $fields = $this->fields($html, 'source-form');
        for ($round = 1; $round <= 20; $round++) {
            $this->post('/sources/stores', ['name' => "Stores $round"] + $fields)->assertOk();
        }
        pcntl_waitpid($pid, $status);
        self::assertSame(SIGKILL, pcntl_wtermsig($status), 'every try went through');
        self::assertSame('Stores 20', $source->refresh()->name);
        self::assertSame(6, Tryout::query()->where('source_id', $source->id)->where('succeeded', true)->count());
    }

    public function test_the_demo_allows_exactly_its_stand_ins_and_begins_with_seven_sources(): void
    {
        DB::table('allowed_hosts')->delete();
        config(['spring.demo.standins' => self::$standinsAddress, 'spring.demo.private' => 'http://127.0.0.1:8402', 'spring.demo.passwords' => ['builder' => 'one-two-three-b', 'analyst' => 'one-two-three-a', 'administrator' => 'one-two-three-c']]);
        self::assertSame(0, Artisan::call('spring:prepare'), Artisan::output());
        self::assertSame(['127.0.0.1:8402', '127.0.0.1:'.parse_url(self::$standinsAddress, PHP_URL_PORT)], AllowedHost::query()->orderBy('port')->get()->map(static fn (AllowedHost $one): string => "$one->host:$one->port")->all());
        self::assertSame(['box-office', 'crate-loggers', 'freight-tracker', 'loans-desk', 'registrar', 'registrar-odata', 'stores'], Source::query()->orderBy('slug')->pluck('slug')->all());
        $this->actingAs(User::query()->where('email', 'ines@saltmarsh.example')->firstOrFail());
        $this->get('/')->assertSee('waits for consent')->assertDontSee('last try failed')->assertSee('loan_items');
        $this->get('/sources')->assertSee('waits for consent')->assertSee('proven');
        self::assertSame(0, Artisan::call('spring:prepare'), Artisan::output());
        self::assertSame(7, Source::query()->count(), 'a second time adds nothing');
    }

    public function test_two_people_change_different_secrets_at_once(): void
    {
        $source = $this->source('freight-tracker');
        $vault = app(Vault::class);
        $commands = [];
        foreach (['password' => 'tide-and-rope-22', 'key' => 'ft-demo-8a1c55d0b7e23f2a'] as $name => $value) {
            $commands[] = ['spring:try', 'freight-tracker/ping', "--secret=$name=$value"];
            $commands[] = ['spring:try', 'freight-tracker/ping', "--secret=$name=$value"];
        }
        foreach ($this->atOnce($commands) as [$code, $said]) {
            self::assertSame(0, $code, $said);
        }
        self::assertSame('tide-and-rope-22', app(TokenStore::class)->secretsOf($source, $source->current()->source(), $this->trial())->get('password'));
        self::assertTrue(app(Tries::class)->source($source, $source->current(), $this->trial(), null)->succeeded);
    }
}
