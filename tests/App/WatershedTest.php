<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Note;
use App\Models\Role;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Models\Tryout;
use App\Notes\NoteBook;
use App\View\WatershedMap;

/**
 * However many sources there are, each is drawn or named, once; and nothing lies on anything else.
 */
final class WatershedTest extends AppTestCase
{
    public function test_few_tables_are_all_drawn(): void
    {
        $this->fill(3, 2);
        $map = $this->map();
        self::assertCount(3, $this->boxes($map, 'source'));
        self::assertCount(6, $this->boxes($map, 'table'));
        self::assertSame([], $map->idle);
        self::assertSame(1, $map->pages);
    }

    public function test_many_sources_come_in_pages_and_none_is_lost(): void
    {
        $this->fill(95, 3, idleEvery: 10);
        $drawn = $tables = [];
        for ($page = 1, $pages = 1; $page <= $pages; $page++) {
            $map = $this->map(page: $page);
            $pages = $map->pages;
            array_push($drawn, ...array_column($this->boxes($map, 'source'), 'full'));
            array_push($tables, ...array_column($this->boxes($map, 'table'), 'full'));
            self::assertLessThanOrEqual(40, count($this->boxes($map, 'source')));
            $this->assertNothingOverlaps($map);
        }
        self::assertSame([9, 86], [count($this->map()->idle), $this->map()->sources]);
        $named = array_merge($drawn, array_column($this->map()->idle, 'name'));
        sort($named);
        $all = Source::query()->orderBy('name')->pluck('name')->all();
        sort($all);
        self::assertSame($all, $named);
        self::assertSame(258, array_sum(array_map(static fn (string $said): int => (int) $said, $tables)), 'each box says for how many tables it stands');
        self::assertSame($pages, $this->map(page: 99)->page);
    }

    public function test_the_tables_of_one_source_can_be_unfolded(): void
    {
        $this->fill(12, 3);
        self::assertCount(12, $this->boxes($this->map(), 'table'));
        $open = $this->map(open: 'house-2');
        self::assertCount(14, $this->boxes($open, 'table'));
        self::assertContains('house_2_1', array_column($this->boxes($open, 'table'), 'full'));
        $this->assertNothingOverlaps($open);
    }

    public function test_what_needs_a_look_comes_first_and_is_never_folded_away(): void
    {
        $this->fill(50, 2, idleEvery: 25);
        $try = ['environment_id' => $this->environment()->id, 'user_id' => $this->person()->id, 'succeeded' => false, 'milliseconds' => 1, 'records' => 0, 'strata' => [], 'diagnosis' => ['code' => 'refused', 'what' => 'The connection was refused.', 'advice' => '']];
        $idle = Source::query()->where('slug', 'house-24')->firstOrFail();
        Tryout::query()->create(['source_id' => $idle->id] + $try);
        KeptTable::query()->where('name', 'house_40_0')->update(['refreshed_at' => now()->subDays(3)]);
        $map = $this->map();
        self::assertSame(['House 24', 'House 40', 'House 0', 'House 1'], array_slice(array_column($this->boxes($map, 'source'), 'full'), 0, 4));
        self::assertSame(['House 49'], array_column($map->idle, 'name'));
        self::assertEqualsCanonicalizing(['refused House 24', 'ageing house_40_0'], array_map(static fn (Note $one): string => "{$one->kind->label()} $one->title", $map->needs->all));
    }

    public function test_a_query_stands_beside_what_it_reads_and_many_fold_by_person(): void
    {
        $this->fill(20, 2);
        [$ines, $tomas] = [$this->person(), $this->person(Role::Analyst)];
        SavedQuery::query()->create(['user_id' => $ines->id, 'name' => 'Two houses', 'sql' => 'select * from HOUSE_3_0 join `house_15_1` using (id)']);
        SavedQuery::query()->create(['user_id' => $ines->id, 'name' => 'Not that one', 'sql' => 'select * from house_3_01, xhouse_3_0']);
        $map = $this->map();
        $bands = array_filter($map->drawing->bands, static fn (array $band): bool => str_starts_with($band['to'], 'q'));
        self::assertCount(2, $bands);
        self::assertSame(['reads 2 tables', 'reads no kept table'], array_column($this->boxes($map, 'query'), 'sub'));
        for ($number = 0; $number < 30; $number++) {
            SavedQuery::query()->create(['user_id' => $number % 2 === 0 ? $ines->id : $tomas->id, 'name' => "Query $number", 'sql' => 'select count(*) from house_'.($number % 20).'_0']);
        }
        $map = $this->map();
        self::assertCount(2, $this->boxes($map, 'query'));
        self::assertStringStartsWith('17 queries of ', $this->boxes($map, 'query')[0]['title']);
        $this->assertNothingOverlaps($map);
    }

    public function test_the_page_says_what_feeds_nothing_and_goes_on_to_the_next(): void
    {
        $this->fill(50, 1, idleEvery: 10);
        $this->actingAs($this->person())->get('/')->assertOk()->assertSee('45 sources feed 45 tables')->assertSee('5 sources feed nothing yet')->assertSee('House 19')->assertSee('Page 1 of 2')->assertSee('page=2');
        $this->get('/?page=2')->assertOk()->assertSee('Page 2 of 2')->assertSee('House 48');
        $this->get('/?q=house+48')->assertOk()->assertSee('1 source feeds 1 table')->assertDontSee('House 47');
        $this->get('/?q=no-such-house')->assertOk()->assertSee('Nothing is named like');
        $this->get('/?page=-3&open=%3Cscript%3E')->assertOk()->assertDontSee('<script>%3C', false);
        $this->actingAs($this->person(Role::Analyst))->get('/')->assertOk()->assertSee('House 19')->assertDontSee('/sources/house-19');
    }

    private function fill(int $sources, int $tables, int $idleEvery = 0): void
    {
        for ($number = 0; $number < $sources; $number++) {
            $source = Source::query()->create(['slug' => "house-$number", 'name' => "House $number"]);
            for ($table = 0; $table < ($idleEvery > 0 && $number % $idleEvery === $idleEvery - 1 ? 0 : $tables); $table++) {
                $endpoint = Endpoint::query()->create(['source_id' => $source->id, 'slug' => "list-$table", 'name' => "List $table"]);
                KeptTable::query()->create(['endpoint_id' => $endpoint->id, 'environment_id' => $this->environment()->id, 'name' => "house_{$number}_$table", 'given_name' => 'list', 'is_branch' => false, 'columns' => [], 'key' => [], 'rows' => 10 * $number, 'refreshed_at' => now()]);
            }
        }
    }

    private function map(string $search = '', string $open = '', int $page = 1): WatershedMap
    {
        app(NoteBook::class)->align($this->environment());

        return new WatershedMap($this->environment(), Role::Builder, $search, $open, $page);
    }

    /**
     * @return list<array{full: string, title: string, sub: string, y: int, h: int}>
     */
    private function boxes(WatershedMap $map, string $kind): array
    {
        return array_values(array_filter($map->drawing->boxes, static fn (array $box): bool => $box['kind'] === $kind));
    }

    private function assertNothingOverlaps(WatershedMap $map): void
    {
        foreach (['source', 'table', 'query'] as $kind) {
            $end = 0;
            foreach ($this->boxes($map, $kind) as $box) {
                self::assertGreaterThanOrEqual($end, $box['y'], "$kind {$box['full']}");
                $end = $box['y'] + $box['h'];
            }
            self::assertLessThanOrEqual($map->drawing->height, $end);
        }
    }

    private function environment(): Environment
    {
        return Environment::query()->where('slug', 'trial')->firstOrFail();
    }
}
