<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\AskedRun;
use App\Models\Consumer;
use App\Models\ConsumerKey;
use App\Models\Feed;
use App\Models\FeedCall;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\Run;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Models\User;
use App\Notes\Causes\FaultyFeeds;
use App\Outlets\CannotPublish;
use App\Outlets\FeedBook;
use App\Outlets\FilesAhead;
use App\Outlets\KeyRing;
use App\Outlets\ReaderValues;
use App\Outlets\ShortTokens;
use App\Queries\Keeping\QueryKeeping;
use App\Reservoir\Views;
use App\Runs\Refresh;
use DeepSpring\Feed\FilterSql;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Illuminate\Testing\TestResponse;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Feeds that depend on who asks and on what is asked with, tokens for a key, and refreshes that are started from outside.
 */
final class OutsideTest extends AppTestCase
{
    private User $owner;

    private Consumer $consumer;

    private string $key;

    protected function setUp(): void
    {
        parent::setUp();
        $this->owner = $this->person(Role::Analyst);
        foreach ([FilterSql::READER_FUNCTION, Views::ASKED_FUNCTION] as $function) {
            DB::connection('keeper')->unprepared("drop function if exists {$this->trial()->schema()}.$function");
        }
        $this->refresh($this->source(), 'loans');
        $this->consumer = Consumer::query()->create(['user_id' => $this->owner->id, 'name' => 'Houses', 'a_minute' => 10_000, 'at_once' => 10])->refresh();
        $this->key = app(KeyRing::class)->give($this->consumer, null, $this->owner);
    }

    /**
     * @param  array<string, mixed>  $settings
     */
    private function feed(string $table, array $settings = []): Feed
    {
        $book = app(FeedBook::class);
        $feed = $book->draft(KeptTable::query()->where(['name' => $table, 'environment_id' => $this->trial()->id])->sole(), $this->owner);
        $settings === [] || $book->change($feed, $settings, $this->owner);
        $book->publish($feed, $this->owner);
        $this->consumer->feeds()->attach($feed->id);

        return $feed;
    }

    /**
     * @param  array<string, string>  $headers
     */
    private function ask(string $address, array $headers = [], ?string $key = null): TestResponse
    {
        return $this->get($address, ['Authorization' => 'Bearer '.($key ?? $this->key)] + $headers);
    }

    public function test_a_feed_shows_each_reader_what_is_set_for_them_and_nobody_the_rest(): void
    {
        $this->feed('loans', ['condition' => "house eq my('house') and status ne 'returned'"]);
        $houses = array_map(static fn (object $row): string => (string) $row->house, $this->rows("select house from loans where status <> 'returned' group by house having count(*) > 3 order by house limit 3"));
        $ids = fn (string $house): array => array_map(static fn (object $row): int => (int) $row->loan_id, $this->rows("select loan_id from loans where house = '$house' and (status <> 'returned' or status is null) order by loan_id"));
        self::assertStringContainsString('depends on "house", and nothing is set for this key', (string) $this->ask('/feeds/loans')->assertStatus(403)->json('detail'));
        $other = Consumer::query()->create(['user_id' => $this->owner->id, 'name' => 'Others', 'values' => ['house' => $houses[1]]])->refresh();
        $other->feeds()->attach(Feed::query()->sole()->id);
        $keys = [$houses[0] => $this->key, $houses[1] => app(KeyRing::class)->give($other, null, $this->owner)];
        $this->consumer->update(['values' => ['house' => $houses[0]]]);
        foreach ($keys as $house => $key) {
            self::assertSame($ids($house), array_column($this->ask('/feeds/loans?top=1000', [], $key)->assertOk()->json('rows'), 'loan_id'));
            self::assertSame((string) count($ids($house)), (string) $this->ask('/odata/v1/loans/$count', [], $key)->assertOk()->getContent());
            // Nobody gets around it by asking for more.
            self::assertSame([], $this->ask('/feeds/loans?filter='.rawurlencode("house eq '$houses[2]'"), [], $key)->json('rows'));
            $this->ask('/feeds/loans?filter='.rawurlencode("house eq my('house')"), [], $key)->assertStatus(400);
        }
        // What is set otherwise holds at once, and a mark of the answer of before is none of this.
        $etag = (string) $this->ask('/feeds/loans?top=1000')->headers->get('ETag');
        $this->ask('/feeds/loans?top=1000', ['If-None-Match' => $etag], $keys[$houses[1]])->assertOk();
        $this->consumer->update(['values' => ['house' => $houses[2]]]);
        self::assertSame($ids($houses[2]), array_column($this->ask('/feeds/loans?top=1000')->json('rows'), 'loan_id'));
        // People, too.
        $this->actingAs($this->person(Role::Administrator))->post('/outlets/values', ['person' => (string) $this->owner->id, 'values' => "house = $houses[0]"])->assertRedirect();
        self::assertSame(['house' => $houses[0]], $this->owner->refresh()->values);
        $this->actingAs($this->owner)->post('/outlets/values', ['person' => (string) $this->owner->id, 'values' => ''])->assertForbidden();
        $this->get('/outlets/'.Feed::query()->sole()->id)->assertOk()->assertSee('"house":"'.$houses[0])->assertDontSee('"house":"'.$houses[1]);
    }

    public function test_values_are_read_as_they_are_written_or_refused(): void
    {
        self::assertSame(['house' => 'bell-loft', 'desk' => 'east = 2'], ReaderValues::read("house = bell-loft\n desk=east = 2,"));
        self::assertSame('house = bell-loft, desk = east = 2', ReaderValues::written(['house' => 'bell-loft', 'desk' => 'east = 2']));
        foreach (['house' => 'is not written like', 'House = a' => 'is not written like', 'a = 1, a = 2' => 'is set twice', 'x = '.str_repeat('a', 501) => 'is not written like'] as $text => $says) {
            try {
                ReaderValues::read($text);
                self::fail("\"$text\" was taken.");
            } catch (CannotPublish $cannot) {
                self::assertStringContainsString($says, $cannot->getMessage());
            }
        }
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function conditions(): iterable
    {
        yield 'no name' => ['house eq my()', "my takes the name of what is set for a reader, in quotes: my('house')."];
        yield 'a column' => ['house eq my(house)', 'my takes the name'];
        yield 'a strange name' => ["house eq my('x; drop')", 'my takes the name'];
        yield 'a number' => ["fee gt my('fee')", 'cannot be compared with a text'];
    }

    #[DataProvider('conditions')]
    public function test_a_condition_that_cannot_be_is_refused(string $condition, string $says): void
    {
        $this->expectException(CannotPublish::class);
        $this->expectExceptionMessage($says);
        $this->feed('loans', ['condition' => $condition]);
    }

    public function test_parameters_of_a_query_are_parameters_of_its_feed(): void
    {
        $query = SavedQuery::query()->create(['name' => 'Loans since', 'sql' => "select loan_id, ref, house, due, fee from loans where due >= :since and house like concat(:house, '%') and fee > :top", 'user_id' => $this->owner->id, 'is_private' => false, 'parameters' => [
            'since' => ['kind' => 'date', 'default' => '2030-09-01', 'choices' => [], 'many' => false], 'house' => ['kind' => 'text', 'default' => 'b', 'choices' => ['b', 'n', "o'"], 'many' => false], 'top' => ['kind' => 'number', 'default' => '100.5', 'choices' => [], 'many' => false],
        ]]);
        app(QueryKeeping::class)->asView($query, $this->trial(), 'loans_since', $this->owner);
        $this->feed('loans_since', ['key' => ['loan_id']]);
        $ids = fn (string $since, string $house, string $fee): array => array_map(static fn (object $row): int => (int) $row->loan_id, $this->rows("select loan_id from loans where due >= '$since' and house like '$house%' and fee > $fee order by loan_id"));
        $found = fn (string $asked): array => array_column($this->ask("/feeds/loans-since?top=1000&$asked")->assertOk()->json('rows'), 'loan_id');
        self::assertNotSame([], $ids('2030-09-01', 'b', '100.5'));
        self::assertSame($ids('2030-09-01', 'b', '100.5'), $found(''));
        self::assertSame($ids('2030-03-01', 'b', '100.5'), $found('since=2030-03-01'));
        self::assertSame($ids('2030-03-01', 'n', '400'), $found('since=2030-03-01&house=n&with_top=400'));
        self::assertSame([], $found("house=o'"));
        self::assertSame($ids('2030-03-01', 'n', '100.5'), array_column($this->ask('/odata/v1/loans_since?since=2030-03-01&house=n')->assertOk()->json('value'), 'loan_id'));
        // Pages go on with what was asked, and with nothing else.
        $first = $this->ask('/feeds/loans-since?since=2030-03-01&top=2')->json();
        self::assertSame(array_slice($ids('2030-03-01', 'b', '100.5'), 2, 2), array_column($this->ask((string) $first['next'])->assertOk()->json('rows'), 'loan_id'));
        $this->ask(str_replace('since=2030-03-01', 'since=2030-03-02', (string) $first['next']))->assertStatus(400);
        foreach (['since=soon' => '"soon" is no date', 'house=x' => 'is none of the values that house can have', 'with_top=1e9' => '"1e9" is no number', 'hose=b' => '"house" was probably meant', 'since[]=a' => '"since" is said once'] as $asked => $says) {
            self::assertStringContainsString($says, (string) $this->ask("/feeds/loans-since?$asked")->assertStatus(400)->json('detail'), $asked);
        }
        $names = array_column($this->ask('/feeds/openapi.json')->json('paths')['/v1/loans-since']['get']['parameters'], 'name');
        self::assertSame(['since', 'house', 'with_top'], array_slice($names, -3));
        $this->actingAs($this->owner)->get('/outlets/'.Feed::query()->sole()->id.'/documentation')->assertOk()->assertSee('with_top')->assertSee('Asked by the query');
    }

    public function test_a_parameter_that_takes_several_values_is_asked_with_several(): void
    {
        $several = static fn (string $kind, string $default, array $choices = []): array => ['kind' => $kind, 'default' => $default, 'choices' => $choices, 'many' => true];
        $query = SavedQuery::query()->create(['name' => 'Loans of houses', 'sql' => "select loan_id, house, fee, due from loans where house in ( :house ) and (fee in (:fee) or :fee2 = 'all') and due not in (:due) and ref not in ('NQ-1', :ref)", 'user_id' => $this->owner->id, 'is_private' => false, 'parameters' => [
            'house' => $several('text', 'bell-loft, rope-walk'), 'fee' => $several('number', '0'), 'fee2' => ['kind' => 'text', 'default' => 'all', 'choices' => ['all', 'some'], 'many' => false], 'due' => $several('date', '2030-01-01'), 'ref' => $several('text', 'NQ-2, NQ-3'),
        ]]);
        app(QueryKeeping::class)->asView($query, $this->trial(), 'loans_of', $this->owner);
        $this->feed('loans_of', ['key' => ['loan_id']]);
        $ids = fn (string $where): array => array_map(static fn (object $row): int => (int) $row->loan_id, $this->rows("select loan_id from loans where ($where) and due <> '2030-01-01' and ref not in ('NQ-1', 'NQ-2', 'NQ-3') order by loan_id"));
        $found = fn (string $asked): array => array_column($this->ask("/feeds/loans-of?top=1000&$asked")->assertOk()->json('rows'), 'loan_id');
        [$some] = $this->rows('select house, fee from loans where fee > 0 and fee <> round(fee) limit 1');
        self::assertNotSame([], $ids("house in ('bell-loft', 'rope-walk')"));
        foreach (['' => "house in ('bell-loft', 'rope-walk')", 'house=bell-loft' => "house = 'bell-loft'", 'house=northmere, bell-loft' => "house in ('northmere', 'bell-loft')", 'house[]=northmere&house[]=rope-walk' => "house in ('northmere', 'rope-walk')", 'house='.rawurlencode('\') or x"]') => 'false',
            "house=$some->house,rope-walk&fee2=some&fee=$some->fee,-1" => "house in ('$some->house', 'rope-walk') and fee = $some->fee", 'house=BELL-LOFT' => 'false'] as $asked => $where) {
            self::assertSame($ids($where), $found($asked), $asked);
        }
        $due = $this->rows("select due from loans where house = 'bell-loft' and due is not null limit 1")[0]->due;
        self::assertSame($ids("house = 'bell-loft' and due <> '$due'"), array_values(array_diff($found("house=bell-loft&due=2030-01-01,$due"), [])));
        self::assertSame($ids("house in ('northmere', 'rope-walk')"), array_column($this->ask('/odata/v1/loans_of?house=northmere,rope-walk')->assertOk()->json('value'), 'loan_id'));
        $first = $this->ask('/feeds/loans-of?house[]=northmere&house[]=rope-walk&top=2')->json();
        self::assertSame(array_slice($ids("house in ('northmere', 'rope-walk')"), 2, 2), array_column($this->ask((string) $first['next'])->assertOk()->json('rows'), 'loan_id'));
        foreach (['fee=1,x' => '"x" is no number', 'house[a][]=b' => 'is a list of values', 'ref=NQ-9' => 'There is no parameter "ref"', 'house='.implode(',', range(1, 1001)) => 'at most 1000 values'] as $asked => $says) {
            self::assertStringContainsString($says, (string) $this->ask("/feeds/loans-of?$asked")->assertStatus(400)->json('detail'), $asked);
        }
        $parameters = array_column($this->ask('/feeds/openapi.json')->json('paths')['/v1/loans-of']['get']['parameters'], null, 'name');
        self::assertSame([['type' => 'array', 'items' => ['type' => 'string']], false, null], [$parameters['house']['schema'], $parameters['house']['explode'], $parameters['ref'] ?? null]);
    }

    /**
     * @param  array<string, string>  $form
     * @param  array<string, string>  $headers
     */
    private function token(array $form, array $headers = []): TestResponse
    {
        return $this->call('POST', '/oauth/token', [], [], [], $this->transformHeadersToServerVars($headers + ['Content-Type' => 'application/x-www-form-urlencoded']), http_build_query($form));
    }

    public function test_a_key_can_be_changed_for_a_token_that_lives_for_a_quarter_of_an_hour(): void
    {
        $this->feed('loans');
        $client = substr($this->key, 0, KeyRing::BEGINNING);
        $answer = $this->token(['grant_type' => 'client_credentials', 'client_id' => $client, 'client_secret' => $this->key])->assertOk()->assertHeader('Pragma', 'no-cache')->json();
        self::assertSame(['Bearer', ShortTokens::SECONDS], [$answer['token_type'], $answer['expires_in']]);
        self::assertStringContainsString('no-store', (string) $this->token([])->headers->get('Cache-Control'));
        $this->ask('/feeds/loans?top=1&search=dst_aaaaaaaaaaaaaaaa', [], $answer['access_token'])->assertOk();
        self::assertStringContainsString('(a key)', FeedCall::query()->latest('id')->sole()->asked);
        $this->token(['grant_type' => 'client_credentials'], ['Authorization' => 'Basic '.base64_encode("$client:$this->key")])->assertOk();
        $this->ask('/feeds/loans', [], $answer['access_token'].'x')->assertStatus(401);
        $this->ask('/feeds/loans', [], 'dst_'.rtrim(base64_encode('[1,99999999999]'), '=').'.x')->assertStatus(401);
        foreach ([[['grant_type' => 'password'], 400, 'unsupported_grant_type'], [[], 400, 'invalid_request'], [['grant_type' => 'client_credentials', 'client_id' => $client, 'client_secret' => 'none'], 401, 'invalid_client'], [['grant_type' => 'client_credentials', 'client_id' => 'ds_another', 'client_secret' => $this->key], 401, 'invalid_client'], [['grant_type' => 'client_credentials', 'client_id' => $client, 'client_secret' => $answer['access_token']], 401, 'invalid_client']] as [$form, $status, $error]) {
            self::assertSame($error, $this->token($form)->assertStatus($status)->json('error'));
        }
        $this->travel(ShortTokens::SECONDS + 1)->seconds();
        $this->ask('/feeds/loans', [], $answer['access_token'])->assertStatus(401);
        $this->travelBack();
        // What is withdrawn takes its tokens with it.
        $this->ask('/feeds/loans', [], $answer['access_token'])->assertOk();
        app(KeyRing::class)->withdraw(ConsumerKey::query()->with('consumer')->sole(), $this->owner);
        $this->ask('/feeds/loans', [], $answer['access_token'])->assertStatus(401);
    }

    /**
     * @param  array<string, string>  $headers
     */
    private function start(string $table, array $headers = []): TestResponse
    {
        return $this->post("/control/tables/$table/refresh", [], ['Authorization' => "Bearer $this->key"] + $headers);
    }

    public function test_another_system_starts_a_refresh_once_and_follows_it(): void
    {
        $this->start('loans')->assertStatus(404);
        $this->actingAs($this->owner)->post("/outlets/readers/{$this->consumer->id}", ['name' => 'Houses', 'a_minute' => '1000', 'a_day' => '1000', 'at_once' => '4', 'refreshes' => 'trial/nothing'])->assertSessionHasErrors('refreshes');
        $this->post("/outlets/readers/{$this->consumer->id}", ['name' => 'Houses', 'a_minute' => '1000', 'a_day' => '1000', 'at_once' => '4', 'refreshes' => 'trial/loans', 'values' => 'house = bell-loft'])->assertSessionHasNoErrors();
        auth()->logout();
        $before = Run::query()->count();
        $answer = $this->start('loans', ['Idempotency-Key' => 'night-1'])->assertStatus(202)->assertHeader('Location');
        self::assertSame('queued', $answer->json('state'));
        self::assertSame($answer->json('run'), $this->start('loans', ['Idempotency-Key' => 'night-1'])->assertStatus(202)->json('run'));
        self::assertSame($before + 1, Run::query()->count());
        $this->start('loan_items', ['Idempotency-Key' => 'night-2'])->assertStatus(404);
        $this->start('loans', ['Idempotency-Key' => ' '])->assertStatus(400);
        $run = Run::query()->findOrFail($answer->json('run'));
        app(Refresh::class)->run($run);
        $said = $this->ask((string) $answer->headers->get('Location'))->assertOk()->json();
        self::assertSame(['done', $run->refresh()->rows, null], [$said['state'], $said['rows'], $said['reason']]);
        // The same wish, asked again after it was done, starts nothing either.
        self::assertSame('done', $this->start('loans', ['Idempotency-Key' => 'night-1'])->assertStatus(202)->json('state'));
        self::assertSame($before + 1, Run::query()->count());
        $this->start('loans', ['Idempotency-Key' => 'night-3'])->assertStatus(202);
        self::assertSame($before + 2, Run::query()->count());
        // Of runs that others began, nothing is said.
        $this->ask('/control/runs/'.Run::query()->orderBy('id')->value('id'))->assertStatus(404);
        $this->post('/control/tables/loans/refresh')->assertStatus(401);
        self::assertSame(2, AskedRun::query()->count());
        $document = $this->ask('/feeds/openapi.json')->json();
        self::assertArrayHasKey('/control/tables/{table}/refresh', $document['paths']);
        self::assertSame(['loans'], $document['paths']['/control/tables/{table}/refresh']['post']['parameters'][0]['schema']['enum']);
    }

    public function test_who_still_reads_an_old_version_is_named_with_whoever_answers_for_it(): void
    {
        $feed = $this->feed('loans');
        $this->ask('/feeds/v1/loans?top=1')->assertOk();
        $book = app(FeedBook::class);
        try {
            $book->change($feed->refresh(), ['columns' => array_values(array_filter($feed->columns, static fn (array $one): bool => $one['name'] !== 'fee'))], $this->owner);
            self::fail('A column was taken away.');
        } catch (CannotPublish $cannot) {
            self::assertStringContainsString("fee is gone. In the last 30 days it was read by Houses ({$this->owner->name} answers for it). Publish it as a new version", $cannot->getMessage());
        }
        $this->actingAs($this->owner)->get("/outlets/$feed->id")->assertDontSee('Still read');
        $next = $book->next($feed->refresh(), $this->owner);
        $book->publish($next, $this->owner);
        $this->get("/outlets/$feed->id")->assertSee('Still read, though there is a newer version')->assertSee("for which {$this->owner->name} answers");
        $this->get("/outlets/$next->id")->assertDontSee('Still read');
    }

    public function test_rows_without_a_key_are_numbered_and_each_comes_once(): void
    {
        $sql = implode(' union all ', array_map(static fn (array $one): string => "select '$one[0]' as text, $one[1] as number from loans where loan_id = 7617", [['a', 1], ['a', 1], ['b', 2], ['c', 3], ['c', 3], ['c', 3], ['d', 4]]));
        $query = SavedQuery::query()->create(['name' => 'Notes', 'sql' => $sql, 'user_id' => $this->owner->id, 'is_private' => false]);
        [, $run] = app(QueryKeeping::class)->asTable($query, $this->trial(), 'loan_notes', [], [], $this->owner);
        app(Refresh::class)->run($run);
        $feed = $this->feed('loan_notes');
        self::assertSame([], $feed->key);
        $rows = [];
        for ($address = '/feeds/loan-notes?top=3'; $address !== null; $address = $answer['next']) {
            $answer = $this->ask($address)->assertOk()->json();
            array_push($rows, ...$answer['rows']);
        }
        self::assertSame([['a', 1], ['a', 1], ['b', 2], ['c', 3], ['c', 3], ['c', 3], ['d', 4]], array_map(static fn (array $row): array => [$row['text'], $row['number']], $rows));
        $entities = $this->ask('/odata/v1/loan_notes?$top=2')->assertOk()->json('value');
        self::assertSame(['_row', 'text', 'number'], array_keys($entities[0]));
        self::assertSame('c', $this->ask("/odata/v1/loan_notes({$this->ask('/odata/v1/loan_notes')->json('value.3._row')})")->assertOk()->json('text'));
    }

    public function test_a_file_is_written_once_for_the_rows_that_are_there(): void
    {
        $feed = $this->feed('loans');
        $files = fn (): array => glob(base_path(config('spring.var').'/tmp')."/whole-$feed->id-*") ?: [];
        array_map(unlink(...), $files());
        $ask = fn (string $form, string $more = ''): string => (string) file_get_contents((string) $this->ask("/feeds/loans.$form$more")->assertOk()->baseResponse->getFile()->getPathname());
        $first = $ask('csv');
        self::assertSame(1201, substr_count(preg_replace('/"(?:[^"]|"")*"/', '', $first) ?? '', "\n"));
        self::assertCount(1, $files());
        file_put_contents($files()[0], 'marked');
        self::assertSame('marked', $ask('csv'));
        self::assertSame(1200, FeedCall::query()->latest('id')->value('rows'));
        // Whatever is asked otherwise has its own answer, and so have other forms and newer rows.
        self::assertNotSame('marked', $this->get('/feeds/loans.csv?top=5', ['X-Api-Key' => $this->key])->assertOk()->baseResponse->getFile()->getContent());
        self::assertNotSame('marked', $ask('ndjson'));
        $this->refresh(Source::query()->where('slug', 'loans-desk')->sole(), 'loans');
        self::assertSame($first, $ask('csv'));
        // Who may not read it is not given the file either.
        $this->consumer->feeds()->detach($feed->id);
        $this->ask('/feeds/loans.csv')->assertStatus(404);
        $this->consumer->feeds()->attach($feed->id);
        $this->owner->update(['off_at' => now()]);
        $this->ask('/feeds/loans.csv')->assertStatus(503);
        $this->owner->update(['off_at' => null]);
        // A feed whose rows depend on who asks has none for all.
        array_map(unlink(...), $files());
        app(FeedBook::class)->change($feed->refresh(), ['condition' => "house eq my('house')"], $this->owner);
        $this->consumer->update(['values' => ['house' => 'bell-loft']]);
        $ask('csv');
        self::assertSame([], $files());
    }

    public function test_a_file_that_is_asked_for_is_written_ahead_once_rows_change(): void
    {
        $feed = $this->feed('loans');
        $files = fn (string $form): array => glob(base_path(config('spring.var').'/tmp')."/whole-$feed->id-*.$form") ?: [];
        array_map(unlink(...), [...$files('csv'), ...$files('ndjson')]);
        self::assertFalse(FilesAhead::isAnythingDue());
        $this->ask('/feeds/loans.csv')->assertOk();
        self::assertFalse(FilesAhead::isAnythingDue());
        // Nobody asked for it since yesterday noon.
        touch($files('csv')[0], $asked = time() - 43_000);
        $this->refresh(Source::query()->where('slug', 'loans-desk')->sole(), 'loans');
        self::assertTrue(FilesAhead::isAnythingDue());
        Artisan::call('spring:files');
        self::assertFalse(FilesAhead::isAnythingDue());
        // The one before is gone, since nobody is about to open it, and the new one goes when that would have.
        self::assertCount(1, $files('csv'));
        self::assertSame([], $files('ndjson'));
        clearstatcache();
        self::assertSame($asked, filemtime($files('csv')[0]));
        file_put_contents($files('csv')[0], 'written ahead');
        self::assertSame('written ahead', $this->ask('/feeds/loans.csv')->assertOk()->baseResponse->getFile()->getContent());
        // Not for a reader who may no longer read it, nor for one that is turned off.
        $this->refresh(Source::query()->where('slug', 'loans-desk')->sole(), 'loans');
        $this->consumer->update(['off_at' => now()]);
        self::assertFalse(FilesAhead::isAnythingDue());
        $this->consumer->update(['off_at' => null]);
        $this->consumer->feeds()->detach($feed->id);
        self::assertFalse(FilesAhead::isAnythingDue());
        $this->consumer->feeds()->attach($feed->id);
        self::assertTrue(FilesAhead::isAnythingDue());
        // What cannot be written is not tried again and again, but after a while, or once rows change.
        $this->owner->update(['off_at' => now()]);
        Artisan::call('spring:files');
        self::assertFalse(FilesAhead::isAnythingDue());
        $this->owner->update(['off_at' => null]);
        self::assertFalse(FilesAhead::isAnythingDue());
        $this->travel(11)->minutes();
        self::assertTrue(FilesAhead::isAnythingDue());
        $this->travelBack();
        $this->refresh(Source::query()->where('slug', 'loans-desk')->sole(), 'loans');
        self::assertTrue(FilesAhead::isAnythingDue());
        array_map(unlink(...), $files('csv'));
        self::assertFalse(FilesAhead::isAnythingDue());
    }

    public function test_what_is_private_stands_in_no_log(): void
    {
        $this->feed('loans');
        $table = KeptTable::query()->where('name', 'loans')->sole();
        $table->update(['columns' => array_map(static fn (array $one): array => $one['name'] === 'contact' ? ['mask' => 'hash'] + $one : $one, $table->columns)]);
        foreach (["filter=contact eq 'Wend O''Hara' or fee gt 77123" => 'filter=contact eq (private) or fee gt (private)', 'search=Wend' => 'search=(private)', "filter=house eq 'bell-loft'" => "filter=house eq 'bell-loft'", "filter=contact eq 'open" => 'filter=contact eq (private)'] as $asked => $written) {
            [$name, $value] = explode('=', $asked, 2);
            $this->ask("/feeds/loans?$name=".rawurlencode($value));
            self::assertSame($written, FeedCall::query()->latest('id')->value('asked'));
        }
        $this->ask('/odata/v1/loans?$filter='.rawurlencode("contains(contact,'Wend')"));
        self::assertSame('$filter=contains(contact,(private))', FeedCall::query()->latest('id')->value('asked'));
    }

    public function test_what_a_source_made_something_else_of_is_noted_until_somebody_agrees(): void
    {
        $feed = $this->feed('loans');
        $table = KeptTable::query()->where('name', 'loans')->sole();
        $book = app(FeedBook::class);
        $book->alignViews();
        self::assertNull($feed->refresh()->fault);
        $table->update(['columns' => array_map(static fn (array $one): array => $one['name'] === 'house' ? ['type' => 'integer', 'label' => 'whole number'] + $one : $one, $table->columns)]);
        $book->alignViews();
        self::assertStringContainsString('house was text and is whole number now. Readers get it like this.', (string) $feed->refresh()->fault);
        $causes = (new FaultyFeeds)->find($this->trial());
        self::assertSame(['v1/loans'], array_map(static fn ($cause): string => $cause->title, $causes));
        $this->ask('/feeds/loans?top=1&fields=loan_id')->assertOk();
        $book->change($feed->refresh(), [], $this->owner);
        $book->alignViews();
        self::assertNull($feed->refresh()->fault);
        self::assertSame([], (new FaultyFeeds)->find($this->trial()));
    }
}
