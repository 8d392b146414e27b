<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Answer\Duplicates;
use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\FlattenFailure;
use DeepSpring\Flatten\Mask\Masks;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Reject;
use DeepSpring\Flatten\RowBatch;
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
        $batch = $this->flatten(['table' => 't', 'columns' => [['name' => 'n', 'from' => '$', 'type' => 'integer']]], (string) json_encode(array_fill(0, 2200, 'x')));
        self::assertSame(2200, $batch->rejected);
        self::assertCount(2000, $batch->rejects);
        self::assertCount(2200, $batch->rows[0]);
    }

    public function test_branches_of_branches_reach_up_and_count_at_every_level(): void
    {
        $batch = $this->flatten(['table' => 'loans', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer']], 'branches' => [
            ['table' => 'items', 'from' => '$.items[*]', 'columns' => [['name' => 'loan', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'line', 'position' => 1], ['name' => 'no', 'from' => '$.no']], 'branches' => [
                ['table' => 'marks', 'from' => '$.marks[*]', 'columns' => [['name' => 'loan', 'parent' => '$.id', 'up' => 1, 'type' => 'integer'], ['name' => 'item', 'parent' => '$.no'], ['name' => 'line', 'position' => 1, 'up' => 1], ['name' => 'mark', 'position' => 1], ['name' => 'text', 'from' => '$']]],
            ]],
            ['table' => 'dates', 'from' => '$.dates.*', 'columns' => [['name' => 'loan', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'what', 'member' => true], ['name' => 'day', 'from' => '$', 'type' => 'date']]],
        ]], '[{"id":1,"items":[{"no":"a","marks":["x","y"]},{"no":"b","marks":[]},{"no":"c","marks":["z"]}],"dates":{"sent":"2031-03-02","back":"2031-04-01"}},{"id":2,"items":null,"dates":{}}]');
        self::assertSame([['1'], ['2']], $batch->rows[0]);
        self::assertSame([['1', '1', 'a'], ['1', '2', 'b'], ['1', '3', 'c']], $batch->rows[1]);
        self::assertSame([['1', 'a', '1', '1', 'x'], ['1', 'a', '1', '2', 'y'], ['1', 'c', '3', '1', 'z']], $batch->rows[2]);
        self::assertSame([['1', 'sent', '2031-03-02'], ['1', 'back', '2031-04-01']], $batch->rows[3]);
    }

    public function test_the_envelope_and_the_names_of_members_become_columns(): void
    {
        $plan = Plan::of(['table' => 't', 'columns' => [['name' => 'code', 'member' => true], ['name' => 'as_of', 'envelope' => '$.meta.as_of', 'type' => 'date'], ['name' => 'n', 'from' => '$.n', 'type' => 'integer']]]);
        $document = json_decode('{"meta":{"as_of":"2031-03-02"},"by_code":{"a":{"n":1},"7":{"n":2}}}');
        $batch = (new Flattener($plan))->flatten(AnswerDefinition::of(['records' => '$.by_code.*'])->page($document));
        self::assertSame([['a', '2031-03-02', '1'], ['7', '2031-03-02', '2']], $batch->rows[0]);
    }

    public function test_columns_are_computed_from_those_above(): void
    {
        $batch = $this->flatten(['table' => 't', 'columns' => [
            ['name' => 'due', 'from' => '$.due', 'type' => 'date'], ['name' => 'fee', 'from' => '$.fee', 'type' => 'decimal', 'scale' => 2],
            ['name' => 'late', 'compute' => "due !== null and due < date('2031-03-01')", 'type' => 'boolean'],
            ['name' => 'with_tax', 'compute' => 'round(fee * 1.25, 2)'], ['name' => 'share', 'compute' => '100 / fee', 'type' => 'decimal', 'scale' => 20],
        ]], '[{"due":"2031-02-02","fee":10.10},{"due":null,"fee":0},{"due":"2031-03-01","fee":null}]');
        self::assertSame([['2031-02-02', '10.1', '1', '12.63', '9.9009900990099009901'], [null, '0', '0', '0', null], ['2031-03-01', null, '0', null, null]], array_map(static fn (array $row): array => [$row[0], $row[1], $row[2], $row[3], $row[4]], $batch->rows[0]));
        self::assertSame(['share', '= 100 / fee', 'a division by zero'], [$batch->rejects[0]->column, $batch->rejects[0]->path, $batch->rejects[0]->reason]);
    }

    public function test_conditions_filter_and_split_records(): void
    {
        $batch = $this->flatten(['table' => 'open', 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'status', 'from' => '$.status']], 'where' => "status == 'open'", 'branches' => [
            ['table' => 'items', 'from' => '$.items[*]', 'columns' => [['name' => 'id', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'n', 'from' => '$', 'type' => 'integer']], 'where' => 'n > 1'],
            ['table' => 'closed', 'from' => '$', 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'status', 'from' => '$.status']], 'where' => "status == 'closed'"],
        ]], '[{"id":1,"status":"open","items":[1,2]},{"id":2,"status":"closed","items":[3]},{"id":3,"status":"lost","items":[]}]');
        self::assertSame([[['1', 'open']], [['1', '2']], [['2', 'closed']]], $batch->rows);
        self::assertSame(5, $batch->filtered);
        self::assertSame(0, $batch->rejected);
    }

    public function test_masked_values_are_seen_nowhere(): void
    {
        $masks = new Masks('a key', random_bytes(...));
        $plan = Plan::of(['table' => 't', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'mask' => 'hash'], ['name' => 'born', 'from' => '$.born', 'type' => 'date', 'mask' => 'encrypt'], ['name' => 'note', 'from' => '$.note', 'mask' => 'redact'], ['name' => 'n', 'from' => '$.n', 'type' => 'integer']]]);
        $records = json_decode('[{"id":"Wend","born":"2001-02-03","note":"secret","n":"x"},{"id":"Wend","born":"no day","note":null,"n":1}]');
        $batch = (new Flattener($plan, [], $masks))->flatten($records);
        $all = (string) json_encode([$batch->rows, $batch->rejects]);
        foreach (['Wend', '2001-02-03', 'secret', 'no day'] as $hidden) {
            self::assertStringNotContainsString($hidden, $all);
        }
        self::assertSame($batch->rows[0][0][0], $batch->rows[0][1][0], 'the same value is the same hash');
        self::assertSame('2001-02-03', $masks->open((string) $batch->rows[0][0][1]));
        self::assertNull((new Masks('another', random_bytes(...)))->open((string) $batch->rows[0][0][1]));
        self::assertSame([Masks::REDACTED, null], array_column($batch->rows[0], 2));
        self::assertSame(['masked', '"x"'], [$batch->rejects[1]->value, $batch->rejects[0]->value]);
        self::assertStringStartsWith('id=hash:', $batch->rejects[0]->key);
        // What was masked before stays as it is, so kept pages can be flattened again.
        $again = (new Flattener($plan, [], $masks))->flatten([(object) ['id' => $batch->rows[0][0][0], 'born' => $batch->rows[0][0][1], 'note' => Masks::REDACTED, 'n' => 5]]);
        self::assertSame([[...array_slice($batch->rows[0][0], 0, 3), '5']], $again->rows[0]);
    }

    /**
     * A column, a record, and the text that is kept.
     *
     * @return iterable<string, array{array<string, mixed>, string, string|null}>
     */
    public static function digits(): iterable
    {
        yield 'a text from a number keeps its zeros' => [['type' => 'text'], '{"v":1.10}', '1.10'];
        yield 'a text from an exponent' => [['type' => 'text'], '{"v":1E3}', '1E3'];
        yield 'a decimal beyond a float' => [['type' => 'decimal', 'scale' => 18], '{"v":0.123456789012345678}', '0.123456789012345678'];
        yield 'a decimal that a float would round away' => [['type' => 'decimal', 'scale' => 2], '{"v":1.00000000000000001}', null];
        yield 'a decimal with 16 digits' => [['type' => 'decimal', 'scale' => 8], '{"v":90071992.54740991}', '90071992.54740991'];
        yield 'a whole number with a point' => [['type' => 'integer'], '{"v":9007199254740993.0}', '9007199254740993'];
        yield 'JSON with numbers' => [['type' => 'json', 'from' => '$.v'], '{"v":{"a":[1.50,2e3,"1.50 digits",7]}}', '{"a":[1.50,2e3,"1.50 digits",7]}'];
        yield 'several as JSON' => [['type' => 'json', 'from' => '$.v[*]'], '{"v":[1.50,2]}', '[1.50,2]'];
        yield 'several joined' => [['type' => 'text', 'from' => '$.v[*]', 'many' => 'join'], '{"v":[1.50,2.25]}', '1.50, 2.25'];
        yield 'the first of several' => [['type' => 'text', 'from' => '$.v[?@ > 1]', 'many' => 'first'], '{"v":[0.10,2.20]}', '2.20'];
        yield 'a text in an array' => [['type' => 'text', 'from' => '$.v[1].x'], '{"v":[1,{"x":12.30}]}', '12.30'];
    }

    /**
     * @param  array<string, mixed>  $column
     */
    #[DataProvider('digits')]
    public function test_numbers_keep_the_digits_they_came_with(array $column, string $record, ?string $kept): void
    {
        $body = '{"data":['.$record.']}';
        $page = AnswerDefinition::of(['records' => '$.data[*]'])->page(JsonDecoder::decode($body), $body);
        $batch = (new Flattener(Plan::of(['table' => 't', 'columns' => [$column + ['name' => 'v', 'from' => '$.v']]])))->flatten($page);
        self::assertSame($kept, $batch->rows[0][0][0]);
        self::assertSame($kept === null ? 1 : 0, $batch->rejected);
    }

    public function test_digits_are_kept_in_branches_and_parents(): void
    {
        $body = '[{"rate":0.10,"items":[{"v":1.0},{"v":2.50}]}]';
        $page = AnswerDefinition::of(['records' => '$[*]'])->page(JsonDecoder::decode($body), $body);
        $batch = (new Flattener(Plan::of(['table' => 't', 'columns' => [['name' => 'r', 'from' => '$.rate']], 'branches' => [['table' => 'b', 'from' => '$.items[*]', 'columns' => [['name' => 'r', 'parent' => '$.rate'], ['name' => 'v', 'from' => '$.v']]]]])))->flatten($page);
        self::assertSame([[['0.10']], [['0.10', '1.0'], ['0.10', '2.50']]], $batch->rows);
    }

    public function test_a_record_in_which_a_member_stands_twice_is_refused(): void
    {
        $body = '{"data":[{"id":1,"who":{"a":"x:","b":"\": "}},{"id":2,"id":3},{"id":4,"who":{"a":1, "a" :2}},{"id":5,"\u0069d":6}],"n":1,"n":2}';
        $page = AnswerDefinition::of(['records' => '$.data[*]'])->page(JsonDecoder::decode($body), $body);
        $batch = (new Flattener(Plan::of(['table' => 't', 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer']]])))->flatten($page);
        self::assertSame([['1']], $batch->rows[0]);
        self::assertSame([1, 2, 3], array_map(static fn (Reject $reject): int => $reject->record, $batch->rejects));
        self::assertStringContainsString('"a" stands twice in $.who', $batch->rejects[1]->reason);
        foreach (['{"a":{"b":[{"c":1},{"c":"\":"}]},"d":{}}', '[]', '[{"a" : 1 , "b":"x\":y"}]', '"a\":b"', '{"":{"":[{"":1}]}}'] as $clean) {
            self::assertFalse(Duplicates::areIn($clean, json_decode($clean)), $clean);
            self::assertSame([], Duplicates::find($clean));
        }
    }

    public function test_a_reject_says_whose_it_is(): void
    {
        $batch = $this->flatten(['table' => 'loans', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'due', 'from' => '$.due', 'type' => 'date']], 'branches' => [['table' => 'items', 'from' => '$.items[*]', 'key' => ['id', 'line'], 'columns' => [['name' => 'id', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'line', 'position' => 1], ['name' => 'n', 'from' => '$.n', 'type' => 'integer']]]]], '[{"id":7,"due":"soon","items":[{"n":1},{"n":"x"}]},{"id":null,"due":"2031-03-02"}]');
        self::assertSame([['id=7', '$.due'], ['id=7, line=2', '$.items[1].n'], ['', '$.id']], array_map(static fn (Reject $reject): array => [$reject->key, $reject->path], $batch->rejects));
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
    private function flatten(array $flatten, string $records): RowBatch
    {
        return (new Flattener(Plan::of($flatten)))->flatten(json_decode($records, false, 512, JSON_THROW_ON_ERROR));
    }
}
