<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\Batch;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\FlattenFailure;
use DeepSpring\Flatten\Plan;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class FlattenerTest extends TestCase
{
    /**
     * @return iterable<string, array{array<string, mixed>, string, string|null}>
     */
    public static function columns(): iterable
    {
        $record = '{"id":1,"b":{"n":"x","d":{"e":2}},"t":["a","b"],"o":[{"v":1},{"v":2},{}],"z":null,"f":false,"we ird\'s":3,"$x":4}';
        $cases = [
            'a member' => [['from' => '$.id', 'type' => 'integer'], '1'],
            'a nested member' => [['from' => '$.b.n'], 'x'],
            'three levels' => [['from' => '$.b.d.e', 'type' => 'integer'], '2'],
            'a missing member' => [['from' => '$.nope'], null],
            'null' => [['from' => '$.z'], null],
            'a member of a value' => [['from' => '$.id.x'], null],
            'a member of null' => [['from' => '$.z.x'], null],
            'a member of an array' => [['from' => '$.t.x'], null],
            'false' => [['from' => '$.f', 'type' => 'boolean'], '0'],
            'a name with a quote' => [['from' => "$['we ird\\'s']", 'type' => 'integer'], '3'],
            'a name with a dollar' => [['from' => "$['\$x']", 'type' => 'integer'], '4'],
            'an index' => [['from' => '$.t[1]'], 'b'],
            'an index from the end' => [['from' => '$.t[-1]'], 'b'],
            'several as JSON' => [['from' => '$.t[*]'], '["a","b"]'],
            'several joined' => [['from' => '$.t[*]', 'many' => 'join', 'with' => ' + '], 'a + b'],
            'the first' => [['from' => '$.t[*]', 'many' => 'first'], 'a'],
            'the last' => [['from' => '$.o[*].v', 'many' => 'last', 'type' => 'integer'], '2'],
            'the count' => [['from' => '$.o[*]', 'many' => 'count'], '3'],
            'a count of none' => [['from' => '$.none[*]', 'many' => 'count'], '0'],
            'none joined' => [['from' => '$.none[*]', 'many' => 'join'], null],
            'a filter' => [['from' => '$.o[?@.v>1].v', 'many' => 'first', 'type' => 'integer'], '2'],
            'the record itself' => [['from' => '$', 'type' => 'json'], '{"id":1,"b":{"n":"x","d":{"e":2}},"t":["a","b"],"o":[{"v":1},{"v":2},{}],"z":null,"f":false,"we ird\'s":3,"$x":4}'],
            'an object as JSON' => [['from' => '$.b', 'type' => 'json'], '{"n":"x","d":{"e":2}}'],
            'an input' => [['input' => 'house'], 'north-quay'],
            'an input nobody filled' => [['input' => 'status'], null],
        ];
        foreach ($cases as $name => [$column, $kept]) {
            yield $name => [$column, $record, $kept];
        }
    }

    /**
     * @param  array<string, mixed>  $column
     */
    #[DataProvider('columns')]
    public function test_a_column_takes_its_value_from_where_it_says(array $column, string $record, ?string $kept): void
    {
        $plan = Plan::of(['table' => 't', 'columns' => [['name' => 'c'] + $column]]);
        $batch = (new Flattener($plan, ['house' => 'north-quay', 'status' => null]))->flatten([json_decode($record)]);
        self::assertSame([[[$kept]]], $batch->rows);
        self::assertSame(0, $batch->rejected);
    }

    public function test_a_branch_has_a_row_for_each_element_with_its_parent_and_its_position(): void
    {
        $batch = $this->flatten(['table' => 'loans', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer']], 'branches' => [['table' => 'items', 'from' => '$.items[*]', 'columns' => [['name' => 'loan', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'line', 'position' => 1], ['name' => 'title', 'from' => '$.title']]]]],
            '[{"id":1,"items":[{"title":"a"},{"title":"b"}]},{"id":2,"items":[]},{"id":3},{"id":4,"items":[{"title":"c"}]}]');
        self::assertSame([['1'], ['2'], ['3'], ['4']], $batch->rows[0]);
        self::assertSame([['1', '1', 'a'], ['1', '2', 'b'], ['4', '1', 'c']], $batch->rows[1]);
    }

    public function test_a_value_that_does_not_fit_is_null_and_counted_with_its_path(): void
    {
        $batch = $this->flatten(['table' => 'loans', 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'cover', 'from' => '$.insurance.value', 'type' => 'decimal', 'scale' => 2]]], '[{"id":1,"insurance":{"value":"a lot"}},{"id":2,"insurance":{"value":5.5}}]');
        self::assertSame([['1', null], ['2', '5.5']], $batch->rows[0]);
        self::assertSame(1, $batch->rejected);
        self::assertSame(['loans', 'cover', 0, '$.insurance.value', '"a lot"', false], [$batch->rejects[0]->table, $batch->rejects[0]->column, $batch->rejects[0]->record, $batch->rejects[0]->path, $batch->rejects[0]->value, $batch->rejects[0]->wholeRecord]);
    }

    public function test_a_reject_in_a_branch_names_the_element(): void
    {
        $batch = $this->flatten(['table' => 'loans', 'columns' => [['name' => 'id', 'from' => '$.id']], 'branches' => [['table' => 'items', 'from' => '$.items[*]', 'columns' => [['name' => 'worth', 'from' => '$.value', 'type' => 'integer']]]]], '[{"id":1,"items":[{"value":1},{"value":"x"}]}]');
        self::assertSame('$.items[1].value', $batch->rejects[0]->path);
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function unusableKeys(): iterable
    {
        yield 'null' => ['{"id":null}', 'empty'];
        yield 'missing' => ['{}', 'empty'];
        yield 'of another type' => ['{"id":"x"}', 'not a whole number'];
    }

    #[DataProvider('unusableKeys')]
    public function test_a_record_without_a_key_is_left_out_whole_with_its_branch_rows_and_counted(string $record, string $reason): void
    {
        $batch = $this->flatten(['table' => 'loans', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer']], 'branches' => [['table' => 'tags', 'from' => '$.tags[*]', 'columns' => [['name' => 'tag', 'from' => '$']]]]], "[$record,{\"id\":2,\"tags\":[\"a\"]}]");
        self::assertSame([['2']], $batch->rows[0]);
        self::assertSame([['a']], $batch->rows[1]);
        self::assertTrue($batch->rejects[0]->wholeRecord);
        self::assertStringContainsString($reason, $batch->rejects[0]->reason);
    }

    public function test_reject_record_leaves_out_the_record(): void
    {
        $batch = $this->flatten(['table' => 't', 'columns' => [['name' => 'n', 'from' => '$.n', 'type' => 'integer', 'on_bad' => 'reject-record']]], '[{"n":"x"},{"n":1}]');
        self::assertSame([['1']], $batch->rows[0]);
    }

    public function test_fail_stops_with_the_path(): void
    {
        $this->expectException(FlattenFailure::class);
        $this->expectExceptionMessage('$.n is not a whole number');
        $this->flatten(['table' => 't', 'columns' => [['name' => 'n', 'from' => '$.n', 'type' => 'integer', 'on_bad' => 'fail']]], '[{"n":"x"}]');
    }

    public function test_all_rejects_are_counted_and_the_first_are_held(): void
    {
        $batch = $this->flatten(['table' => 't', 'columns' => [['name' => 'n', 'from' => '$', 'type' => 'integer']]], (string) json_encode(array_fill(0, 1200, 'x')));
        self::assertSame(1200, $batch->rejected);
        self::assertCount(500, $batch->rejects);
        self::assertCount(1200, $batch->rows[0]);
    }

    public function test_names_of_members_never_become_code(): void
    {
        $hostile = "x'}; throw new \\Exception('run'); //";
        $batch = $this->flatten(['table' => 't', 'columns' => [['name' => 'c', 'from' => '$["'.addcslashes($hostile, '\\"').'"]']]], (string) json_encode([[$hostile => 'kept']]));
        self::assertSame([['kept']], $batch->rows[0]);
    }

    /**
     * @param  array<string, mixed>  $flatten
     */
    private function flatten(array $flatten, string $records): Batch
    {
        return (new Flattener(Plan::of($flatten)))->flatten(json_decode($records, false, 512, JSON_THROW_ON_ERROR));
    }
}
