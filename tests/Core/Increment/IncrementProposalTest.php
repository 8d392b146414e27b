<?php

declare(strict_types=1);

namespace Tests\Core\Increment;

use DeepSpring\Flatten\TablePlan;
use DeepSpring\Increment\IncrementProposal;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class IncrementProposalTest extends TestCase
{
    /**
     * @return iterable<string, array{list<array<string, mixed>>, list<string>, string, array<string, mixed>}>
     */
    public static function tables(): iterable
    {
        $column = static fn (string $name, string $type, array $more = []): array => ['name' => $name, 'from' => "$.$name", 'type' => $type] + $more;
        yield 'the column whose name says so' => [[$column('id', 'integer'), $column('due', 'datetime'), $column('updated_at', 'datetime')], [], 'changed', ['column' => 'updated_at', 'send_as' => 'changed_since', 'overlap' => 'PT5M']];
        yield 'the input whose name says so' => [[$column('id', 'integer'), $column('changed', 'datetime')], ['house', 'modified_after'], 'changed', ['column' => 'changed', 'send_as' => 'modified_after', 'overlap' => 'PT5M']];
        yield 'any moment rather than a day' => [[$column('id', 'integer'), $column('due', 'date'), $column('at', 'datetime')], [], 'changed', ['column' => 'at', 'send_as' => 'changed_since', 'overlap' => 'PT5M']];
        yield 'no moment' => [[$column('name', 'text'), $column('id', 'integer')], [], 'key', ['column' => 'id', 'send_as' => 'after']];
        yield 'not what is masked' => [[$column('id', 'text', ['mask' => 'hash']), $column('changed', 'datetime', ['mask' => 'redact'])], [], 'window', ['window' => 'P7D', 'send_as' => 'from']];
    }

    /**
     * @param  list<array<string, mixed>>  $columns
     * @param  list<string>  $inputs
     * @param  array<string, mixed>  $since
     */
    #[DataProvider('tables')]
    public function test_what_is_likely_is_proposed(array $columns, array $inputs, string $kind, array $since): void
    {
        $table = TablePlan::of(['table' => 'loans', 'key' => ['id'], 'columns' => $columns]);
        self::assertSame($kind, IncrementProposal::kind($table));
        self::assertSame($since, IncrementProposal::since($kind, $table, $inputs));
    }
}
