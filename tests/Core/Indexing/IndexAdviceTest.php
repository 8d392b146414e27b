<?php

declare(strict_types=1);

namespace Tests\Core\Indexing;

use DeepSpring\Flatten\TablePlan;
use DeepSpring\Indexing\ColumnFacts;
use DeepSpring\Indexing\IndexAdvice;
use DeepSpring\Indexing\IndexProposal;
use DeepSpring\Indexing\TableFacts;
use DeepSpring\Indexing\TableTie;
use DeepSpring\Indexing\TableTies;
use DeepSpring\Indexing\TableUse;
use DeepSpring\Indexing\UseCount;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class IndexAdviceTest extends TestCase
{
    /**
     * Loans with many borrowers and dates, three states, a long note and a JSON column.
     *
     * @param  list<list<string>>  $indexes
     * @param  list<string>  $key
     */
    private static function loans(array $indexes = [], int $rows = 200_000, array $key = ['loan_id']): TableFacts
    {
        return new TableFacts('loans', $rows, 20_000, $key, $indexes, [
            'loan_id' => new ColumnFacts(8, 20_000),
            'borrower' => new ColumnFacts(14, 4000),
            'house' => new ColumnFacts(10, 12),
            'status' => new ColumnFacts(6, 3),
            'due' => new ColumnFacts(3, 700),
            'fee' => new ColumnFacts(5, 900),
            'note' => new ColumnFacts(400, 19_000, isWhole: false),
            'tags' => new ColumnFacts(40, 50, canBeIndexed: false),
        ]);
    }

    /**
     * @return iterable<string, array{TableUse, list<string>}> a use, and the columns of what is proposed, with commas between
     */
    public static function uses(): iterable
    {
        $use = static fn (mixed ...$how): TableUse => new TableUse('loans', ...$how);
        yield 'one value' => [$use(equal: ['borrower']), ['borrower']];
        yield 'a value and bounds' => [$use(equal: ['house'], range: ['due']), ['house,due']];
        yield 'bounds come after values, and only the first of them' => [$use(equal: ['borrower', 'house'], range: ['due', 'fee']), ['borrower,house,due']];
        yield 'a value and an order' => [$use(equal: ['house'], sorted: ['due']), ['house,due']];
        yield 'bounds before an order' => [$use(range: ['due'], sorted: ['fee']), ['due']];
        yield 'an order alone' => [$use(sorted: ['due']), ['due']];
        yield 'a third of the rows for each value' => [$use(equal: ['status'], read: ['status', 'borrower', 'fee', 'due', 'house']), []];
        yield 'a third of the rows, but few with the same of both' => [$use(equal: ['status', 'house']), ['status,house']];
        yield 'a third of the rows, and all that is asked fits' => [$use(equal: ['status'], grouped: ['house'], read: ['status', 'house']), ['status,house']];
        yield 'groups of which all stands in the index' => [$use(grouped: ['house'], read: ['house', 'fee']), ['house,fee']];
        yield 'groups of which much is asked' => [$use(grouped: ['house'], read: ['house', 'fee', 'due', 'status', 'borrower']), []];
        yield 'groups by a long text' => [$use(grouped: ['note'], read: ['note']), []];
        yield 'a long text is found by its beginning' => [$use(equal: ['note']), ['note']];
        yield 'matched with another table' => [$use(joined: [['borrower']], read: ['borrower']), ['borrower']];
        yield 'all rows matched, and all that is asked fits' => [$use(joined: [['borrower']], grouped: ['status'], read: ['fee', 'borrower', 'status']), ['borrower,status,fee']];
        yield 'all rows matched, of which a long text is asked' => [$use(joined: [['borrower']], read: ['borrower', 'note']), ['borrower']];
        yield 'all rows matched, of which much is asked' => [$use(joined: [['borrower']], read: ['borrower', 'fee', 'due', 'status', 'house']), ['borrower']];
        yield 'some rows matched, whatever is asked' => [$use(range: ['due'], joined: [['borrower']], read: ['borrower', 'due', 'fee']), ['due', 'borrower']];
        yield 'matched with two tables, each by its own' => [$use(joined: [['borrower'], ['due']]), ['borrower', 'due']];
        yield 'matched by two columns together' => [$use(joined: [['house', 'due']]), ['house,due']];
        yield 'matched, and compared' => [$use(equal: ['house'], joined: [['borrower']]), ['house', 'borrower,house']];
        yield 'the key stands at the end of every index' => [$use(sorted: ['due', 'loan_id']), ['due']];
        yield 'not where it stands before others' => [$use(equal: ['house'], range: ['loan_id'], sorted: ['due']), ['house']];
        yield 'matched by the key' => [$use(joined: [['loan_id']]), []];
        yield 'found by the key' => [$use(equal: ['loan_id']), []];
        yield 'JSON cannot be in an index' => [$use(equal: ['tags']), []];
        yield 'JSON beside others' => [$use(equal: ['borrower', 'tags']), []];
        yield 'a column that is gone' => [$use(equal: ['gone']), []];
        yield 'nothing but read' => [$use(read: ['borrower', 'due']), []];
    }

    /**
     * @param  list<string>  $expected
     */
    #[DataProvider('uses')]
    public function test_what_is_proposed_for_a_statement(TableUse $use, array $expected): void
    {
        self::assertEqualsCanonicalizing($expected, $this->columns(IndexAdvice::of(self::loans(), [new UseCount($use, 4, 2000)], [])));
        self::assertSame([], IndexAdvice::of(self::loans(), [new UseCount($use, 100, 1900)], []), 'It is quick as it is.');
        self::assertSame([], IndexAdvice::of(self::loans([], 999), [new UseCount($use, 4, 2000)], []), 'The table is small.');
        $there = array_map(static fn (string $columns): array => explode(',', $columns), $expected);
        self::assertSame([], IndexAdvice::of(self::loans($there), [new UseCount($use, 4, 2000)], []), 'It is there.');
        if (! in_array('loan_id', [...$use->sorted, ...$use->range], true)) {
            self::assertSame([], IndexAdvice::of(self::loans(array_map(static fn (array $columns): array => [...$columns, 'status'], $there)), [new UseCount($use, 4, 2000)], []), 'A longer one serves.');
        }
        // What was kept of a use is the use.
        self::assertEquals($use, TableUse::fromArray('loans', (array) json_decode((string) json_encode($use->toArray()), true)));
    }

    /**
     * @param  list<IndexProposal>  $proposals
     * @return list<string>
     */
    private function columns(array $proposals): array
    {
        return array_map(static fn (IndexProposal $one): string => implode(',', $one->columns), $proposals);
    }

    public function test_statements_with_the_same_need_are_one_proposal_and_what_took_longest_comes_first(): void
    {
        $proposals = IndexAdvice::of(self::loans(), [
            new UseCount(new TableUse('loans', equal: ['due']), 2, 100),
            new UseCount(new TableUse('loans', equal: ['borrower'], read: ['borrower']), 3, 900),
            new UseCount(new TableUse('loans', equal: ['borrower'], read: ['borrower', 'fee']), 1, 600),
            new UseCount(new TableUse('loans', equal: ['borrower'], range: ['due']), 10, 61_000),
        ], []);
        self::assertSame(['borrower,due', 'due'], $this->columns($proposals));
        self::assertSame([
            '10 statements, 1 min 1 s together: they compare borrower with values and compare due with bounds, which helps where few rows lie between them.',
            '4 statements, 1.5 s together: they compare borrower with values.',
        ], $proposals[0]->reasons);
        self::assertSame([14, 62_500], [$proposals[0]->times, $proposals[0]->milliseconds]);
        self::assertSame(['2 statements, 100 ms together: they compare due with values.'], $proposals[1]->reasons);
    }

    public function test_an_order_that_ends_with_the_key_is_served_by_an_index_of_its_own(): void
    {
        $sorted = new UseCount(new TableUse('loans', sorted: ['due', 'loan_id']), 4, 2000);
        $found = new UseCount(new TableUse('loans', equal: ['due'], range: ['fee']), 4, 3000);
        $plain = new UseCount(new TableUse('loans', equal: ['due']), 4, 1000);
        self::assertSame(['due,fee', 'due'], $this->columns(IndexAdvice::of(self::loans(), [$sorted, $found, $plain], [])));
        self::assertSame(['due,fee'], $this->columns(IndexAdvice::of(self::loans([['due']]), [$sorted, $found], [])));
        self::assertSame(['due'], $this->columns(IndexAdvice::of(self::loans([['due', 'fee']]), [$sorted, $found, $plain], [])));
        // Where the key need not decide among the same values, the longer one serves.
        self::assertSame(['due,fee'], $this->columns(IndexAdvice::of(self::loans(), [new UseCount(new TableUse('loans', sorted: ['due']), 4, 2000), $found], [])));
    }

    public function test_one_table_is_not_flooded_with_proposals(): void
    {
        $uses = [];
        foreach (['borrower', 'due', 'fee', 'house', 'note'] as $first) {
            foreach (['borrower', 'due', 'fee', 'house', 'note'] as $second) {
                $uses[] = new UseCount(new TableUse('loans', equal: [$first], range: $first === $second ? [] : [$second]), 1, 100);
            }
        }
        self::assertCount(6, IndexAdvice::of(self::loans(), $uses, []));
    }

    public function test_what_belongs_together(): void
    {
        $parent = new TableTie(['borrower'], 'borrowers', true);
        $key = new TableTie(['due'], 'days', false);
        $proposals = IndexAdvice::of(self::loans(), [], [$parent, $key]);
        self::assertSame(['Its rows belong to those of borrowers by borrower.', 'It can be joined with days by due, which is the key there.'], array_merge(...array_map(static fn (IndexProposal $one): array => $one->reasons, $proposals)));
        self::assertSame([], IndexAdvice::of(self::loans(), [], [new TableTie(['loan_id'], 'loans', true)]), 'The key begins with it.');
        self::assertSame([], IndexAdvice::of(self::loans(), [], [new TableTie(['status'], 'states', false)]), 'A third of the rows for each value.');
        self::assertSame(['borrower'], $this->columns(IndexAdvice::of(self::loans([], 200_000, ['due', 'borrower']), [], [$parent])), 'Not what the key begins with.');
    }

    /**
     * @return iterable<string, array{list<array<string, mixed>>, list<string>|null}>
     */
    public static function branches(): iterable
    {
        $id = ['name' => 'loan', 'parent' => '$.id', 'type' => 'integer'];
        yield 'by the key' => [[$id, ['name' => 'line', 'position' => 1]], ['loan']];
        yield 'not by its key' => [[['name' => 'house', 'parent' => '$.house']], null];
        yield 'nothing of its parent' => [[['name' => 'line', 'position' => 1]], null];
        yield 'a value of its own from the same path' => [[['name' => 'loan', 'from' => '$.id', 'type' => 'integer']], null];
        yield 'from further up' => [[['up' => 1] + $id], null];
    }

    /**
     * @param  list<array<string, mixed>>  $columns
     * @param  list<string>|null  $expected
     */
    #[DataProvider('branches')]
    public function test_a_branch_is_tied_to_its_parent_by_the_whole_key(array $columns, ?array $expected): void
    {
        $table = TablePlan::of(['table' => 'loans', 'key' => ['loan_id'], 'columns' => [['name' => 'loan_id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'house', 'from' => '$.house']], 'branches' => [['table' => 'loan_items', 'from' => '$.items[*]', 'columns' => $columns]]]);
        $tie = TableTies::toParent($table->branches[0], $table);
        self::assertSame($expected, $tie?->columns);
        self::assertTrue($tie === null || $tie->isParent && $tie->other === 'loans');

        $two = TablePlan::of(['table' => 'loans', 'key' => ['loan_id', 'house'], 'columns' => [['name' => 'loan_id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'house', 'from' => '$.house']], 'branches' => [['table' => 'loan_items', 'from' => '$.items[*]', 'columns' => $columns]]]);
        self::assertNull(TableTies::toParent($two->branches[0], $two), 'Only a part of the key is there.');
    }

    public function test_a_column_named_like_the_key_of_another_table(): void
    {
        $others = ['borrowers' => ['key' => 'id', 'type' => 'integer'], 'crates' => ['key' => 'crate', 'type' => 'text'], 'bodies' => ['key' => 'id', 'type' => 'integer'], 'boxes' => ['key' => 'id', 'type' => 'integer'], 'houses' => ['key' => 'id', 'type' => 'integer']];
        $tied = static fn (array $columns): array => array_map(static fn (TableTie $tie): string => implode(',', $tie->columns)." → $tie->other", TableTies::toKeys($columns, $others));
        self::assertSame(['borrower_id → borrowers', 'crate → crates', 'body_id → bodies', 'boxId → boxes', 'house → houses'], $tied(['borrower_id' => 'integer', 'crate' => 'text', 'body_id' => 'integer', 'boxId' => 'integer', 'house' => 'integer', 'id' => 'integer']));
        self::assertSame([], $tied(['borrower_id' => 'text', 'crate' => 'integer', 'crates' => 'text', 'id' => 'integer']), 'Another type, or another name.');
    }
}
