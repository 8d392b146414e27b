<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Endpoint;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\User;
use App\Queries\CoveredJoin;
use App\Queries\IndexAdvisor;
use App\Queries\JoinCoverage;
use App\Queries\KnownTables;
use App\Queries\Live\LiveTables;
use App\Queries\QueryRunner;
use Illuminate\Support\Facades\DB;

final class JoinCoverageTest extends AppTestCase
{
    private User $person;

    protected function setUp(): void
    {
        parent::setUp();
        $this->person = $this->person(Role::Analyst);
    }

    /**
     * A kept table of texts or numbers, made by hand.
     *
     * @param  array<string, string>  $columns  name → type in words
     * @param  list<list<string|int|null>>  $rows
     */
    private function table(string $name, array $columns, array $rows): void
    {
        $endpoint = Endpoint::query()->first() ?? $this->endpoint($this->source('stores'), 'positions');
        $types = array_map(static fn (string $type): string => $type === 'text' ? 'varchar(64) collate utf8mb4_nopad_bin' : 'bigint', $columns);
        DB::connection('keeper')->statement("create table deep_spring_test_data_trial.$name (".implode(', ', array_map(static fn (string $column, string $type): string => "$column $type", array_keys($types), $types)).')');
        foreach (array_chunk($rows, 500) as $some) {
            DB::connection('keeper')->table("deep_spring_test_data_trial.$name")->insert(array_map(static fn (array $row): array => array_combine(array_keys($columns), $row), $some));
        }
        KeptTable::query()->create(['environment_id' => $this->trial()->id, 'endpoint_id' => $endpoint->id, 'name' => $name, 'given_name' => $name, 'is_branch' => false, 'key' => [], 'rows' => count($rows), 'refreshed_at' => now(),
            'columns' => array_map(static fn (string $column, string $type): array => ['name' => $column, 'given' => $column, 'type' => $type === 'text' ? 'text' : 'integer', 'label' => $type, 'scale' => null, 'from' => '$'], array_keys($columns), $columns)]);
    }

    /**
     * @return list<CoveredJoin>
     */
    private function joins(string $sql, bool $whole = false): array
    {
        $known = new KnownTables($this->trial(), app(LiveTables::class), app(IndexAdvisor::class));

        return app(JoinCoverage::class)->of($this->person, $this->trial(), $sql, $known, $whole);
    }

    public function test_what_has_no_match_is_counted_as_counting_by_hand_counts_it(): void
    {
        mt_srand(31);
        $loans = array_map(static fn (int $n): array => [$n, mt_rand(0, 9) === 0 ? null : 'h'.mt_rand(1, 60)], range(1, 1200));
        $houses = array_map(static fn (int $n): array => ['h'.mt_rand(30, 90), $n], range(1, 80));
        $this->table('hand_loans', ['id' => 'whole number', 'house' => 'text'], $loans);
        $this->table('hand_houses', ['code' => 'text', 'n' => 'whole number'], $houses);
        $codes = array_count_values(array_column($houses, 0));
        $used = array_count_values(array_filter(array_column($loans, 1)));
        [$join] = $this->joins('select * from hand_loans l left join hand_houses h on h.code = l.house');
        $lone = array_filter($loans, static fn (array $row): bool => $row[1] === null || ! isset($codes[$row[1]]));
        self::assertSame([1200, count($lone), count(array_filter($loans, static fn (array $row): bool => $row[1] === null))], [$join->left->looked, $join->left->lone, $join->left->empty]);
        self::assertSame(array_sum(array_map(static fn (array $row): int => $codes[$row[1] ?? ''] ?? 0, $loans)), $join->left->made);
        self::assertSame([80, count(array_filter($houses, static fn (array $row): bool => ! isset($used[$row[0]]))), 0], [$join->right->looked, $join->right->lone, $join->right->empty]);
        // The statement that shows them gives exactly these.
        self::assertCount(min(1000, count($lone)), app(QueryRunner::class)->run($this->person, $this->trial(), $join->left->statement)->rows);
        self::assertStringContainsString('they stay, with nothing beside them.', $join->sentence(true));
        self::assertStringContainsString('they are not in the result.', $join->sentence(false));
        self::assertStringContainsString("become {$join->left->made}, since", (string) preg_replace('/(?<=\d)[^\d\w](?=\d{3})/u', '', (string) $join->multiplied(true)));
    }

    public function test_what_is_likely_wrong_is_said(): void
    {
        $this->table('coded', ['code' => 'text', 'n' => 'whole number'], [['00731', 731], ['00732', 732], ['EB-1', 1]]);
        $this->table('bare', ['code' => 'text', 'n' => 'whole number'], [['731', 731], ['732', 732], ['eb-1', 1]]);
        [$join] = $this->joins('select * from coded c join bare b on b.code = c.code');
        self::assertSame(['3 values of 3 that were looked at would match if blanks, letter case, leading zeros and dashes were ignored: "00731" here, "731" there.'], $join->left->likely);
        self::assertSame('3 of 3 rows of coded have no match in bare; they are not in the result.', $join->sentence(true));
        [$join] = $this->joins('select * from coded c join bare b on b.n = c.code');
        self::assertStringContainsString('c.code is text and b.n is whole number, so they are compared as inexact numbers', $join->left->likely[0]);
        [$join] = $this->joins('select * from coded c join bare b on b.n = c.n');
        self::assertSame(['All 3 rows of coded have a match in bare.', null, []], [$join->sentence(true), $join->multiplied(true), $join->left->likely]);
    }

    public function test_the_page_looks_after_the_result_is_there_and_shows_them(): void
    {
        $this->table('one', ['a' => 'whole number'], [[1], [2], [3]]);
        $this->table('two', ['b' => 'whole number'], [[2], [3], [4]]);
        $this->actingAs($this->person);
        $sql = 'select * from one join two on b = a';
        $this->post('/queries/run', ['sql' => $sql])->assertSee('id="coverage"', false)->assertSee('2 rows');
        $this->post('/queries/coverage', ['sql' => $sql])->assertOk()->assertSee('1 of 3 rows of one has no match in two')->assertSee('See them');
        $this->post('/queries/run', ['sql' => 'select a from one'])->assertDontSee('id="coverage"', false);
        foreach (['drop table one', 'select * from nowhere n join one o on n.a = o.a', 'select 1', ''] as $none) {
            self::assertSame('', trim((string) $this->post('/queries/coverage', ['sql' => $none])->assertOk()->getContent()));
        }
    }

    public function test_of_many_rows_a_part_is_looked_at_and_all_on_request(): void
    {
        $this->table('few', ['b' => 'whole number'], array_map(static fn (int $n): array => [$n], range(1, 900)));
        $this->table('many', ['a' => 'whole number'], array_map(static fn (int $n): array => [$n % 1000], range(1, 60_000)));
        [$join] = $this->joins('select * from many join few on b = a');
        self::assertTrue($join->left->isSample);
        self::assertEqualsWithDelta(JoinCoverage::SAMPLE, $join->left->looked, 1500);
        self::assertEqualsWithDelta(0.1, $join->left->lone / (int) $join->left->looked, 0.02);
        self::assertStringContainsString('a part of all', $join->sentence(true));
        [$join] = $this->joins('select * from many join few on b = a', true);
        self::assertSame([60_000, 6000, false], [$join->left->looked, $join->left->lone, $join->left->isSample]);
    }
}
