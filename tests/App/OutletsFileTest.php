<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Consumer;
use App\Models\Feed;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\User;
use App\Outlets\CannotPublish;
use App\Outlets\FeedBook;
use App\Outlets\KeyRing;
use App\Outlets\OutletsFile;
use App\Outlets\OutletsImport;
use App\Reservoir\Views;
use Illuminate\Support\Facades\Artisan;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Feeds and readers as a file: what is written out and taken over is the same at both ends.
 */
final class OutletsFileTest extends AppTestCase
{
    private User $owner;

    private string $key;

    protected function setUp(): void
    {
        parent::setUp();
        $this->owner = $this->person(Role::Analyst);
        $this->refresh($this->source(), 'loans');
        $book = app(FeedBook::class);
        $loans = $book->draft($this->table('loans'), $this->owner);
        $book->change($loans, ['name' => 'loans-open', 'title' => 'What is out: "now"', 'about' => "Two lines\nof text", 'columns' => [['name' => 'number', 'column' => 'loan_id'], ['name' => 'due', 'column' => 'due'], ['name' => 'house', 'column' => 'house']], 'key' => ['number'], 'condition' => "status eq 'open'", 'sort' => 'due desc', 'page' => 50, 'most' => 700, 'for_people' => false, 'cache_seconds' => 60, 'oldest_minutes' => 90, 'origins' => ['https://portal.saltmarsh.example']], $this->owner);
        $book->publish($loans, $this->owner);
        $book->draft($this->table('loan_items'), $this->owner);
        $consumer = Consumer::query()->create(['user_id' => $this->owner->id, 'name' => 'Courier planning', 'purpose' => 'routes', 'addresses' => ['192.0.2.0/24'], 'values' => ['house' => 'bell-loft'], 'refreshes' => ['trial/loans'], 'rows_a_day' => 5000]);
        $consumer->feeds()->attach($loans->id);
        $this->key = app(KeyRing::class)->give($consumer, null, $this->owner);
    }

    private function table(string $name): KeptTable
    {
        return KeptTable::query()->where(['name' => $name, 'environment_id' => $this->trial()->id])->sole();
    }

    public function test_what_is_written_out_says_all_of_it_and_no_key(): void
    {
        $text = OutletsFile::now()->text();
        self::assertStringNotContainsString(substr($this->key, 10), $text);
        self::assertStringContainsString('number = loan_id', $text);
        $again = OutletsFile::read($text);
        self::assertEquals(OutletsFile::now(), $again);
        self::assertSame([[2, 1], []], [[count($again->feeds), count($again->readers)], $again->changes(OutletsFile::now())]);
        self::assertSame($text, $again->text());
    }

    public function test_what_was_deleted_comes_back_as_it_was(): void
    {
        $was = OutletsFile::now();
        $id = Feed::query()->where('name', 'loans-open')->sole();
        app(FeedBook::class)->delete($id, $this->owner);
        Feed::query()->get()->each(fn (Feed $feed) => app(FeedBook::class)->delete($feed, $this->owner));
        Consumer::query()->delete();
        $changes = app(OutletsImport::class)->take(OutletsFile::read($was->text()), $this->person(Role::Administrator));
        self::assertSame(['The reader Courier planning is added.', 'The feed loan-items (version 1) is added.', 'The feed loans-open (version 1) is added.'], $changes);
        self::assertEquals($was, OutletsFile::now());
        $feed = Feed::query()->where('name', 'loans-open')->sole();
        $key = app(KeyRing::class)->give(tap(Consumer::query()->sole(), fn (Consumer $one) => $one->update(['addresses' => []])), null, $this->owner);
        self::assertSame((int) $this->rows("select count(*) n from loans where status = 'open'")[0]->n, $this->get('/feeds/loans-open?total=1', ['X-Api-Key' => $key])->assertOk()->json('total'));
        self::assertTrue(app(Views::class)->exists($this->trial(), $feed->view()));
    }

    public function test_it_is_taken_over_whole_or_not_at_all(): void
    {
        $was = OutletsFile::now();
        $text = str_replace(['page: 50', 'name: loan-items', 'reads: loan_items'], ['page: 40', 'name: lines', 'reads: nothing'], $was->text());
        try {
            app(OutletsImport::class)->take(OutletsFile::read($text), $this->owner);
            self::fail('It was taken over.');
        } catch (CannotPublish $cannot) {
            self::assertSame('The feed lines reads nothing, which is not in Trial.', $cannot->getMessage());
        }
        self::assertEquals($was, OutletsFile::now());
        // What readers would lose has to be insisted on.
        $less = str_replace("      - due\n", '', str_replace('order: \'due desc\'', "order: ''", $was->text()));
        self::assertNotSame($was->text(), $less);
        try {
            app(OutletsImport::class)->take(OutletsFile::read($less), $this->owner);
            self::fail('It was taken over.');
        } catch (CannotPublish $cannot) {
            self::assertStringContainsString('Readers would lose something: due is gone.', $cannot->getMessage());
        }
        self::assertNotSame([], app(OutletsImport::class)->take(OutletsFile::read($less), $this->owner, true));
        self::assertSame(['number', 'house'], array_column(Feed::query()->where('name', 'loans-open')->sole()->columns, 'name'));
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function unreadable(): iterable
    {
        yield 'nothing' => ['', 'does not begin with "outlets: 1"'];
        yield 'no YAML' => ["outlets: 1\nfeeds: [", 'The file is no YAML'];
        yield 'another version' => ['outlets: 2', 'does not begin with "outlets: 1"'];
        yield 'another word' => ["outlets: 1\nfeed: []", '"feeds" was probably meant'];
        yield 'no list' => ["outlets: 1\nfeeds: {a: 1}", 'feeds is a list.'];
        yield 'a field of another name' => ["outlets: 1\nreaders: [{name: A, ower: x}]", 'reader 1 (A) says "ower", which is not known; "owner" was probably meant.'];
        yield 'a field that is missing' => ["outlets: 1\nreaders: [{name: A}]", 'reader 1 (A) does not say owner.'];
        yield 'another type' => ["outlets: 1\nreaders: [{name: A, owner: x, at_once: many}]", 'at_once is a whole number.'];
        yield 'twice' => ["outlets: 1\nreaders: [{name: A, owner: x}, {name: A, owner: x}]", 'A is there twice.'];
        yield 'an object of PHP' => ["outlets: 1\nreaders: !php/object 'O:8:\"stdClass\":0:{}'", 'The file is no YAML'];
    }

    #[DataProvider('unreadable')]
    public function test_a_file_that_is_none_is_refused_in_a_sentence(string $text, string $says): void
    {
        $this->expectException(CannotPublish::class);
        $this->expectExceptionMessage($says);
        OutletsFile::read($text);
    }

    public function test_the_page_compares_and_administrators_take_it_over(): void
    {
        $text = str_replace('page: 50', 'page: 40', OutletsFile::now()->text());
        $this->actingAs($this->owner)->get('/outlets/file')->assertOk()->assertSee('loans-open')->assertDontSee('Take it over');
        $this->followingRedirects()->post('/outlets/file', ['text' => $text, 'then' => 'compare'])->assertSee('The feed loans-open (version 1): page was 50 and becomes 40.');
        $this->post('/outlets/file', ['text' => $text, 'then' => 'take'])->assertForbidden();
        $this->actingAs($this->person(Role::Administrator))->followingRedirects()->post('/outlets/file', ['text' => 'outlets: 3', 'then' => 'take'])->assertSee('does not begin with')->assertSee('Nothing was changed.');
        $this->followingRedirects()->post('/outlets/file', ['text' => $text, 'then' => 'take'])->assertSee('Taken over:');
        self::assertSame(40, Feed::query()->where('name', 'loans-open')->value('page'));
    }

    public function test_the_command_line_does_the_same(): void
    {
        Artisan::call('spring:feed', ['do' => 'export']);
        $file = (string) tempnam(sys_get_temp_dir(), 'outlets');
        try {
            file_put_contents($file, str_replace('page: 50', 'page: 40', Artisan::output()));
            Artisan::call('spring:feed', ['do' => 'compare', 'name' => $file]);
            self::assertStringContainsString('page was 50 and becomes 40', Artisan::output());
            self::assertSame(50, Feed::query()->where('name', 'loans-open')->value('page'));
            self::assertSame(0, Artisan::call('spring:feed', ['do' => 'import', 'name' => $file, '--by' => $this->owner->email]));
            self::assertSame(40, Feed::query()->where('name', 'loans-open')->value('page'));
            file_put_contents($file, 'outlets: 9');
            self::assertNotSame(0, Artisan::call('spring:feed', ['do' => 'import', 'name' => $file, '--by' => $this->owner->email]));
        } finally {
            unlink($file);
        }
    }
}
