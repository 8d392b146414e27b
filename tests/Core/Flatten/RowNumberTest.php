<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Flatten\Shaping;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\TestCase;

/**
 * Where records bring no key, their rows and those of their branches are joined by the number of the row.
 */
final class RowNumberTest extends TestCase
{
    /** Nothing in a record is its own. */
    private const RECORDS = '[{"kind":"loan","lines":[{"what":"oar","marks":[{"m":"a"},{"m":"b"}]},{"what":"oar","marks":[]}]},{"kind":"loan","lines":[{"what":"oar","marks":[{"m":"c"}]}]},{"kind":"loan","lines":[]}]';

    /**
     * @param  array<string, mixed>  $flatten
     */
    private function plan(array $flatten): Plan
    {
        SourceFile::of(['deepspring' => 1, 'source' => ['slug' => 'x', 'name' => 'x', 'environments' => ['trial' => ['base' => 'http://x.example']]], 'endpoints' => [['slug' => 'x', 'name' => 'x', 'ask' => ['path' => '/x'], 'flatten' => $flatten]]]);

        return Plan::of($flatten);
    }

    /**
     * Rows by table and column.
     *
     * @param  list<list<mixed>>  $pages
     * @return array<string, list<array<string, string|null>>>
     */
    private function rows(Plan $plan, array $pages): array
    {
        $all = [];
        $flattener = new Flattener($plan);
        $before = 0;
        foreach ($pages as $records) {
            $batch = $flattener->flatten($records, $before);
            $before += count($records);
            foreach ($plan->tables() as $number => $table) {
                $names = array_map(static fn ($column): string => $column->name, $table->columns);
                foreach ($batch->rows[$number] as $row) {
                    $all[$table->name][] = array_combine($names, $row);
                }
            }
        }

        return $all;
    }

    public function test_one_and_two_levels_are_joined_over_pages(): void
    {
        $records = json_decode(self::RECORDS);
        $flatten = (new Proposer)->propose($records, 'loans')->flatten;
        self::assertSame([], $flatten['key']);
        self::assertSame(['row_no', 'kind'], array_column($flatten['columns'], 'name'));
        $lines = $flatten['branches'][0];
        self::assertSame([['loan_row', 'position'], ['loan_row', 'position', 'what']], [$lines['key'], array_column($lines['columns'], 'name')]);
        $rows = $this->rows($this->plan($flatten), [array_slice($records, 0, 1), array_slice($records, 1)]);
        self::assertSame(['1', '2', '3'], array_column($rows['loans'], 'row_no'));
        self::assertSame([['1', '1'], ['1', '2'], ['2', '1']], array_map(static fn (array $row): array => [$row['loan_row'], $row['position']], $rows['loan_lines']));
        $marks = $lines['branches'][0];
        $names = array_column($marks['columns'], 'name');
        self::assertSame('loan_row', $names[0]);
        // Each mark finds its line, and each line its loan.
        $line = $names[1];
        self::assertSame([['1', '1', 'a'], ['1', '1', 'b'], ['2', '1', 'c']], array_map(static fn (array $row): array => [$row['loan_row'], $row[$line], $row['m']], $rows[$marks['table']]));
        self::assertSame([3, 3], [count($rows[$marks['table']]), count(array_unique(array_map(serialize(...), array_map(static fn (array $row): array => array_intersect_key($row, array_flip($marks['key'])), $rows[$marks['table']]))))]);
    }

    public function test_a_key_that_is_there_is_taken_and_nothing_is_numbered(): void
    {
        $flatten = (new Proposer)->propose(json_decode('[{"id":1,"lines":[{"what":"a"}]},{"id":2,"lines":[{"what":"a"}]}]'), 'loans')->flatten;
        self::assertSame([['id'], ['id'], ['loan_id', 'position']], [$flatten['key'], array_column($flatten['columns'], 'name'), $flatten['branches'][0]['key']]);
        $flatten = (new Proposer)->propose(json_decode('[{"kind":"a"},{"kind":"a"}]'), 'loans')->flatten;
        self::assertSame(['kind'], array_column($flatten['columns'], 'name'), 'without a branch there is nothing to join');
    }

    public function test_a_branch_that_is_added_by_hand_is_joined_as_well(): void
    {
        $records = json_decode(self::RECORDS);
        $flatten = ['table' => 'loans', 'key' => [], 'columns' => [['name' => 'kind', 'from' => '$.kind', 'type' => 'text']]];
        $added = (new Shaping($flatten, $records))->add('$.lines');
        self::assertContains('row_no', array_column($added['columns'], 'name'));
        self::assertSame(['1', '1', '2'], array_column($this->rows($this->plan($added), [$records])['loan_lines'], 'loan_row'));

        // One level further down, in a branch that is there.
        $flatten = ['branches' => [['table' => 'loan_lines', 'from' => '$.lines[*]', 'key' => ['loan_row', 'position'], 'columns' => [['name' => 'loan_row', 'position' => 1, 'up' => 1], ['name' => 'position', 'position' => 1], ['name' => 'what', 'from' => '$.what', 'type' => 'text']]]]]
            + ['columns' => [['name' => 'row_no', 'position' => 1], ...$flatten['columns']]] + $flatten;
        $added = (new Shaping($flatten, $records))->add('$.lines[*].marks');
        $marks = $added['branches'][0]['branches'][0];
        $rows = $this->rows($this->plan($added), [$records])[$marks['table']];
        self::assertSame([['1', '1', '1'], ['1', '1', '2'], ['2', '1', '1']], array_map(static fn (array $row): array => array_slice(array_values($row), 0, 3), $rows));
    }
}
