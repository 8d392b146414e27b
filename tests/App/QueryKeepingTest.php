<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\KeptTable;
use App\Models\QueryKeep;
use App\Models\Role;
use App\Models\Run;
use App\Models\RunState;
use App\Models\SavedQuery;
use App\Models\User;
use App\Queries\CannotSave;
use App\Queries\Keeping\CannotKeep;
use App\Queries\Keeping\QueryKeeping;
use App\Queries\Keeping\ReadingOrder;
use App\Queries\QueryBook;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Reservoir\Views;
use App\Runs\Refresh;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;

final class QueryKeepingTest extends AppTestCase
{
    private User $owner;

    protected function setUp(): void
    {
        parent::setUp();
        $this->owner = $this->person(Role::Analyst);
    }

    private function query(string $name, string $sql): SavedQuery
    {
        return app(QueryBook::class)->add(['name' => $name, 'sql' => $sql], $this->owner);
    }

    private function keeping(): QueryKeeping
    {
        return app(QueryKeeping::class);
    }

    /**
     * @return list<list<string|null>>
     */
    private function asked(string $sql, ?User $as = null): array
    {
        return app(QueryRunner::class)->run($as ?? $this->owner, $this->trial(), $sql)->rows;
    }

    public function test_a_view_is_always_what_is_there_now(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $query = $this->query('Loans by house', "select house, count(*) as loans\nfrom loans -- all of them\ngroup by house");
        $keep = $this->keeping()->asView($query, $this->trial(), 'loans_by_house', $this->owner);
        self::assertSame(['loans'], $keep->reads);
        $reader = $this->person(Role::Analyst);
        $before = $this->asked('select sum(loans) from loans_by_house', $reader);
        self::assertSame('1200', $before[0][0]);
        DB::connection('keeper')->statement('delete from deep_spring_test_data_trial.loans limit 200');
        self::assertSame('1000', $this->asked('select sum(loans) from loans_by_house', $reader)[0][0]);
        $table = KeptTable::query()->where('name', 'loans_by_house')->firstOrFail();
        self::assertTrue($table->is_view);
        self::assertSame(['house', 'loans'], array_column($table->columns, 'name'));
    }

    public function test_a_view_reads_as_its_owner_and_only_what_the_owner_may(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->keeping()->asView($this->query('All loans', 'select ref, house from loans'), $this->trial(), 'all_loans', $this->owner);
        $reader = $this->person(Role::Analyst);
        self::assertCount(1, $this->asked('select * from all_loans limit 1', $reader));
        // What nobody may read any more, no view shows.
        $this->keeping()->asView($this->query('Around it', 'select ref from all_loans'), $this->trial(), 'around_it', $this->person(Role::Analyst));
        KeptTable::query()->where('name', 'loans')->delete();
        try {
            $this->asked('select * from around_it limit 1', $reader);
            self::fail('The view showed what its owner may not read.');
        } catch (QueryRefused $refused) {
            self::assertStringContainsString('around_it', $refused->getMessage());
        }
        // And nobody may define another thing under that name, or change it.
        $made = DB::connection('keeper')->select("select Table_priv as p from mysql.tables_priv where Table_name = 'all_loans'");
        self::assertSame(['Select'], array_values(array_unique(array_column($made, 'p'))));
    }

    public function test_rows_are_kept_with_every_digit_and_refreshed_after_what_they_read(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $sql = "select ref, due, cover, cast(loan_id as decimal(40,0)) * 1000000000000000000000000000.5 as wide, 1e300 as large, null as nothing, '' as blank, concat('0', loan_id) as code, cast(due as datetime(6)) as at, cast('30:00:00' as time) as lasts, loan_id > 8000 as late from loans";
        [$keep, $run] = $this->keeping()->asTable($this->query('Wide', $sql), $this->trial(), 'wide_loans', ['ref'], [], $this->owner);
        $run = app(Refresh::class)->run($run);
        self::assertSame([RunState::Done, 1200, 0], [$run->state, $run->rows, $run->rejects], (string) json_encode([$run->diagnosis, \App\Models\RejectedValue::query()->limit(3)->get(['path', 'value', 'reason'])]));
        $columns = implode(', ', array_map(static fn (array $one): string => "`{$one['name']}`", KeptTable::query()->where('name', 'wide_loans')->firstOrFail()->columns));
        self::assertSame($this->asked("$sql order by ref"), $this->asked("select $columns from wide_loans order by ref"));
        self::assertSame(['loans'], $keep->refresh()->source->published()?->endpoint('rows')?->endpoint['keep']['refresh']['after']);
        self::assertSame(['ref'], KeptTable::query()->where('name', 'wide_loans')->firstOrFail()->key);
    }

    public function test_a_lookup_asks_for_each_row_of_a_query(): void
    {
        $this->refresh($this->source(), 'loans');
        [, $run] = $this->keeping()->asTable($this->query('Under way', "select loan_id, borrower, consignment from loans where status = 'out' and consignment is not null and loan_id > 8600"), $this->trial(), 'under_way', ['loan_id'], [], $this->owner);
        self::assertSame(RunState::Done, app(Refresh::class)->run($run)->state);
        $rows = $this->asked('select loan_id, borrower from under_way order by loan_id');
        self::assertGreaterThan(5, count($rows));
        $run = $this->refresh($this->source('freight-tracker', ['table: loans, column: consignment' => 'table: under_way, column: consignment', 'tries: 2' => 'tries: 6']), 'consignment');
        self::assertSame(RunState::Done, $run->state, (string) json_encode($run->diagnosis));
        // Each row was asked for, and what is not among the rows is among the counts.
        self::assertSame(count($rows), $run->lookup['rows'] ?? 0);
        self::assertSame(count($rows), $run->rows + ($run->lookup['empty'] ?? 0) + ($run->lookup['failed'] ?? 0));
        $places = $this->asked('select u.loan_id, u.borrower, c.borrower, c.number, u.consignment from under_way u join consignments c on c.loan_id = u.loan_id');
        self::assertGreaterThan(3, count($places));
        foreach ($places as [, $borrower, $carried, $number, $consignment]) {
            self::assertSame([$borrower, $consignment], [$carried, $number]);
        }
    }

    public function test_only_what_can_have_changed_is_read_anew_and_the_rest_stays(): void
    {
        $this->refresh($this->source(), 'loans');
        $keeper = DB::connection('keeper');
        config(['spring.query.rows' => 5000]);
        // All were packed long ago, but for some of late, and some that were never packed.
        $keeper->statement('update deep_spring_test_data_trial.loans set packed_at = timestamp(utc_date()) - interval 20 day');
        $keeper->statement('update deep_spring_test_data_trial.loans set packed_at = utc_timestamp() - interval (loan_id % 50) hour where loan_id % 10 = 0');
        $keeper->statement('update deep_spring_test_data_trial.loans set packed_at = null where loan_id % 10 = 1');
        $query = $this->query('Packed', 'select loan_id, house, packed_at, fee from loans');
        $whole = 'select * from packed order by loan_id';
        [$keep, $run] = $this->keeping()->asTable($query, $this->trial(), 'packed', ['loan_id'], [], $this->owner, ['column' => 'packed_at', 'back' => '3 days ago']);
        self::assertSame(RunState::Done, app(Refresh::class)->run($run)->state);
        $first = $this->asked($whole);
        self::assertCount(1200, $first);

        $keeper->statement('update deep_spring_test_data_trial.loans set fee = fee + 1 where loan_id % 10 < 2');
        $keeper->statement('delete from deep_spring_test_data_trial.loans where loan_id % 20 = 0');
        $keeper->statement("update deep_spring_test_data_trial.loans set house = 'long ago' where loan_id % 10 = 5");
        $again = fn (bool $all = false): Run => app(Refresh::class)->run(app(\App\Runs\Runs::class)->queue($keep->endpoint(), $this->trial(), $this->owner, new \App\Runs\RunWish(whole: $all)));
        $run = $again();
        self::assertSame(RunState::Done, $run->state, (string) json_encode($run->diagnosis));
        self::assertStringContainsString('those with packed_at from', (string) $run->ended);
        // Within the period rows are as they are now; those before it are as they were.
        self::assertSame($this->asked('select loan_id, house, packed_at, fee from loans where loan_id % 10 < 2 order by loan_id'), $this->asked('select * from packed where loan_id % 10 < 2 order by loan_id'));
        self::assertSame(array_values(array_filter($first, static fn (array $row): bool => (int) $row[0] % 10 > 1)), $this->asked('select * from packed where loan_id % 10 > 1 order by loan_id'));
        self::assertSame('0', $this->asked("select count(*) from packed where house = 'long ago'")[0][0]);

        // All of it on request, and once the query says something else.
        self::assertStringStartsWith('All ', (string) $again(true)->ended);
        self::assertSame($this->asked('select loan_id, house, packed_at, fee from loans order by loan_id'), $this->asked($whole));
        app(\App\Queries\QueryBook::class)->change($query, ['name' => 'Packed', 'sql' => 'select loan_id, upper(house) as house, packed_at, fee from loans'], $this->owner);
        self::assertSame(['column' => 'packed_at', 'back' => '3 days ago'], $keep->refresh()->period);
        $again();
        self::assertSame('0', $this->asked('select count(*) from packed where binary house <> upper(house)')[0][0]);

        foreach ([['column' => 'house', 'back' => '3 days ago'], ['column' => 'nowhere', 'back' => '3 days ago'], ['column' => 'packed_at', 'back' => 'some days'], ['column' => 'packed_at', 'back' => 'today']] as $period) {
            try {
                $this->keeping()->asTable($query, $this->trial(), 'packed', ['loan_id'], [], $this->owner, $period);
                self::fail(json_encode($period) ?: '');
            } catch (\App\Queries\Keeping\CannotKeep $cannot) {
                self::assertStringContainsString($period['back'] === '3 days ago' ? $period['column'] : $period['back'], $cannot->getMessage());
            }
        }
    }

    /**
     * @return iterable<string, array{string, string, string, string}> SQL, name, as, and what is said
     */
    public static function refused(): iterable
    {
        foreach (['view', 'table'] as $as) {
            yield "$as: a name that is no name" => ['select ref from loans', 'My loans', $as, 'Call it my_loans'];
            yield "$as: no name" => ['select ref from loans', '', $as, 'Give it a name'];
            yield "$as: a name that is taken" => ['select ref from loans', 'loan_items', $as, 'There is a table loan_items in Trial already, kept by Loans desk › Loans'];
            yield "$as: two columns of one name" => ['select ref, ref from loans', 'twice', $as, 'Two columns of the query are called "ref"'];
            yield "$as: a table that is not there" => ['select ref from lonas', 'x', $as, 'lonas'];
            yield "$as: what does not read" => ['drop table loans', 'x', $as, 'starts with select'];
            yield "$as: what is shown" => ['show tables', 'x', $as, 'Only rows of a SELECT'];
            yield "$as: the name of a state" => ['select ref from loans', 'loans__s1', $as, 'Call it loans_s1'];
        }
        yield 'a key that is no column' => ['select ref from loans', 'x', 'key', 'The query gives no column "id". It gives ref.'];
    }

    #[DataProvider('refused')]
    public function test_what_cannot_be_kept_is_said_and_leaves_nothing(string $sql, string $name, string $as, string $says): void
    {
        $this->refresh($this->source(), 'loans');
        $query = $this->query('One', $sql);
        try {
            $as === 'view' ? $this->keeping()->asView($query, $this->trial(), $name, $this->owner) : $this->keeping()->asTable($query, $this->trial(), $name, $as === 'key' ? ['id'] : [], [], $this->owner);
            self::fail('It was kept.');
        } catch (CannotKeep $cannot) {
            self::assertStringContainsString($says, $cannot->getMessage());
        }
        self::assertSame([0, 0], [QueryKeep::query()->count(), \App\Models\Source::query()->where('of_query', true)->count()]);
        self::assertFalse($name !== '' && app(Views::class)->exists($this->trial(), $name));
        self::assertGreaterThan(1000, (int) $this->asked('select count(*) from loans')[0][0]);
    }

    public function test_a_circle_is_refused_by_name(): void
    {
        $this->refresh($this->source(), 'loans');
        $first = $this->query('First', 'select ref, house from loans');
        $this->keeping()->asView($first, $this->trial(), 'first_of', $this->owner);
        $this->keeping()->asView($this->query('Second', 'select ref, house from first_of'), $this->trial(), 'second_of', $this->owner);
        $this->keeping()->asView($this->query('Third', 'select ref, house from second_of'), $this->trial(), 'third_of', $this->owner);
        $faults = app(QueryBook::class)->change($first, ['name' => 'First', 'sql' => 'select ref, house from third_of'], $this->owner);
        self::assertSame(['first_of in Trial still says what version 1 said: That would go round in a circle: first_of would read third_of, which reads second_of, which reads first_of.'], $faults);
        self::assertCount(1, $this->asked('select * from third_of limit 1'));
        self::assertSame(['second_of', 'third_of'], (new ReadingOrder($this->trial()))->keepsThatRead(['first_of', 'second_of'])->pluck('name')->all());
    }

    public function test_another_version_is_followed_and_one_that_cannot_be_leaves_the_last_good_rows(): void
    {
        $this->refresh($this->source(), 'loans');
        $query = $this->query('Refs', 'select ref from loans');
        [$keep, $run] = $this->keeping()->asTable($query, $this->trial(), 'refs', [], [], $this->owner);
        app(Refresh::class)->run($run);
        self::assertSame([], app(QueryBook::class)->change($query, ['name' => 'Refs', 'sql' => 'select ref, house from loans where loan_id > 8700'], $this->owner, 1));
        app(Refresh::class)->run(Run::query()->latest('id')->firstOrFail());
        self::assertSame(['ref', 'house'], array_column(KeptTable::query()->where('name', 'refs')->firstOrFail()->columns, 'name'));
        $rows = $this->asked('select count(*) from refs');
        $faults = app(QueryBook::class)->change($query, ['name' => 'Refs', 'sql' => 'select nowhere from loans'], $this->owner, 2);
        self::assertStringContainsString('refs in Trial still says what version 2 said: There is no column "nowhere"', $faults[0]);
        self::assertSame([$rows, 2, 3], [$this->asked('select count(*) from refs'), $keep->refresh()->version, $query->refresh()->version]);
        // A column that goes at the source fails the refresh, and the rows stay.
        app(QueryBook::class)->change($query, ['name' => 'Refs', 'sql' => 'select * from loans'], $this->owner, 3);
        app(Refresh::class)->run(Run::query()->latest('id')->firstOrFail());
        DB::connection('keeper')->statement('alter table deep_spring_test_data_trial.loans drop column house, add column extra int');
        $run = app(Refresh::class)->run(app(\App\Runs\Runs::class)->ask($keep->endpoint(), $this->trial(), null));
        self::assertSame(RunState::Failed, $run->state);
        self::assertStringContainsString('gives other columns now than when it was kept: house not any more, extra instead or besides', (string) ($run->diagnosis['what'] ?? ''));
        self::assertSame('1200', $this->asked('select count(house) from refs')[0][0]);
    }

    public function test_of_two_who_save_the_second_is_told(): void
    {
        $query = $this->query('Shared', 'select 1');
        $book = app(QueryBook::class);
        $book->change($query, ['name' => 'Shared', 'sql' => 'select 2'], $this->owner, 1);
        try {
            $book->change($query, ['name' => 'Shared', 'sql' => 'select 3'], $this->owner, 1);
            self::fail('It was written over.');
        } catch (CannotSave $cannot) {
            self::assertSame(2, $cannot->standing);
            self::assertStringContainsString("by {$this->owner->name}", $cannot->getMessage());
        }
        self::assertSame(['select 1', 'select 2'], $query->versions()->orderBy('number')->pluck('sql')->all());
        $this->expectExceptionMessage('There is a query "SHARED" already');
        $this->query('SHARED', 'select 1');
    }

    public function test_what_is_kept_goes_with_its_query(): void
    {
        $this->refresh($this->source(), 'loans');
        $query = $this->query('Gone', 'select ref from loans');
        [, $run] = $this->keeping()->asTable($query, $this->trial(), 'gone_soon', [], [], $this->owner);
        app(Refresh::class)->run($run);
        app(QueryBook::class)->delete($query, $this->owner);
        self::assertSame([0, 0, 0, 0], [SavedQuery::query()->count(), QueryKeep::query()->count(), KeptTable::query()->where('name', 'gone_soon')->count(), \App\Models\Source::query()->where('of_query', true)->count()]);
        self::assertSame([], DB::connection('keeper')->select("select 1 from information_schema.tables where table_name = 'gone_soon'"));
    }

    public function test_a_view_that_is_gone_is_made_again_and_one_that_is_broken_says_why(): void
    {
        $this->refresh($this->source(), 'loans');
        $keep = $this->keeping()->asView($this->query('Again', 'select ref, house from loans'), $this->trial(), 'again', $this->owner);
        app(Views::class)->drop($this->trial(), 'again');
        $this->keeping()->alignViews($this->trial());
        self::assertCount(1, $this->asked('select * from again limit 1'));
        self::assertNull($keep->refresh()->fault);
        DB::connection('keeper')->statement('alter table deep_spring_test_data_trial.loans drop column house');
        $this->keeping()->alignViews($this->trial());
        self::assertStringContainsString('again', (string) $keep->refresh()->fault);
    }
}
