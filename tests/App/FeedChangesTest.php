<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Models\Consumer;
use App\Models\Feed;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\RunState;
use App\Models\Source;
use App\Models\User;
use App\Outlets\FeedBook;
use App\Outlets\KeyRing;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Sources\SourceStore;
use Illuminate\Testing\TestResponse;
use Tests\Lane;

/**
 * Delta links over a source that changes: who follows them has, after each, what is in the feed.
 */
final class FeedChangesTest extends AppTestCase
{
    private Child $server;

    private string $base;

    private string $folder;

    private User $owner;

    private string $key;

    protected function setUp(): void
    {
        parent::setUp();
        $this->folder = sys_get_temp_dir().'/changes-'.bin2hex(random_bytes(4));
        mkdir($this->folder);
        file_put_contents("$this->folder/router.php", '<?php header("Content-Type: application/json"); readfile(getenv("ROWS"));');
        $port = Lane::ports(8870)->web;
        $this->base = "http://127.0.0.1:$port";
        $this->server = Child::start('rows', [PHP_BINARY, '-S', "127.0.0.1:$port", "$this->folder/router.php"], ['ROWS' => "$this->folder/rows.json"], '/dev/null', $this->folder);
        for ($until = microtime(true) + 20; @fsockopen('127.0.0.1', $port) === false && microtime(true) < $until; usleep(20_000));
        $this->allow($port);
        $this->owner = $this->person(Role::Analyst);
    }

    protected function tearDown(): void
    {
        $this->server->stop(1);
        exec('rm -rf '.escapeshellarg($this->folder));
        parent::tearDown();
    }

    /**
     * @param  array<int, array{string, string|null}>  $crates  id → name and house
     */
    private function keep(Source $source, array $crates): void
    {
        file_put_contents("$this->folder/rows.json", json_encode(array_map(static fn (int $id, array $one): array => ['id' => $id, 'name' => $one[0], 'house' => $one[1]], array_keys($crates), $crates)));
        $run = app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, 'crates'), $this->trial(), null));
        self::assertSame(RunState::Done, $run->state, (string) json_encode($run->diagnosis));
        // Versions are told apart by their moment.
        usleep(2000);
    }

    /**
     * @param  array<string, mixed>  $keep
     */
    private function crates(array $keep): Source
    {
        $source = $this->draft($this->base, [], [['slug' => 'crates', 'name' => 'Crates', 'ask' => ['path' => '/'], 'answer' => ['records' => '$[*]'], 'flatten' => ['table' => 'crates', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'name', 'from' => '$.name'], ['name' => 'house', 'from' => '$.house']]], 'keep' => $keep]]);
        app(SourceStore::class)->publish($source, null);

        return $source->refresh();
    }

    /**
     * @param  array<string, mixed>  $settings
     */
    private function feed(array $settings = []): Feed
    {
        $book = app(FeedBook::class);
        $feed = $book->draft(KeptTable::query()->where('name', 'crates')->sole(), $this->owner);
        $book->change($feed, ['columns' => [['name' => 'number', 'column' => 'id'], ['name' => 'name', 'column' => 'name'], ['name' => 'house', 'column' => 'house']], 'key' => ['number']] + $settings, $this->owner);
        $book->publish($feed, $this->owner);
        $consumer = Consumer::query()->create(['user_id' => $this->owner->id, 'name' => "Follower $feed->id", 'a_minute' => 10_000, 'at_once' => 10]);
        $consumer->feeds()->attach($feed->id);
        $this->key = app(KeyRing::class)->give($consumer, null, $this->owner);

        return $feed->refresh();
    }

    /**
     * @param  array<string, string>  $headers
     */
    private function ask(string $address, array $headers = []): TestResponse
    {
        return $this->get(str_starts_with($address, 'http') ? $address : "/odata/v1$address", ['Authorization' => "Bearer $this->key"] + $headers);
    }

    /**
     * Follows an address to its end, as a client would keep a copy.
     *
     * @param  array<int, string>  $copy
     * @return array{string, int} the next delta link, and how many entries there were
     */
    private function follow(string $address, array &$copy): array
    {
        for ($entries = 0; ; $address = $answer['@odata.nextLink']) {
            $answer = $this->ask($address, ['Prefer' => 'track-changes,maxpagesize=3'])->assertOk()->json();
            foreach ($answer['value'] as $one) {
                $entries++;
                if (isset($one['@removed'])) {
                    self::assertStringEndsWith("/crates({$one['number']})", $one['@id']);
                    unset($copy[$one['number']]);
                } else {
                    $copy[$one['number']] = $one['name'];
                }
            }
            if (isset($answer['@odata.deltaLink'])) {
                ksort($copy);

                return [$answer['@odata.deltaLink'], $entries];
            }
        }
    }

    public function test_who_follows_delta_links_has_what_is_in_the_feed(): void
    {
        $source = $this->crates(['history' => ['changes' => true]]);
        $crates = array_combine(range(1, 10), array_map(static fn (int $id): array => ["crate $id", $id % 2 === 0 ? 'east' : 'west'], range(1, 10)));
        $this->keep($source, $crates);
        $feed = $this->feed(['condition' => "house eq 'east'"]);
        self::assertTrue($feed->tracks);
        $copy = [];
        [$link, $entries] = $this->follow('/crates', $copy);
        self::assertSame([5, [2, 4, 6, 8, 10]], [$entries, array_keys($copy)]);
        [$link, $entries] = $this->follow($link, $copy);
        self::assertSame(0, $entries);
        $random = new \Random\Randomizer(new \Random\Engine\Mt19937(2031));
        for ($round = 0; $round < 12; $round++) {
            for ($edit = 0; $edit < 4; $edit++) {
                $id = $random->getInt(1, 24);
                match ($random->getInt(0, 3)) {
                    0 => $crates[$id] = ["round $round", 'east'],
                    1 => $crates[$id] = ["round $round", 'west'],
                    2 => $crates[$id] = ["round $round", null],
                    default => $crates = array_diff_key($crates, [$id => true]) ?: $crates,
                };
            }
            $this->keep($source, $crates);
            [$link] = $this->follow($link, $copy);
            $wanted = array_map(static fn (array $one): string => $one[0], array_filter($crates, static fn (array $one): bool => $one[1] === 'east'));
            ksort($wanted);
            self::assertSame($wanted, $copy, "round $round");
        }
        // Keys of rows that the feed never showed are not told.
        $removed = array_filter($this->ask($link)->json('value'), static fn (array $one): bool => isset($one['@removed']));
        self::assertSame([], $removed);
    }

    public function test_a_change_between_two_pages_is_not_left_out(): void
    {
        $source = $this->crates(['history' => ['changes' => true]]);
        $crates = array_combine(range(1, 6), array_map(static fn (int $id): array => ["crate $id", 'east'], range(1, 6)));
        $this->keep($source, $crates);
        $this->feed();
        $first = $this->ask('/crates', ['Prefer' => 'track-changes,maxpagesize=3'])->assertOk()->assertHeader('Preference-Applied', 'odata.maxpagesize=3, track-changes')->json();
        $copy = array_column($first['value'], 'name', 'number');
        // What was read already changes, something goes, and something comes before it.
        $this->keep($source, [0 => ['first', 'east'], 2 => ['changed', 'east']] + array_diff_key($crates, [1 => 1, 6 => 1]));
        [$link] = $this->follow($first['@odata.nextLink'], $copy);
        self::assertSame([1 => 'crate 1', 2 => 'crate 2', 3 => 'crate 3', 4 => 'crate 4', 5 => 'crate 5'], $copy);
        [$link] = $this->follow($link, $copy);
        self::assertSame([0 => 'first', 2 => 'changed', 3 => 'crate 3', 4 => 'crate 4', 5 => 'crate 5'], $copy);
    }

    public function test_a_filter_holds_for_what_is_told_and_what_is_asked_otherwise_is_refused(): void
    {
        $source = $this->crates(['history' => ['changes' => true]]);
        $this->keep($source, [1 => ['a', 'east'], 2 => ['b', 'west'], 3 => ['c', 'east']]);
        $this->feed();
        $copy = [];
        [$link] = $this->follow('/crates?$filter=house%20eq%20%27east%27&$select=number,name', $copy);
        self::assertSame([1 => 'a', 3 => 'c'], $copy);
        $this->keep($source, [1 => ['a', 'west'], 2 => ['b', 'east'], 3 => ['c2', 'east']]);
        [$next] = $this->follow($link, $copy);
        self::assertSame([2 => 'b', 3 => 'c2'], $copy);
        $old = $this->ask($next, ['OData-MaxVersion' => '4.0'])->assertOk()->assertHeader('OData-Version', '4.0');
        self::assertSame([], $old->json('value'));
        $this->ask(str_replace('east', 'west', $next))->assertStatus(400);
        $this->ask('/crates?$deltatoken=x')->assertStatus(400);
        // A token is too old once versions may have gone.
        $this->travel(400)->days();
        self::assertStringContainsString('What has changed since is no longer known.', (string) $this->ask($next)->assertStatus(410)->json('error.message'));
    }

    public function test_without_versions_nothing_is_tracked(): void
    {
        $source = $this->crates([]);
        $this->keep($source, [1 => ['a', 'east']]);
        $feed = $this->feed();
        self::assertFalse($feed->tracks);
        $answer = $this->ask('/crates', ['Prefer' => 'track-changes'])->assertOk();
        self::assertFalse($answer->headers->has('Preference-Applied'));
        self::assertArrayNotHasKey('@odata.deltaLink', $answer->json());
        $this->ask('/crates?$deltatoken=x')->assertStatus(501);
    }
}
