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
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Testing\TestResponse;

/**
 * What a feed says of itself, held against what it does; and its sheets and commands.
 */
final class FeedDocumentsTest extends AppTestCase
{
    private User $owner;

    private Feed $feed;

    private Consumer $consumer;

    private string $key;

    protected function setUp(): void
    {
        parent::setUp();
        $this->owner = $this->person(Role::Analyst);
        $this->refresh($this->source(), 'loans');
        $book = app(FeedBook::class);
        $this->feed = $book->draft(KeptTable::query()->where('name', 'loans')->sole(), $this->owner);
        $book->change($this->feed, ['title' => 'Loans that are out'], $this->owner);
        $book->publish($this->feed, $this->owner);
        $this->consumer = Consumer::query()->create(['user_id' => $this->owner->id, 'name' => 'Courier planning', 'a_minute' => 100_000]);
        $this->consumer->feeds()->attach($this->feed);
        $this->key = app(KeyRing::class)->give($this->consumer, null, $this->owner);
    }

    private function ask(string $address): TestResponse
    {
        return $this->get($address, ['X-Api-Key' => $this->key]);
    }

    /**
     * Calls made from the document alone, right and wrong ones, answer as it says.
     */
    public function test_calls_made_from_the_description_answer_as_it_says(): void
    {
        $document = $this->ask('/feeds/v1/loans/openapi.json')->assertOk()->json();
        $operation = $document['paths']['/v1/loans']['get'];
        $row = $document['components']['schemas'][substr($operation['responses']['200']['content']['application/json']['schema']['properties']['rows']['items']['$ref'], strlen('#/components/schemas/'))];
        mt_srand(18);
        $seen = [];
        for ($number = 0; $number < 500; $number++) {
            $query = [];
            foreach ($operation['parameters'] as $parameter) {
                if (mt_rand(0, 3) === 0 && $parameter['name'] !== 'after') {
                    $query[$parameter['name']] = self::some($parameter['name'], $parameter['schema'], array_keys($row['properties']));
                }
            }
            $answer = $this->ask('/feeds/v1/loans?'.http_build_query($query));
            $status = (string) $answer->getStatusCode();
            $seen[$status] = ($seen[$status] ?? 0) + 1;
            $types = array_keys($operation['responses'][$status]['content'] ?? []);
            $type = explode(';', (string) $answer->headers->get('Content-Type'))[0];
            self::assertContains($type, $types, "$status for ".json_encode($query).' '.substr((string) $answer->getContent(), 0, 300));
            if ($status === '200' && $type === 'application/json') {
                foreach ($answer->json('rows') as $one) {
                    foreach ($one as $name => $value) {
                        self::assertContains(self::typeOf($value), (array) ($row['properties'][$name]['type'] ?? [self::typeOf($value)]), $name);
                    }
                    self::assertSame(isset($query['fields']) ? array_values(array_unique(explode(',', $query['fields']))) : array_keys($row['properties']), array_keys($one));
                }
            } elseif ($status === '200') {
                // Without rows, NDJSON is empty; every other form has a head.
                self::assertTrue($answer->streamedContent() !== '' || $type === 'application/x-ndjson' && (isset($query['filter']) || isset($query['search'])));
            } else {
                self::assertSame((int) $status, $answer->json('status'));
            }
        }
        self::assertGreaterThan(250, $seen['200']);
        self::assertGreaterThan(10, $seen['400']);
        self::assertSame([], array_diff(array_map(strval(...), array_keys($seen)), ['200', '400', '501']));
    }

    /**
     * @param  array<string, mixed>  $schema
     * @param  list<string>  $columns
     */
    private static function some(string $name, array $schema, array $columns): string
    {
        $column = $columns[mt_rand(0, count($columns) - 1)];

        return match (true) {
            isset($schema['enum']) => $schema['enum'][mt_rand(0, count($schema['enum']) - 1)],
            $schema['type'] === 'integer' => (string) mt_rand($schema['minimum'], 40),
            $schema['type'] === 'array' => implode(',', array_map(static fn (): string => $columns[mt_rand(0, count($columns) - 1)], range(1, mt_rand(1, 4)))),
            $name === 'filter' => ["$column ne null", "$column eq 'a'", 'loan_id gt '.mt_rand(0, 9999), "contains(ref,'".mt_rand(0, 9)."')", "matchesPattern(ref,'a')", '))'][mt_rand(0, 5)],
            $name === 'order' => $column.[' desc', '', ' up'][mt_rand(0, 2)],
            default => ['a', "'", '%', '7613'][mt_rand(0, 3)],
        };
    }

    private static function typeOf(mixed $value): string
    {
        return match (true) {
            $value === null => 'null', is_bool($value) => 'boolean', is_int($value) => 'integer', is_float($value) => 'number', is_string($value) => 'string', default => 'object',
        };
    }

    public function test_the_description_is_read_by_what_reads_descriptions_here(): void
    {
        $text = (string) $this->ask('/feeds/openapi.json')->assertOk()->getContent();
        $described = Importers::read(new ImportInput($text));
        self::assertCount(1, $described->endpoints);
        $endpoint = $described->endpoints[0]->endpoint;
        self::assertSame('/v1/loans', $endpoint['ask']['path']);
        self::assertSame([], array_diff(['filter', 'order', 'fields', 'search', 'total', 'as'], array_column($endpoint['ask']['inputs'], 'name')));
        self::assertSame(['next-link', '$.next'], [$endpoint['onward']['style'], $endpoint['onward']['link']]);
        $types = array_column($endpoint['flatten']['columns'], 'type', 'name');
        self::assertSame(['integer', 'date', 'datetime'], [$types['loan_id'], $types['due'], $types['changed']]);
        $this->get('/feeds/openapi.json')->assertStatus(401);
        $this->ask('/feeds/v2/loans/openapi.json')->assertStatus(404);
    }

    public function test_programs_of_the_documentation_run_as_they_stand(): void
    {
        $page = $this->actingAs($this->owner)->get("/outlets/{$this->feed->id}/documentation")->assertOk()->getContent();
        $programs = (new \App\Http\Outlets\FeedDocumentation($this->feed, KeptTable::query()->where('name', 'loans')->sole()))->programs();
        self::assertSame(['curl', 'Python', 'R', 'PHP', 'JavaScript'], array_keys($programs));
        foreach ($programs as $text) {
            self::assertStringContainsString(e($text), (string) $page);
            self::assertStringContainsString('/feeds/v1/loans', $text);
        }
    }

    public function test_a_sheet_is_saved_published_and_told_where_it_cannot_be(): void
    {
        $this->actingAs($this->owner);
        $made = $this->post('/outlets', ['table' => 'loan_items'])->assertRedirect();
        $feed = Feed::query()->where('reads', 'loan_items')->sole();
        $made->assertRedirect("/outlets/$feed->id");
        $page = (string) $this->get("/outlets/$feed->id")->assertOk()->assertSee('not published')->getContent();
        $form = $this->fields($page, 'feed-form');
        self::assertSame(count($feed->columns), count($form['columns']));
        $form['condition'] = 'valu gt 5';
        $this->post("/outlets/$feed->id", $form)->assertSessionHasErrors('condition');
        self::assertStringContainsString('valu gt 5', (string) $this->get("/outlets/$feed->id")->assertSee('was probably meant')->getContent());
        self::assertSame('', $feed->refresh()->condition);
        $form['condition'] = 'value gt 5';
        $out = count($form['columns']) - 1;
        unset($form['columns'][$out]['shown']);
        $this->post("/outlets/$feed->id", ['then' => 'publish', 'readers' => [(string) $this->consumer->id, '999']] + $form)->assertSessionHasNoErrors();
        self::assertTrue($feed->refresh()->is_on);
        self::assertSame([$this->consumer->id], $feed->consumers()->pluck('consumers.id')->all());
        self::assertNotContains($form['columns'][$out]['column'], array_column($feed->columns, 'column'));
        $this->get("/outlets/$feed->id")->assertOk()->assertSee('{"rows":[');
        // Another than the owner sees it, and changes nothing.
        $this->actingAs($this->person(Role::Builder));
        $this->get("/outlets/$feed->id")->assertOk()->assertDontSee('Turn off');
        $this->post("/outlets/$feed->id", $form)->assertForbidden();
        $this->post("/outlets/$feed->id/off")->assertForbidden();
        $this->actingAs($this->owner)->post("/outlets/$feed->id/off")->assertRedirect();
        self::assertFalse($feed->refresh()->is_on);
        $this->delete("/outlets/$feed->id")->assertRedirect('/outlets');
        self::assertNotContains($feed->view(), $this->tablesInTrial());
    }

    public function test_a_feed_is_found_and_named_where_its_rows_would_go(): void
    {
        $found = static fn (array $items): array => array_map(static fn (\App\Http\Find\FoundItem $one): array => [$one->kind, $one->name], $items);
        $all = $found(app(\App\Http\Find\Finder::class)->find($this->owner, $this->trial(), 'that are out'));
        self::assertContains(['feed', 'loans'], $all);
        self::assertContains(['reader', 'Courier planning'], $found(app(\App\Http\Find\Finder::class)->find($this->owner, $this->trial(), 'courier pl')));
        $this->actingAs($this->person(Role::Builder))->get('/tables/loans')->assertOk()->assertSee('Handed out as')->assertSee('A feed that hands out rows from here cannot be read any more: v1/loans.');
    }

    public function test_a_reader_gets_a_key_once_and_settings_are_checked(): void
    {
        $this->actingAs($this->owner);
        $this->post('/outlets/readers', ['name' => "Insurer's portal"])->assertRedirect();
        $reader = Consumer::query()->where('name', "Insurer's portal")->sole();
        $this->post('/outlets/readers', ['name' => "Insurer's portal"])->assertSessionHasErrors('name');
        $this->post("/outlets/readers/$reader->id/keys", ['ends_on' => '2099-02-30'])->assertSessionHasErrors('ends_on');
        $this->post("/outlets/readers/$reader->id/keys", ['ends_on' => '2001-01-01'])->assertSessionHasErrors('ends_on');
        $this->post("/outlets/readers/$reader->id/keys", ['ends_on' => '2099-02-28'])->assertSessionHasNoErrors();
        $plain = (string) session('key');
        self::assertStringStartsWith('ds_', $plain);
        $this->get("/outlets/readers/$reader->id")->assertSee($plain);
        $this->get("/outlets/readers/$reader->id")->assertDontSee($plain)->assertSee(substr($plain, 0, 10));
        $good = ['name' => 'Portal', 'purpose' => '', 'addresses' => '192.0.2.0/24, 2001:db8::/32', 'a_minute' => '5', 'a_day' => '100', 'rows_a_day' => '', 'at_once' => '2'];
        foreach (['addresses' => '192.0.2.0/33', 'a_minute' => '0', 'a_day' => 'many', 'rows_a_day' => '-1', 'at_once' => '1000'] as $field => $bad) {
            $this->post("/outlets/readers/$reader->id", [$field => $bad] + $good)->assertSessionHasErrors($field);
        }
        $this->post("/outlets/readers/$reader->id", $good)->assertSessionHasNoErrors();
        self::assertSame(['Portal', ['192.0.2.0/24', '2001:db8::/32'], 5, null], [$reader->refresh()->name, $reader->addresses, $reader->a_minute, $reader->rows_a_day]);
        $this->actingAs($this->person(Role::Builder))->post("/outlets/readers/$reader->id/keys")->assertForbidden();
        $this->delete("/outlets/readers/$reader->id/keys/{$reader->keys()->sole()->id}")->assertForbidden();
    }

    public function test_the_command_publishes_gives_keys_and_turns_off(): void
    {
        $said = static function (string $words): array {
            $code = Artisan::call($words);

            return [$code, Artisan::output()];
        };
        self::assertSame(2, $said('spring:feed publish loan_items')[0]);
        [$code, $out] = $said("spring:feed publish loan_items --environment=trial --by={$this->owner->email} --as=items-dear --where=\"value gt 1000\"");
        self::assertSame(0, $code, $out);
        self::assertStringContainsString('/feeds/v1/items-dear', $out);
        self::assertSame(1, $said("spring:feed publish loan_items --environment=trial --by={$this->owner->email} --as=\"Items Dear\"")[0]);
        self::assertSame(2, Feed::query()->count());
        [$code, $out] = $said('spring:feed key "Courier planning" --feed=items-dear --until=2099-12-31');
        self::assertSame(0, $code);
        preg_match('/ds_\w{39}/', $out, $key);
        $this->key = $key[0];
        $this->ask('/feeds/items-dear?top=3')->assertOk()->assertJsonCount(3, 'rows');
        self::assertStringContainsString("v1/items-dear\ton\tloan_items", $said('spring:feed list')[1]);
        self::assertSame(0, $said('spring:feed off items-dear')[0]);
        $this->ask('/feeds/items-dear?top=3')->assertStatus(404);
        self::assertSame(2, $said('spring:feed off nothing')[0]);
        self::assertSame(1, FeedCall::query()->count());
    }
}
