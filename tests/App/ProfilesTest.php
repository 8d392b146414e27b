<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\KeptTable;
use App\Models\Role;
use App\Models\Run;
use App\Models\TableProfile;
use App\Reservoir\ColumnProfile;
use App\Reservoir\TableProfiles;
use App\Runs\ProfileBook;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * What columns are like, held against counting by hand.
 */
final class ProfilesTest extends AppTestCase
{
    private const TYPES = ['id' => ['integer', 'bigint not null primary key'], 'name' => ['text', 'varchar(200)'], 'weight' => ['decimal', 'decimal(20,3)'], 'ratio' => ['float', 'double'], 'fragile' => ['boolean', 'tinyint(1)'], 'made' => ['date', 'date'], 'seen' => ['datetime', 'datetime(6)'], 'opens' => ['time', 'time(6)'], 'more' => ['json', 'longtext'], 'never' => ['text', 'varchar(64)']];

    /**
     * @param  list<array<string, string|null>>  $rows
     */
    private function table(array $rows): KeptTable
    {
        $source = $this->source('stores');
        $run = Run::query()->create(['endpoint_id' => $this->endpoint($source, 'positions')->id, 'environment_id' => $this->trial()->id, 'version' => 1, 'state' => 'done']);
        $this->rows('select 1');
        $keeper = DB::connection('keeper');
        $keeper->statement('drop table if exists crates');
        $keeper->statement('create table crates ('.implode(', ', array_map(static fn (string $name, array $type): string => "`$name` $type[1]", array_keys(self::TYPES), self::TYPES)).') default charset=utf8mb4 collate=utf8mb4_nopad_bin');
        foreach (array_chunk($rows, 200) as $some) {
            $keeper->table('crates')->insert($some);
        }

        return KeptTable::query()->create(['endpoint_id' => $run->endpoint_id, 'environment_id' => $this->trial()->id, 'run_id' => $run->id, 'name' => 'crates', 'given_name' => 'crates', 'is_branch' => false, 'key' => ['id'], 'rows' => count($rows), 'refreshed_at' => now(), 'columns' => array_map(static fn (string $name, array $type): array => ['name' => $name, 'given' => $name, 'type' => $type[0], 'label' => $type[0], 'scale' => null, 'from' => "$.$name"], array_keys(self::TYPES), self::TYPES)]);
    }

    /**
     * @return list<array<string, string|null>>
     */
    private function random(int $count, int $seed): array
    {
        mt_srand($seed);
        $some = static fn (string $value): ?string => mt_rand(1, 10) === 1 ? null : $value;

        return array_map(static fn (int $id): array => [
            'id' => (string) $id, 'name' => $some(['', 'Håløy', 'north quay', ' north quay', 'NORTH QUAY', '🦀'][mt_rand(0, 5)]), 'weight' => $some(sprintf('%d.%03d', mt_rand(-500, 90000), mt_rand(0, 999))), 'ratio' => $some((string) (mt_rand(0, 1000) / 8)),
            'fragile' => $some((string) mt_rand(0, 1)), 'made' => $some(sprintf('20%02d-%02d-%02d', mt_rand(10, 31), mt_rand(1, 12), mt_rand(1, 28))), 'seen' => $some(sprintf('2030-%02d-%02d %02d:00:00.250000', mt_rand(1, 12), mt_rand(1, 28), mt_rand(0, 23))),
            'opens' => $some(sprintf('%02d:%02d:00.000000', mt_rand(0, 23), mt_rand(0, 59))), 'more' => $some('{"n":'.mt_rand(1, 9).'}'), 'never' => null,
        ], range(1, $count));
    }

    public function test_counts_ranges_and_histograms_are_those_counted_by_hand(): void
    {
        $rows = $this->random(1500, (int) (getenv('SPRING_SEED') ?: 11));
        [$count, $profiles] = app(TableProfiles::class)->take($this->table($rows), 30);
        self::assertSame([1500, array_keys(self::TYPES)], [$count, array_map(static fn (ColumnProfile $one): string => $one->name, $profiles)]);
        foreach ($profiles as $one) {
            $type = self::TYPES[$one->name][0];
            $values = array_values(array_filter(array_column($rows, $one->name), static fn (?string $value): bool => $value !== null));
            self::assertSame([1500 - count($values), count(array_keys($values, '', true))], [$one->nulls, $one->empty], $one->name);
            self::assertSame($type === 'json' ? null : count(array_unique($values, SORT_STRING)), $one->distinct, $one->name);
            $isNumber = in_array($type, ['integer', 'decimal', 'float'], true);
            $sorted = $values;
            $isNumber ? usort($sorted, static fn (string $a, string $b): int => (float) $a <=> (float) $b) : sort($sorted, SORT_STRING);
            if ($type !== 'json' && $values !== []) {
                self::assertSame($isNumber ? [(float) $sorted[0], (float) end($sorted)] : [$sorted[0], end($sorted)], $isNumber ? [(float) $one->least, (float) $one->most] : [$one->least, $one->most], $one->name);
            }
            $lengths = array_map(static fn (string $value): int => mb_strlen($value), $values);
            self::assertSame(in_array($type, ['text', 'json'], true) && $lengths !== [] ? [min($lengths), max($lengths)] : null, $one->lengths, $one->name);
            if ($one->bars !== []) {
                self::assertCount(12, $one->bars);
                self::assertSame(count($values), array_sum(array_column($one->bars, 'rows')), "{$one->name}: every value is in one bar");
            }
            if ($isNumber) {
                $width = ((float) $one->most - (float) $one->least) / 12;
                $expected = array_fill(0, 12, 0);
                foreach ($values as $value) {
                    $expected[min(11, (int) floor(((float) $value - (float) $one->least) / $width))]++;
                }
                self::assertSame($expected, array_column($one->bars, 'rows'), $one->name);
            }
            if ($type === 'text' && $values !== []) {
                $often = array_count_values($values);
                arsort($often);
                self::assertSame(array_sum(array_slice($often, 0, 6)), array_sum(array_column($one->common, 'rows')));
                foreach ($one->common as $value) {
                    self::assertSame($often[$value['value']], $value['rows']);
                }
            }
        }
    }

    /**
     * @return iterable<string, array{list<array<string, string|null>>}>
     */
    public static function few(): iterable
    {
        $empty = array_fill_keys(array_keys(self::TYPES), null);
        yield 'no row' => [[]];
        yield 'one row without values' => [[['id' => '1'] + $empty]];
        yield 'one value' => [[['id' => '1', 'name' => 'x', 'weight' => '1.5', 'made' => '2030-01-01', 'more' => '{}'] + $empty]];
        yield 'the ends of what there is' => [[['id' => '9223372036854775807', 'ratio' => '1.7e308', 'made' => '9999-12-31', 'opens' => '23:59:59', 'weight' => '-99999999999999999.999'] + $empty, ['id' => '-9223372036854775808', 'ratio' => '-1.7e308', 'made' => '1000-01-01', 'opens' => '00:00:00', 'weight' => '99999999999999999.999'] + $empty]];
    }

    /**
     * @param  list<array<string, string|null>>  $rows
     */
    #[DataProvider('few')]
    public function test_there_is_a_page_whatever_there_is(array $rows): void
    {
        $table = $this->table($rows);
        [$count, $profiles] = app(TableProfiles::class)->take($table, 30);
        self::assertSame(count($rows), $count);
        foreach ($profiles as $one) {
            self::assertSame(count($rows) - count(array_filter(array_column($rows, $one->name), static fn (?string $value): bool => $value !== null)), $one->nulls, $one->name);
        }
        $this->actingAs($this->person(Role::Analyst));
        $this->get('/tables/crates/profile')->assertOk()->assertSee('not looked');
        $this->followingRedirects()->post('/tables/crates/profile')->assertOk()->assertSee('weight');
    }

    public function test_it_is_taken_after_a_refresh_not_more_often_than_it_may_and_shown_over_time(): void
    {
        $source = $this->source('stores');
        $this->refresh($source, 'positions');
        $book = app(ProfileBook::class);
        self::assertSame([true, 1, 0, false], [ProfileBook::isAnythingDue(), $book->takeDue(), $book->takeDue(), ProfileBook::isAnythingDue()]);
        $this->refresh($source, 'positions');
        self::assertSame(0, $book->takeDue(), 'minutes apart');
        $this->travel(ProfileBook::APART + 1)->minutes();
        self::assertSame(1, $book->takeDue());
        $this->actingAs($this->person())->get('/tables/positions/profile')->assertOk()->assertSee('640 rows looked at')->assertSee('all different');
        $this->get('/tables/positions')->assertSee('What the columns are like');
        for ($number = 0; $number < 70; $number++) {
            $this->travel(ProfileBook::APART + 1)->minutes();
            Run::query()->create(['endpoint_id' => $this->endpoint($source, 'positions')->id, 'environment_id' => $this->trial()->id, 'version' => 1, 'state' => 'done']);
            KeptTable::query()->update(['run_id' => Run::query()->max('id')]);
            self::assertSame(1, $book->takeDue());
        }
        self::assertLessThanOrEqual(61, TableProfile::query()->count());
    }

    public function test_a_table_that_cannot_be_looked_at_is_not_tried_every_minute(): void
    {
        $table = $this->table([]);
        $this->rows('select 1');
        DB::connection('keeper')->statement('drop table crates');
        self::assertSame([0, false], [app(ProfileBook::class)->takeDue(), ProfileBook::isAnythingDue()]);
        $this->actingAs($this->person())->get('/tables/crates/profile')->assertOk()->assertSee('could not be looked at');
        $this->post('/tables/crates/profile')->assertSessionHasErrors(['profile' => 'The table is not there.']);
        self::assertSame(1, Artisan::call('spring:profile', ['table' => $table->name, '--now' => true]));
    }

    public function test_the_command_line_says_the_same(): void
    {
        $this->table($this->random(50, 3));
        self::assertSame(0, Artisan::call('spring:profile', ['table' => 'crates']));
        $lines = array_filter(explode("\n", Artisan::output()), static fn (string $line): bool => str_contains($line, "\t"));
        self::assertCount(count(self::TYPES), $lines);
        self::assertStringStartsWith("id\t0\t50\t1\t50", $lines[0]);
        self::assertSame(2, Artisan::call('spring:profile'));
    }
}
