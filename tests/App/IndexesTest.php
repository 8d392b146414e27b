<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\MariaDb;
use App\Models\KeptTable;
use App\Models\LogEntry;
use App\Models\Role;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Models\StatementUse;
use App\Models\TableIndex;
use App\Models\User;
use App\Queries\IndexAdvisor;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Reservoir\IndexMustWait;
use App\Reservoir\IndexThere;
use App\Reservoir\MariaDb\MariaDbStagedTables;
use App\Reservoir\TableIndexes;
use App\Reservoir\TableStore;
use App\Runs\AlignIndexes;
use App\Runs\TableIndexing;
use DeepSpring\Indexing\IndexProposal;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Tests\Lane;

/**
 * Indexes of kept tables: seen in the statements that are run, taken, built beside the rows and with those
 * of each refresh.
 */
final class IndexesTest extends AppTestCase
{
    private function kept(string $name = 'loans'): KeptTable
    {
        return KeptTable::query()->with(['environment', 'endpoint.source'])->where('name', $name)->firstOrFail();
    }

    /**
     * @return list<string> columns of each index besides the key, as the database has them
     */
    private function there(string $table = 'loans'): array
    {
        $found = array_map(static fn (IndexThere $one): string => implode(',', $one->columns), app(TableIndexes::class)->there($this->trial(), $table));
        sort($found);

        return $found;
    }

    private function ask(User $person, string $sql): void
    {
        app(QueryRunner::class)->run($person, $this->trial(), $sql);
    }

    /**
     * As if the same statement had been run by many, and had taken long.
     */
    private function slow(string $where, int $times = 10): void
    {
        $this->ask($this->person(Role::Analyst), "select * from loans where $where");
        StatementUse::query()->update(['times' => $times, 'milliseconds' => 200 * $times]);
    }

    private function work(): void
    {
        Artisan::call('queue:work', ['--stop-when-empty' => true, '--tries' => 1]);
    }

    public function test_what_a_statement_does_with_columns_is_seen_by_the_database_itself(): void
    {
        $this->refresh($this->source(), 'loans');
        $person = $this->person(Role::Analyst);
        $cases = [
            "select ref from loans where status = 'open' and due < '2030-01-01'" => ['loans' => ['equal' => ['status'], 'range' => ['due'], 'read' => ['ref', 'status', 'due']]],
            "select l.ref from loans as l where 'open' = l.status and l.house in ('a', 'b') and l.town is null" => ['loans' => ['equal' => ['status', 'house', 'town'], 'read' => ['ref', 'status', 'house', 'town']]],
            "select ref from loans where town between 'a' and 'c' and house like 'north%' and borrower like '%x' and upper(contact) = 'X' and phone <> '1'" => ['loans' => ['range' => ['town', 'house'], 'read' => ['ref', 'town', 'house', 'borrower', 'contact', 'phone']]],
            "select ref from loans where (house = 'a' or town = 'b') and not (status = 'open')" => ['loans' => ['read' => ['ref', 'house', 'town', 'status']]],
            'select l.ref from loans l join loan_items i on i.crate = l.ref and i.object = l.town' => ['loans' => ['joined' => [['ref', 'town']], 'read' => ['ref', 'town']], 'loan_items' => ['joined' => [['crate', 'object']], 'read' => ['crate', 'object']]],
            'select l.ref from loans l left join loan_items i on i.crate = concat(l.ref, l.town)' => ['loans' => ['read' => ['ref', 'town']], 'loan_items' => ['joined' => [['crate']], 'read' => ['crate']]],
            'select house, sum(fee) from loans group by house' => ['loans' => ['grouped' => ['house'], 'read' => ['house', 'fee']]],
            'select year(due), count(*) from loans group by year(due), house' => ['loans' => ['read' => ['due', 'house']]],
            'select distinct town, house from loans' => ['loans' => ['grouped' => ['town', 'house'], 'read' => ['town', 'house']]],
            'select count(distinct town) from loans' => ['loans' => ['grouped' => ['town'], 'read' => ['town']]],
            'select ref from loans order by due desc, ref desc limit 5' => ['loans' => ['sorted' => ['due', 'ref'], 'read' => ['ref', 'due']]],
            'select ref from loans order by due desc, ref limit 5' => ['loans' => ['read' => ['ref', 'due']]],
            'select ref from loans order by due' => ['loans' => ['read' => ['ref', 'due']]],
            "with late as (select borrower, max(due) as last from loans where house = 'a' group by borrower) select * from late where last < now()" => ['loans' => ['equal' => ['house'], 'grouped' => ['borrower'], 'read' => ['borrower', 'due', 'house']]],
            "select ref, (select count(*) from loan_items i where i.crate = l.ref) as n from loans l where status = 'it''s \\\\ `and` (or'" => ['loans' => ['equal' => ['status'], 'read' => ['ref', 'status']], 'loan_items' => ['joined' => [['crate']], 'read' => ['crate']]],
            "select ref from loans where house = 'a' union select title from loan_items where object = 'b'" => ['loans' => ['equal' => ['house'], 'read' => ['ref', 'house']], 'loan_items' => ['equal' => ['object'], 'read' => ['title', 'object']]],
            'select a.ref from loans a join loans b on a.borrower = b.borrower where a.due > b.due' => ['loans' => ['joined' => [['borrower']], 'read' => ['ref', 'borrower', 'due']]],
            'select 1' => [],
            'show tables' => [],
        ];
        foreach ($cases as $sql => $expected) {
            StatementUse::query()->delete();
            $this->ask($person, $sql);
            $found = [];
            foreach (StatementUse::query()->orderByDesc('table')->orderByDesc('id')->get() as $use) {
                $found[$use->table] = $use->use;
            }
            // What only reads needs no index, and is not written down.
            self::assertEquals(array_filter($expected, static fn (array $use): bool => array_keys($use) !== ['read']), $found, $sql);
        }
        self::assertStringNotContainsString('open', (string) StatementUse::query()->get()->toJson());
    }

    public function test_statements_count_by_how_often_and_how_long_also_those_that_are_stopped(): void
    {
        $this->refresh($this->source(), 'loans');
        $person = $this->person(Role::Analyst);
        $this->ask($person, "select ref from loans where town = 'one'");
        $this->ask($person, "select ref from loans where town = 'two'");
        self::assertSame([2], StatementUse::query()->pluck('times')->all(), 'The same use with another value.');
        $this->travel(1)->days();
        $this->ask($person, "select ref from loans where town = 'one'");
        self::assertSame([2, 1], StatementUse::query()->orderBy('day')->pluck('times')->all());
        try {
            $this->ask($person, "select count(*) from loans a, loans b, loans c where a.house = 'x' or b.fee + c.fee > a.fee");
            self::fail('It was not stopped.');
        } catch (QueryRefused $refused) {
            self::assertStringContainsString('was stopped', $refused->getMessage());
        }
        self::assertSame(2, StatementUse::query()->count(), 'A condition under OR is none that an index serves.');
        try {
            $this->ask($person, "select count(*) from loans a, loans b, loans c where a.house like 'n%' and b.fee + c.fee > a.fee");
            self::fail('It was not stopped.');
        } catch (QueryRefused) {
            self::assertGreaterThan(1500, StatementUse::query()->whereJsonContains('use->range', 'house')->firstOrFail()->milliseconds);
        }
        $this->travel(40)->days();
        Artisan::call('spring:tidy');
        self::assertSame(0, StatementUse::query()->count());
    }

    public function test_the_order_of_a_table_on_the_screen_counts_too(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($this->person(Role::Analyst));
        $this->get('/tables/loans')->assertOk();
        $this->get('/tables/loans?sort=loan_id')->assertOk();
        self::assertSame([['loan_id']], StatementUse::query()->get()->map(static fn (StatementUse $use): array => $use->use['sorted'])->all());
        app(TableIndexing::class)->want($this->kept(), ['due'], null);
        $this->work();
        // So few rows are sorted as quickly as they are looked up.
        DB::connection('keeper')->unprepared('use deep_spring_test_data_trial');
        DB::connection('keeper')->statement('insert into loans (loan_id, ref, due) select loan_id + 10000 * (1 + seq), ref, due from loans, seq_1_to_60');
        DB::connection('keeper')->select('analyze table loans', [], false);
        $this->get('/tables/loans?sort=due&dir=desc')->assertOk();
        self::assertNotNull(TableIndex::query()->firstOrFail()->used_at, 'The rows came by the index.');
    }

    public function test_from_a_slow_statement_to_an_index_that_stays(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $builder = $this->person();
        $this->actingAs($builder)->get('/tables/loans/indexes')->assertOk()->assertSee('Nothing is proposed')->assertSee('loan_id');
        $this->slow("borrower = 'Nils'");
        self::assertSame(['borrower'], array_map(static fn (IndexProposal $one): string => implode(',', $one->columns), app(IndexAdvisor::class)->proposals($this->kept())));
        $this->get('/tables/loans/indexes')->assertSee('10 statements, 2 s together: they compare borrower with values.')->assertSee('Add an index over borrower');
        $this->get('/tables/loans/indexes/cost?columns=borrower')->assertOk()->assertSee('measured with')->assertSee("1\u{2009}200 rows");
        $this->get('/tables/loans/indexes/cost?columns=none')->assertNotFound();
        self::assertSame(['loan_items', 'loans'], $this->tablesInTrial(), 'Nothing is left of measuring.');

        $this->actingAs($this->person(Role::Analyst))->get('/tables/loans/indexes')->assertSee('they compare borrower')->assertDontSee('Add an index over borrower');
        $this->post('/tables/loans/indexes', ['columns' => 'borrower'])->assertForbidden();

        $this->actingAs($builder)->post('/tables/loans/indexes', ['columns' => 'borrower'])->assertSessionHasNoErrors()->assertRedirect('/tables/loans?indexes=1#indexes');
        $this->get('/tables/loans/indexes')->assertSee('being built')->assertDontSee('they compare borrower');
        self::assertSame([], $this->there());
        $this->work();
        self::assertSame(['borrower'], $this->there());
        $this->get('/tables/loans/indexes')->assertDontSee('being built')->assertSee('none yet');
        self::assertSame('loans: borrower', LogEntry::query()->where('action', 'index added')->latest('id')->firstOrFail()->subject);

        $this->ask($builder, "select * from loans where borrower = 'Nils'");
        self::assertNotNull(TableIndex::query()->firstOrFail()->used_at);
        $this->ask($builder, "select count(*) from loans where status = 'open'");

        // With the rows of a refresh.
        $run = $this->refresh($source, 'loans');
        self::assertSame(RunState::Done, $run->state);
        self::assertSame(['borrower'], $this->there());
        self::assertStringStartsWith('Index over loans (borrower) built in ', RunEvent::query()->where(['run_id' => $run->id, 'kind' => 'indexes'])->firstOrFail()->text);

        $index = TableIndex::query()->firstOrFail();
        $this->actingAs($this->person(Role::Analyst))->delete("/tables/loans/indexes/$index->id")->assertForbidden();
        $this->actingAs($builder)->delete("/tables/loan_items/indexes/$index->id")->assertNotFound();
        $this->delete("/tables/loans/indexes/$index->id")->assertRedirect();
        $this->work();
        self::assertSame([], $this->there());
        $this->refresh($source, 'loans');
        self::assertSame([], $this->there());
    }

    public function test_what_cannot_be_an_index_is_refused_with_a_sentence(): void
    {
        $this->refresh($this->source('loans-desk', ['{name: note, from: "$.note", type: text}' => "{name: note, from: \"$.note\", type: text}\n        - {name: raw, from: \"$.items\", type: json}"]), 'loans');
        $this->actingAs($this->person());
        $cases = [
            '' => 'An index needs at least one column.',
            ' , ' => 'An index needs at least one column.',
            'nothing' => 'loans has no column "nothing".',
            'raw' => 'raw holds JSON, which cannot be in an index.',
            'house, house' => 'Each column stands in an index once.',
            'loan_id' => 'The key of the table begins with loan_id already, so nothing would be quicker.',
            'ref,status,house,borrower,town,due,fee,cover,note' => 'An index here has at most 8 columns.',
        ];
        foreach ($cases as $columns => $sentence) {
            $this->from('/tables/loans')->post('/tables/loans/indexes', ['columns' => $columns])->assertSessionHasErrors('index');
            self::assertStringStartsWith($sentence, (string) session('errors')->first('index'), (string) $columns);
        }
        self::assertSame(0, TableIndex::query()->count());
        for ($number = 0; $number < TableIndexing::MOST; $number++) {
            TableIndex::query()->create(['environment_id' => $this->trial()->id, 'table' => 'loans', 'columns' => ["c$number"], 'mark' => TableIndex::markOf(["c$number"])]);
        }
        $this->post('/tables/loans/indexes', ['columns' => 'house'])->assertSessionHasErrors(['index' => 'A table has at most 16 indexes besides its key. Drop one that is not used.']);
    }

    public function test_long_texts_are_in_it_with_their_beginnings(): void
    {
        $this->refresh($this->source(), 'loans');
        DB::connection('keeper')->statement('alter table deep_spring_test_data_trial.loans modify note mediumtext, modify house varchar(1000), modify town varchar(255), modify borrower varchar(255), modify contact varchar(255), modify policy varchar(255)');
        $indexes = app(TableIndexes::class);
        foreach ([['note'], ['house', 'due'], ['town', 'borrower', 'contact'], ['town', 'borrower', 'contact', 'policy'], ['note', 'house', 'town', 'borrower']] as $columns) {
            $indexes->add($this->kept(), $columns);
            $indexes->add($this->kept(), $columns);
        }
        self::assertSame(['house,due', 'note', 'note,house,town,borrower', 'town,borrower,contact', 'town,borrower,contact,policy'], $this->there());
        $parts = static fn (string $column): array => array_map(static fn (object $row): mixed => $row->part, DB::connection('keeper')->select("select distinct sub_part as part from information_schema.statistics where table_schema = 'deep_spring_test_data_trial' and table_name = 'loans' and column_name = ? order by 1", [$column]));
        self::assertSame([190], array_map(intval(...), $parts('note')));
        self::assertSame([null, 190], $parts('town'), 'Whole where all of them fit.');
    }

    public function test_a_column_that_goes_takes_its_index_along_and_a_run_says_so(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $indexing = app(TableIndexing::class);
        $indexing->want($this->kept(), ['town'], null);
        $indexing->want($this->kept(), ['house'], null);
        $this->work();
        $this->source('loans-desk', ['name: town' => 'name: place'], false);
        $run = $this->refresh($source->refresh(), 'loans');
        self::assertSame(RunState::Done, $run->state);
        self::assertSame(['house'], $this->there());
        $this->actingAs($this->person())->get('/tables/loans/indexes')->assertSee('The table has no column town any more.');
        self::assertContains('No index over loans (town): The table has no column town any more.', RunEvent::query()->where('run_id', $run->id)->pluck('text')->all());
        $this->source('loans-desk', [], false);
        $this->refresh($source->refresh(), 'loans');
        self::assertSame(['house', 'town'], $this->there());
        self::assertNull(TableIndex::query()->where('mark', TableIndex::markOf(['town']))->firstOrFail()->fault);
    }

    public function test_it_waits_for_a_refresh_and_for_statements_that_hold_the_table(): void
    {
        $this->refresh($this->source(), 'loans');
        $table = $this->kept();
        $other = DB::connectUsing('another-keeper', (array) config('database.connections.keeper'));
        self::assertInstanceOf(\Illuminate\Database\Connection::class, $other);
        $lock = MariaDbStagedTables::lock($other, $this->trial()->schema(), "e$table->endpoint_id");
        self::assertTrue($lock->take());
        app(TableIndexing::class)->want($table, ['house'], null);
        $this->work();
        self::assertSame([], $this->there());
        self::assertSame(1, DB::table('jobs')->where('available_at', '>', time())->count(), 'It comes again.');
        $lock->release();

        $other->beginTransaction();
        $other->select('select * from deep_spring_test_data_trial.loans limit 1');
        try {
            app(TableIndexes::class)->add($table, ['house']);
            self::fail('It did not wait.');
        } catch (IndexMustWait $wait) {
            self::assertSame('Statements are reading the table.', $wait->getMessage());
        }
        // Others still read meanwhile, and afterwards.
        $this->ask($this->person(), 'select count(*) from loans');
        $other->rollBack();
        $other->disconnect();
        $this->travel(10)->seconds();
        $this->work();
        self::assertSame(['house'], $this->there());
        self::assertSame(0, DB::table('jobs')->count());
    }

    public function test_one_that_is_given_up_before_it_is_built_is_not_there(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $index = app(TableIndexing::class)->want($this->kept(), ['house'], null);
        app(TableIndexing::class)->drop($index, $this->kept());
        $this->work();
        self::assertSame([], $this->there());
        // Nor is anything left of a table that is given up.
        app(TableIndexing::class)->want($this->kept(), ['house'], null);
        $this->slow("town = 'x'");
        $this->actingAs($this->person())->delete('/tables/loans')->assertRedirect();
        self::assertSame([0, 0], [TableIndex::query()->count(), StatementUse::query()->count()]);
        $this->work();
        (new AlignIndexes(0))->handle(app(TableIndexing::class));
        $this->refresh($source, 'loans');
        self::assertSame([], $this->there());
    }

    public function test_what_a_process_that_died_left_is_finished_and_cleared(): void
    {
        $this->refresh($this->source(), 'loans');
        app(TableIndexing::class)->want($this->kept(), ['house'], null);
        // Its worker took the order, and died.
        DB::table('jobs')->delete();
        $keeper = DB::connection('keeper');
        $keeper->statement('create table deep_spring_test_data_trial.stage__cost7__aaaaaaaa_0 (id int)');
        $keeper->statement('create table deep_spring_test_data_trial.stage__cost8__aaaaaaaa_0 (id int)');
        $lock = MariaDbStagedTables::lock($keeper, $this->trial()->schema(), 'cost8');
        self::assertTrue($lock->take());
        Artisan::call('spring:tidy');
        self::assertSame(['loan_items', 'loans', 'stage__cost8__aaaaaaaa_0'], $this->tablesInTrial(), 'A measurement that goes on keeps its copy.');
        self::assertSame(0, DB::table('jobs')->count(), 'It may still be built.');
        $lock->release();
        $this->travel(6)->minutes();
        Artisan::call('spring:tidy');
        self::assertSame(['loan_items', 'loans'], $this->tablesInTrial());
        $this->work();
        self::assertSame(['house'], $this->there());
        $this->travel(6)->minutes();
        Artisan::call('spring:tidy');
        self::assertSame(0, DB::table('jobs')->count());
    }

    public function test_staged_rows_can_be_indexed_again_after_a_process_died(): void
    {
        $this->refresh($this->source(), 'loans');
        $plan = $this->kept()->endpoint->source->published()?->endpoint('loans')?->plan();
        self::assertNotNull($plan);
        $staged = app(TableStore::class)->stage($this->trial(), 'twice', $plan);
        $staged->begin(1, 1);
        $staged->finish(['counts' => []]);
        foreach ([1, 2] as $time) {
            $built = $staged->index(['loans' => [['house'], ['gone']], 'loan_items' => [['crate', 'line']], 'of_another' => [['x']]]);
            self::assertSame([['loans', 'house', null], ['loans', 'gone', 'The table has no column gone any more.'], ['loan_items', 'crate,line', null]], array_map(static fn ($one): array => [$one->table, implode(',', $one->columns), $one->fault], $built));
        }
        $staged->end();
    }

    public function test_columns_that_statements_compare_are_surveyed_with_each_refresh(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $administrator = (new MariaDb(base_path(Lane::folder()), (int) config('database.connections.app.port'), []))->administrator();
        $surveyed = static fn (): array => $administrator->query("select concat(table_name, '.', column_name) from mysql.column_stats where db_name = 'deep_spring_test_data_trial' and histogram is not null order by 1")->fetchAll(\PDO::FETCH_COLUMN);
        self::assertSame([], $surveyed());
        $person = $this->person();
        $this->ask($person, "select l.ref from loans l join loan_items i on i.crate = l.ref where l.house = 'north-quay' and i.object > '5'");
        $this->ask($person, 'select house, count(*) from loans group by house');
        foreach ([1, 2] as $time) {
            self::assertSame(RunState::Done, $this->refresh($source, 'loans')->state);
            self::assertSame(['loan_items.object', 'loans.house'], $surveyed(), 'It goes with the tables when they are put in place.');
        }
        // One that is gone, and one that holds JSON, are left out.
        StatementUse::query()->where('table', 'loans')->firstOrFail()->update(['use' => ['equal' => ['gone', 'town']], 'mark' => str_repeat('a', 64)]);
        self::assertSame(RunState::Done, $this->refresh($source, 'loans')->state);
        self::assertContains('loans.town', $surveyed());
    }

    public function test_an_index_that_serves_nobody_is_named_after_a_while(): void
    {
        $this->refresh($this->source(), 'loans');
        app(TableIndexing::class)->want($this->kept(), ['borrower'], null);
        app(TableIndexing::class)->want($this->kept(), ['house'], null);
        $this->work();
        $this->actingAs($person = $this->person());
        $this->get('/tables/loans')->assertDontSee('without use');
        $this->travel(31)->days();
        $this->ask($person, "select * from loans where borrower = 'Nils'");
        $this->get('/tables/loans')->assertSee('1 of them without use');
        $this->get('/tables/loans/indexes')->assertSee('none in 30 days');
        Artisan::call('spring:indexes', ['table' => 'loans']);
        $lines = array_map(static fn (string $line): array => array_slice(explode("\t", $line), 2, 2), explode("\n", trim(Artisan::output())));
        self::assertSame([['loan_id', 'key'], ['borrower', 'built'], ['house', 'unused']], $lines);
    }

    public function test_on_the_command_line(): void
    {
        $this->refresh($this->source(), 'loans');
        self::assertSame(0, Artisan::call('spring:indexes', ['table' => 'loans', '--add' => 'house, due']));
        self::assertSame(['house,due'], $this->there(), 'It is there when the command ends.');
        $this->slow("borrower = 'Nils'");
        self::assertSame(0, Artisan::call('spring:indexes'));
        self::assertMatchesRegularExpression('/^loans\ttrial\thouse,due\tbuilt\t\d+ KB, built in \d+ ms, served no statement yet\nloans\ttrial\tborrower\tproposed\t10 statements, 2 s together: they compare borrower with values\. About \d+ KB and \d+ ms with each refresh\.\n$/', Artisan::output());
        self::assertSame(1, Artisan::call('spring:indexes', ['table' => 'loans', '--add' => 'nothing']));
        self::assertStringContainsString('loans has no column "nothing".', Artisan::output());
        self::assertSame(1, Artisan::call('spring:indexes', ['table' => 'loans', '--drop' => 'due']));
        self::assertStringContainsString('loans has no such index.', Artisan::output());
        self::assertSame(2, Artisan::call('spring:indexes', ['--add' => 'house']));
        self::assertSame(2, Artisan::call('spring:indexes', ['table' => 'none']));
        self::assertSame(0, Artisan::call('spring:indexes', ['table' => 'loans', '--drop' => 'house,due']));
        self::assertSame([], $this->there());
    }
}
