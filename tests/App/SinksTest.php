<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Environment;
use App\Pipeline\Append;
use App\Pipeline\Count;
use App\Pipeline\Lend;
use App\Pipeline\Merge;
use App\Pipeline\PageLimit;
use App\Pipeline\Pipeline;
use App\Pipeline\Position;
use App\Pipeline\Preview;
use App\Pipeline\ReadPage;
use App\Pipeline\Replace;
use App\Pipeline\RowMaker;
use App\Pipeline\Sink;
use App\Pipeline\Tally;
use App\Pipeline\TooManyChanges;
use App\Pipeline\Upsert;
use App\Reservoir\KeepFailed;
use App\Reservoir\MergeCounts;
use App\Reservoir\MergeRule;
use App\Reservoir\StagedTables;
use App\Reservoir\TableStore;
use App\Transport\Sent;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Flatten\Plan;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * What every sink keeps to, and what each of them is for.
 */
final class SinksTest extends AppTestCase
{
    private const FLATTEN = [
        'table' => 'loans', 'key' => ['id'],
        'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'house', 'from' => '$.house']],
    ];

    /**
     * @return iterable<string, array{\Closure(StagedTables): Sink, list<string>}>
     */
    public static function sinks(): iterable
    {
        yield 'replace' => [static fn (StagedTables $staged): Sink => new Replace($staged, 1), ['2 mill', '3 hq', '4 pier']];
        yield 'merge, of which 1 is gone' => [static fn (StagedTables $staged): Sink => new Merge($staged, static fn (): array => [['ID' => '1']], ['id' => 'ID'], 1), ['2 mill', '3 hq', '4 pier']];
        yield 'merge, of which nothing is gone' => [static fn (StagedTables $staged): Sink => new Merge($staged, static fn (): array => [], ['id' => 'ID'], 1), ['1 hq', '2 mill', '3 hq', '4 pier']];
        yield 'upsert' => [static fn (StagedTables $staged): Sink => new Upsert($staged, new MergeRule([[0]]), 1), ['1 hq', '2 mill', '3 hq', '4 pier']];
        yield 'upsert, of which the mill is gone' => [static fn (StagedTables $staged): Sink => new Upsert($staged, new MergeRule([[0]], deleted: [1, 'mill']), 1), ['1 hq', '3 hq', '4 pier']];
        yield 'append' => [static fn (StagedTables $staged): Sink => new Append($staged, 1), ['1 hq', '2 hq', '3 hq', '4 pier']];
        yield 'count' => [static fn (StagedTables $staged): Sink => new Count($staged, 1), ['1 hq', '2 hq']];
        yield 'lend' => [static fn (StagedTables $staged): Sink => new Lend($staged), ['1 hq', '2 hq']];
        yield 'preview' => [static fn (): Sink => new Preview(10), ['1 hq', '2 hq']];
    }

    /**
     * Rows 1 and 2 are kept; 2, 3 and 4 come, 2 with another house.
     *
     * @param  \Closure(StagedTables): Sink  $make
     * @param  list<string>  $after
     */
    #[DataProvider('sinks')]
    public function test_the_table_is_as_it_was_until_a_sink_is_complete_and_then_as_it_is_meant(\Closure $make, array $after): void
    {
        $this->keep([['id' => 1, 'house' => 'hq'], ['id' => 2, 'house' => 'hq']]);
        $sink = $make($this->stage());
        self::assertNull($sink->begin());
        $pipeline = new Pipeline(new RowMaker(Plan::of(self::FLATTEN)), $sink);
        self::assertTrue($pipeline->run([$this->page(1, [['id' => 2, 'house' => 'mill'], ['id' => 3, 'house' => 'hq']]), $this->page(2, [['id' => 4, 'house' => 'pier']])]));
        self::assertSame([2, 3, 3], [$pipeline->tally->pages, $pipeline->tally->records, $pipeline->tally->rows]);
        $sink->finish($pipeline->state());
        self::assertSame(['1 hq', '2 hq'], $this->kept(), 'before it is complete');
        $sink->complete();
        self::assertSame($after, $this->kept());
        $sink->end();
        self::assertSame($after, $this->kept());
        self::assertSame(['loans'], $this->tablesInTrial(), 'nothing is left over');
    }

    /**
     * @param  \Closure(StagedTables): Sink  $make
     */
    #[DataProvider('sinks')]
    public function test_a_sink_that_ends_in_the_middle_leaves_the_table_and_nothing_else(\Closure $make): void
    {
        $this->keep([['id' => 1, 'house' => 'hq']]);
        $sink = $make($this->stage());
        $sink->begin();
        (new Pipeline(new RowMaker(Plan::of(self::FLATTEN)), $sink))->run([$this->page(1, [['id' => 9, 'house' => 'x']])]);
        $sink->end();
        self::assertSame([['1 hq'], ['loans']], [$this->kept(), $this->tablesInTrial()]);
        $again = $make($this->stage());
        self::assertNull($again->begin(), 'the next one can begin');
        $again->end();
    }

    /**
     * Crates with a state and lines; what comes is a list of pages of states.
     *
     * @return iterable<string, array{list<list<array{int, string, list<string>}>>, list<string>, array{int, int, int, int, int}}>
     */
    public static function states(): iterable
    {
        $kept = ['1 05 a', '2 05 c,d', '3 05 '];
        yield 'nothing' => [[[]], $kept, [0, 0, 0, 0, 0]];
        yield 'the same again' => [[[[1, '05', ['a']]]], $kept, [0, 0, 0, 1, 0]];
        yield 'a newer one, with fewer lines' => [[[[2, '06', ['x']]]], ['1 05 a', '2 06 x', '3 05 '], [0, 1, 0, 0, 0]];
        yield 'a newer one, with more lines' => [[[[3, '06', ['x', 'y']]]], ['1 05 a', '2 05 c,d', '3 06 x,y'], [0, 1, 0, 0, 0]];
        yield 'an older one' => [[[[2, '04', ['x']]]], $kept, [0, 0, 0, 0, 1]];
        yield 'a new record' => [[[[4, '06', ['x']]]], [...$kept, '4 06 x'], [1, 0, 0, 0, 0]];
        yield 'the newest comes last' => [[[[2, '06', ['x']]], [[2, '07', ['y', 'z']]]], ['1 05 a', '2 07 y,z', '3 05 '], [0, 1, 0, 0, 0]];
        yield 'the newest comes first' => [[[[2, '07', ['y', 'z']]], [[2, '06', ['x']], [4, '01', ['w']]]], ['1 05 a', '2 07 y,z', '3 05 ', '4 01 w'], [1, 1, 0, 0, 0]];
        yield 'one state twice' => [[[[2, '06', ['x']]], [[2, '06', ['y']]]], ['1 05 a', '2 06 y', '3 05 '], [0, 1, 0, 0, 0]];
        yield 'marked as deleted' => [[[[2, 'gone', []]]], ['1 05 a', '3 05 '], [0, 0, 1, 0, 0]];
        yield 'a new record that is marked as deleted' => [[[[9, 'gone', ['x']]]], $kept, [0, 0, 0, 0, 0]];
        yield 'deleted, and there again' => [[[[2, 'gone', []]], [[2, 'here', ['x']]]], ['1 05 a', '2 here x', '3 05 '], [0, 1, 0, 0, 0]];
    }

    /**
     * @param  list<list<array{int, string, list<string>}>>  $pages
     * @param  list<string>  $after
     * @param  array{int, int, int, int, int}  $counts
     */
    #[DataProvider('states')]
    public function test_of_several_states_the_newest_counts_with_all_its_lines(array $pages, array $after, array $counts): void
    {
        $plan = Plan::of(['table' => 'crates', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'state', 'from' => '$.state']], 'branches' => [
            ['table' => 'crate_lines', 'from' => '$.lines[*]', 'key' => ['crate', 'line'], 'columns' => [['name' => 'line', 'position' => 1], ['name' => 'crate', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'what', 'from' => '$']]],
        ]]);
        $records = fn (array $states): array => array_map(static fn (array $one): array => ['id' => $one[0], 'state' => $one[1], 'lines' => $one[2]], $states);
        $into = function (Sink $sink, array $pages) use ($plan, $records): void {
            $sink->begin();
            $pipeline = new Pipeline(new RowMaker($plan), $sink);
            $pipeline->run(array_map(fn (array $states, int $number): ReadPage => $this->page($number + 1, $records($states)), $pages, array_keys($pages)));
            $sink->finish($pipeline->state());
            $sink->complete();
            $sink->end();
        };
        $stage = fn (): StagedTables => app(TableStore::class)->stage($this->trial(), 'e1', $plan);
        $into(new Replace($stage(), 1), [[[1, '05', ['a']], [2, '05', ['c', 'd']], [3, '05', []]]]);
        $sink = new Upsert($staged = $stage(), new MergeRule([[0], [1]], 1, [1, 'gone'], [3, 3]), 1);
        $into($sink, $pages);
        self::assertEquals(new MergeCounts(...$counts), $sink->counts);
        self::assertSame($staged->counts()->rowsOf, [(int) $this->rows('select count(*) n from crates')[0]->n, (int) $this->rows('select count(*) n from crate_lines')[0]->n], 'reckoned, not counted');
        $is = array_map(static fn (object $row): string => (string) $row->r, $this->rows("select concat(c.id, ' ', c.state, ' ', coalesce(group_concat(l.what order by l.line), '')) r from crates c left join crate_lines l on l.crate = c.id group by c.id, c.state order by c.id"));
        self::assertSame($after, $is);
    }

    public function test_records_of_one_table_are_merged_and_counted_as_going_through_them_one_by_one_would(): void
    {
        $plan = Plan::of(['table' => 'crates', 'key' => ['house', 'id'], 'columns' => [['name' => 'house', 'from' => '$.house', 'type' => 'text', 'length' => 20], ['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'changed', 'from' => '$.changed', 'type' => 'integer'], ['name' => 'note', 'from' => '$.note', 'type' => 'text']]]);
        mt_srand(41);
        $model = [];
        $older = 0;
        for ($round = 0; $round < 14; $round++) {
            $records = [];
            for ($left = mt_rand(0, 60); $left > 0; $left--) {
                $record = ['house' => ['hq', 'mill'][mt_rand(0, 1)], 'id' => mt_rand(1, 40), 'changed' => mt_rand(0, 9) === 0 ? null : mt_rand(1, 12), 'note' => mt_rand(0, 4) === 0 ? null : str_repeat('n', mt_rand(1, 3))];
                $records["{$record['house']} {$record['id']}"] = $record;
            }
            $expected = ['new' => 0, 'changed' => 0, 'same' => 0, 'older' => 0];
            foreach ($round === 0 ? [] : $records as $key => $record) {
                $was = $model[$key] ?? null;
                $isOlder = $was !== null && $was['changed'] !== null && $record['changed'] !== null && $was['changed'] > $record['changed'];
                $expected[$was === null ? 'new' : ($isOlder ? 'older' : ($was === $record ? 'same' : 'changed'))]++;
                $model[$key] = $isOlder ? $was : $record;
            }
            $older += $expected['older'];
            $staged = app(TableStore::class)->stage($this->trial(), 'e1', $plan);
            // The first time the table is made.
            $sink = $round === 0 ? new Replace($staged, 1) : new Upsert($staged, new MergeRule([[0, 1]], 2, null, [count($model) - $expected['new']]), 1);
            $model = $round === 0 ? $records : $model;
            $sink->begin();
            $pipeline = new Pipeline(new RowMaker($plan), $sink);
            $pipeline->run([$this->page(1, array_values($records))]);
            $sink->finish($pipeline->state());
            $sink->complete();
            if ($sink instanceof Upsert) {
                self::assertEquals(new MergeCounts($expected['new'], $expected['changed'], 0, $expected['same'], $expected['older']), $sink->counts, "round $round");
                self::assertSame([count($model)], $staged->counts()->rowsOf);
            }
            $sink->end();
            ksort($model);
            $is = array_map(static fn (object $row): array => ['house' => $row->house, 'id' => (int) $row->id, 'changed' => $row->changed === null ? null : (int) $row->changed, 'note' => $row->note], $this->rows('select * from crates'));
            $is = array_combine(array_map(static fn (array $row): string => "{$row['house']} {$row['id']}", $is), $is);
            ksort($is);
            self::assertSame($model, $is, "round $round");
        }
        self::assertGreaterThan(20, $older);
    }

    public function test_two_states_of_a_record_in_one_answer_are_not_told_apart(): void
    {
        $sink = new Upsert($this->stage(), new MergeRule([[0]]), 1);
        $sink->begin();
        $this->expectException(TooManyChanges::class);
        $this->expectExceptionMessage('page 1 has two states of the record 2');
        try {
            (new Pipeline(new RowMaker(Plan::of(self::FLATTEN)), $sink))->run([$this->page(1, [['id' => 2, 'house' => 'mill'], ['id' => 2, 'house' => 'hq']])]);
        } finally {
            $sink->end();
        }
    }

    public function test_what_was_committed_is_gone_on_with_and_what_came_after_it_is_not_there(): void
    {
        $next = new Position(2, new PageRequest, 1, [], new \DateTimeImmutable('2031-01-01T00:00:00Z'));
        $sink = new Replace($this->stage(), 7, 1);
        $sink->begin();
        $pipeline = new Pipeline(new RowMaker(Plan::of(self::FLATTEN)), $sink);
        $pipeline->run([$this->page(1, [['id' => 1, 'house' => 'hq']], $next)]);
        self::assertTrue($pipeline->commit());
        $sink->end(true);
        $other = new Replace($staged = $this->stage(), 7, 2);
        $left = $other->begin() ?? self::fail('Nothing was left.');
        self::assertSame([2, 1, 1, false], [$left['position']['page'], $left['counts']['records'], $staged->counts()->rows, $left['finished']]);
        $other->end();
        $stranger = new Replace($this->stage(), 8, 1);
        self::assertNull($stranger->begin(), 'rows of another run are nobody else’s');
        $stranger->end();
    }

    public function test_texts_are_as_wide_as_what_came_and_grow_without_losing_a_character(): void
    {
        $house = static fn (int $length): string => str_repeat('ø', $length - 1).'|';
        self::assertSame('varchar(64)', $this->widthAfter([[['id' => 1, 'house' => 'hq']]]));
        self::assertSame('varchar(64)', $this->widthAfter([[['id' => 1, 'house' => null]]]));
        self::assertSame('varchar(255)', $this->widthAfter([[['id' => 1, 'house' => $house(40)]]]), 'with room to grow');
        self::assertSame('mediumtext', $this->widthAfter([[['id' => 1, 'house' => $house(3000)]]]));
        // A longer one comes later, after rows were loaded.
        foreach ([65 => 'varchar(255)', 64 => 'varchar(64)', 300 => 'varchar(1000)', 2001 => 'mediumtext', 70_000 => 'mediumtext'] as $length => $type) {
            self::assertSame($type, $this->widthAfter([[['id' => 1, 'house' => 'hq']], [['id' => 2, 'house' => 'mill'], ['id' => 3, 'house' => $house($length)]], [['id' => 4, 'house' => 'pier']]]), "$length characters");
            self::assertSame(['1 hq', '2 mill', "3 {$house($length)}", '4 pier'], $this->kept());
        }
    }

    public function test_what_is_gone_on_with_and_what_is_merged_grow_as_well(): void
    {
        $long = str_repeat('☂', 200).'|';
        $next = new Position(2, new PageRequest, 1, [], new \DateTimeImmutable('2031-01-01T00:00:00Z'));
        $sink = new Replace($this->stage(), 7, 1);
        $sink->begin();
        $pipeline = new Pipeline(new RowMaker(Plan::of(self::FLATTEN)), $sink);
        $pipeline->run([$this->page(1, [['id' => 1, 'house' => 'hq']], $next)]);
        self::assertTrue($pipeline->commit());
        $sink->end(true);
        $other = new Replace($this->stage(), 7, 2);
        self::assertNotNull($other->begin());
        $pipeline = new Pipeline(new RowMaker(Plan::of(self::FLATTEN)), $other);
        $pipeline->run([$this->page(2, [['id' => 2, 'house' => $long]])]);
        $other->finish($pipeline->state());
        $other->complete();
        $other->end();
        self::assertSame(['1 hq', "2 $long"], $this->kept());

        // A change with a short text, on top of rows with a long one: nothing of what stays is cut.
        $merge = new Merge($this->stage(), static fn (): array => [], ['id' => 'ID'], 8);
        $merge->begin();
        $pipeline = new Pipeline(new RowMaker(Plan::of(self::FLATTEN)), $merge);
        $pipeline->run([$this->page(1, [['id' => 3, 'house' => 'x']])]);
        $merge->finish($pipeline->state());
        $merge->complete();
        $merge->end();
        self::assertSame(['1 hq', "2 $long", '3 x'], $this->kept());
        // And one that brings nothing at all.
        $merge = new Merge($this->stage(), static fn (): array => [], ['id' => 'ID'], 9);
        $merge->begin();
        $merge->finish((new Pipeline(new RowMaker(Plan::of(self::FLATTEN)), $merge))->state());
        $merge->complete();
        $merge->end();
        self::assertSame(['1 hq', "2 $long", '3 x'], $this->kept());
    }

    /**
     * @param  list<list<array<string, mixed>>>  $pages  each is loaded by itself
     */
    private function widthAfter(array $pages): string
    {
        $sink = new Replace($staged = $this->stage());
        $sink->begin();
        foreach ($pages as $number => $records) {
            $pipeline = new Pipeline(new RowMaker(Plan::of(self::FLATTEN)), $sink);
            $pipeline->run([$this->page($number + 1, $records)]);
            $staged->commit(null);
            $staged->awaitLoading();
        }
        $sink->finish($pipeline->state());
        $sink->complete();
        $sink->end();

        return (string) $this->rows("select column_type as type from information_schema.columns where table_schema = database() and table_name = 'loans' and column_name = 'house'")[0]->type;
    }

    public function test_only_one_sink_fills_the_tables_of_an_owner_at_a_time(): void
    {
        $first = new Replace($this->stage());
        $first->begin();
        $store = (fn () => $this->keeper)->call($this->stage());
        $other = new \PDO("mysql:host={$store->getConfig('host')};port={$store->getConfig('port')}", (string) $store->getConfig('username'), (string) $store->getConfig('password'));
        self::assertNotNull(app(TableStore::class)->writer($this->trial(), 'e1'));
        $name = \App\Reservoir\MariaDb\MariaDbStagedTables::lock($store, $this->trial()->schema(), 'e1')->name;
        self::assertSame('0', (string) $other->query('select get_lock('.$other->quote($name).', 0)')->fetchColumn());
        $first->end();
        self::assertSame('1', (string) $other->query('select get_lock('.$other->quote($name).', 0)')->fetchColumn());
        $this->expectException(KeepFailed::class);
        (new Replace($this->stage()))->begin();
    }

    public function test_it_stops_after_so_many_pages_but_not_behind_the_last(): void
    {
        $next = new Position(2, new PageRequest, 1, [], new \DateTimeImmutable);
        $pages = fn (): array => [$this->page(1, [['id' => 1]], $next), $this->page(2, [['id' => 2]])];
        $first = new Pipeline(null, new Preview(0), new PageLimit(1));
        self::assertSame([false, 1], [$first->run($pages()), $first->tally->pages]);
        $both = new Pipeline(null, new Preview(0), new PageLimit(2));
        self::assertSame([true, 2], [$both->run($pages()), $both->tally->records]);
    }

    public function test_a_preview_shows_the_first_rows_and_counts_all_that_did_not_fit(): void
    {
        $preview = new Preview(2);
        (new Pipeline(new RowMaker(Plan::of(self::FLATTEN)), $preview, null, new Tally))->run([$this->page(1, [['id' => 1], ['id' => 2], ['id' => 3], ['id' => 'x'], ['id' => 'y'], ['id' => 'z']])]);
        $batch = $preview->batch();
        self::assertSame([['1', '2'], 3, 2], [array_column($batch->rows[0], 0), $batch->rejected, count($batch->rejects)]);
    }

    /**
     * @param  list<array<string, mixed>>  $records
     */
    private function keep(array $records): void
    {
        $sink = new Replace($this->stage());
        $sink->begin();
        $pipeline = new Pipeline(new RowMaker(Plan::of(self::FLATTEN)), $sink);
        $pipeline->run([$this->page(1, $records)]);
        $sink->finish($pipeline->state());
        $sink->complete();
        $sink->end();
    }

    private function stage(): StagedTables
    {
        return app(TableStore::class)->stage(Environment::named('trial') ?? self::fail(), 'e1', Plan::of(self::FLATTEN));
    }

    /**
     * @param  list<array<string, mixed>>  $records
     */
    private function page(int $number, array $records, ?Position $position = null): ReadPage
    {
        $document = json_decode((string) json_encode($records));

        return new ReadPage($number, $document, $document, Sent::kept('application/json', (string) json_encode($records)), $position);
    }

    /**
     * @return list<string>
     */
    private function kept(): array
    {
        return array_map(static fn (object $row): string => "$row->id $row->house", $this->rows('select id, house from loans order by id'));
    }
}
