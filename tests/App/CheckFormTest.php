<?php

declare(strict_types=1);

namespace Tests\App;

use App\Http\Checks\CheckForm;
use DeepSpring\Check\Checks;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * What the page of checks sends → the document, and back.
 */
final class CheckFormTest extends TestCase
{
    /**
     * @return iterable<string, array{array<string, string>, array<string, mixed>}>
     */
    public static function rows(): iterable
    {
        yield 'unique' => [['unique' => 'loan_id, line'], ['unique' => ['loan_id', 'line']]];
        yield 'a value with a comma' => [['one_of' => 'house', 'values' => 'Old Mill, "North Quay, upper house"'], ['one_of' => 'house', 'values' => ['Old Mill', 'North Quay, upper house']]];
        yield 'an empty value' => [['one_of' => 'house', 'values' => '"", a'], ['one_of' => 'house', 'values' => ['', 'a']]];
        yield 'nothing typed' => [['unique' => ''], ['unique' => []]];
        yield 'a range' => [['range' => 'fee', 'at_least' => '0', 'at_most' => ''], ['range' => 'fee', 'at_least' => '0']];
        yield 'a pattern with blanks at its ends' => [['matches' => 'number', 'pattern' => ' a '], ['matches' => 'number', 'pattern' => ' a ']];
        yield 'rows' => [['at_least' => '1 200', 'at_most' => '5,000', 'change_at_most' => ''], ['rows' => ['at_least' => 1200, 'at_most' => 5000]]];
        yield 'what is no number is told, not mended' => [['at_least' => 'many'], ['rows' => ['at_least' => 'many']]];
        yield 'percent' => [['refers' => 'borrower', 'to' => 'borrowers.name', 'covers' => '99.5'], ['refers' => 'borrower', 'to' => 'borrowers.name', 'covers' => 99.5]];
        yield 'every' => [['every' => ' fee >= 0 '], ['every' => 'fee >= 0']];
        yield 'newest' => [['newest' => 'changed', 'no_older_than' => 'P2D'], ['newest' => 'changed', 'no_older_than' => 'P2D']];
        yield 'never empty' => [['never_empty' => 'a,b'], ['never_empty' => ['a', 'b']]];
    }

    /**
     * @param  array<string, string>  $row
     * @param  array<string, mixed>  $check
     */
    #[DataProvider('rows')]
    public function test_what_is_typed_becomes_a_check(array $row, array $check): void
    {
        $kind = Checks::kindOf($check);
        self::assertSame([$check], CheckForm::read([['kind' => $kind, 'was' => '', 'table' => '', 'on' => 'stop'] + $row], []));
        // What stands in the fields for it gives it again, with what becomes of the rows.
        $again = CheckForm::read([['kind' => $kind, 'was' => '', 'table' => 'loan_items', 'on' => 'note'] + CheckForm::shown($kind, $check)], []);
        self::assertSame([$check + ['table' => 'loan_items', 'on' => 'note']], $again);
    }

    public function test_a_value_that_nobody_changed_keeps_its_type(): void
    {
        $was = [['range' => 'fee', 'at_least' => 0, 'at_most' => 99.5], ['one_of' => 'shelf', 'values' => [1, 2.5, true, 'a,b']]];
        $rows = array_map(static fn (array $check, int $number): array => ['kind' => Checks::kindOf($check), 'was' => (string) $number, 'on' => 'stop'] + CheckForm::shown(Checks::kindOf($check), $check), $was, array_keys($was));
        self::assertSame($was, CheckForm::read($rows, $was));
        $rows[0]['at_least'] = '1';
        self::assertSame(['range' => 'fee', 'at_least' => '1', 'at_most' => 99.5], CheckForm::read($rows, $was)[0]);
        // Of another kind nothing is taken over.
        $rows[0] = ['kind' => 'matches', 'was' => '0', 'matches' => 'fee', 'pattern' => 'a'];
        self::assertSame(['matches' => 'fee', 'pattern' => 'a'], CheckForm::read($rows, $was)[0]);
        self::assertSame([], CheckForm::read([['kind' => 'drop table'], ['was' => '0'], 'x'], $was));
    }
}
