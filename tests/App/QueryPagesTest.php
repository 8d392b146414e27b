<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\KeptTable;
use App\Models\Note;
use App\Models\QueryDraft;
use App\Models\Role;
use App\Models\Run;
use App\Models\SavedQuery;
use App\Notes\NoteBook;
use App\Queries\Keeping\QueryKeeping;
use App\Queries\QueryBook;
use App\Runs\Refresh;
use App\Schedules\FollowingRefreshes;
use App\Schedules\ScheduleBook;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Saved queries, drafts, what is kept and what is handed out, through the pages.
 */
final class QueryPagesTest extends AppTestCase
{
    public function test_a_query_is_saved_changed_compared_brought_back_and_deleted(): void
    {
        $this->actingAs($person = $this->person(Role::Analyst));
        $this->post('/queries', ['name' => 'Damp crates', 'sql' => 'select 1', 'description' => 'Crates that ran damp.', 'labels' => 'crates, weekly, crates', 'private' => '1'])->assertRedirect();
        $query = SavedQuery::query()->sole();
        self::assertSame([['crates', 'weekly'], true, 1], [$query->labels, $query->is_private, $query->version]);
        $this->post("/queries/$query->id", ['name' => 'Damp crates', 'sql' => "select 1,\n 2", 'seen' => '1', 'labels' => 'crates, weekly'])->assertRedirect("/queries/$query->id");
        $this->get("/queries/$query->id/versions")->assertOk()->assertSee('From version 1 to 2')->assertSee('select 1,')->assertSee('gone')->assertSee('into the editor');
        $this->post("/queries/$query->id/versions/1/restore")->assertRedirect();
        $this->get("/queries/$query->id")->assertSee('Not saved: what you wrote')->assertSee('select 1');
        $this->get('/queries?label=weekly')->assertOk()->assertDontSee('No query is like that');
        $this->get('/queries?label=other')->assertSee('No query is like that');
        $this->delete("/queries/$query->id")->assertRedirect('/queries');
        self::assertSame([0, 0, 0], [SavedQuery::query()->count(), QueryDraft::query()->count(), DB::table('query_versions')->count()]);
        self::assertSame($person->id, $query->user_id);
    }

    public function test_only_its_owner_sees_a_private_query_and_only_its_owner_changes_a_shared_one(): void
    {
        $owner = $this->person(Role::Analyst);
        $book = app(QueryBook::class);
        $mine = $book->add(['name' => 'Mine', 'sql' => 'select 41', 'is_private' => true], $owner);
        $ours = $book->add(['name' => 'Ours', 'sql' => 'select 42'], $owner);
        $this->actingAs($this->person(Role::Builder));
        $this->get('/queries')->assertSee('Ours')->assertDontSee('Mine')->assertDontSee('select 41');
        foreach (["/queries/$mine->id", "/queries/$mine->id/versions"] as $path) {
            $this->get($path)->assertForbidden();
        }
        $this->get("/queries/$ours->id")->assertOk()->assertSee('Save as your own');
        foreach ([['post', "/queries/$ours->id"], ['delete', "/queries/$ours->id"], ['post', "/queries/$ours->id/keep"], ['delete', "/queries/$ours->id/keep"], ['post', "/queries/$ours->id/keep/refresh"]] as [$method, $path]) {
            $this->{$method}($path, ['name' => 'Ours', 'sql' => 'select 43', 'keep_name' => 'x'])->assertForbidden();
        }
        $this->get('/find?q=Mine')->assertDontSee('Mine</');
        // A private name is nobody else's business.
        $this->post('/queries', ['name' => 'Mine', 'sql' => 'select 1'])->assertSessionHasNoErrors();
        $this->post('/queries/drafts', ['query' => (string) $mine->id, 'sql' => 'x', 'revision' => '0'])->assertNotFound();
    }

    public function test_two_tabs_keep_a_draft_each_and_of_two_that_save_the_second_is_told(): void
    {
        $this->actingAs($this->person(Role::Analyst));
        $this->post('/queries', ['name' => 'Q', 'sql' => 'select 1']);
        $query = SavedQuery::query()->sole();
        $first = $this->kept(['query' => $query->id, 'sql' => 'select 2', 'revision' => 0, 'based_on' => 1]);
        // A second tab opened with the same draft in hand, and both write.
        $again = $this->kept(['query' => $query->id, 'draft' => $first['draft'], 'revision' => $first['revision'], 'sql' => 'select 21', 'based_on' => 1]);
        $other = $this->kept(['query' => $query->id, 'draft' => $first['draft'], 'revision' => $first['revision'], 'sql' => 'select 22', 'based_on' => 1]);
        self::assertSame($first['draft'], $again['draft']);
        self::assertNotSame($first['draft'], $other['draft']);
        self::assertEqualsCanonicalizing(['select 21', 'select 22'], QueryDraft::query()->pluck('sql')->all());
        $this->post("/queries/$query->id", ['name' => 'Q', 'sql' => 'select 21', 'seen' => '1', 'draft' => (string) $again['draft']])->assertSessionHasNoErrors();
        $this->from("/queries/$query->id?draft={$other['draft']}")->followingRedirects()->post("/queries/$query->id", ['name' => 'Q', 'sql' => 'select 22', 'seen' => '1', 'draft' => (string) $other['draft']])
            ->assertSee('Version 2 of')->assertSee('was saved meanwhile')->assertSee('Nothing was written over')->assertSee('select 22')->assertSee('id="seen" value="2"', false);
        self::assertSame('select 21', $query->refresh()->sql);
        $this->post("/queries/$query->id", ['name' => 'Q', 'sql' => 'select 22', 'seen' => '2', 'draft' => (string) $other['draft']])->assertSessionHasNoErrors();
        self::assertSame([3, 'select 22', 0], [$query->refresh()->version, $query->sql, QueryDraft::query()->count()]);
        // Somebody else's draft is not there.
        $draft = $this->kept(['sql' => 'select 9', 'revision' => 0])['draft'];
        $this->actingAs($this->person(Role::Analyst));
        $this->delete("/queries/drafts/$draft");
        $this->get("/queries/new?draft=$draft")->assertDontSee('select 9');
        self::assertSame(1, QueryDraft::query()->count());
    }

    /**
     * As the editor sends it.
     *
     * @param  array<string, string|int>  $draft
     * @return array{draft: int, revision: int}
     */
    private function kept(array $draft): array
    {
        return $this->post('/queries/drafts', array_map(strval(...), $draft))->assertOk()->json();
    }

    public function test_a_query_is_kept_through_its_page_and_read_by_others(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($this->person(Role::Analyst));
        $this->post('/queries', ['name' => 'Loans by house', 'sql' => 'select house, count(*) as n from loans group by house']);
        $query = SavedQuery::query()->sole();
        $this->get("/queries/$query->id")->assertSee('Read it like a table')->assertSee('value="loans_by_house"', false);
        $this->post("/queries/$query->id/keep", ['as' => 'table', 'keep_name' => 'Loans by house', 'when' => 'after'])->assertSessionHasErrors(['keep' => 'A table cannot be called "Loans by house" here: Latin letters in lower case, digits and underscores. Call it loans_by_house, for example.']);
        $this->post("/queries/$query->id/keep", ['as' => 'table', 'keep_name' => 'by_house', 'when' => 'times', 'every' => 'at noon'])->assertSessionHasErrors('keep');
        $this->post("/queries/$query->id/keep", ['as' => 'table', 'keep_name' => 'by_house', 'when' => 'times', 'every' => '0 6 * * *', 'key' => 'house'])->assertSessionHasNoErrors();
        $this->get("/queries/$query->id")->assertSee('Waits for its turn');
        app(Refresh::class)->run(Run::query()->latest('id')->firstOrFail());
        $this->get("/queries/$query->id")->assertSee('24 rows')->assertSee('at the times')->assertDontSee('/runs/', false);
        $this->get('/tables/by_house')->assertOk()->assertSee('Open the query')->assertSee('Queries › Loans by house')->assertDontSee('Add checks');
        $this->get('/tables')->assertSee('by_house');
        $this->post("/queries/$query->id/keep/refresh")->assertRedirect();
        self::assertSame(1, Run::query()->where('state', 'queued')->count());
        Run::query()->where('state', 'queued')->update(['state' => 'stopped', 'active' => null]);
        // A reader is named before it goes.
        $this->post('/queries', ['name' => 'Reader', 'sql' => 'select * from by_house']);
        $this->delete("/queries/$query->id/keep")->assertSessionHasErrors(['unkeep' => 'by_house is read by Reader, which would fail. Press again to stop all the same.']);
        $this->delete("/queries/$query->id")->assertSessionHasErrors('delete');
        $this->delete("/queries/$query->id/keep", ['anyway' => '1'])->assertSessionHasNoErrors();
        self::assertSame(0, KeptTable::query()->where('name', 'by_house')->count());
        // What stands for it was never a source to be looked at.
        $this->actingAs($this->person());
        $this->get('/sources')->assertOk()->assertDontSee('query-');
    }

    public function test_what_is_behind_a_kept_query_is_no_source_to_anybody(): void
    {
        $this->refresh($this->source(), 'loans');
        $owner = $this->person(Role::Analyst);
        $query = app(QueryBook::class)->add(['name' => 'Refs', 'sql' => 'select ref from loans'], $owner);
        [$keep, $run] = app(QueryKeeping::class)->asTable($query, $this->trial(), 'refs', ['ref'], [], $owner);
        app(Refresh::class)->run($run);
        $slug = $keep->source->slug;
        $this->actingAs($this->person());
        foreach (["/sources/$slug", "/sources/$slug/endpoints/rows", "/sources/$slug/file", "/sources/$slug/endpoints/rows/checks"] as $path) {
            $this->get($path)->assertNotFound();
        }
        foreach (['/sources', '/environments', '/notes/following', '/find?q=query-', '/runs'] as $path) {
            $this->get($path)->assertOk()->assertDontSee($slug);
        }
        $this->get("/runs/$run->id")->assertOk()->assertSee("/queries/$query->id", false);
        $this->get('/')->assertOk()->assertSee('refs');
        $this->get('/schedule')->assertOk();
    }

    public function test_what_is_read_by_others_is_refreshed_before_them_and_each_once(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $owner = $this->person(Role::Analyst);
        $keep = fn (string $name, string $sql): Run => app(Refresh::class)->run(app(QueryKeeping::class)->asTable(app(QueryBook::class)->add(['name' => $name, 'sql' => $sql], $owner), $this->trial(), $name, [], [], $owner)[1]);
        // The last one reads the table and both queries; the others read each other and the table.
        $keep('aa', 'select ref, house from loans');
        $keep('bb', 'select l.ref from loans l join aa on aa.ref = l.ref');
        $keep('cc', 'select aa.ref from aa join bb on bb.ref = aa.ref join loans l on l.ref = aa.ref');
        app(ScheduleBook::class)->align();
        Run::query()->update(['followed' => true]);
        $this->refresh($source, 'loans');
        $order = [];
        for ($round = 0; $round < 6; $round++) {
            app(FollowingRefreshes::class)->begin();
            foreach (Run::query()->where('state', 'queued')->orderBy('id')->get() as $run) {
                app(Refresh::class)->run($run);
                $order[] = $run->endpoint->name;
            }
        }
        self::assertSame(['aa', 'bb', 'cc'], $order);
    }

    public function test_a_broken_view_is_noted_and_told_on_its_page(): void
    {
        $this->refresh($this->source(), 'loans');
        $owner = $this->person(Role::Analyst);
        $query = app(QueryBook::class)->add(['name' => 'Houses', 'sql' => 'select house from loans'], $owner);
        app(QueryKeeping::class)->asView($query, $this->trial(), 'houses', $owner);
        DB::connection('keeper')->statement('alter table deep_spring_test_data_trial.loans drop column house');
        app(QueryKeeping::class)->alignViews($this->trial());
        app(NoteBook::class)->align($this->trial());
        self::assertSame(['The view "houses" cannot be read any more: a table or column that it reads is gone, or whoever owns it may not read that any more. Open its query to mend it.'], Note::query()->where('kind', 'view')->pluck('sentence')->all());
        $this->actingAs($owner)->get("/queries/$query->id")->assertSee('The view "houses" cannot be read any more');
        $this->get('/tables/houses')->assertRedirect("/queries/$query->id");
        $this->post("/queries/$query->id", ['name' => 'Houses', 'sql' => 'select ref from loans', 'seen' => '1'])->assertSessionHasNoErrors();
        app(NoteBook::class)->align($this->trial());
        self::assertSame(0, Note::query()->whereNull('closed_at')->where('kind', 'view')->count());
    }

    public function test_of_several_statements_the_one_at_the_cursor_is_run(): void
    {
        $this->actingAs($this->person(Role::Analyst));
        $text = "select 'first' as which;\nselect 'second' as which;\nselect nothing from nowhere";
        $this->post('/queries/run', ['sql' => $text, 'cursor' => '3'])->assertSee('first')->assertDontSee('"second"', false);
        $this->post('/queries/run', ['sql' => $text, 'cursor' => '30'])->assertSee('"second"', false)->assertDontSee('"first"', false);
        $this->post('/queries/run', ['sql' => $text, 'cursor' => (string) strlen($text)])->assertSee('nowhere');
        $this->post('/queries/run', ['sql' => 'select 1 where date(now()) = \'2031-02-30\''])->assertSee('is no date: February 2031 has 28 days.')->assertSee('No row matches.');
        self::assertSame("select\n    a,\n    b\nfrom\n    t;\n\nselect\n    1", mb_strtolower((string) $this->post('/queries/tidy', ['sql' => 'select a,b from t; select 1'])->getContent()));
    }

    /**
     * @return iterable<string, array{array<string, string>, string}> how it is asked for, and the beginning of the file
     */
    public static function formats(): iterable
    {
        yield 'CSV, safe' => [['as' => 'csv'], "ref,cover,note\r\nNQ-1,12.50,'=1+1\r\nEB-2,,\"a;b \"\"c\"\"\"\r\n"];
        yield 'CSV, exact' => [['as' => 'csv', 'exact' => '1'], "ref,cover,note\r\nNQ-1,12.50,=1+1\r\n"];
        yield 'CSV with semicolons and a byte order mark' => [['as' => 'csv', 'exact' => '1', 'separator' => 'semicolon', 'encoding' => 'utf-8-bom'], "\xEF\xBB\xBFref;cover;note\r\nNQ-1;12.50;=1+1\r\nEB-2;;\"a;b \"\"c\"\"\"\r\n"];
        yield 'CSV in UTF-16' => [['as' => 'csv', 'encoding' => 'utf-16'], "\xFF\xFEr\0e\0f\0,\0"];
        yield 'TSV' => [['as' => 'tsv'], "ref\tcover\tnote\nNQ-1\t12.50\t=1+1\nEB-2\t\ta;b \"c\"\n"];
        yield 'JSON' => [['as' => 'json'], "[\n{\"ref\":\"NQ-1\",\"cover\":\"12.50\",\"note\":\"=1+1\"},\n{\"ref\":\"EB-2\",\"cover\":null,\"note\":\"a;b \\\"c\\\"\"}\n]\n"];
        yield 'NDJSON' => [['as' => 'ndjson'], "{\"ref\":\"NQ-1\",\"cover\":\"12.50\",\"note\":\"=1+1\"}\n{"];
        yield 'Markdown' => [['as' => 'md'], "| ref | cover | note |\n|---|---:|---|\n| NQ-1 | 12.50 | =1+1 |\n"];
        yield 'XLSX' => [['as' => 'xlsx'], "PK\x03\x04"];
    }

    /**
     * @param  array<string, string>  $asked
     */
    #[DataProvider('formats')]
    public function test_a_result_is_handed_out_in_each_format(array $asked, string $begins): void
    {
        $this->actingAs($this->person(Role::Analyst));
        $sql = "select 'NQ-1' as ref, cast(12.50 as decimal(8,2)) as cover, '=1+1' as note union all select 'EB-2', null, 'a;b \"c\"'";
        $page = (string) $this->post('/queries/export', $asked + ['sql' => $sql])->assertOk()->assertSee('2 rows')->getContent();
        self::assertSame($asked === ['as' => 'csv'] || ($asked['encoding'] ?? '') === 'utf-16', str_contains($page, '1 text got an apostrophe in front, since a spreadsheet would run it: note in row 1.'));
        self::assertSame(1, preg_match('~/queries/export/([a-z0-9]+)~', $page, $link));
        $file = $this->get($link[0])->assertOk()->assertDownload();
        self::assertStringStartsWith($begins, (string) file_get_contents($file->getFile()->getPathname()));
        $this->actingAs($this->person(Role::Analyst))->get($link[0])->assertNotFound();
    }

    public function test_files_are_found_again_for_an_hour_by_whoever_had_them_written(): void
    {
        $this->actingAs($person = $this->person(Role::Analyst));
        $said = (string) $this->post('/queries/export', ['sql' => 'select 1 as one union select 2', 'as' => 'csv', 'exact' => '1'])->assertOk()->getContent();
        preg_match('~/queries/export/([a-z0-9]+)~', $said, $found);
        $this->post('/queries/export', ['sql' => 'select nowhere from nothing', 'as' => 'json'])->assertOk();
        $page = $this->get('/queries')->assertOk()->assertSee('Files of the last hour')->assertSee('CSV, 2 rows')->assertSee('failed');
        self::assertStringContainsString("/queries/export/$found[1]", (string) $page->getContent());
        // One that is being written, by another tab.
        app(\App\Queries\ExportList::class)->begins($person, str_repeat('a', 24), 'xlsx', 'select 3');
        \Illuminate\Support\Facades\Cache::put("export:$person->id:".str_repeat('a', 24).':rows', 400, 60);
        $this->get('/queries')->assertSee('Being written: 400 rows so far');
        $this->actingAs($this->person(Role::Analyst))->get('/queries')->assertDontSee('Files of the last hour');
        $this->get("/queries/export/$found[1]")->assertNotFound();
    }

    public function test_an_export_that_cannot_be_is_told_and_leaves_no_file(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($person = $this->person(Role::Analyst));
        $this->post('/queries/export', ['sql' => 'drop table loans', 'as' => 'csv'])->assertOk()->assertSee('starts with select');
        $this->post('/queries/export', ['sql' => 'select nowhere from loans', 'as' => 'xlsx'])->assertSee('There is no column');
        $this->post('/queries/export', ['sql' => '', 'as' => 'csv'])->assertSee('Write a query first');
        array_map(unlink(...), glob(base_path(config('spring.var').'/tmp/exports/*')) ?: []);
        $token = str_repeat('a', 24);
        cache()->put("export:$person->id:$token:stop", true, 60);
        $this->post('/queries/export', ['sql' => 'select * from loan_items', 'as' => 'csv', 'token' => $token])->assertSee('Stopped. Nothing was written.');
        $this->get("/queries/export/$token?about=1")->assertSee('2000');
        $this->get("/queries/export/$token")->assertNotFound();
        self::assertSame([], glob(base_path(config('spring.var')."/tmp/exports/$person->id-*")));
        $this->post('/queries/export', ['sql' => 'select 1 as a, 2 as a', 'as' => 'json'])->assertSee('A second column "a" is called "a 2".');
        $this->get('/queries/export/'.rawurlencode('../../x'))->assertNotFound();
    }

    public function test_parameters_are_asked_for_saved_linked_and_kept_with_their_defaults(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($person = $this->person(Role::Analyst));
        $sql = 'select house, count(*) as n from loans where house in (:houses) and loan_id > :least group by house';
        $asks = ['k' => ['houses' => 'text', 'least' => 'number'], 'd' => ['houses' => 'north-quay', 'least' => ''], 'c' => ['houses' => "select distinct house from loans\norder by house"], 'm' => ['houses' => '1']];
        $this->post('/queries/asks', ['sql' => $sql] + $asks)->assertOk()->assertSee('<option >north-quay</option>', false)->assertSee('name="p[least]"', false)->assertSee('multiple');
        $this->post('/queries/asks', ['sql' => 'select 1'])->assertDontSee('Parameter');
        $this->post('/queries/run', ['sql' => $sql, 'p' => ['houses' => ['weir-lodge', 'bell-loft'], 'least' => '0']] + $asks)->assertSee('2 rows')->assertSee('weir-lodge');
        $this->post('/queries/run', ['sql' => $sql, 'p' => ['least' => '0']] + $asks)->assertSee('1 row')->assertSee('north-quay');
        $this->post('/queries/run', ['sql' => $sql] + $asks)->assertSee('The query asks for "least", and no value is given.', true);
        $this->post('/queries/run', ['sql' => $sql, 'p' => ['least' => '0 or 1=1']] + $asks)->assertSee('is no number');
        // The place of a mistake is one in what was written, not in what was sent.
        $this->post('/queries/run', ['sql' => 'select :houses, borower from loans', 'p' => ['houses' => 'a much longer value']])->assertSee('data-at="16" data-length="7"', false);
        $this->post('/queries', ['name' => 'By house', 'sql' => $sql] + $asks)->assertSessionHasNoErrors();
        $query = SavedQuery::query()->sole();
        self::assertSame(['kind' => 'text', 'default' => 'north-quay', 'choices' => ['select distinct house from loans', 'order by house'], 'many' => true], $query->parameters['houses'] ?? null);
        $this->get("/queries/$query->id?".http_build_query(['p' => ['least' => '7000', 'houses' => ['bell-loft']], 'run' => '1']))->assertSee('hx-trigger="click, load"', false)->assertSee('value="7000"', false)->assertSee('<option selected>bell-loft</option>', false);
        $this->post("/queries/$query->id/keep", ['as' => 'view', 'keep_name' => 'by_house'])->assertSessionHasErrors(['keep' => 'The query asks for "least", and no value is given.']);
        $asks['d']['least'] = '0';
        $this->post("/queries/$query->id", ['name' => 'By house', 'sql' => $sql, 'seen' => '1'] + $asks)->assertSessionHasNoErrors();
        self::assertSame(2, $query->refresh()->version);
        $this->post("/queries/$query->id/keep", ['as' => 'view', 'keep_name' => 'by_house'])->assertSessionHasNoErrors();
        $this->post('/queries/run', ['sql' => 'select house from by_house'])->assertSee('1 row')->assertSee('north-quay');
        [$code, $out] = $this->artisanProcess('spring:query', "--user=$person->email", 'By house', '--as=csv', '--param=houses=bell-loft', '--param=houses=weir-lodge');
        self::assertSame([0, 3], [$code, substr_count($out, "\r\n")]);
        self::assertStringContainsString('--param takes name=value', $this->artisanProcess('spring:query', "--user=$person->email", 'By house', '--param=houses')[2]);
        $page = (string) $this->post('/queries/export', ['sql' => $sql, 'as' => 'csv', 'p' => ['least' => '0']] + $asks)->assertSee('1 row')->getContent();
        self::assertStringContainsString('Get the file', $page);
    }

    public function test_a_table_is_exported_from_its_page_and_a_search_says_how_many_it_found(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($this->person(Role::Analyst));
        $this->get('/tables/loans')->assertOk()->assertSee('Export')->assertSee('select * from loans')->assertSee('of 1', false);
        $sql = "select count(*) as n from loans where concat_ws('|', ref, register_no, status, house, borrower, borrower_code) like '%north-quay%'";
        $found = app(\App\Queries\QueryRunner::class)->run($this->person(Role::Analyst), $this->trial(), $sql)->rows[0][0];
        self::assertGreaterThan(20, (int) $found);
        $this->get('/tables/loans?q=north-quay')->assertSee("of $found that have it");
        $this->post('/queries/export', ['sql' => 'select * from loans', 'as' => 'csv', 'exact' => '1'])->assertSee(' as CSV');
    }

    public function test_examples_are_made_from_the_tables_there_are_and_run_as_they_stand(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $this->refresh($this->source('stores'), 'positions');
        $this->actingAs($person = $this->person(Role::Analyst));
        $this->get('/queries/examples')->assertOk()->assertSee('Examples made from');
        foreach (['loans' => 11, 'loan_items' => 4, 'positions' => 4] as $table => $least) {
            $page = (string) $this->get("/queries/examples?of=$table")->assertOk()->getContent();
            preg_match_all('/data-insert="([^"]+)"/', $page, $found);
            self::assertGreaterThanOrEqual($least, count($found[1]), $table.': '.implode('; ', $found[1]));
            foreach ($found[1] as $sql) {
                $sql = html_entity_decode($sql, ENT_QUOTES);
                app(\App\Queries\QueryRunner::class)->run($person, $this->trial(), $sql);
            }
        }
        // Every day is there, and every row is counted.
        $run = fn (string $sql): array => app(\App\Queries\QueryRunner::class)->run($person, $this->trial(), $sql)->rows;
        $examples = array_column(\DeepSpring\Sql\Examples::of('loans', ['loan_id' => 'integer', 'house' => 'text', 'packed_at' => 'datetime', 'fee' => 'decimal'], ['loan_id'], [], []), 'sql', 'title');
        $days = $run($examples['Per day, with days without any']);
        self::assertSame($run('select datediff(max(packed_at), min(packed_at)) + 1 from loans')[0][0], (string) count($days));
        self::assertSame($run('select count(packed_at) from loans')[0][0], (string) array_sum(array_column($days, 1)));
        self::assertContains('0', array_column($days, 1));
        $each = $run($examples['Per day: lowest, highest, mean, first, last and change of fee'].' limit 5');
        foreach ($each as [$day, $n, $lowest, $highest, , $first, $last, $changed]) {
            $fees = array_column($run("select fee from loans where date(packed_at) = '$day' and fee is not null order by packed_at"), 0);
            self::assertEquals([count($fees), min($fees), max($fees), $fees[0], end($fees), bcsub((string) end($fees), (string) $fees[0], 2)], [(int) $n, $lowest, $highest, $first, $last, $changed]);
        }
        KeptTable::query()->delete();
        $this->get('/queries/examples')->assertSee('Once a table is kept');
    }

    public function test_the_command_line_writes_every_format_and_runs_saved_queries_by_name(): void
    {
        $this->refresh($this->source(), 'loans');
        $person = $this->person(Role::Analyst);
        app(QueryBook::class)->add(['name' => 'First loans', 'sql' => 'select loan_id, ref from loans order by loan_id limit 2'], $person);
        $file = sys_get_temp_dir().'/spring-query-'.bin2hex(random_bytes(4)).'.xlsx';
        $ask = fn (string ...$words): array => $this->artisanProcess('spring:query', "--user=$person->email", ...$words);
        self::assertSame([0, "loan_id,ref\r\n7613,KB-7613\r\n7614,WL-7614\r\n"], array_slice($ask('First loans', '--as=csv'), 0, 2));
        self::assertSame("{\"loan_id\":7613,\"ref\":\"KB-7613\"}\n", $ask('select loan_id, ref from loans order by loan_id limit 1', '--as=ndjson')[1]);
        [$code, $out, $said] = $ask('select 1; select 2', '--as=xlsx', "--output=$file");
        self::assertSame([0, ''], [$code, $out]);
        self::assertStringContainsString('2 rows in', $said);
        self::assertStringStartsWith('PK', (string) file_get_contents($file));
        unlink($file);
        foreach ([['select 1; select 2', '--as=csv'], ['select nowhere from loans'], ['']] as $words) {
            self::assertGreaterThan(0, $ask(...$words)[0]);
        }
        foreach ([['select 1', '--as=xlsx'], ['select 1', '--as=word'], ['select 1', '--watch=soon'], ['select 1', '--as=csv', '--separator=dash']] as $words) {
            [$code, , $said] = $ask(...$words);
            self::assertGreaterThan(0, $code);
            self::assertMatchesRegularExpression('/--\w+/', $said);
        }
    }
}
