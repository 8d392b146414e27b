<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Local\Ports;
use PHPUnit\Framework\TestCase;
use Tests\Lane;

/**
 * A list of 200 pages, read while everything goes wrong: refusals, cut connections, slow answers, a
 * worker that is killed twice, and the database once. It has a database of its own, which can be
 * killed without harm to other tests.
 */
final class ChaosTest extends TestCase
{
    use LivesInChaos {
        tearDown as private ends;
    }

    private const RECORDS = 2000;

    private string $plan = '';

    protected function setUp(): void
    {
        $this->begin('chaos');
        $this->plan = (string) tempnam(sys_get_temp_dir(), 'chaos');
        file_put_contents($this->plan, json_encode(['all' => self::RECORDS, 'ms' => 20]));
    }

    protected function tearDown(): void
    {
        $this->ends();
        if ($this->plan !== '') {
            array_map(unlink(...), (array) glob($this->plan.'*'));
        }
    }

    public function test_a_refresh_survives_it_all_and_the_table_holds_every_record_once(): void
    {
        $port = Lane::ports(8940)->web;
        $this->children['list'] = Child::start('list', [PHP_BINARY, '-S', "127.0.0.1:$port", __DIR__.'/ListServer.php'], ['LIST_PLAN' => $this->plan, 'PHP_CLI_SERVER_WORKERS' => '6'], '/dev/null', $this->instance->root);
        Ports::await($port, 'The list');
        $this->children['injector'] = Child::start('injector', [PHP_BINARY, '-r', 'for (;; usleep(400_000)) { $some = fn () => mt_rand(0, 8) / 100; file_put_contents("$argv[1].new", json_encode(["all" => '.self::RECORDS.', "ms" => 20, "storm" => ["429" => $some() / 2, "503" => $some(), "cut" => $some(), "slow" => $some()]])); rename("$argv[1].new", $argv[1]); }', $this->plan], [], '/dev/null', $this->instance->root);
        $this->startWorker();
        $run = (int) $this->ask('
            App\Models\AllowedHost::query()->firstOrCreate(["host" => "127.0.0.1", "port" => '.$port.']);
            $store = app(App\Sources\SourceStore::class);
            $source = $store->draft(DeepSpring\SourceFile\SourceFile::of(["deepspring" => 1, "source" => ["slug" => "here", "name" => "Here", "environments" => ["trial" => ["base" => "http://127.0.0.1:'.$port.'"]]], "endpoints" => [["slug" => "list", "name" => "List", "ask" => ["path" => "/list"], "answer" => ["records" => "$.records[*]"], "onward" => ["style" => "page", "send_as" => "page", "total" => "$.total"], "flatten" => ["table" => "crates", "columns" => [["name" => "id", "from" => "$.id", "type" => "integer"], ["name" => "name", "from" => "$.name", "type" => "text"]]]]]]), null);
            $store->publish($source, null);
            echo app(App\Runs\Runs::class)->queue($source->refresh()->endpoints()->firstOrFail()->load("source"), App\Models\Environment::named("trial"), null)->id;
        ');

        $this->await($run, 30, 'the first pages');
        $this->killWorker();
        self::assertSame([], $this->tables(), 'no half table is visible');
        $this->startWorker();

        $this->await($run, 80, 'pages after the first kill');
        $this->killDatabase();

        $this->await($run, 130, 'pages after the database was killed');
        $this->killWorker();
        $this->startWorker();

        $done = $this->await($run, null, 'the end');
        self::assertSame(['done', 200, self::RECORDS, self::RECORDS, 0], [$done->state, (int) $done->pages, (int) $done->records, (int) $done->rows, (int) $done->duplicates], (string) json_encode($done));
        self::assertGreaterThanOrEqual(4, (int) $done->attempt, 'four processes worked for it');
        self::assertStringContainsString('200 pages', $done->ended);
        self::assertSame(['crates'], $this->tables());
        $sum = (array) $this->pdo('deep_spring_data_trial')->query('select count(*) n, count(distinct id) ids, min(id) least, max(id) most, sum(crc32(concat(id, name))) sum from crates')->fetch(\PDO::FETCH_NUM);
        $truth = array_sum(array_map(static fn (int $id): int => crc32("{$id}Crate $id"), range(1, self::RECORDS)));
        self::assertSame([self::RECORDS, self::RECORDS, 1, self::RECORDS, $truth], array_map(intval(...), $sum), 'every record once');
        $log = implode("\n", $this->pdo('deep_spring')->query("select text from run_events where run_id = $run and level <= 2 order by at")->fetchAll(\PDO::FETCH_COLUMN));
        self::assertStringContainsString('The process that read this ended after page', $log);
        self::assertStringContainsString('Goes on with page', $log, 'the reason is not lost');
    }

    /**
     * Until a run has so many pages behind it, or is over.
     *
     * @param  int|null  $pages  null for its end
     */
    private function await(int $run, ?int $pages, string $what): \stdClass
    {
        $row = null;
        $trouble = '';
        for ($until = microtime(true) + 150; microtime(true) < $until; usleep(100_000)) {
            if (! $this->children['worker']->isAlive()) {
                // As the supervisor does: a worker that the database took with it is started again.
                $this->startWorker();
            }
            try {
                $row = $this->pdo('deep_spring')->query("select * from runs where id = $run")->fetchObject();
            } catch (\PDOException $away) {
                $trouble = $away->getMessage();

                continue;
            }
            if ($row instanceof \stdClass && ($pages === null ? in_array($row->state, ['done', 'failed', 'stopped'], true) : (int) $row->pages >= $pages && $row->state === 'running')) {
                return $row;
            }
            if ($row instanceof \stdClass && in_array($row->state, ['done', 'failed', 'stopped'], true)) {
                break;
            }
        }
        self::fail("In vain waited for $what: ".json_encode($row)." $trouble");
    }

    /**
     * @return list<string>
     */
    private function tables(): array
    {
        return array_values(array_filter($this->pdo('information_schema')->query("select table_name from tables where table_schema = 'deep_spring_data_trial' order by 1")->fetchAll(\PDO::FETCH_COLUMN), static fn (string $name): bool => ! str_starts_with($name, 'stage__') && ! str_starts_with($name, 'pages__')));
    }
}
