<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Consumer;
use App\Models\Feed;
use App\Models\FeedCall;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\User;
use App\Outlets\FeedBook;
use App\Outlets\KeyRing;
use DeepSpring\OData\Csdl\Metadata;
use Illuminate\Testing\TestResponse;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Feeds as a service of OData.
 */
final class ODataFeedsTest extends AppTestCase
{
    use KeepsODataRules;
    use ServesItself;

    private User $owner;

    private Feed $feed;

    private string $key;

    protected function setUp(): void
    {
        parent::setUp();
        $this->owner = $this->person(Role::Analyst);
        $this->refresh($this->source(), 'loans');
        $this->feed = $this->publish('loans', ['name' => 'loans-out', 'title' => 'Loans that are out']);
        $items = $this->publish('loan_items', []);
        $consumer = Consumer::query()->create(['user_id' => $this->owner->id, 'name' => 'Reporting', 'a_minute' => 100_000, 'at_once' => 20]);
        $consumer->feeds()->attach([$this->feed->id, $items->id]);
        $this->key = app(KeyRing::class)->give($consumer, null, $this->owner);
    }

    /**
     * @param  array<string, mixed>  $settings
     */
    private function publish(string $table, array $settings): Feed
    {
        $book = app(FeedBook::class);
        $feed = $book->draft(KeptTable::query()->where('name', $table)->sole(), $this->owner);
        $settings === [] || $book->change($feed, $settings, $this->owner);
        $book->publish($feed, $this->owner);

        return $feed;
    }

    /**
     * @param  array<string, string>  $headers
     */
    private function ask(string $address, array $headers = []): TestResponse
    {
        return $this->keepsRules($this->get(str_starts_with($address, 'http') ? $address : "/odata/v1$address", ['Authorization' => 'Basic '.base64_encode("x:$this->key")] + $headers), $address);
    }

    public function test_the_service_says_what_it_has_and_both_forms_say_the_same(): void
    {
        $service = $this->ask('')->assertOk()->assertHeader('OData-Version', '4.01')->json();
        self::assertSame(['loan_items', 'loans_out'], array_column($service['value'], 'url'));
        self::assertStringEndsWith('/odata/v1/$metadata', $service['@odata.context']);
        $xml = (string) $this->ask('/$metadata', ['Accept' => 'application/xml'])->assertOk()->assertHeader('Content-Type', 'application/xml')->getContent();
        $json = (string) $this->ask('/$metadata?$format=json')->assertOk()->getContent();
        $models = array_map(static fn (string $document): \DeepSpring\OData\Model\Model => Metadata::model(Metadata::read($document)), [$xml, $json]);
        $types = [];
        foreach ($models as $model) {
            $type = $model->type((string) $model->set('loans_out')?->type);
            self::assertSame(['Edm.Int64', 'Edm.Decimal', 'Edm.Date', 'Edm.DateTimeOffset', 'Edm.String'], array_map(static fn (string $name): string => (string) $type?->property($name)?->type, ['loan_id', 'fee', 'due', 'changed', 'ref']));
            self::assertSame(2, $type?->property('fee')?->scale);
            $types[] = array_keys($type->properties ?? []);
        }
        self::assertCount(20, $types[0]);
        self::assertSame($types[0], $types[1]);
        $this->ask('', ['OData-MaxVersion' => '4.0'])->assertHeader('OData-Version', '4.0');
        $this->get('/odata/v1')->assertStatus(401);
    }

    public function test_all_rows_come_through_pages_of_the_server(): void
    {
        $address = '/loans_out?$select=loan_id,ref,fee&$count=true';
        $rows = [];
        for ($pages = 0; $address !== null; $pages++) {
            $answer = $this->ask($address, ['Prefer' => 'odata.maxpagesize=200'])->assertOk()->assertHeader('Preference-Applied', 'odata.maxpagesize=200');
            self::assertSame(1200, $answer->json()['@odata.count']);
            array_push($rows, ...$answer->json('value'));
            $address = ($answer->json()['@odata.nextLink'] ?? null);
        }
        self::assertSame([6, 1200], [$pages, count($rows)]);
        self::assertSame(array_map(static fn (object $row): int => (int) $row->loan_id, $this->rows('select loan_id from loans order by loan_id')), array_column($rows, 'loan_id'));
        $top = [];
        for ($address = '/loans_out?$select=loan_id&$top=450&$skip=100', $pages = 0; $address !== null; $pages++) {
            $answer = $this->ask($address, ['Prefer' => 'maxpagesize=200'])->assertOk();
            array_push($top, ...array_column($answer->json('value'), 'loan_id'));
            $address = ($answer->json()['@odata.nextLink'] ?? null);
        }
        self::assertSame(3, $pages);
        self::assertSame(array_slice(array_column($rows, 'loan_id'), 100, 450), $top);
    }

    /**
     * @return iterable<string, array{string, string}> options, and the same in SQL
     */
    public static function questions(): iterable
    {
        yield 'a condition' => ['$filter=status eq \'open\' and due lt 2030-09-01', "where status = 'open' and due < '2030-09-01' order by loan_id"];
        yield 'an order' => ['$orderby=due desc,ref&$top=20', 'order by due desc, ref, loan_id limit 20'];
        yield 'without the dollar sign' => ['filter=fee gt 900&top=5', 'where fee > 900 order by loan_id limit 5'];
        yield 'a parameter' => ['$filter=house eq @h&@h=\'bell-loft\'', "where house = 'bell-loft' order by loan_id"];
        yield 'passed over' => ['$skip=1190', 'order by loan_id limit 1190, 100'];
        yield 'nothing' => ['$top=0', 'where false'];
        yield 'a search' => ['$search="ka-7"', "where concat_ws('\n', loan_id, ref, register_no, status, house, borrower, town, post_code, phone, contact, policy, cover, fee, consignment, tags, due, packed_at, changed, note) collate utf8mb4_general_ci like '%ka-7%' order by loan_id"];
        yield 'one\'s own option' => ['trace=1&$top=1', 'order by loan_id limit 1'];
    }

    #[DataProvider('questions')]
    public function test_options_mean_what_the_same_means_in_sql(string $options, string $sql): void
    {
        $found = array_column($this->ask('/loans_out?'.strtr($options, [' ' => '%20', '"' => '%22']))->assertOk()->json('value'), 'loan_id');
        self::assertSame(array_map(static fn (object $row): int => (int) $row->loan_id, $this->rows("select loan_id from loans $sql")), $found);
    }

    /**
     * @return iterable<string, array{string, int, string}>
     */
    public static function problems(): iterable
    {
        yield 'no option' => ['/loans_out?$filtr=1', 400, 'There is no option $filtr; $filter was probably meant.'];
        yield 'an option that is not done' => ['/loans_out?$compute=fee%20add%201%20as%20more', 501, '$compute cannot be answered here.'];
        yield 'no way' => ['/loans_out?$expand=loan_item', 400, 'There is no way "loan_item" from loans_out; "loan_items" was probably meant.'];
        yield 'expanding without end' => ['/loans_out?$expand='.str_repeat('loan_items($expand=loans_out($expand=', 20).'loan_items'.str_repeat('))', 20), 400, 'At most 5 ways are followed one behind another.'];
        yield 'too many levels' => ['/loans_out?$expand=loan_items($levels=3)', 501, '$levels inside $expand'];
        yield 'a parenthesis' => ['/loans_out?$expand=loan_items($top=1', 400, 'A parenthesis is not closed.'];
        yield 'expanded twice' => ['/loans_out?$expand=loan_items,loan_items', 400, 'loan_items is said once'];
        yield 'a way from many' => ['/loans_out/loan_items', 404, 'is reached from one row of loans_out'];
        yield 'no property' => ['/loans_out(7617)/nothing', 404, 'There is no "nothing" behind a row of loans_out.'];
        yield 'a step that is not done' => ['/loans_out?$apply=topcount(3,fee)', 501, 'topcount in $apply cannot be answered here'];
        yield 'a sum of texts' => ['/loans_out?$apply=aggregate(ref%20with%20sum%20as%20n)', 400, 'sum does not take ref, which is a text.'];
        yield 'a group of nothing' => ['/loans_out?$apply=groupby((hose))', 400, '"house" was probably meant.'];
        yield 'behind a way that is not followed' => ['/loans_out?$select=loan_items/title', 400, 'goes behind loan_items, which $expand does not name'];
        yield 'twice' => ['/loans_out?$top=1&top=2', 400, '$top is said once.'];
        yield 'no count' => ['/loans_out?$count=yes', 400, '$count is true or false.'];
        yield 'no set' => ['/nothing', 404, 'There is no feed "nothing"'];
        yield 'no row' => ['/loans_out(1)', 404, 'There is no loans_out(1).'];
        yield 'a key of a column' => ['/loans_out(loan_id)', 400, 'is no value of a key'];
        yield 'a key as a text' => ["/loans_out('7613')", 400, 'cannot be compared'];
        yield 'half a key' => ['/loan_items(loan_id=7613)', 400, 'is written (loan_id=value,line=value)'];
        yield 'a filter' => ['/loans_out?$filter=geo.distance(ref,ref)%20lt%205', 501, 'The function geo.distance'];
        yield 'words in a search' => ['/loans_out?$search=a%20OR%20b', 501, 'OR in $search'];
        yield 'a made-up place' => ['/loans_out?$skiptoken=x', 400, 'is no address of a next page'];
    }

    #[DataProvider('problems')]
    public function test_what_is_not_answered_is_said_as_the_protocol_says_it(string $address, int $status, string $says): void
    {
        $answer = $this->ask($address)->assertStatus($status);
        self::assertStringContainsString($says, (string) $answer->json('error.message'));
        self::assertNotSame('', (string) $answer->json('error.code'));
    }

    public function test_one_entity_and_how_many_there_are(): void
    {
        self::assertSame('RW-7617', $this->ask('/loans_out(7617)')->assertOk()->json('ref'));
        self::assertSame(['@odata.context', 'ref'], array_keys($this->ask('/loans_out(loan_id=7617)?$select=ref')->assertOk()->json()));
        $line = $this->rows('select loan_id, line, title from loan_items order by loan_id, line limit 1')[0];
        self::assertSame($line->title, $this->ask("/loan_items(loan_id=$line->loan_id,line=$line->line)")->assertOk()->json('title'));
        self::assertSame((string) $this->rows("select count(*) n from loans where status = 'open'")[0]->n, (string) $this->ask('/loans_out/$count?$filter=status%20eq%20\'open\'')->assertOk()->getContent());
        $texts = $this->ask('/loans_out?$top=1', ['Accept' => 'application/json;IEEE754Compatible=true'])->assertOk();
        self::assertSame('7613', $texts->json('value.0.loan_id'));
        self::assertStringContainsString('IEEE754Compatible=true', (string) $texts->headers->get('Content-Type'));
        $etag = (string) $this->ask('/loans_out?$top=1')->headers->get('ETag');
        $this->ask('/loans_out?$top=1', ['If-None-Match' => $etag])->assertStatus(304);
        self::assertSame('odata', FeedCall::query()->latest('id')->value('form'));
    }

    public function test_libraries_that_nobody_here_wrote_read_the_service(): void
    {
        [$server, $port] = $this->served();
        try {
            $process = proc_open(['node', base_path('tests/JavaScript/feed-clients.mjs')], [1 => ['pipe', 'w'], 2 => ['pipe', 'w']], $pipes, base_path(), ['FEEDS' => "http://127.0.0.1:$port/odata/v1", 'FEED_KEY' => $this->key] + getenv());
            self::assertIsResource($process);
            $found = json_decode((string) stream_get_contents($pipes[1]), true);
            $said = (string) stream_get_contents($pipes[2]);
            proc_close($process);
        } finally {
            $server->stop(1);
        }
        self::assertIsArray($found, $said);
        $ids = fn (string $sql): array => array_map(static fn (object $row): int => (int) $row->loan_id, $this->rows("select loan_id from loans $sql"));
        self::assertSame(['open' => $ids("where status = 'open' and due < '2030-10-01' order by due desc, loan_id limit 20"), 'entity' => 'RW-7617', 'all' => [5, $ids('order by loan_id')]], $found['one']);
        self::assertSame(['dear' => $ids("where status = 'open' and fee > 500 order by loan_id limit 30"), 'entity' => 'RW-7617', 'count' => count($ids("where status = 'open'")), 'named' => 1], $found['other']);
    }

    /**
     * The application reads its own feed over HTTP as it would any service: what is kept of it is what is in the table.
     */
    public function test_rows_kept_from_a_feed_equal_the_table_digit_for_digit(): void
    {
        $table = $this->keptOfItself('odata/v1', 4, 'loans_out', $this->key);
        $columns = array_column($this->feed->columns, 'column');
        $list = implode(', ', array_map(static fn (string $name): string => "`$name`", $columns));
        self::assertSame([], $this->rows("(select $list from loans except select $list from `$table`) union all (select $list from `$table` except select $list from loans)"));
        self::assertSame(1200, (int) $this->rows("select count(*) n from `$table`")[0]->n);
    }
}
