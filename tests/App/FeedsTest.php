<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Consumer;
use App\Models\ConsumerKey;
use App\Models\Feed;
use App\Models\FeedCall;
use App\Models\Joined;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\User;
use App\Outlets\CannotPublish;
use App\Outlets\FeedBook;
use App\Outlets\KeyRing;
use App\Outlets\RefusedKeys;
use App\Queries\Keeping\QueryKeeping;
use App\Queries\QueryBook;
use App\Reservoir\ReaderAccounts;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use Illuminate\Testing\TestResponse;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Feeds as their readers meet them.
 */
final class FeedsTest extends AppTestCase
{
    private User $owner;

    protected function setUp(): void
    {
        parent::setUp();
        $this->owner = $this->person(Role::Analyst);
        $this->refresh($this->source(), 'loans');
    }

    /**
     * @param  array<string, mixed>  $settings
     */
    private function feed(string $table = 'loans', array $settings = []): Feed
    {
        $book = app(FeedBook::class);
        $feed = $book->draft(KeptTable::query()->where(['name' => $table, 'environment_id' => $this->trial()->id])->firstOrFail(), $this->owner);
        $settings === [] || $book->change($feed, $settings, $this->owner);
        $book->publish($feed, $this->owner);

        return $feed;
    }

    /**
     * @param  array<string, mixed>  $settings
     * @return array{Consumer, string} and its key
     */
    private function consumer(Feed $feed, array $settings = []): array
    {
        $consumer = Consumer::query()->create($settings + ['user_id' => $this->owner->id, 'name' => 'Courier planning '.Consumer::query()->count()]);
        $consumer->feeds()->attach($feed);

        return [$consumer->refresh(), app(KeyRing::class)->give($consumer, null, $this->owner)];
    }

    /**
     * @param  array<string, string>  $headers
     */
    private function ask(string $address, string $key, array $headers = []): TestResponse
    {
        return $this->get($address, ['Authorization' => "Bearer $key"] + $headers);
    }

    /**
     * @return list<array<string, mixed>>
     */
    private function kept(string $sql): array
    {
        return array_map(static fn (object $row): array => get_object_vars($row), $this->rows($sql));
    }

    public function test_all_rows_come_page_by_page_and_equal_the_table(): void
    {
        [, $key] = $this->consumer($this->feed());
        $columns = ['loan_id', 'ref', 'fee', 'due', 'changed'];
        $address = '/feeds/loans?fields='.implode(',', $columns).'&top=37&total=1';
        $rows = [];
        for ($pages = 0; $address !== null; $pages++) {
            $answer = $this->ask($address, $key)->assertOk()->assertHeader('Content-Type', 'application/json');
            $page = json_decode((string) $answer->getContent(), true, 512, JSON_BIGINT_AS_STRING);
            array_push($rows, ...$page['rows']);
            self::assertSame($page['next'] === null ? null : "<{$page['next']}>; rel=\"next\"", $answer->headers->get('Link'));
            self::assertSame(1200, $page['total']);
            $address = $page['next'];
        }
        self::assertSame([1200, 33], [count($rows), $pages]);
        $kept = $this->kept('select loan_id, ref, cast(fee as char) as fee, cast(due as char) as due, cast(changed as char) as changed from loans order by loan_id');
        foreach ($kept as $place => $row) {
            self::assertSame($columns, array_keys($rows[$place]));
            self::assertEquals($row['loan_id'], $rows[$place]['loan_id']);
            self::assertSame([$row['ref'], $row['due'], $row['changed']], [$rows[$place]['ref'], $rows[$place]['due'], $rows[$place]['changed'] === null ? null : (new \DateTimeImmutable((string) $rows[$place]['changed']))->format('Y-m-d H:i:s.u')]);
        }
        self::assertSame(1200, count(array_unique(array_column($rows, 'loan_id'))));
        // Digits as they are kept, not as a float would write them.
        $raw = (string) $this->ask('/feeds/v1/loans?fields=fee&top=1000', $key)->getContent();
        preg_match_all('/"fee":([\d.]+|null)/', $raw, $fees);
        self::assertSame(array_map(static fn (array $row): string => (string) ($row['fee'] ?? 'null'), array_slice($kept, 0, 1000)), $fees[1]);
    }

    public function test_rows_that_were_there_all_along_are_met_once_while_others_come_and_go(): void
    {
        [, $key] = $this->consumer($this->feed());
        $was = array_map('strval', array_column($this->kept('select loan_id from loans'), 'loan_id'));
        $address = '/feeds/loans?fields=loan_id,due&order=due%20desc&top=50';
        $met = [];
        $keeper = DB::connection('keeper');
        for ($round = 0; $address !== null; $round++) {
            $page = $this->ask($address, $key)->assertOk()->json();
            array_push($met, ...array_map('strval', array_column($page['rows'], 'loan_id')));
            $address = $page['next'];
            // Another set of rows is put in place: the same without one that was met, and with others before and behind.
            $keeper->unprepared('use deep_spring_test_data_trial');
            $keeper->unprepared('create table stage__swap like loans');
            $keeper->unprepared('insert into stage__swap select * from loans');
            $keeper->unprepared("delete from stage__swap where loan_id = {$met[0]}");
            $keeper->unprepared('insert into stage__swap (loan_id, ref, due) values ('.(9_000_000 + $round).", 'new', '2099-01-01'), (".(9_100_000 + $round).", 'new', null)");
            $keeper->unprepared('rename table loans to stage__old, stage__swap to loans');
            $keeper->unprepared('drop table stage__old');
        }
        self::assertGreaterThan(8, $round);
        $seen = array_count_values($met);
        self::assertSame([], array_filter($seen, static fn (int $times): bool => $times > 1));
        self::assertSame([], array_diff($was, $met));
    }

    public function test_a_condition_new_names_and_an_order_are_the_owners(): void
    {
        $feed = $this->feed('loans', ['condition' => "status eq 'open' and ref ne '?'", 'columns' => [['name' => 'id', 'column' => 'loan_id'], ['name' => 'house', 'column' => 'house']], 'key' => ['id'], 'sort' => 'house desc', 'name' => 'loans-open']);
        [, $key] = $this->consumer($feed);
        $rows = $this->ask('/feeds/loans-open?top=1000', $key)->assertOk()->json('rows');
        $kept = array_map(static fn (array $row): array => ['id' => (int) $row['id'], 'house' => $row['house']], $this->kept("select loan_id as id, house from loans where status = 'open' order by house desc, loan_id"));
        self::assertNotSame([], $kept);
        self::assertSame($kept, $rows);
        // What is left out cannot be asked for, sorted by, or guessed through a filter.
        foreach (['fields=borrower', 'order=borrower', "filter=borrower%20eq%20'x'", "filter=status%20eq%20'closed'"] as $asked) {
            $this->ask("/feeds/loans-open?$asked", $key)->assertStatus(400);
        }
        self::assertSame([], array_diff(array_column($this->ask('/feeds/loans-open?search=open', $key)->assertOk()->json('rows'), 'id'), array_column($kept, 'id')));
    }

    /**
     * @return iterable<string, array{string, int, string, string|null}> the address behind the question mark, status, sentence, parameter
     */
    public static function problems(): iterable
    {
        yield 'no column' => ['fields=loan_di', 400, 'There is no column "loan_di"; "loan_id" was probably meant.', 'fields'];
        yield 'no parameter' => ['filtr=1', 400, 'There is no parameter "filtr" here; "filter" was probably meant.', 'filtr'];
        yield 'a parameter twice' => ['top[]=1', 400, '"top" is said once.', 'top'];
        yield 'SQL' => ["filter=ref%20eq%20'a'%20or%201=1", 400, '"eq" instead of "="', 'filter'];
        yield 'what the database cannot do' => ["filter=matchesPattern(ref,'a')", 501, 'The function matchesPattern cannot be answered here.', 'filter'];
        yield 'beyond numbers' => ['filter=loan_id%20mul%209223372036854775807%20gt%201', 400, 'goes beyond the numbers there are', 'filter'];
        yield 'no number' => ['top=ten', 400, '"ten" is no number of rows.', 'top'];
        yield 'less than none' => ['top=-1', 400, 'is no number of rows', 'top'];
        yield 'a made-up place' => ['after=AAAA', 400, 'is no address of a next page', 'after'];
        yield 'no form' => ['as=xml', 400, 'There is no form "xml"', 'as'];
        yield 'long' => ['search='.str_repeat('a', 300), 400, 'at most 200 characters', 'search'];
    }

    #[DataProvider('problems')]
    public function test_what_is_not_answered_is_said_in_a_sentence(string $asked, int $status, string $says, ?string $parameter): void
    {
        [, $key] = $this->consumer($feed = $this->feed());
        $answer = $this->ask("/feeds/loans?$asked", $key)->assertStatus($status)->assertHeader('Content-Type', 'application/problem+json');
        self::assertStringContainsString($says, (string) $answer->json('detail'));
        self::assertSame([$status, $parameter], [$answer->json('status'), $answer->json('parameter')]);
        $call = FeedCall::query()->where('feed_id', $feed->id)->sole();
        self::assertSame($status, $call->status);
        self::assertStringContainsString($says, (string) $call->reason);
    }

    public function test_a_place_is_of_one_question_and_of_one_state(): void
    {
        $feed = $this->feed();
        [, $key] = $this->consumer($feed);
        $next = (string) $this->ask('/feeds/loans?top=10', $key)->json('next');
        $this->ask($next, $key)->assertOk();
        $this->ask(str_replace('top=10', 'top=20', $next), $key)->assertOk();
        self::assertStringContainsString('another question', (string) $this->ask("$next&filter=loan_id%20gt%205", $key)->assertStatus(400)->json('detail'));
        app(FeedBook::class)->change($feed, ['condition' => 'loan_id gt 3'], $this->owner);
        self::assertStringContainsString('Begin with the first page', (string) $this->ask($next, $key)->assertStatus(410)->json('detail'));
    }

    public function test_who_has_no_key_or_another_feeds_key_learns_nothing(): void
    {
        $feed = $this->feed();
        $other = $this->feed('loan_items');
        [$consumer, $key] = $this->consumer($feed);
        foreach (['/feeds/loans', '/feeds/not-there', '/feeds/v7/loans'] as $address) {
            $answer = $this->get($address)->assertStatus(401);
            self::assertStringContainsString('Bearer', (string) $answer->headers->get('WWW-Authenticate'));
            $this->ask($address, 'ds_'.str_repeat('a', 39))->assertStatus(401);
        }
        self::assertSame(
            str_replace('not-there', 'X', (string) $this->ask('/feeds/not-there', $key)->assertStatus(404)->getContent()),
            str_replace($other->name, 'X', (string) $this->ask("/feeds/$other->name", $key)->assertStatus(404)->getContent()),
        );
        foreach ([['X-Api-Key' => $key], ['Authorization' => 'Basic '.base64_encode("anybody:$key")]] as $headers) {
            $this->get('/feeds/loans?top=1', $headers)->assertOk();
        }
        // The account of the key may read the view of the feed, and the database refuses it everything else.
        $pdo = app(ReaderAccounts::class)->connect($consumer, $this->trial(), 5);
        self::assertSame(['1200'], $pdo->query("select count(*) from {$feed->view()}")->fetchAll(\PDO::FETCH_COLUMN));
        foreach (['loans', 'loan_items', $other->view(), 'mysql.global_priv', 'deep_spring_test.users'] as $name) {
            try {
                $pdo->query("select * from $name limit 1")->fetchAll();
                self::fail("$name can be read.");
            } catch (\PDOException $refused) {
                self::assertContains((int) ($refused->errorInfo[1] ?? 0), [1142, 1143, 1044], $name);
            }
        }
    }

    public function test_a_key_ends_is_withdrawn_and_may_come_from_some_addresses_only(): void
    {
        $feed = $this->feed();
        [$consumer, $key] = $this->consumer($feed, ['addresses' => ['127.0.0.0/8']]);
        $this->ask('/feeds/loans?top=1', $key)->assertOk();
        $consumer->fill(['addresses' => ['10.1.0.0/16', '192.0.2.7']])->save();
        $this->ask('/feeds/loans?top=1', $key)->assertStatus(401);
        $consumer->fill(['addresses' => []])->save();
        $ring = app(KeyRing::class);
        $second = $ring->give($consumer, Carbon::now()->addDay(), $this->owner);
        $this->ask('/feeds/loans?top=1', $second)->assertOk();
        try {
            $ring->give($consumer, null, $this->owner);
            self::fail('There are three.');
        } catch (CannotPublish $cannot) {
            self::assertStringContainsString('has two keys that are valid', $cannot->getMessage());
        }
        $this->travel(2)->days();
        $this->ask('/feeds/loans?top=1', $second)->assertStatus(401);
        $ring->withdraw(ConsumerKey::query()->where('beginning', substr($key, 0, 10))->sole(), $this->owner);
        $this->ask('/feeds/loans?top=1', $key)->assertStatus(401);
        self::assertSame(0, ConsumerKey::query()->where('hash', 'like', "%$key%")->count());
        self::assertSame(hash('sha256', $second), ConsumerKey::query()->sole()->hash);
    }

    public function test_limits_hold_and_say_when_there_is_room_again(): void
    {
        [$consumer, $key] = $this->consumer($this->feed(), ['a_minute' => 3, 'a_day' => 5, 'rows_a_day' => 40]);
        foreach ([2, 1, 0] as $left) {
            $this->ask('/feeds/loans?top=1', $key)->assertOk()->assertHeader('RateLimit-Remaining', (string) $left);
        }
        $refused = $this->ask('/feeds/loans?top=1', $key)->assertStatus(429);
        self::assertGreaterThan(0, (int) $refused->headers->get('Retry-After'));
        $this->travel(61)->seconds();
        $this->ask('/feeds/loans?top=50', $key)->assertOk();
        self::assertStringContainsString('More than 40 rows a day', (string) $this->ask('/feeds/loans?top=1', $key)->assertStatus(429)->json('detail'));
        $this->travel(25)->hours();
        $this->ask('/feeds/loans?top=1', $key)->assertOk();
        $consumer->fill(['off_at' => now()])->save();
        $this->ask('/feeds/loans?top=1', $key)->assertStatus(401);
    }

    public function test_what_did_not_change_is_not_sent_again(): void
    {
        $feed = $this->feed('loans', ['cache_seconds' => 60]);
        [, $key] = $this->consumer($feed);
        $first = $this->ask('/feeds/loans?top=5', $key)->assertOk()->assertHeader('Cache-Control', 'max-age=60, private');
        $etag = (string) $first->headers->get('ETag');
        self::assertSame('', (string) $this->ask('/feeds/loans?top=5', $key, ['If-None-Match' => $etag])->assertStatus(304)->getContent());
        $this->ask('/feeds/loans?top=6', $key, ['If-None-Match' => $etag])->assertOk();
        $this->ask('/feeds/loans?top=5', $key, ['If-Modified-Since' => (string) $first->headers->get('Last-Modified')])->assertStatus(304);
        self::assertSame('', (string) $this->call('HEAD', '/feeds/loans?top=5', server: ['HTTP_AUTHORIZATION' => "Bearer $key"])->assertOk()->assertHeader('ETag', $etag)->getContent());
        KeptTable::query()->where('name', 'loans')->update(['refreshed_at' => now()->addMinute()->format('Y-m-d H:i:s.u')]);
        $this->ask('/feeds/loans?top=5', $key, ['If-None-Match' => $etag])->assertOk();
        app(FeedBook::class)->change($feed, ['oldest_minutes' => 30], $this->owner);
        $this->travel(2)->hours();
        self::assertStringContainsString('older than this feed hands out', (string) $this->ask('/feeds/loans?top=5', $key)->assertStatus(503)->json('detail'));
    }

    public function test_files_hold_all_rows(): void
    {
        // Others, whose answers were never sent, may have left some.
        $left = glob(base_path(config('spring.var').'/tmp/feed*'));
        [, $key] = $this->consumer($this->feed());
        $csv = (string) $this->ask('/feeds/loans.csv?fields=loan_id,ref', $key)->assertOk()->streamedContent();
        $small = $this->ask('/feeds/loans.csv?fields=ref&top=1', $key);
        self::assertStringContainsString('private', (string) $small->headers->get('Cache-Control'));
        self::assertSame(2, substr_count($small->streamedContent(), "\r\n"));
        self::assertSame("loan_id,ref\r\n".implode('', array_map(static fn (array $row): string => "{$row['loan_id']},{$row['ref']}\r\n", $this->kept('select loan_id, ref from loans order by loan_id'))), $csv);
        $lines = explode("\n", trim((string) $this->ask('/feeds/loans?top=7', $key, ['Accept' => 'application/x-ndjson'])->assertOk()->streamedContent()));
        self::assertSame($this->ask('/feeds/loans?top=7', $key)->json('rows'), array_map(static fn (string $line): mixed => json_decode($line, true), $lines));
        self::assertStringStartsWith('PK', (string) $this->ask('/feeds/loans.xlsx', $key)->assertOk()->streamedContent());
        $this->ask('/feeds/loans', $key, ['Accept' => 'image/png'])->assertStatus(406);
        $this->ask('/feeds/loans.pdf', $key)->assertStatus(404);
        self::assertSame($left, glob(base_path(config('spring.var').'/tmp/feed*')));
        self::assertSame([1200, 1, 7, 7, 1200], FeedCall::query()->where('status', 200)->orderBy('id')->pluck('rows')->all());
    }

    public function test_pages_of_named_origins_may_read_it(): void
    {
        [, $key] = $this->consumer($this->feed('loans', ['origins' => ['https://portal.saltmarsh.example']]));
        $this->call('OPTIONS', '/feeds/loans', server: ['HTTP_ORIGIN' => 'https://portal.saltmarsh.example'])->assertStatus(204)->assertHeader('Access-Control-Allow-Origin', 'https://portal.saltmarsh.example');
        self::assertFalse($this->call('OPTIONS', '/feeds/loans', server: ['HTTP_ORIGIN' => 'https://other.example'])->assertStatus(204)->headers->has('Access-Control-Allow-Origin'));
        $this->ask('/feeds/loans?top=1', $key, ['Origin' => 'https://portal.saltmarsh.example'])->assertOk()->assertHeader('Access-Control-Allow-Origin', 'https://portal.saltmarsh.example');
    }

    public function test_what_readers_would_lose_is_named_and_a_new_version_stands_beside(): void
    {
        $feed = $this->feed();
        [$consumer, $key] = $this->consumer($feed);
        $book = app(FeedBook::class);
        $fewer = array_values(array_filter($feed->columns, static fn (array $column): bool => $column['column'] !== 'ref'));
        try {
            $book->change($feed->refresh(), ['columns' => $fewer], $this->owner);
            self::fail('Nobody was told.');
        } catch (CannotPublish $cannot) {
            self::assertStringContainsString('Readers would lose something: ref is gone.', $cannot->getMessage());
        }
        $next = $book->next($feed->refresh(), $this->owner);
        $book->change($next, ['columns' => $fewer], $this->owner);
        $book->publish($next, $this->owner);
        $consumer->feeds()->attach($next);
        self::assertArrayHasKey('ref', $this->ask('/feeds/loans?top=1', $key)->json('rows.0'));
        self::assertArrayHasKey('ref', $this->ask('/feeds/v1/loans?top=1', $key)->json('rows.0'));
        self::assertArrayNotHasKey('ref', $this->ask('/feeds/v2/loans?top=1', $key)->json('rows.0'));
        $book->turnOff($feed->refresh(), $this->owner);
        $this->ask('/feeds/v1/loans', $key)->assertStatus(404);
        self::assertArrayNotHasKey('ref', $this->ask('/feeds/loans?top=1', $key)->json('rows.0'));
    }

    public function test_a_query_is_handed_out_through_its_view_with_a_chosen_key(): void
    {
        $query = app(QueryBook::class)->add(['name' => 'Loans by house', 'sql' => 'select house, count(*) as loans, sum(fee) as `fees?` from loans group by house'], $this->owner);
        app(QueryKeeping::class)->asView($query, $this->trial(), 'loans_by_house', $this->owner);
        $book = app(FeedBook::class);
        $feed = $book->draft(KeptTable::query()->where('name', 'loans_by_house')->sole(), $this->owner);
        self::assertSame('fees', $feed->columns[2]['name']);
        foreach ([[['key' => []], 'name the columns that tell them apart'], [['key' => ['nothing']], 'which is no column of the feed']] as [$settings, $says]) {
            try {
                $book->change($feed->refresh(), $settings, $this->owner);
                self::fail($says);
            } catch (CannotPublish $cannot) {
                self::assertStringContainsString($says, $cannot->getMessage());
            }
        }
        $book->change($feed->refresh(), ['key' => ['house'], 'condition' => "house ne '?'"], $this->owner);
        $book->publish($feed, $this->owner);
        [, $key] = $this->consumer($feed);
        $rows = $this->ask('/feeds/loans-by-house?order=fees%20desc', $key)->assertOk()->json('rows');
        self::assertSame(array_map(static fn (array $row): string => (string) $row['house'], $this->kept('select house from loans group by house order by sum(fee) desc, house')), array_column($rows, 'house'));
        // A table that the view reads is given up: that is a sentence for readers, too.
        DB::connection('keeper')->unprepared('use deep_spring_test_data_trial');
        DB::connection('keeper')->unprepared('rename table loans to loans_away');
        self::assertStringContainsString('is not there now', (string) $this->ask('/feeds/loans-by-house', $key)->assertStatus(503)->json('detail'));
    }

    public function test_texts_that_a_query_makes_are_paged_as_they_are_sorted(): void
    {
        // Made by the query, these are compared without letter case there.
        $query = app(QueryBook::class)->add(['name' => 'Labels', 'sql' => "select concat(char(if(loan_id % 2 = 0, 65, 97) + loan_id % 7 using utf8mb4), '-', loan_id % 50, if(loan_id % 3 = 0, ' ', '')) as label, loan_id from loans where loan_id < 7900"], $this->owner);
        app(QueryKeeping::class)->asView($query, $this->trial(), 'labels', $this->owner);
        $book = app(FeedBook::class);
        $feed = $book->draft(KeptTable::query()->where('name', 'labels')->sole(), $this->owner);
        $book->change($feed, ['key' => ['loan_id']], $this->owner);
        $book->publish($feed, $this->owner);
        [, $key] = $this->consumer($feed);
        $rows = [];
        for ($address = '/feeds/labels?order=label&top=9'; $address !== null; $address = $page['next']) {
            $page = $this->ask($address, $key)->assertOk()->json();
            array_push($rows, ...$page['rows']);
        }
        $kept = $this->kept('select label, loan_id from labels');
        usort($kept, static fn (array $one, array $other): int => strcmp((string) $one['label'], (string) $other['label']) ?: $one['loan_id'] <=> $other['loan_id']);
        self::assertGreaterThan(200, count($kept));
        self::assertSame(array_column($kept, 'loan_id'), array_column($rows, 'loan_id'));
    }

    public function test_a_key_that_does_not_tell_rows_apart_is_refused_with_the_count(): void
    {
        $book = app(FeedBook::class);
        $feed = $book->draft(KeptTable::query()->where('name', 'loans')->sole(), $this->owner);
        $book->change($feed, ['key' => ['house']], $this->owner);
        try {
            $book->publish($feed, $this->owner);
            self::fail('It was published.');
        } catch (CannotPublish $cannot) {
            self::assertMatchesRegularExpression('/house does not tell all rows apart: 1200 rows have \d+ different values/', $cannot->getMessage());
        }
        self::assertFalse($feed->refresh()->is_on);
        self::assertNotContains($feed->view(), $this->tablesInTrial());
    }

    public function test_somebody_signed_in_needs_no_key_where_the_feed_is_for_people(): void
    {
        $feed = $this->feed();
        $asked = fn (): TestResponse => $this->actingAs($this->person(Role::Analyst))->withCookie((string) config('session.cookie'), bin2hex(random_bytes(20)))->get('/feeds/loans?top=1');
        self::assertCount(1, $asked()->assertOk()->json('rows'));
        self::assertNotNull(FeedCall::query()->sole()->user_id);
        app(FeedBook::class)->change($feed, ['for_people' => false], $this->owner);
        $asked()->assertStatus(404);
        // A request without a key begins no session.
        $this->app['auth']->forgetGuards();
        $this->defaultCookies = [];
        self::assertSame([], $this->get('/feeds/loans?top=1')->assertStatus(401)->headers->getCookies());
    }

    public function test_whoever_answers_for_it_can_be_another_and_has_to_be_here(): void
    {
        $feed = $this->feed();
        [, $key] = $this->consumer($feed);
        $this->owner->forceFill(['off_at' => now()])->save();
        self::assertStringContainsString('It needs another owner', (string) $this->ask('/feeds/loans?top=1', $key)->assertStatus(503)->json('detail'));
        $next = $this->person(Role::Builder);
        app(FeedBook::class)->change($feed->refresh(), ['user_id' => $next->id], $next);
        $this->ask('/feeds/loans?top=1', $key)->assertOk();
        self::assertStringContainsString("reader_$next->id", (string) $this->rows("select definer from information_schema.views where table_name = '{$feed->view()}'")[0]->definer);
    }

    public function test_a_key_in_an_address_is_not_written_down(): void
    {
        [, $key] = $this->consumer($this->feed());
        $this->ask("/feeds/loans?key=$key", $key)->assertStatus(400);
        $call = FeedCall::query()->sole();
        self::assertStringNotContainsString(substr($key, 10), $call->asked.$call->reason);
        self::assertStringContainsString('key=(a key)', $call->asked);
    }

    public function test_a_key_that_opens_nothing_is_written_down_with_what_it_wanted(): void
    {
        $feed = $this->feed();
        [$consumer, $key] = $this->consumer($feed);
        $last = static fn (): array => FeedCall::query()->latest('id')->firstOrFail()->only('consumer_id', 'form', 'status', 'reason');
        // That is how a browser begins.
        $this->get('/feeds/loans')->assertStatus(401);
        self::assertSame(0, FeedCall::query()->count());
        $this->ask('/feeds/loans.csv?top=5', 'ds_'.str_repeat('a', 39))->assertStatus(401);
        self::assertSame(['consumer_id' => null, 'form' => 'csv', 'status' => 401, 'reason' => 'A key that is none of ours, or that was withdrawn.'], $last());
        $consumer->fill(['addresses' => ['10.1.0.0/16']])->save();
        foreach (['/feeds/loans' => '', '/odata/v1/loans' => 'odata', '/odata2/v1/loans(5)' => 'odata2'] as $address => $form) {
            $this->ask($address, $key)->assertStatus(401);
            self::assertSame(['consumer_id' => $consumer->id, 'form' => $form, 'status' => 401, 'reason' => 'The key of a reader that may not come from 127.0.0.1.'], $last());
        }
        $consumer->fill(['addresses' => [], 'off_at' => now()])->save();
        $this->ask('/feeds/loans', $key)->assertStatus(401);
        self::assertSame('The key of a reader that is turned off.', $last()['reason']);
        $consumer->fill(['off_at' => null])->save();
        ConsumerKey::query()->update(['ends_at' => now()->subDay()]);
        $this->ask('/feeds/loans', $key)->assertStatus(401);
        self::assertSame('A key that has ended.', $last()['reason']);
        $this->actingAs($this->owner)->get("/outlets/$feed->id/requests")->assertOk()->assertSee('an unknown key')->assertSee('A key that has ended.');
    }

    public function test_an_address_that_tries_keys_waits_and_its_right_one_is_taken(): void
    {
        [, $key] = $this->consumer($this->feed());
        $wrong = fn (int $number): string => 'ds_'.str_pad((string) $number, 39, 'a');
        $ways = [
            fn (string $key) => $this->ask('/feeds/loans', $key), fn (string $key) => $this->ask('/odata/v1/loans', $key), fn (string $key) => $this->ask('/odata2/v1/loans', $key),
            fn (string $key) => $this->get('/feeds/loans', ['X-Api-Key' => $key]), fn (string $key) => $this->get('/feeds/loans', ['Authorization' => 'Basic '.base64_encode("anybody:$key")]),
            fn (string $key) => $this->ask('/feeds/not-there', $key), fn (string $key) => $this->ask('/control/runs/1', $key),
            fn (string $key) => $this->call('POST', '/odata/v1/$batch', server: ['HTTP_AUTHORIZATION' => "Bearer $key", 'CONTENT_TYPE' => 'application/json'], content: '{}'),
            fn (string $key) => $this->call('POST', '/oauth/token', server: ['CONTENT_TYPE' => 'application/x-www-form-urlencoded'], content: http_build_query(['grant_type' => 'client_credentials', 'client_id' => substr($key, 0, 10), 'client_secret' => $key])),
        ];
        for ($try = 0; $try < RefusedKeys::A_MINUTE; $try++) {
            $ways[$try % count($ways)]($wrong($try))->assertStatus(401);
        }
        $written = FeedCall::query()->count();
        foreach ($ways as $number => $way) {
            $answer = $way($wrong(500 + $number))->assertStatus(429);
            self::assertGreaterThan(0, (int) $answer->headers->get('Retry-After'), (string) $number);
        }
        self::assertSame($written, FeedCall::query()->count());
        $this->ask('/feeds/loans?top=1', $key)->assertOk();
        $this->travel(61)->seconds();
        $this->ask('/feeds/loans', $wrong(1))->assertStatus(401);
    }

    public function test_what_a_record_belongs_to_comes_with_one_statement(): void
    {
        $feed = $this->feed();
        $queries = 0;
        DB::listen(static function () use (&$queries): void {
            $queries++;
        });
        $found = Joined::first(Feed::query()->where(['feeds.name' => 'loans', 'is_on' => true])->orderBy('version'), 'environment', 'user');
        self::assertSame(1, $queries);
        self::assertEquals(Feed::query()->with('environment', 'user')->find($feed->id)?->toArray(), $found?->toArray());
        self::assertSame([$this->owner->email, 'trial', ['loan_id']], [$found->user->email, $found->environment->slug, $found->key]);
        self::assertNull(Joined::first(Feed::query()->where('feeds.name', 'not-there'), 'environment'));
        // What it may belong to and does not.
        $call = FeedCall::query()->create(['feed_id' => $feed->id, 'user_id' => $this->owner->id, 'at' => now(), 'form' => 'json', 'asked' => '', 'status' => 200]);
        $found = Joined::first(FeedCall::query()->whereKey($call->id), 'consumer', 'user', 'feed');
        self::assertSame([null, $this->owner->id, $feed->id, false], [$found?->consumer, $found?->user?->id, $found?->feed->id, $found?->isDirty()]);
        $found?->update(['rows' => 7]);
        self::assertSame(7, FeedCall::query()->whereKey($call->id)->value('rows'));
        // Whatever is asked on that connection afterwards is named as ever.
        self::assertSame(['id', 'name'], array_keys((array) DB::selectOne('select id, name from feeds limit 1')));
    }
}
