<?php

declare(strict_types=1);

namespace Tests\Core\Ask;

use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\InputSets;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\RowInputs;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\KeptInputs;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Suggest\RowBinding;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class RowInputsTest extends TestCase
{
    private const FROM = ['from' => ['table' => 'loans', 'column' => 'consignment']];

    public function test_values_come_from_columns_and_texts(): void
    {
        $rows = RowInputs::of(['number' => self::FROM, 'ref' => ['from' => ['table' => 'loans', 'text' => '{house}/{ref} {house}']], 'status' => 'open', 'kind' => ['a']]);
        self::assertNotNull($rows);
        self::assertSame(['consignment', 'house', 'ref'], $rows->columns());
        self::assertSame(['number' => ['70412'], 'ref' => ['mill/7 mill']], $rows->values(['consignment' => '70412', 'house' => 'mill', 'ref' => '7']));
        self::assertNull($rows->values(['consignment' => null, 'house' => 'mill', 'ref' => '7']), 'nothing to ask with');
        self::assertNull($rows->values(['consignment' => '70412', 'house' => '', 'ref' => '7']));
        self::assertSame('one request for each row of loans: number = consignment, ref = {house}/{ref} {house}', $rows->words());
        self::assertNull(RowInputs::of(['status' => ['open', 'packed']]));
    }

    /**
     * @return iterable<string, array{array<string, mixed>, string}>
     */
    public static function faults(): iterable
    {
        yield 'two tables' => [['a' => self::FROM, 'b' => ['from' => ['table' => 'crates', 'column' => 'x']]], 'comes from the table crates, and another input from loans'];
        yield 'neither' => [['a' => ['from' => ['table' => 'loans']]], 'needs the column it comes from'];
        yield 'both' => [['a' => ['from' => ['table' => 'loans', 'column' => 'x', 'text' => '{y}']]], 'needs the column it comes from'];
        yield 'a text without a column' => [['a' => ['from' => ['table' => 'loans', 'text' => 'x']]], 'has no column in "x"'];
        yield 'several values besides' => [['a' => self::FROM, 'b' => ['x', 'y']], 'has several values, and loans has rows'];
    }

    /**
     * @param  array<string, mixed>  $inputs
     */
    #[DataProvider('faults')]
    public function test_what_cannot_be_bound_is_said(array $inputs, string $sentence): void
    {
        $this->expectException(InvalidInput::class);
        $this->expectExceptionMessage($sentence);
        RowInputs::of($inputs);
    }

    public function test_they_stand_beside_other_inputs_in_the_file_and_in_its_fields(): void
    {
        $ask = AskDefinition::of(['path' => '/c/{number}', 'inputs' => [['name' => 'number', 'in' => 'path', 'required' => true], ['name' => 'status', 'in' => 'query', 'required' => true]]]);
        $sets = InputSets::of($ask, ['number' => self::FROM, 'status' => 'open']);
        self::assertSame([[['status' => ['open']]], []], [$sets->sets, $sets->faults()]);
        self::assertSame('one request for each row of loans: number = consignment; status = open', $sets->words());
        self::assertSame(['status'], array_keys(InputSets::of($ask, ['number' => self::FROM])->faults()), 'what comes from rows is not missing');
        foreach ([self::FROM, ['from' => ['table' => 'loans', 'text' => '{house}-{ref}']]] as $value) {
            self::assertSame($value, KeptInputs::read(KeptInputs::text($value), false));
        }
        self::assertSame('from loans: consignment', KeptInputs::text(self::FROM));
        self::assertSame('fromage', KeptInputs::read('fromage', false));
    }

    /**
     * @return iterable<string, array{string|null, string, string|null}>
     */
    public static function written(): iterable
    {
        yield 'nothing' => [null, 'text', null];
        yield 'a post code stays text' => ['00731', 'text', '00731'];
        yield 'a moment' => ['2031-03-10 10:00:00.000000', 'datetime', '2031-03-10T10:00:00Z'];
        yield 'a moment with a fraction' => ['2031-03-10 10:00:00.250000', 'datetime', '2031-03-10T10:00:00.25Z'];
        yield 'a day' => ['2031-03-10', 'date', '2031-03-10'];
        yield 'yes' => ['1', 'boolean', 'true'];
        yield 'no' => ['0', 'boolean', 'false'];
        yield 'a decimal' => ['10.50', 'decimal', '10.5'];
        yield 'a whole decimal' => ['100.00', 'decimal', '100'];
        yield 'a whole number' => ['100', 'integer', '100'];
        yield 'hundred, as a decimal without a point' => ['100', 'decimal', '100'];
    }

    #[DataProvider('written')]
    public function test_a_value_is_sent_as_apis_take_it(?string $value, string $type, ?string $sent): void
    {
        self::assertSame($sent, RowInputs::written($value, $type));
    }

    /**
     * @return iterable<string, array{string, string, string}>
     */
    public static function files(): iterable
    {
        yield 'an input that is not there' => ['number: {from: {table: loans, column: c}}', 'numbr: {from: {table: loans, column: c}}', 'This endpoint has no input "numbr".'];
        yield 'its own table' => ['table: loans, column', 'table: consignments, column', '"consignments" is filled by this endpoint itself'];
        yield 'increments' => ['keep:', "keep:\n      refresh: {mode: incremental, since: {column: number, send_as: after}}", 'A lookup asks only for rows that are new or changed'];
        yield 'a column of no row' => ['inputs: {number: {from: {table: loans, column: c}}}', 'inputs: {number: 1}', 'A column of the row is for endpoints that are read for each row of a table'];
    }

    #[DataProvider('files')]
    public function test_a_file_says_what_is_wrong(string $old, string $new, string $sentence): void
    {
        $good = <<<'YAML'
            deepspring: 1
            source: {slug: freight, name: Freight, environments: {trial: {base: "http://127.0.0.1:1"}}}
            endpoints:
              - slug: consignment
                name: One
                ask: {path: "/c/{number}", inputs: [{name: number, in: path, type: integer, required: true}]}
                flatten: {table: consignments, key: [number], columns: [{name: number, from: "$.n", type: integer}, {name: loan_id, row: id, type: integer}]}
                keep:
                  inputs: {number: {from: {table: loans, column: c}}}
            YAML;
        self::assertSame('row', SourceFile::read($good)->endpoint('consignment')?->plan()?->table->columns[1]->source->value);
        $this->expectException(InvalidSourceFile::class);
        $this->expectExceptionMessage($sentence);
        SourceFile::read(str_replace($old, $new, $good));
    }

    public function test_a_column_is_proposed_by_name_and_by_values(): void
    {
        $input = static fn (array $one): object => AskDefinition::of(['path' => '/', 'inputs' => [$one + ['in' => 'query']]])->inputs[0];
        $columns = ['id' => ['type' => 'integer', 'values' => ['1', '2']], 'consignment' => ['type' => 'integer', 'values' => ['70412', '70001']], 'house' => ['type' => 'text', 'values' => ['mill', 'quay']], 'town' => ['type' => 'text', 'values' => ['Vell']]];
        $of = static fn (array $one): ?string => RowBinding::of($input($one), $columns, 'loans')?->column;
        self::assertSame('town', $of(['name' => 'town']));
        self::assertSame('town', $of(['name' => 'Town']));
        self::assertSame('id', $of(['name' => 'loan_id', 'type' => 'integer']));
        self::assertSame('consignment', $of(['name' => 'consignment_number', 'type' => 'integer', 'try' => 70999]), 'the values have its form');
        self::assertSame('house', $of(['name' => 'housee', 'try' => 'mill']), 'a slip, and a value that is there');
        self::assertNull($of(['name' => 'house', 'type' => 'integer']), 'texts do not fit');
        self::assertNull($of(['name' => 'weather']));
    }
}
