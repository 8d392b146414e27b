<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposal;
use DeepSpring\Flatten\Proposal\Proposer;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ProposerTest extends TestCase
{
    /**
     * Values of one field, the type proposed for it, and a part of the note.
     *
     * @return iterable<string, array{string, array<string, mixed>, string|null}>
     */
    public static function fields(): iterable
    {
        yield 'whole numbers' => ['[1,2,-3]', ['type' => 'integer'], null];
        yield 'money' => ['[1.5,2,3.25]', ['type' => 'decimal', 'scale' => 2], null];
        yield 'three decimals' => ['[1.125,2]', ['type' => 'decimal', 'scale' => 3], null];
        yield 'measurements' => ['[0.1234567891,2.5]', ['type' => 'float'], null];
        yield 'truth' => ['[true,false,null]', ['type' => 'boolean'], null];
        yield 'truth and numbers' => ['[true,1]', ['type' => 'text'], 'more than one type'];
        yield 'texts' => ['["a","b"]', ['type' => 'text'], null];
        yield 'post codes' => ['["01450","20211"]', ['type' => 'text'], '01450 keeps its zero'];
        yield 'phone numbers' => ['["+4704149583"]', ['type' => 'text'], 'keeps its plus'];
        yield 'beyond 64 bits as text' => ['["9223372036854775808"]', ['type' => 'text'], 'beyond 64 bits'];
        yield 'beyond 64 bits as a number' => ['[9223372036854775808]', ['type' => 'text'], 'beyond 64 bits'];
        yield 'beyond 53 bits' => ['[9007199254740993]', ['type' => 'integer'], null];
        yield 'numbers as text' => ['["1","22"]', ['type' => 'integer'], 'comes as text'];
        yield 'money as text' => ['["12.30","5.00"]', ['type' => 'decimal', 'scale' => 2], 'comes as text'];
        yield 'numbers and an empty text' => ['["1",""]', ['type' => 'text'], 'empty strings'];
        yield 'zero alone' => ['["0","10"]', ['type' => 'integer'], 'comes as text'];
        yield 'days' => ['["2031-03-02","2031-04-01",null]', ['type' => 'date'], null];
        yield 'no days of the calendar' => ['["2031-02-30"]', ['type' => 'text'], null];
        yield 'times' => ['["2031-03-02T09:30:00+02:00","2031-03-02T09:30:00Z"]', ['type' => 'datetime'], null];
        yield 'times without a zone' => ['["2031-03-02T09:30:00"]', ['type' => 'text'], null];
        yield 'days and times' => ['["2031-03-02","2031-03-02T09:30:00Z"]', ['type' => 'text'], null];
        yield 'only null' => ['[null,null]', ['type' => 'text'], 'only null'];
        yield 'a value or a structure' => ['[1,{"a":1}]', ['type' => 'json'], null];
        yield 'an object or a list' => ['[{"a":1},[1,2],null]', ['type' => 'json'], null];
        yield 'a value or a list' => ['["a",["b"]]', ['type' => 'json'], null];
        yield 'a value or a list of objects' => ['["a",[{"b":1}]]', ['type' => 'json'], null];
        yield 'lists of texts' => ['[["a","b"],["c"]]', ['type' => 'text', 'many' => 'join', 'with' => ', '], null];
        yield 'lists of texts with commas' => ['[["a, b"],["c"]]', ['type' => 'text', 'many' => 'join', 'with' => '; '], null];
        yield 'lists of lists' => ['[[[1,2]],[[3]]]', ['type' => 'json'], null];
    }

    /**
     * @param  array<string, mixed>  $wanted
     */
    #[DataProvider('fields')]
    public function test_a_field_gets_the_type_that_keeps_its_values(string $values, array $wanted, ?string $note): void
    {
        $records = array_map(static fn (mixed $value): object => (object) ['f' => $value], json_decode($values, false, 16, JSON_BIGINT_AS_STRING));
        $proposal = (new Proposer)->propose($records, 'loans');
        $columns = array_values(array_filter($proposal->flatten['columns'], static fn (array $column): bool => $column['name'] === 'f'));
        self::assertCount(1, $columns, (string) json_encode($proposal->flatten));
        self::assertSame($wanted, array_diff_key($columns[0], ['name' => 1, 'from' => 1]));
        if ($note !== null) {
            self::assertStringContainsString($note, $proposal->notes['loans.f'] ?? '');
        }
        self::assertSame(0, (new Flattener(Plan::of($proposal->flatten)))->flatten($records)->rejected, 'the proposal rejects what it was made from');
    }

    public function test_objects_fold_into_prefixed_columns_and_arrays_of_objects_into_branches(): void
    {
        $proposal = $this->propose('[{"id":1,"borrower":{"name":"Reed House","postCode":"00702"},"items":[{"object":{"no":"1.01"},"tags":["a"]}]},{"id":2,"borrower":null,"items":[]}]');
        self::assertSame(['id', 'borrower_name', 'borrower_post_code'], array_column($proposal->flatten['columns'], 'name'));
        self::assertSame(['id'], $proposal->flatten['key']);
        $branch = $proposal->flatten['branches'][0];
        self::assertSame(['loan_items', '$.items[*]', ['loan_id', 'position']], [$branch['table'], $branch['from'], $branch['key']]);
        self::assertSame(['loan_id', 'position', 'object_no', 'tags'], array_column($branch['columns'], 'name'));
    }

    public function test_a_key_is_proposed_only_where_it_is_unique_and_never_empty(): void
    {
        self::assertSame(['ref'], $this->propose('[{"id":1,"ref":"a"},{"id":1,"ref":"b"}]')->flatten['key']);
        self::assertSame([], $this->propose('[{"id":1},{"id":null}]')->flatten['key']);
        self::assertSame([], $this->propose('[{"name":"a"},{"name":"b"}]')->flatten['key']);
    }

    public function test_names_that_differ_only_by_case_become_two_columns(): void
    {
        $proposal = $this->propose('[{"order":1,"Order":2,"ORDER":3,"":4,"渡辺":5}]');
        $names = array_column($proposal->flatten['columns'], 'name');
        self::assertSame(array_unique($names), $names);
        self::assertSame(['order_', 'order__2', 'order__3'], array_slice($names, 0, 3));
    }

    public function test_records_that_are_no_objects_become_one_column(): void
    {
        self::assertSame('value', $this->propose('[1,2,3]')->flatten['columns'][0]['name']);
    }

    private function propose(string $records): Proposal
    {
        return (new Proposer)->propose(json_decode($records, false, 32, JSON_BIGINT_AS_STRING | JSON_THROW_ON_ERROR), 'loans');
    }
}
