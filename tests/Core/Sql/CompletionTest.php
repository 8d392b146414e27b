<?php

declare(strict_types=1);

namespace Tests\Core\Sql;

use DeepSpring\Sql\Completion;
use DeepSpring\Sql\JoinTie;
use DeepSpring\Sql\KnownNames;
use DeepSpring\Sql\Proposed;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class CompletionTest extends TestCase
{
    /**
     * @return iterable<string, array{string, list<string>, list<string>}> text with | for the cursor, what comes first, what must not come
     */
    public static function places(): iterable
    {
        yield 'tables after FROM' => ['select * from |', ['crates', 'loan_items', 'loans', 'venues'], ['borrower', 'select', 'concat']];
        yield 'tables as they are typed' => ['select * from loa|', ['loan_items', 'loans'], ['venues']];
        yield 'a table by a word within' => ['select * from item|', ['loan_items'], ['loans']];
        yield 'a column of the only table' => ['select bor| from loans', ['borrower'], ['before', 'contributors', 'loans']];
        yield 'a column, though FROM comes after the cursor' => ["select\n  ho|\nfrom loans l", ['house', 'hour('], []];
        yield 'columns of an alias' => ['select l.| from loans l', ['ref', 'house', 'borrower', 'due'], ['venues', 'concat', 'select']];
        yield 'columns of an alias as they are typed' => ['select l.b| from loans l join venues v', ['borrower'], ['ref', 'code']];
        yield 'an alias of nothing' => ['select x.| from loans l', [], ['ref']];
        yield 'a join along a key' => ['select * from loans l join |', ['venues v on v.code = l.house', 'loan_items li on li.loan = l.ref'], ['select']];
        yield 'a join by its table' => ['select * from loans l left join ven|', ['venues v on v.code = l.house', 'venues'], ['loan_items']];
        yield 'a join with another alias where one is taken' => ['select * from loans v join ven|', ['venues v2 on v2.code = v.house', 'venues'], []];
        yield 'the condition after ON' => ['select * from loans l join venues v on |', ['v.code = l.house'], []];
        yield 'columns that two tables have' => ['select re| from loans l join crates c', ['l.ref', 'c.ref'], []];
        yield 'in WHERE' => ['select * from loans where du| limit 5', ['due'], []];
        yield 'a function' => ['select date_f| from loans', ['date_format('], []];
        yield 'a function without values' => ['select row_nu| from loans', ['row_number('], []];
        yield 'a keyword' => ['select ref from loans whe|', ['where', 'when'], []];
        yield 'a comma in FROM' => ['select * from loans l, ve|', ['venues'], ['version']];
        yield 'a comma in SELECT' => ['select ref, ho| from loans', ['house'], []];
        yield 'a comma in ORDER BY' => ['select * from loans order by ref, ho|', ['house'], []];
        yield 'in a text nothing' => ["select * from loans where house = 'os|'", [], ['house']];
        yield 'in a comment nothing' => ['select * from loans -- ho|', [], ['house']];
        yield 'the statement under the cursor' => ['select * from venues; select bo| from loans; select 1', ['borrower'], ['code']];
        yield 'a query in brackets' => ['select * from (select ho| from loans) x', ['house'], []];
        yield 'nothing yet' => ['sel|', ['select'], []];
        yield 'in any case' => ['SELECT BOR| FROM loans', ['borrower'], []];
    }

    /**
     * @param  list<string>  $first
     * @param  list<string>  $not
     */
    #[DataProvider('places')]
    public function test_what_can_be_written_at_a_place(string $text, array $first, array $not): void
    {
        $cursor = (int) strpos($text, '|');
        $completion = new Completion(substr_replace($text, '', $cursor, 1), $cursor, self::known());
        $found = array_map(static fn (Proposed $one): string => $one->text(), $completion->proposed);
        self::assertSame($first, array_slice($found, 0, count($first)), implode(', ', array_slice($found, 0, 8)));
        self::assertSame([], array_intersect($not, $found));
        if ($first === []) {
            self::assertSame([], $found);
        }
    }

    public function test_what_is_typed_is_replaced_from_its_first_letter_on(): void
    {
        $completion = new Completion('select * from loans l join ven', 30, self::known());
        self::assertSame('select * from loans l join ', substr('select * from loans l join ven', 0, $completion->from));
    }

    private static function known(): KnownNames
    {
        return new class implements KnownNames
        {
            private const COLUMNS = [
                'crates' => ['id' => 'integer', 'ref' => 'text'], 'loan_items' => ['loan' => 'text', 'n' => 'integer'],
                'loans' => ['ref' => 'text', 'house' => 'text', 'borrower' => 'text', 'due' => 'date'], 'venues' => ['code' => 'text', 'town' => 'text'],
            ];

            public function tables(): array
            {
                return array_fill_keys(array_keys(self::COLUMNS), '12 rows');
            }

            public function columns(string $table): array
            {
                return self::COLUMNS[strtolower($table)] ?? [];
            }

            public function ties(string $table): array
            {
                return $table === 'loans' ? [new JoinTie('venues', [['house', 'code']], 'named like its key'), new JoinTie('loan_items', [['ref', 'loan']], 'rows inside its records')] : [];
            }
        };
    }
}
