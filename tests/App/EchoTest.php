<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Local\Ports;
use App\Models\RejectedValue;
use App\Models\Run;
use App\Models\RunState;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use DeepSpring\Access\SecretMask;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Tests\Core\Access\MaskTest;
use Tests\Lane;

/**
 * A service that sends back what it was sent, in every form there is: afterwards the key is nowhere,
 * and what was kept instead says so.
 */
final class EchoTest extends AppTestCase
{
    private const KEY = 'ek-9f3a+77/c1=d0e4b8';

    private ?Child $server = null;

    private string $plan = '';

    private string $address = '';

    protected function setUp(): void
    {
        parent::setUp();
        $port = Lane::ports(8876)->web;
        $this->plan = (string) tempnam(sys_get_temp_dir(), 'echo');
        file_put_contents($this->plan, (string) json_encode(['forms' => array_values(MaskTest::formsOf(self::KEY))], JSON_INVALID_UTF8_SUBSTITUTE));
        $this->server = Child::start('echo', [PHP_BINARY, '-S', "127.0.0.1:$port", __DIR__.'/EchoServer.php'], ['ECHO_PLAN' => $this->plan], '/dev/null', base_path());
        Ports::await($port, 'The echo');
        $this->allow($port);
        $this->address = "http://127.0.0.1:$port";
    }

    protected function tearDown(): void
    {
        $this->server?->stop(1);
        unlink($this->plan);
        parent::tearDown();
    }

    private function echoing(string $path = '/list'): Source
    {
        $source = $this->draft($this->address, [['scheme' => 'api-key', 'in' => 'query', 'name' => 'key', 'value' => ['secret' => 'key']], ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Key', 'value' => ['secret' => 'key']]], [[
            'slug' => 'list', 'name' => 'List', 'ask' => ['path' => $path], 'answer' => ['records' => '$.records[*]'], 'onward' => $path === '/list' ? ['style' => 'next-link', 'link' => '$.next'] : ['style' => 'none'],
            'flatten' => ['table' => 'echoes', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'text', 'from' => '$.text', 'type' => 'text'], ['name' => 'number', 'from' => '$.number', 'type' => 'integer'], ['name' => 'all', 'from' => '$', 'type' => 'json']]],
        ]], ['test' => ['endpoint' => 'list']]);
        app(Vault::class)->put($source, $this->trial(), 'key', self::KEY, null);
        app(SourceStore::class)->publish($source, null);

        return $source->refresh();
    }

    /**
     * Everything that is stored: both schemas as they are, what is deflated inflated.
     *
     * @return \Generator<int, string>
     */
    private function stored(): \Generator
    {
        foreach (['app' => ['deep_spring_test', 'deep_spring_test_log'], 'keeper' => ['deep_spring_test_data_trial']] as $connection => $schemas) {
            foreach (DB::connection($connection)->select('select table_schema as s, table_name as t from information_schema.tables where table_schema in ('.implode(',', array_fill(0, count($schemas), '?')).')', $schemas, false) as $table) {
                foreach (DB::connection($connection)->cursor("select * from `$table->s`.`$table->t`", [], false) as $row) {
                    foreach ((array) $row as $column => $value) {
                        $text = (string) $value;
                        $inflated = strlen($text) > 2 && ! mb_check_encoding($text, 'UTF-8') ? @gzinflate($text) : false;
                        yield "$table->t.$column ".($inflated === false ? $text : $inflated);
                    }
                }
            }
        }
        foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator(base_path(config('spring.var')), \FilesystemIterator::SKIP_DOTS)) as $file) {
            if ($file->isFile() && ! str_contains((string) $file, '/keys/') && ! str_contains((string) $file, '/cache/')) {
                yield "$file ".file_get_contents((string) $file);
            }
        }
    }

    /**
     * @param  iterable<string>  $all
     */
    private function assertNowhere(iterable $all): void
    {
        $mask = new SecretMask([self::KEY]);
        $bytes = 0;
        foreach ($all as $part) {
            $bytes += strlen($part);
            foreach ($mask->touches($part) ? explode("\n", $part) : [] as $line) {
                // A digest of something that begins with the same six letters by chance is none of it.
                self::assertFalse($mask->touches($line) && ! str_contains($line, '.sealed '), mb_strimwidth($line, 0, 600));
            }
        }
        self::assertGreaterThan(10_000, $bytes);
    }

    public function test_the_key_is_kept_nowhere_and_the_cells_it_came_in_say_so(): void
    {
        $this->actingAs($this->person());
        $source = $this->echoing();
        $seen = '';
        foreach (['/list', '/moved', '/refused', '/big'] as $path) {
            $seen .= $this->post('/sources/here/endpoints/list', ['path' => $path, 'records' => '$.records[*]'])->assertOk()->getContent();
            $seen .= $this->post('/sources/here/endpoints/list/try', ['path' => $path, 'records' => '$.records[*]'])->assertOk()->getContent();
            $seen .= $this->post('/sources/here/test')->assertOk()->getContent();
        }
        $run = app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, 'list'), $this->trial(), null, new \App\Runs\RunWish(true)));
        self::assertSame([RunState::Done, 3], [$run->state, $run->pages], (string) json_encode($run->diagnosis));
        $forms = count(MaskTest::formsOf(self::KEY));
        self::assertSame(3 * ($forms + 1), $run->rows, 'every record has its row');
        // A text and the record as JSON: two cells of each record that held it.
        self::assertSame(2 * 3 * $forms, RejectedValue::query()->where('run_id', $run->id)->where('reason', 'like', 'It held a secret of this source%')->count());
        self::assertSame(2 * 3 * $forms, $run->rejects);
        $rows = $this->rows('select text, number from echoes where id % 100 = 99');
        self::assertSame([['nothing', 7], ['nothing', 7], ['nothing', 7]], array_map(static fn (object $row): array => [$row->text, $row->number], $rows), 'what held nothing is as it came');
        self::assertSame(0, (int) $this->rows("select count(*) n from echoes where id % 100 <> 99 and text not like '%••••••%'")[0]->n);
        self::assertStringContainsString('a ••••••', (string) $this->rows('select text from echoes where id = 100')[0]->text);

        foreach (['/tables/echoes', "/runs/$run->id", "/runs/$run->id/progress", "/runs/$run->id/rejects", '/runs', '/sources/here', '/sources/here/endpoints/list', '/'] as $page) {
            $seen .= $this->get($page)->assertOk()->getContent();
        }
        $seen .= $this->get("/runs/$run->id/rejects.csv")->streamedContent();
        $seen .= $this->post('/queries/run', ['sql' => 'select * from echoes'])->assertOk()->getContent();
        preg_match('~/queries/export/[a-z0-9]+~', (string) $this->post('/queries/export', ['sql' => 'select * from echoes'])->getContent(), $file);
        $seen .= file_get_contents($this->get($file[0] ?? '')->assertOk()->getFile()->getPathname());
        foreach (\App\Models\Exchange::query()->whereNotNull('run_id')->pluck('id') as $id) {
            $seen .= $this->get("/runs/$run->id/exchanges/$id")->getContent();
        }
        foreach (Tryout::query()->pluck('id') as $id) {
            foreach (["/tries/$id", "/tries/$id/har", "/tries/$id/1/raw", "/tries/$id/1/tree?at=[]", "/tries/$id/1/body"] as $page) {
                $seen .= $this->get($page)->getContent();
            }
        }
        foreach ([[], ['--json' => true], ['--curl' => true], ['--columns' => true], ['--onward' => true]] as $options) {
            Artisan::call('spring:try', ['what' => 'here/list'] + $options);
            $seen .= Artisan::output();
        }
        Artisan::call('spring:runs', ['run' => (string) $run->id, '--log' => '4']);
        $seen .= Artisan::output();
        Artisan::call('spring:runs', ['run' => (string) $run->id, '--rejects' => true]);
        $seen .= Artisan::output();
        $this->assertNowhere([$seen]);
        $this->assertNowhere($this->stored());

        // The tables made anew from the pages that are kept are the same.
        $before = $this->rows('select * from echoes order by id');
        $again = app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, 'list'), $this->trial(), null, new \App\Runs\RunWish(rebuild: true)));
        self::assertSame(RunState::Done, $again->state, (string) json_encode($again->diagnosis));
        self::assertEquals($before, $this->rows('select * from echoes order by id'));
    }

    public function test_an_answer_that_is_read_from_the_disk_is_looked_at_as_well(): void
    {
        config(['spring.limits.large_bytes' => 1 << 20]);
        $source = $this->echoing('/big');
        $run = $this->refresh($source, 'list');
        self::assertSame([RunState::Done, 20_000, 2], [$run->state, $run->rows, $run->rejects], (string) json_encode($run->diagnosis));
        self::assertSame(1, (int) $this->rows("select count(*) n from echoes where text like '%••••••%'")[0]->n);
        $this->assertNowhere($this->stored());
    }

    public function test_a_run_that_was_stopped_goes_on_by_a_link_that_holds_the_key_and_is_kept_sealed(): void
    {
        config(['spring.limits.beat_seconds' => 0]);
        $source = $this->echoing();
        $run = app(Runs::class)->ask($this->endpoint($source, 'list'), $this->trial(), null);
        app(Refresh::class)->run($run, static function (Run $run): void {
            if ($run->pages === 1) {
                app(Runs::class)->stop($run);
            }
        });
        self::assertSame(RunState::Stopped, $run->refresh()->state);
        $this->assertNowhere($this->stored());
        self::assertTrue(app(Runs::class)->goOn($run, false));
        app(Refresh::class)->run($run->refresh());
        self::assertSame([RunState::Done, 3], [$run->refresh()->state, $run->pages], (string) json_encode($run->diagnosis));
    }
}
