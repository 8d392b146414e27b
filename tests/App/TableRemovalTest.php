<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\KeptTable;
use App\Models\LogEntry;
use App\Models\Role;
use App\Models\Run;
use App\Models\RunState;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Queries\QueryRunner;
use App\Reservoir\TableStore;
use App\Runs\Runs;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;

/**
 * A table that is kept is given up: what reads it is said first, and nothing of it is left.
 */
final class TableRemovalTest extends AppTestCase
{
    private function asked(string $name, string $sql): SavedQuery
    {
        return SavedQuery::query()->create(['name' => $name, 'sql' => $sql, 'user_id' => $this->person()->id]);
    }

    /**
     * Tables of the endpoint in the schema itself, with what was staged and kept for it.
     *
     * @return list<string>
     */
    private function inSchema(): array
    {
        return array_map(static fn (object $row): string => (string) $row->name, DB::connection('keeper')->select('select table_name as name from information_schema.tables where table_schema = ? order by 1', [$this->trial()->schema()]));
    }

    public function test_it_goes_with_its_branches_and_leaves_nothing(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        self::assertSame(['loan_items', 'loans'], array_values(array_intersect(['loan_items', 'loans'], $this->inSchema())));
        $this->asked('Items a loan', 'select count(*) from `loan_items` i');
        $this->asked('Of another', 'select * from loans_old where x = "loan"');
        $analyst = $this->person(Role::Analyst);
        self::assertSame('1200', app(QueryRunner::class)->run($analyst, $this->trial(), 'select count(*) from loans')->rows[0][0]);

        $this->actingAs($this->person());
        $this->get('/tables/loans')->assertSee('Give them up')->assertSee('loan_items')->assertSee('Items a loan')->assertDontSee('Of another');
        $this->actingAs($analyst)->get('/tables/loans')->assertDontSee('Give them up');
        $this->delete('/tables/loans')->assertForbidden();
        self::assertSame(2, KeptTable::query()->count());

        $this->actingAs($this->person())->delete('/tables/loan_items')->assertRedirect('/sources/loans-desk/endpoints/loans')->assertSessionHas('notice', 'loans, loan_items are no longer kept. This endpoint stays, and can be kept again.');
        self::assertSame([], $this->inSchema());
        self::assertSame(0, KeptTable::query()->count());
        self::assertTrue(LogEntry::query()->where('action', 'tables given up')->where('subject', 'loans-desk: loans')->exists());
        $this->get('/tables/loans')->assertNotFound();
        try {
            app(QueryRunner::class)->run($analyst, $this->trial(), 'select count(*) from loans');
            self::fail('It is still read.');
        } catch (\App\Queries\QueryRefused $refused) {
            self::assertSame('There is no table "loans" that you can read in Trial. Nothing is kept in Trial yet.', $refused->getMessage());
        }

        // It can be kept again, and a source that keeps nothing can be deleted.
        self::assertSame(RunState::Done, $this->refresh($source, 'loans')->state);
        $this->delete('/sources/loans-desk')->assertSessionHasErrors('source');
        $this->delete('/tables/loans')->assertRedirect();
        $this->delete('/sources/loans-desk')->assertRedirect('/sources');
        self::assertSame(0, Source::query()->count());
    }

    public function test_not_while_it_is_being_read(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $run = app(Runs::class)->ask($this->endpoint($source, 'loans'), $this->trial(), null);
        $this->actingAs($this->person())->from('/tables/loans')->delete('/tables/loans')->assertRedirect('/tables/loans')->assertSessionHasErrors(['table' => "Run $run->id is reading into it. Stop that first."]);
        $this->get('/tables/loans')->assertSee("Run $run->id is reading into it");
        self::assertSame(2, KeptTable::query()->count());
        Run::query()->whereKey($run->id)->update(['state' => RunState::Stopped]);
        $this->delete('/tables/loans')->assertSessionHasNoErrors();
    }

    public function test_on_the_command_line_it_asks_before_queries_fail(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        self::assertSame(2, Artisan::call('spring:forget', ['table' => 'nothing']));
        $this->asked('Items a loan', 'select count(*) from LOANS');
        $said = $this->artisanProcess('spring:forget', 'loans');
        self::assertSame(1, $said[0], implode("\n", array_map(strval(...), $said)));
        self::assertStringContainsString("loan_items\t", $said[1]);
        self::assertStringContainsString('read by the query "Items a loan"', $said[1]);
        self::assertSame(2, KeptTable::query()->count());
        self::assertSame(0, Artisan::call('spring:forget', ['table' => 'loans', '--yes' => true]));
        self::assertSame([0, []], [KeptTable::query()->count(), $this->inSchema()]);

        // A table that is described and was never read, or is read no more, is refreshed by its name.
        self::assertSame(2, Artisan::call('spring:refresh', ['table' => ['nothing']]));
        self::assertSame(0, Artisan::call('spring:refresh', ['table' => ['loans'], '--environment' => 'trial']), Artisan::output());
        self::assertSame(2, KeptTable::query()->count());
    }

    public function test_of_two_endpoints_only_one_goes(): void
    {
        $loans = $this->source();
        $stores = $this->source('stores');
        $this->refresh($loans, 'loans');
        $this->refresh($stores, 'positions');
        app(TableStore::class)->remove($this->trial(), "e{$this->endpoint($loans, 'loans')->id}", ['loans', 'loan_items']);
        self::assertSame([], array_filter($this->inSchema(), static fn (string $name): bool => str_contains($name, 'loan')));
        self::assertContains('positions', $this->inSchema());
    }

    public function test_publishing_without_an_endpoint_asks_what_becomes_of_its_tables(): void
    {
        foreach (['keep' => 2, 'forget' => 0] as $answer => $left) {
            $source = $this->source();
            $this->refresh($source, 'loans');
            $builder = $this->person();
            $this->actingAs($builder);
            SavedQuery::query()->create(['user_id' => $builder->id, 'name' => "Loans of $answer", 'sql' => 'select * from loans']);
            $this->delete('/sources/loans-desk/endpoints/loans')->assertRedirect();
            $version = $source->refresh()->published_version;
            $this->post('/sources/loans-desk/publish')->assertOk()->assertSee('What becomes of these tables?')->assertSee('loan_items')->assertSee("Loans of $answer");
            self::assertSame($version, $source->refresh()->published_version, 'nothing is published before it is answered');
            $this->post('/sources/loans-desk/publish', ['tables' => $answer])->assertRedirect('/sources/loans-desk');
            self::assertNull($source->refresh()->draft());
            self::assertSame($left, KeptTable::query()->count());
            self::assertCount($left, $this->tablesInTrial());
        }
    }

    public function test_the_command_line_names_tables_that_nothing_refreshes_any_more(): void
    {
        $source = $this->source();
        $this->refresh($source, 'loans');
        $this->actingAs($this->person());
        $this->delete('/sources/loans-desk/endpoints/loans')->assertRedirect();
        self::assertSame(0, Artisan::call('spring:versions', ['source' => 'loans-desk', '--publish' => true]));
        self::assertStringContainsString('loan_items in Trial is kept, and no endpoint refreshes it any more. ./spring forget loan_items', Artisan::output());
    }
}
