<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Environment;
use App\Models\Role;
use App\Models\RunState;
use App\Models\Source;
use App\OData\MetadataFetcher;
use App\Queries\Live\LiveResult;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Queries\Result;
use App\Sources\SourceStore;
use DeepSpring\OData\Pushdown\PushedPart;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Queries over OData tables that are not kept give what they would give if these were.
 */
final class LiveTablesTest extends AppTestCase
{
    /**
     * @return iterable<array{string, list<string>, list<string>}> statement, asked of the service, done here
     */
    public static function queries(): iterable
    {
        yield from [
            ['select number, value from objects where value > 85000 order by number', ['value > 85000'], []],
            ['select * from objects where on_loan = 1 and value between 100 and 3000.50 order by number', ['on_loan = 1', 'value between 100 and 3000.50'], []],
            ["select title, count(*) as n from objects where title like 'Eel%' or title = 'Storm glass' group by title order by 1", ["title like 'Eel%' OR title = 'Storm glass'"], []],
            ['select number from objects where (value > 89000 or value < 200 or value = 5000) and on_loan = 1 order by 1', ['(value > 89000 OR value < 200 OR value = 5000)', 'on_loan = 1'], []],
            ["select number from objects where (title = 'Storm glass' or length(title) > 30) order by 1", [], ["(title = 'Storm glass' OR length(title) > 30)"]],
            ["select number from objects where title like '%glass%' and acquired >= '2020-01-01' and remarks is not null order by number", ["title like '%glass%'", "acquired >= '2020-01-01'"], ['remarks is not null']],
            ['select number, changed from objects order by changed desc limit 5', ['order by changed desc', 'limit 5'], []],
            ['select number, value from objects o where o.value < 5000 order by o.value limit 3 offset 2', ['o.value < 5000', 'order by value', 'limit 5'], []],
            ['select title from objects order by title, number limit 3', [], ['order by title', 'order by number']],
            ["select number from objects where venue_slug in ('rope-walk', 'O''Shee') and weight > 400 order by number limit 2", ["venue_slug in ('rope-walk', 'O''Shee')", 'weight > 400'], []],
            ['select v.name, count(*) as n from objects o join venues v on v.slug = o.venue_slug where v.rooms >= 20 and o.value > 80000 group by v.name order by v.name', ['o.value > 80000', 'v.rooms >= 20'], []],
            ['select v.slug, o.number from venues v left join objects o on o.venue_slug = v.slug and o.value > 89000 where o.remarks is null order by 1, 2', [], ['o.remarks is null']],
            ["select count(*) as n from objects where 1 = (select count(*) from objects where number = '0004.02')", [], ['its conditions']],
            ['with dear as (select number, value from objects where value > 88000) select count(*) as n, max(value) as most from dear', [], ['its conditions']],
            ['select number from objects where length(title) > 20 and not on_loan = 0 order by 1', [], ['length(title) > 20', 'not on_loan = 0']],
            ["select number from objects where acquired = 'yesterday' and value > 89000", ['value > 89000'], ["acquired = 'yesterday'"]],
            ['select count(*) as n from objects', [], []],
            ["select e.title, count(o.number) as n from exhibitions e left join exhibitions_objects o on o.exhibition_id = e.id where e.opens >= '2031-01-01' group by e.id, e.title order by e.id", ["e.opens >= '2031-01-01'"], []],
        ];
    }

    /**
     * @param  list<string>  $asked
     * @param  list<string>  $here
     */
    #[DataProvider('queries')]
    public function test_a_query_over_what_is_not_kept_gives_what_it_would_give_if_it_were(string $sql, array $asked, array $here): void
    {
        $source = $this->registrar();
        $live = $this->asked($sql);
        $parts = array_merge(...array_map(static fn (LiveResult $one): array => $one->parts, $live->live));
        self::assertSame($asked, $this->texts($parts, true));
        self::assertSame($here, $this->texts($parts, false));
        self::assertSame([], $this->tablesInTrial(), 'nothing is left of what was read');
        foreach (['objects', 'venues', 'exhibitions'] as $endpoint) {
            self::assertSame(RunState::Done, $this->refresh($source, $endpoint)->state);
        }
        $kept = $this->asked($sql);
        self::assertSame([], $kept->live);
        if (count($live->live) === 1) {
            // The service let through what was asked of it, and no more.
            $conditions = implode(' and ', array_filter($asked, static fn (string $one): bool => preg_match('/^(?:order by|limit) /', $one) !== 1)) ?: '1 = 1';
            $fits = (int) $this->rows("select count(*) as n from {$live->live[0]->table->name} ".(preg_match('/^[a-z]\./', $conditions) === 1 ? substr($conditions, 0, 1) : 't')." where $conditions")[0]->n;
            self::assertSame(min($fits, ...array_map(static fn (string $one): int => (int) substr($one, 6), array_values(array_filter($asked, static fn (string $one): bool => str_starts_with($one, 'limit '))) ?: ['limit 9999'])), $live->live[0]->rows);
        }
        self::assertSame($kept->rows, $live->rows);
        self::assertSame(array_map(static fn ($column): string => $column->name, $kept->columns), array_map(static fn ($column): string => $column->name, $live->columns));
    }

    /**
     * @return iterable<array{string, list<string>, list<string>, int}> statement, what is sent, what is done here, rows that the service lets through
     */
    public static function lists(): iterable
    {
        yield from [
            ["select loan_id from desk_loans where status = 'open' order by loan_id", ['status=open'], ['no order'], 0],
            ["select house, count(*) as n from desk_loans where status in ('open', 'packed') and house = 'north-quay' group by house", ['status=open, packed', 'house=north-quay'], [], 0],
            ["select loan_id from desk_loans where (status = 'open' or status = 'out') and fee > 100 order by 1", ['status=open, out'], ['fee > 100'], 0],
            // The desk knows no such thing and gives all of it twice: every row is there once, and looked at here.
            ["select loan_id, house from desk_loans where house in ('north-quay', 'kelp-barn') order by 1", ['house=north-quay, kelp-barn'], [], 2400],
            ["select d.loan_id, i.line from desk_loans d join desk_loans_items i on i.loan_id = d.loan_id where d.status = 'out' and d.house like 'kelp-barn' order by 1, 2", ['status=out', 'house=kelp-barn'], [], 0],
            ["select count(*) as n from desk_loans where status = 'Open'", ['status=Open'], [], 0],
            ["select loan_id from desk_loans where house = 'north-quay' or status = 'open' order by 1", [], ["house = 'north-quay' OR status = 'open'"], 1200],
            ['select count(*) as n from desk_loans', [], [], 1200],
        ];
    }

    /**
     * @param  list<string>  $sent
     * @param  list<string>  $here
     */
    #[DataProvider('lists')]
    public function test_a_list_whose_inputs_stand_for_conditions_is_asked_for_them(string $sql, array $sent, array $here, int $through): void
    {
        $stands = ['{name: status, in: query, type: text, many: comma}' => "{name: status, in: query, type: text, many: comma, stands_for: {column: status, operator: in}}\n        - {name: house, in: query, stands_for: {column: house, operator: \"=\"}}", 'table: loan_items' => 'table: desk_loans_items', "table: loans\n" => "table: desk_loans\n"];
        $source = $this->source('loans-desk', $stands);
        $live = $this->asked($sql);
        self::assertCount(1, $live->live);
        $parts = $live->live[0]->parts;
        self::assertSame($sent, array_values(array_filter(array_map(static fn (PushedPart $part): ?string => $part->asked, $parts))));
        self::assertSame(array_values(array_diff($here, ['no order'])), $this->texts($parts, false));
        self::assertSame([], $this->tablesInTrial());
        $run = $this->refresh($source, 'loans');
        self::assertSame(RunState::Done, $run->state, (string) json_encode($run->diagnosis));
        $kept = $this->asked($sql);
        self::assertSame([], $kept->live);
        self::assertSame($kept->rows, $live->rows);
        if ($through > 0) {
            self::assertSame($through, $live->live[0]->rows);
        } else {
            self::assertLessThan(800, $live->live[0]->rows);
        }
    }

    public function test_only_the_columns_that_are_named_are_asked_for(): void
    {
        $this->registrar();
        $address = $this->asked('select title from objects where on_loan = 1')->live[0]->address;
        self::assertStringContainsString('$select=Number,Title,OnLoan&', $address);
        self::assertStringContainsString('$filter=OnLoan eq true', $address);
        self::assertStringNotContainsString('$expand', $this->asked('select id, opens from exhibitions')->live[0]->address);
        self::assertStringContainsString('$expand=Objects', $this->asked('select count(*) as n from exhibitions_objects')->live[0]->address);
        self::assertStringNotContainsString('$select', $this->asked('select o.* from objects o limit 1')->live[0]->address);
    }

    public function test_what_is_too_much_or_fails_is_refused_with_a_reason_and_leaves_nothing(): void
    {
        $this->registrar();
        config(['spring.query.live_rows' => 200]);
        foreach (['select * from objects' => 'More than 200 rows of objects', 'select nothing from objects where value > 89000' => 'There is no column "nothing"'] as $sql => $says) {
            $this->refused($sql, $says);
        }
        $this->faults('registrar', ['outage_until' => microtime(true) + 60]);
        $this->refused('select * from objects', '503');
        $this->faults('registrar', []);
        self::assertSame([], $this->tablesInTrial());
        self::assertSame([], DB::connection('keeper')->select("select * from mysql.tables_priv where Table_name like 'stage__live%' and Db = 'deep_spring_test_data_trial'", [], false));
    }

    public function test_the_screen_and_the_command_line_say_who_did_what(): void
    {
        $this->registrar();
        $this->actingAs($this->person(Role::Analyst));
        $this->get('/queries/new')->assertSee('Not kept, read when asked for')->assertSee('exhibitions_objects');
        $this->post('/queries/run', ['sql' => "select number from objects where value > 89000 and remarks = 'x'"])->assertSee('is not kept')->assertSee('Asked of the service')->assertSee('cannot filter by Remarks');
        self::assertSame(0, Artisan::call('spring:query', ['sql' => 'select number from objects where value > 89900 order by 1 limit 2', '--environment' => 'trial', '--as' => 'csv', '--user' => 'analyst0@saltmarsh.example']));
        self::assertStringContainsString('asked of the service: value > 89900', Artisan::output());
    }

    public function test_a_statement_that_names_its_own_table_is_left_alone(): void
    {
        $this->registrar();
        self::assertSame([], $this->asked("with objects as (select 'mine' as title) select title from objects")->live);
        $this->refused('select * from objects_of_nobody', 'There is no table "objects_of_nobody"');
    }

    private function registrar(): Source
    {
        $endpoint = static fn (string $set, array $more = []): array => ['slug' => strtolower($set), 'name' => $set, 'entity_set' => $set, 'page' => ['size' => 500, 'long_numbers' => true]] + $more;
        $source = $this->draft(self::$standinsAddress.'/registrar/v4', [['scheme' => 'basic', 'username' => 'circle', 'password' => 'rg-demo-lamp-and-oar']], [$endpoint('Objects'), $endpoint('Venues'), $endpoint('Exhibitions', ['expand' => ['Objects' => ['select' => ['Title']], 'Venue' => ['select' => ['Name']]]])], ['kind' => 'odata', 'odata' => ['version' => 4]]);
        self::assertTrue(app(MetadataFetcher::class)->read($source, $this->trial(), null)->succeeded);
        app(SourceStore::class)->publish($source->refresh(), null);

        return $source->refresh();
    }

    private function asked(string $sql): Result
    {
        return app(QueryRunner::class)->run($this->person(Role::Analyst), Environment::named('trial') ?? self::fail(), $sql);
    }

    private function refused(string $sql, string $says): void
    {
        try {
            $this->asked($sql);
            self::fail('It ran.');
        } catch (QueryRefused $refused) {
            self::assertStringContainsString($says, $refused->getMessage());
        }
    }

    /**
     * @param  list<PushedPart>  $parts
     * @return list<string>
     */
    private function texts(array $parts, bool $asked): array
    {
        return array_values(array_map(static fn (PushedPart $part): string => $part->text, array_filter($parts, static fn (PushedPart $part): bool => ($part->asked !== null) === $asked)));
    }
}
