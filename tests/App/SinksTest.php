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
use App\Reservoir\KeepFailed;
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
