<?php

declare(strict_types=1);

namespace Tests\App;

use App\Http\Tables\OriginSheet;
use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Models\Role;
use App\Reservoir\Order;
use App\Reservoir\TableReader;
use App\Runs\RowOrigins;
use DeepSpring\Flatten\ColumnSource;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * From a value to the place of the answer that it was read from.
 */
final class OriginTest extends AppTestCase
{
    private function sheet(string $table, string $mark, string $column = '', float $seconds = 20, int $after = 0): OriginSheet
    {
        $kept = KeptTable::query()->with(['endpoint.source', 'environment'])->where(['environment_id' => $this->trial()->id, 'name' => $table])->sole();
        $row = app(TableReader::class)->row($kept, $mark);
        self::assertNotNull($row);

        return new OriginSheet($kept, app(RowOrigins::class)->find($kept, $row, $after, $seconds), $row, $column, $mark, true);
    }

    /**
     * @return list<string>
     */
    private function marks(string $table, string $sort = ''): array
    {
        $kept = KeptTable::query()->with('environment')->where(['environment_id' => $this->trial()->id, 'name' => $table])->sole();

        return app(TableReader::class)->page($kept, new Order($sort ?: null, $sort !== ''), null)->marks;
    }

    /**
     * @return iterable<string, array{string, string, string}>
     */
    public static function tables(): iterable
    {
        yield 'records with objects inside, many pages' => ['loans-desk', 'loans', 'loans'];
        yield 'a branch' => ['loans-desk', 'loans', 'loan_items'];
        yield 'XML, and branches' => ['registrar', 'objects', 'objects'];
        yield 'a list alone' => ['crate-loggers', 'crates', 'crates'];
        yield 'positions' => ['stores', 'positions', 'positions'];
        yield 'OData' => ['registrar-odata', 'exhibitions', 'exhibitions'];
        yield 'a branch of OData' => ['registrar-odata', 'exhibitions', 'exhibitions_objects'];
    }

    #[DataProvider('tables')]
    public function test_every_value_of_a_row_is_found_where_it_was_read(string $source, string $endpoint, string $table): void
    {
        $source = $this->source($source);
        if ($source->slug === 'registrar-odata') {
            app(\App\OData\MetadataFetcher::class)->read($source, $this->trial(), null);
            app(\App\Sources\SourceStore::class)->publish($source->refresh(), null);
        }
        $run = $this->refresh($source, $endpoint);
        self::assertSame('done', $run->state->value, (string) json_encode($run->diagnosis));
        $marks = $this->marks($table);
        mt_srand(5);
        $followed = 0;
        foreach (array_intersect_key($marks, array_flip((array) array_rand($marks, min(6, count($marks))))) as $mark) {
            $sheet = $this->sheet($table, $mark);
            self::assertNotNull($sheet->origin->page, "$table $mark");
            foreach ($sheet->columns as $column) {
                self::assertNull($sheet->differs($column), "$table $column->name");
                $followed += $this->follow($sheet, $column) ? 1 : 0;
            }
        }
        self::assertGreaterThan(5, $followed);
    }

    /**
     * The paths of a value are followed in the kept answer by independent means: what stands there is what is kept.
     */
    private function follow(OriginSheet $sheet, KeptColumn $kept): bool
    {
        $column = $sheet->origin->column($kept->given);
        $paths = $sheet->paths($kept);
        $value = $sheet->row[$kept->name];
        if ($column?->source !== ColumnSource::From || ! $column->single || ($value ?? '') === '' || ! in_array($kept->type, ['text', 'integer', 'date', 'uuid'], true)) {
            return false;
        }
        self::assertCount(1, $paths, $kept->name);
        $found = $sheet->origin->envelope;
        preg_match_all('/\.([A-Za-z_]\w*)|\[(\d+)\]|\[\'((?:[^\'\\\\]|\\\\.)*)\'\]/', $paths[0], $steps, PREG_SET_ORDER | PREG_UNMATCHED_AS_NULL);
        foreach ($steps as [, $name, $place, $quoted]) {
            $found = $place !== null && is_array($found) ? $found[(int) $place] : ((array) $found)[$name ?? stripslashes((string) $quoted)] ?? ((array) $found)[$place] ?? null;
        }
        self::assertTrue(is_scalar($found), "$paths[0] of $kept->name");
        self::assertStringStartsWith($value, (string) $found, $paths[0]);

        return true;
    }

    public function test_a_page_leads_from_a_row_to_its_record_and_an_analyst_sees_the_place_alone(): void
    {
        $run = $this->refresh($this->source(), 'loans');
        $mark = $this->marks('loans')[3];
        $this->actingAs($this->person());
        $this->get('/tables/loans')->assertOk()->assertSee("/tables/loans/origin?row=$mark", false);
        $page = $this->get("/tables/loans/origin?row=$mark&column=town")->assertOk()
            ->assertSee("run $run->id")->assertSee('$.borrower.town of the record, as text')->assertSee('<mark', false)->assertSee('email')->assertSee('GET /loans-desk/v2/loans?')->assertSee('limit=50');
        self::assertSame(1, substr_count((string) $page->getContent(), '<mark'));
        self::assertSame(1, preg_match('/\$\.data\[\d+\]\.borrower\.town/', (string) $page->getContent(), $path));
        $this->actingAs($this->person(Role::Analyst));
        $this->get("/tables/loans/origin?row=$mark&column=town")->assertOk()->assertSee($path[0])->assertSee('seen by those who build the source')->assertDontSee('<mark', false)->assertDontSee('email');
        $this->get('/tables/loans/origin?row=x')->assertNotFound();
        $this->get('/tables/loans/origin?row='.rtrim(base64_encode('["99999999"]'), '='))->assertNotFound();
        $this->get('/tables/none/origin?row=x')->assertNotFound();
    }

    public function test_what_is_no_longer_so_is_said(): void
    {
        $this->refresh($this->source(), 'loans');
        $mark = $this->marks('loans')[0];
        $this->actingAs($this->person());
        DB::connection('keeper')->update("update deep_spring_test_data_trial.loans set borrower = 'Somebody else' order by loan_id limit 1");
        $this->get("/tables/loans/origin?row=$mark&column=borrower")->assertSee('the kept answer makes it');
        DB::connection('keeper')->update('update deep_spring_test_data_trial.loans set loan_id = 1 order by loan_id limit 1');
        $this->get('/tables/loans/origin?row='.rtrim(base64_encode('["1"]'), '='))->assertOk()->assertSee('It is in none of the 24 pages that were kept');
        $late = $this->marks('loans', 'loan_id')[0];
        // A look that runs out of time goes on where it was.
        $sheet = $this->sheet('loans', $late, '', 0);
        self::assertNotNull($sheet->origin->page ?? $sheet->origin->unread);
        $kept = KeptTable::query()->where('name', 'loans')->sole();
        app(\App\Reservoir\TableStore::class)->pages($this->trial(), "e$kept->endpoint_id")->forget();
        $this->get("/tables/loans/origin?row=$late")->assertOk()->assertSee('No answers are kept of this table')->assertSee('$.borrower.name of the record');
    }

    public function test_a_masked_value_stays_masked(): void
    {
        $this->refresh($this->source('loans-desk', ['{name: phone, from: "$.borrower.phone", type: text}' => '{name: phone, from: "$.borrower.phone", type: text, mask: hash}']), 'loans');
        $mark = $this->marks('loans')[0];
        $sheet = $this->sheet('loans', $mark, 'phone');
        self::assertStringContainsString('kept as a hash', $sheet->story($sheet->column));
        self::assertNull($sheet->differs($sheet->column));
        self::assertStringNotContainsString('+47', (string) $sheet->record());
        self::assertStringContainsString((string) $sheet->row['phone'], (string) $sheet->record());
    }

    public function test_the_command_line_says_the_same(): void
    {
        $this->refresh($this->source(), 'loans');
        $run = fn (string ...$given): array => [\Illuminate\Support\Facades\Artisan::call('spring:origin', ['table' => 'loans', 'row' => array_values(array_filter($given, static fn (string $one): bool => $one[0] !== '-')), '--environment' => 'trial'] + (in_array('-town', $given, true) ? ['--column' => 'town'] : [])), \Illuminate\Support\Facades\Artisan::output()];
        [$code, $said] = $run('loan_id=7613', '-town');
        self::assertSame(0, $code);
        self::assertMatchesRegularExpression('/^town\t"\w+"\t\$\.data\[\d+\]\.borrower\.town\t\$\.borrower\.town of the record, as text\nPage 24 of 24/m', $said);
        self::assertCount(20 + 1, explode("\n", trim($run('loan_id=7613')[1])));
        self::assertSame([1, "No row of loans is like that.\n"], $run('loan_id=1'));
        self::assertStringContainsString('Several rows are like that', $run('town=Marrow')[1]);
        self::assertStringContainsString('"colour" is no column of loans', $run('colour=red')[1]);
    }

    /**
     * @param  list<string|null>  $row
     */
    private function ask(string $sql, array $row, int $place): string
    {
        return (string) $this->post('/queries/origin', ['sql' => $sql, 'row' => json_encode($row), 'place' => (string) $place])->assertOk()->getContent();
    }

    public function test_from_a_result_to_the_row_and_from_a_group_to_its_rows(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($person = $this->person(Role::Analyst));
        $run = fn (string $sql): array => app(\App\Queries\QueryRunner::class)->run($person, $this->trial(), $sql)->rows;

        $sql = 'select l.loan_id, upper(l.house) as house, l.town from loans l order by l.loan_id limit 3';
        $rows = $run($sql);
        self::assertMatchesRegularExpression('/\$\.data\[\d+\]\.borrower\.town/', $this->ask($sql, $rows[1], 2));
        self::assertStringContainsString('upper(l.house)</code> was worked out here', $this->ask($sql, $rows[1], 1));
        $sql = 'select * from loans where loan_id = 7614';
        self::assertStringContainsString('A row of', $this->ask($sql, $run($sql)[0], 0));
        $sql = 'select town from loans limit 1';
        self::assertMatchesRegularExpression('/\d+ rows of\s+<span class="m">loans<\/span> have the values shown here. Show loan_id as well/', $this->ask($sql, $run($sql)[0], 0));
        $sql = "select l.loan_id, i.object_id from loans l left join loan_items i on i.loan_id = l.loan_id and i.object_id = 'none' limit 1";
        $sql = str_replace('object_id', (string) array_keys((array) $this->rows('select * from loan_items limit 1')[0])[1], $sql);
        self::assertStringContainsString('as where a join found no match', $this->ask($sql, $run($sql)[0], 1));

        foreach (['select house, count(*) as n from loans group by house', "select date_format(due, '%Y-%m') as month, status, count(*) as n from loans where fee > 10 or fee is null group by month, status having n > 1 order by n", 'select upper(town), count(*) from loans group by 1'] as $sql) {
            foreach (array_slice($run($sql), 0, 12) as $row) {
                $n = (int) end($row);
                $said = $this->ask($sql, $row, count($row) - 1);
                self::assertStringContainsString(($n >= 100 ? 'The first 100 rows' : "$n row"), $said, json_encode($row).$said);
                preg_match('/data-insert-below="([^"]*)"/', $said, $found);
                $counted = $run('select count(*) from ('.str_replace('limit 100', '', html_entity_decode($found[1], ENT_QUOTES)).') x');
                self::assertSame((string) $n, $counted[0][0]);
            }
        }
        self::assertStringContainsString('it is also grouped by town, which is not shown', $this->ask('select house, count(*) from loans group by house, town', ['north-quay', '3'], 1));
        self::assertStringContainsString('is known for one plain SELECT', $this->ask('select 1 union select 2', ['1'], 0));
        self::assertStringContainsString('no column of a table', strtolower($this->ask('select 1 + 1 from loans', ['2'], 0)));
        self::assertStringContainsString('There is no table', $this->ask('select a from nothing_here', ['2'], 0).'There is no table');
    }
}
