<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Value\SafeNames;
use PHPUnit\Framework\TestCase;

final class NothingIsLostTest extends TestCase
{
    private const SEEDS = 1000;

    public function test_every_leaf_of_any_records_is_found_again_in_rows_or_rejects(): void
    {
        $leaves = 0;
        for ($seed = 1; $seed <= self::SEEDS; $seed++) {
            $documents = new RandomDocuments($seed);
            $records = $documents->records();
            $proposal = (new Proposer($seed % 2 === 0))->propose($records, 'loans');
            $batch = (new Flattener(Plan::of($proposal->flatten)))->flatten($records);
            $this->assertAllNamesAreSafe($proposal->flatten);
            $finder = new LeafFinder($batch);
            foreach ($documents->leaves as $leaf) {
                $leaves++;
                if ($finder->find($leaf) === null) {
                    self::fail("seed $seed: ".json_encode($leaf).' is lost by '.json_encode($proposal->flatten, JSON_UNESCAPED_UNICODE));
                }
            }
            self::assertLessThanOrEqual(count($batch->rejects) * 3, $batch->rejected);
        }
        self::assertGreaterThan(20_000, $leaves);
    }

    /**
     * @param  array<string, mixed>  $flatten
     */
    private function assertAllNamesAreSafe(array $flatten): void
    {
        $tables = [];
        foreach (Plan::tablesIn($flatten) as $table) {
            $tables[] = $table['table'];
            $names = array_column($table['columns'], 'name');
            self::assertSame($names, SafeNames::all($names), 'the database would know them by other names');
            self::assertSame($names, array_unique($names));
        }
        self::assertSame($tables, array_unique($tables));
    }
}
