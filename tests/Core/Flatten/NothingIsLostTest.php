<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Flatten\Type\DateTimeType;
use DeepSpring\Flatten\Type\DateType;
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
            [$cells, $text] = $this->found($batch);
            foreach ($documents->leaves as $leaf) {
                $leaves++;
                if (! $this->isThere($leaf, $cells, $text)) {
                    self::fail("seed $seed: ".json_encode($leaf).' is lost by '.json_encode($proposal->flatten, JSON_UNESCAPED_UNICODE));
                }
            }
            self::assertLessThanOrEqual(count($batch->rejects) * 3, $batch->rejected);
        }
        self::assertGreaterThan(20_000, $leaves);
    }

    /**
     * @return array{array<string, true>, string} cells, and all that holds several leaves at once
     */
    private function found(RowBatch $batch): array
    {
        $cells = [];
        $text = '';
        foreach ($batch->rows as $rows) {
            foreach ($rows as $row) {
                foreach ($row as $cell) {
                    if ($cell !== null) {
                        $cells[$cell] = true;
                        $text .= "$cell\n";
                    }
                }
            }
        }
        foreach ($batch->rejects as $reject) {
            $text .= $reject->value."\n";
        }

        return [$cells, $text];
    }

    /**
     * @param  array<string, true>  $cells
     */
    private function isThere(string|int|float $leaf, array $cells, string $text): bool
    {
        $written = is_string($leaf) ? $leaf : (string) json_encode($leaf);
        if (isset($cells[$written])) {
            return true;
        }
        $forms = [$written, trim((string) json_encode($leaf, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), '"')];
        foreach ([new DateTimeType, new DateTimeType('epoch'), new DateType('dd.MM.yyyy')] as $type) {
            $form = $type->convert($leaf);
            if (is_string($form) && isset($cells[$form])) {
                return true;
            }
        }
        foreach ($forms as $form) {
            if (str_contains($text, $form)) {
                return true;
            }
        }

        return false;
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
