<?php

declare(strict_types=1);

namespace Tests\App;

use App\Reservoir\MariaDb\ColumnWidths;
use App\Reservoir\MariaDb\GrowingColumn;
use App\Reservoir\MariaDb\Loader;
use App\Reservoir\MariaDb\TableDefinition;
use App\Reservoir\StagedTables;
use App\Reservoir\TableShape;
use App\Reservoir\TableStore;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\RowBatch;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Columns are as wide as what came, and whatever comes later is kept digit for digit.
 */
final class WidthsTest extends AppTestCase
{
    private const TYPES = [
        'whole' => ['type' => 'integer'],
        'amount' => ['type' => 'decimal', 'scale' => 2],
        'rate' => ['type' => 'decimal', 'scale' => 30, 'precision' => 65],
        'narrow' => ['type' => 'decimal', 'scale' => 1, 'precision' => 8],
        'house' => ['type' => 'text'],
    ];

    private function plan(): Plan
    {
        return Plan::of(['table' => 'widths', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ...array_map(static fn (string $name): array => ['name' => $name, 'from' => "$.$name"] + self::TYPES[$name], array_keys(self::TYPES))]]);
    }

    /**
     * @return array<int, GrowingColumn>
     */
    private function growing(): array
    {
        return TableDefinition::growing(new TableShape($this->plan()->table));
    }

    /**
     * @param  list<array<string, string|null>>  $loads  a value of some columns each, loaded by themselves
     */
    private function loaded(array $loads, ?StagedTables $staged = null): StagedTables
    {
        if ($staged === null) {
            $staged = app(TableStore::class)->stage($this->trial(), 'widths', $this->plan());
            $staged->begin(5, 1);
        }
        foreach ($loads as $id => $values) {
            $staged->add(new RowBatch([[[(string) ($id + 1), ...array_map(static fn (string $name): ?string => $values[$name] ?? null, array_keys(self::TYPES))]]], [], 0, 0));
            $staged->commit(['position' => $id]);
            $staged->awaitLoading();
        }

        return $staged;
    }

    private function placed(StagedTables $staged): void
    {
        $staged->finish();
        $staged->putInPlace();
        $staged->end();
    }

    private function typeOf(string $column): string
    {
        return (string) $this->rows("select column_type as type from information_schema.columns where table_schema = 'deep_spring_test_data_trial' and table_name = 'widths' and column_name = '$column'")[0]->type;
    }

    /**
     * @return list<string|null>
     */
    private function values(string $column): array
    {
        return array_map(static fn (object $row): ?string => $row->value === null ? null : (string) $row->value, $this->rows("select `$column` as value from widths order by id"));
    }

    /**
     * @return iterable<string, array{string, list<string|null>, string}> a column, what is loaded one after the other, and the type in the end
     */
    public static function columns(): iterable
    {
        yield 'short whole numbers' => ['whole', ['7', '-12345678'], 'int(11)'];
        yield 'the most that is short' => ['whole', ['7', '999999999', '-999999999'], 'int(11)'];
        yield 'one more' => ['whole', ['7', '1000000000'], 'bigint(20)'];
        yield 'long at once' => ['whole', ['123456789'], 'bigint(20)'];
        yield 'as long as can be' => ['whole', ['1', '9223372036854775807', '-9223372036854775808', '2'], 'bigint(20)'];
        yield 'nothing' => ['whole', [null], 'int(11)'];
        yield 'amounts' => ['amount', ['1.50', '-1234567.89'], 'decimal(11,2)'];
        yield 'amounts that grow' => ['amount', ['1.50', '1234567890.12', '-999999999999999999.99'], 'decimal(20,2)'];
        yield 'amounts that grow beyond' => ['amount', ['1.50', '-1234567890123456789.01', '2.00', '-999999999999999999999999999999999999.99'], 'decimal(38,2)'];
        yield 'without a point' => ['amount', ['5', '1234567890123456789'], 'decimal(38,2)'];
        yield 'all decimals there are' => ['rate', ['0.123456789012345678901234567890', '-12345678901234567890123456789012345.123456789012345678901234567890'], 'decimal(65,30)'];
        yield 'few digits by choice' => ['narrow', ['1.5', '-1234567.8'], 'decimal(8,1)'];
        yield 'texts' => ['house', ['hq', str_repeat('ø', 64), str_repeat('☂', 65)], 'varchar(255)'];
        yield 'texts beyond' => ['house', ['hq', str_repeat('☂', 2001)], 'mediumtext'];
        yield 'texts with much in one character' => ['house', [str_repeat('🦀', 32)], 'varchar(64)'];
    }

    /**
     * @param  list<string|null>  $values
     */
    #[DataProvider('columns')]
    public function test_it_grows_and_nothing_is_lost(string $column, array $values, string $type): void
    {
        $this->placed($this->loaded(array_map(static fn (?string $value): array => [$column => $value], $values)));
        self::assertSame($type, $this->typeOf($column));
        $scale = self::TYPES[$column]['scale'] ?? 0;
        self::assertSame(array_map(static fn (?string $value): ?string => $scale > 0 && $value !== null ? bcadd($value, '0', $scale) : $value, $values), $this->values($column));
    }

    public function test_an_index_and_rows_that_are_there_do_not_hinder_it(): void
    {
        $staged = $this->loaded([['whole' => '1', 'amount' => '1.00', 'house' => 'hq']]);
        $staged->index(['widths' => [['whole', 'amount'], ['house']]]);
        $this->loaded([1 => ['whole' => '12345678901', 'amount' => '12345678901234.50', 'house' => str_repeat('x', 300)]], $staged);
        $this->placed($staged);
        self::assertSame([['bigint(20)', 'decimal(20,2)', 'varchar(1000)'], ['1', '12345678901']], [array_map($this->typeOf(...), ['whole', 'amount', 'house']), $this->values('whole')]);
    }

    public function test_another_process_goes_on_with_the_widths_that_are_there(): void
    {
        $this->loaded([['whole' => '1', 'amount' => '1.00']])->end(true);
        $again = app(TableStore::class)->stage($this->trial(), 'widths', $this->plan());
        self::assertNotNull($again->begin(5, 2));
        $this->placed($this->loaded([1 => ['whole' => '12345678901', 'amount' => '999999999999.99']], $again));
        self::assertSame(['1', '12345678901'], $this->values('whole'));
        self::assertSame(['1.00', '999999999999.99'], $this->values('amount'));
    }

    public function test_rows_that_are_taken_over_are_not_cut_to_what_came_anew(): void
    {
        $this->placed($this->loaded([['whole' => '9223372036854775807', 'amount' => '-123456789012345678901.25', 'house' => str_repeat('☂', 300)]]));
        foreach ([[1 => ['whole' => '2', 'amount' => '2.00', 'house' => 'hq']], []] as $new) {
            $staged = $this->loaded($new);
            $staged->finish();
            $staged->carryOver([], ['id' => 'id']);
            $staged->putInPlace();
            $staged->end();
            self::assertSame('9223372036854775807', $this->values('whole')[0]);
            self::assertSame('-123456789012345678901.25', $this->values('amount')[0]);
            self::assertSame(str_repeat('☂', 300), $this->values('house')[0]);
        }
        self::assertSame(['-123456789012345678901.25', '2.00'], $this->values('amount'));
    }

    public function test_what_is_expected_to_be_changes_begins_as_wide_as_what_is_kept(): void
    {
        $this->placed($this->loaded([['whole' => '12345678901', 'house' => str_repeat('☂', 300)]]));
        $staged = fn (): array => array_map(static fn (object $row): string => (string) $row->type, $this->rows("select column_type as type from information_schema.columns where table_schema = 'deep_spring_test_data_trial' and table_name like 'stage%_0' and column_name in ('whole', 'house') order by ordinal_position"));
        $changes = app(TableStore::class)->stage($this->trial(), 'widths', $this->plan());
        $changes->expectChanges();
        $changes->begin(6, 1);
        self::assertSame(['bigint(20)', 'varchar(1000)'], $staged());
        $this->loaded([1 => ['house' => 'hq']], $changes);
        self::assertSame(['bigint(20)', 'varchar(1000)'], $staged());
        $this->loaded([2 => ['house' => str_repeat('ø', 1500)]], $changes);
        self::assertSame(['bigint(20)', 'varchar(4000)'], $staged());
        self::assertSame([['hq', str_repeat('ø', 1500)]], [array_map(static fn (object $row): string => (string) $row->house, $this->rows('select house from '.$this->rows("select table_name as name from information_schema.tables where table_schema = 'deep_spring_test_data_trial' and table_name like 'stage%_0'")[0]->name.' order by id'))]);
        $changes->end();
        // What is read as a whole afterwards is as wide as what comes.
        $changes->begin(7, 1);
        self::assertSame(['bigint(20)', 'mediumtext'], $staged());
        $changes->end();
    }

    public function test_texts_with_whatever_a_file_of_rows_is_made_of_come_back_as_they_were(): void
    {
        $texts = ["\x1F", "\x1E", '\\', '\\N', '\\\\N', "\\\x1F", "a\x1Fb\x1Ec\\d", "\t", "\n", "\r\n", "\0", "\x1A", '', null, 'NULL', '"', "'", '\\0', "\\\x1E\\", 'plain'];
        foreach ([$texts, ['plain', null], array_reverse($texts), ["only\x1Fone"], ['\\N']] as $round => $some) {
            $staged = app(TableStore::class)->stage($this->trial(), 'widths', $this->plan());
            $staged->begin(8 + $round, 1);
            $staged->add(new RowBatch([array_map(static fn (?string $text, int $number): array => [(string) $number, null, '1.50', null, null, $text], $some, array_keys($some))], [], 0, 0));
            $this->placed($staged);
            self::assertSame($some, $this->values('house'));
        }
    }

    public function test_the_process_that_loads_serves_one_stage_after_the_other_and_is_replaced_where_it_died(): void
    {
        $spare = static fn (): int => proc_get_status((new \ReflectionProperty(Loader::class, 'process'))->getValue((new \ReflectionProperty(Loader::class, 'spare'))->getValue()))['pid'];
        $this->placed($this->loaded([['whole' => '1']]));
        $first = $spare();
        $this->placed($this->loaded([['whole' => '2']]));
        self::assertSame([$first, ['2']], [$spare(), $this->values('whole')]);
        posix_kill($first, SIGKILL);
        $this->placed($this->loaded([['whole' => '3']]));
        $second = $spare();
        self::assertSame([true, ['3']], [$second !== $first, $this->values('whole')]);
        // The database ends its connection while nothing is to be done.
        foreach ($this->rows('select id from information_schema.processlist where user = substring_index(current_user(), \'@\', 1) and id <> connection_id()') as $other) {
            DB::connection('keeper')->statement("kill connection $other->id");
        }
        $this->placed($this->loaded([['whole' => '4']]));
        self::assertSame(['4'], $this->values('whole'));
        // Two at a time are two processes.
        $one = $this->loaded([['whole' => '5']]);
        $other = app(TableStore::class)->stage($this->trial(), 'other', $this->plan());
        $other->begin(6, 1);
        $this->loaded([['whole' => '6']], $other);
        $other->end();
        $this->placed($one);
        self::assertSame(['5'], $this->values('whole'));
    }

    public function test_random_numbers_in_random_loads_come_back_as_they_were(): void
    {
        $seed = (int) (getenv('SPRING_SEED') ?: random_int(1, 1_000_000));
        mt_srand($seed);
        $digits = static fn (int $most): string => mt_rand(1, 9).implode('', array_map(static fn (): int => mt_rand(0, 9), array_fill(0, mt_rand(0, $most - 1), 0)));
        $loads = array_map(static fn (): array => [
            'whole' => (mt_rand(0, 1) ? '-' : '').$digits(18), 'amount' => (mt_rand(0, 1) ? '-' : '').$digits(mt_rand(1, 36)).'.'.mt_rand(10, 99), 'rate' => $digits(35).'.'.substr(bcadd('0.'.$digits(30), '0', 30), 2), 'house' => str_repeat(['a', 'ø', '☂', '🦀'][mt_rand(0, 3)], mt_rand(0, 3000)),
        ], range(1, 25));
        $this->placed($this->loaded($loads));
        foreach (['whole', 'amount', 'rate', 'house'] as $column) {
            self::assertSame(array_column($loads, $column), $this->values($column), "$column, seed $seed");
        }
    }

    public function test_widths_stay_within_what_a_row_may_have(): void
    {
        $texts = array_fill(0, 100, $this->growing()[5]);
        $widths = ColumnWidths::seen($texts, array_fill(0, 100, 100));
        self::assertSame([46, 54], [count(array_filter($widths->widths, is_int(...))), count(array_filter($widths->widths, is_null(...)))]);
        $few = static fn (int ...$places): array => array_intersect_key($texts, array_flip($places));
        self::assertSame([0 => 64, 1 => 255, 2 => null], ColumnWidths::seen($few(0, 1, 2), [0 => 0, 1 => 127, 2 => 5000])->widths);
        self::assertSame([0 => 64, 1 => 1000], ColumnWidths::there($few(0, 1), [0 => 64, 1 => 255])->widened([0 => 64, 1 => 256])->widths);
        self::assertSame([0 => null, 1 => 255, 2 => 1000], ColumnWidths::there($few(0, 1, 2), [0 => null, 1 => 64, 2 => 1000])->atLeast(ColumnWidths::there($few(0, 1, 2), [0 => 64, 1 => 255, 2 => 64]))->widths);
        self::assertSame([1 => 9, 2 => 9, 3 => 9, 4 => null, 5 => 64], ColumnWidths::seen($this->growing(), [])->widths, 'Eight digits need no narrower column.');
        self::assertSame([1 => null, 2 => null, 3 => null, 4 => null, 5 => null], ColumnWidths::unbounded($this->growing())->widths);
    }
}
