<?php

declare(strict_types=1);

namespace Tests\Core\Check;

use DeepSpring\Check\Checks;
use DeepSpring\Check\Found;
use DeepSpring\Check\TableCheck;
use DeepSpring\Flatten\Plan;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class RowCountTest extends TestCase
{
    /**
     * @return iterable<string, array{list<array<string, mixed>>, int|null, int, list<string>}>
     */
    public static function counts(): iterable
    {
        $rows = static fn (array $rows): array => [['rows' => $rows]];
        yield 'nothing said, nothing before' => [[], null, 0, []];
        yield 'nothing said, a little less' => [[], 1200, 601, []];
        yield 'nothing said, half of it' => [[], 1200, 600, ['loans would have 600 rows, 50 % fewer than the 1 200 that are there; a fall by half or more is not taken over without a word.']];
        yield 'nothing said, nothing left' => [[], 1200, 0, ['loans would have 0 rows, 100 % fewer than the 1 200 that are there; a fall by half or more is not taken over without a word.']];
        yield 'nothing said, a small table' => [[], 19, 1, []];
        yield 'nothing said, many more' => [[], 20, 100_000, []];
        yield 'another limit' => [$rows(['change_at_most' => 10]), 100, 89, ['loans would have 89 rows, 11 % fewer than the 100 that are there; a change of at most 10 % is asked.']];
        yield 'another limit, kept' => [$rows(['change_at_most' => 10]), 100, 90, []];
        yield 'another limit, by more' => [$rows(['change_at_most' => 10]), 100, 111, ['loans would have 111 rows, 11 % more than the 100 that are there; a change of at most 10 % is asked.']];
        yield 'a limit that lets all through' => [$rows(['change_at_most' => 100]), 1200, 1, []];
        yield 'at least' => [$rows(['at_least' => 100]), null, 99, ['loans would have 99 rows; at least 100 are asked.']];
        yield 'at least, and a fall' => [$rows(['at_least' => 10]), 1200, 20, ['loans would have 20 rows, 98 % fewer than the 1 200 that are there; a fall by half or more is not taken over without a word.']];
        yield 'at most' => [$rows(['at_most' => 1]), null, 2, ['loans would have 2 rows; at most 1 are asked.']];
        yield 'an empty table before' => [$rows(['change_at_most' => 0]), 0, 5, []];
    }

    /**
     * @param  list<array{rows: array{at_least?: int, at_most?: int, change_at_most?: int}, on?: string}>  $checks
     * @param  list<string>  $broken
     */
    #[DataProvider('counts')]
    public function test_what_is_broken_is_said(array $checks, ?int $before, int $now, array $broken): void
    {
        $plan = Plan::of(['table' => 'loans', 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer']]]);
        $found = new Found('loans', $now, 0, new \DateTimeImmutable('2031-01-01'), before: $before);
        self::assertSame($broken, array_values(array_filter(array_map(static fn (TableCheck $one): ?string => str_replace("\u{2009}", ' ', (string) $one->check->broken($found)) ?: null, Checks::all($checks, $plan)))));
    }
}
