<?php

declare(strict_types=1);

namespace Tests\Core\SourceFile;

use DeepSpring\SourceFile\KeptColumns;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class KeptColumnsTest extends TestCase
{
    private const FLATTEN = [
        'table' => 'loans', 'columns' => [['name' => 'id', 'from' => '$.id'], ['name' => 'ref', 'from' => '$.ref'], ['name' => 'fee', 'from' => '$.fee', 'type' => 'decimal']],
        'branches' => [['table' => 'items', 'from' => '$.items[*]', 'columns' => [['name' => 'ref', 'from' => '$.ref'], ['name' => 'object', 'from' => '$.o']]]],
    ];

    private const KEEP = [
        'checks' => [
            ['unique' => ['id', 'ref']], ['range' => 'fee', 'at_least' => 0, 'on' => 'note'], ['every' => "fee > 0 or ref == 'fee'"], ['refers' => 'ref', 'to' => 'refs.ref'],
            ['never_empty' => ['ref'], 'table' => 'items'], ['one_of' => 'ref', 'values' => ['ref'], 'table' => 'loans'], ['rows' => ['at_least' => 1]],
        ],
        'refresh' => ['mode' => 'incremental', 'since' => ['column' => 'fee', 'send_as' => 'fee']],
    ];

    /**
     * @param  array<string, mixed>  $flatten
     * @return array<string, mixed>
     */
    private static function document(array $flatten): array
    {
        return ['endpoints' => [['slug' => 'other'], ['slug' => 'loans', 'flatten' => $flatten, 'keep' => self::KEEP]]];
    }

    /**
     * @return iterable<string, array{\Closure(array<string, mixed>): array<string, mixed>, array<string, mixed>}>
     */
    public static function changes(): iterable
    {
        yield 'nothing' => [static fn (array $flatten): array => $flatten, []];
        yield 'a column of the main table' => [static function (array $flatten): array {
            $flatten['columns'][1]['name'] = 'reference';

            return $flatten;
        }, ['checks' => [0 => ['unique' => ['id', 'reference']], 2 => ['every' => "fee > 0 or reference == 'fee'"], 3 => ['refers' => 'reference', 'to' => 'refs.ref'], 5 => ['one_of' => 'reference', 'values' => ['ref'], 'table' => 'loans']]]];
        yield 'one that is asked by' => [static function (array $flatten): array {
            $flatten['columns'][2] = ['name' => 'charge'] + $flatten['columns'][2];

            return $flatten;
        }, ['checks' => [1 => ['range' => 'charge', 'at_least' => 0, 'on' => 'note'], 2 => ['every' => "charge > 0 or ref == 'fee'"]], 'since' => 'charge']];
        yield 'another type as well' => [static function (array $flatten): array {
            $flatten['columns'][2] = ['name' => 'charge', 'from' => '$.fee', 'type' => 'float'];

            return $flatten;
        }, ['checks' => [1 => ['range' => 'charge', 'at_least' => 0, 'on' => 'note'], 2 => ['every' => "charge > 0 or ref == 'fee'"]], 'since' => 'charge']];
        yield 'another place as well' => [static function (array $flatten): array {
            $flatten['columns'] = [['name' => 'new', 'from' => '$.new'], $flatten['columns'][2], ['name' => 'reference'] + $flatten['columns'][1], $flatten['columns'][0]];

            return $flatten;
        }, ['checks' => [0 => ['unique' => ['id', 'reference']], 2 => ['every' => "fee > 0 or reference == 'fee'"], 3 => ['refers' => 'reference', 'to' => 'refs.ref'], 5 => ['one_of' => 'reference', 'values' => ['ref'], 'table' => 'loans']]]];
        yield 'a column and the table of a branch' => [static function (array $flatten): array {
            $flatten['branches'][0]['table'] = 'loan_items';
            $flatten['branches'][0]['columns'][0]['name'] = 'item_ref';

            return $flatten;
        }, ['checks' => [4 => ['table' => 'loan_items', 'never_empty' => ['item_ref']]]]];
        yield 'the main table' => [static fn (array $flatten): array => ['table' => 'out'] + $flatten, ['checks' => [5 => ['table' => 'out', 'one_of' => 'ref', 'values' => ['ref']]]]];
        yield 'a column that goes keeps its checks, which say so' => [static function (array $flatten): array {
            array_splice($flatten['columns'], 1, 1);

            return $flatten;
        }, []];
    }

    /**
     * @param  \Closure(array<string, mixed>): array<string, mixed>  $change
     * @param  array<string, mixed>  $expected
     */
    #[DataProvider('changes')]
    public function test_what_is_kept_follows_another_name(\Closure $change, array $expected): void
    {
        $keep = KeptColumns::following(self::document(self::FLATTEN), self::document($change(self::FLATTEN)))['endpoints'][1]['keep'];
        self::assertEquals(array_replace(self::KEEP['checks'], $expected['checks'] ?? []), $keep['checks']);
        self::assertSame($expected['since'] ?? 'fee', $keep['refresh']['since']['column']);
    }

    public function test_what_is_said_of_changing_records_follows_as_well(): void
    {
        $change = static fn (string $ref, string $table): array => [
            'get' => ['endpoint' => 'loan', 'inputs' => ['id' => 'id']], 'update' => ['endpoint' => 'change-loan', 'inputs' => ['id' => 'id', 'ref' => $ref]],
            'actions' => [['endpoint' => 'close-loan', 'name' => 'Close', 'inputs' => ['id' => 'id', 'why' => $ref], 'puts' => [$ref => '$.receipt', 'fee' => '$.fee']]], 'together' => ['update' => ['endpoint' => 'change-loans', 'inputs' => ['id' => 'id', 'ref' => $ref]]],
            'columns' => [$ref, 'fee'], 'offered' => [$ref => ['table' => $table, 'column' => $ref], 'fee' => ['table' => 'fees', 'column' => 'ref']], 'sends' => 'changed',
        ];
        $document = static fn (array $flatten): array => ['endpoints' => [['slug' => 'loans', 'flatten' => $flatten, 'change' => $change('ref', 'loans')]]];
        $flatten = ['table' => 'out'] + self::FLATTEN;
        $flatten['columns'][1]['name'] = 'reference';
        self::assertSame($change('reference', 'out'), KeptColumns::following($document(self::FLATTEN), $document($flatten))['endpoints'][0]['change']);
        self::assertSame($document(self::FLATTEN), KeptColumns::following($document(self::FLATTEN), $document(self::FLATTEN)));
    }

    public function test_what_somebody_says_at_the_same_time_stays(): void
    {
        $after = self::document(self::FLATTEN);
        $after['endpoints'][1]['flatten']['columns'][1]['name'] = 'reference';
        $after['endpoints'][1]['keep'] = ['checks' => [['unique' => ['reference']]]];
        self::assertSame($after, KeptColumns::following(self::document(self::FLATTEN), $after));
    }
}
