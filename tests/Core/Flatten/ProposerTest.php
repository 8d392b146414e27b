<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Flatten\Proposal\TableProposal;
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
        yield 'measurements' => ['[0.1234567891,2.5]', ['type' => 'decimal', 'scale' => 10], null];
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

    /**
     * A name, values, the type, a part of the note, and whether it asks.
     *
     * @return iterable<string, array{string, string, array<string, mixed>, string|null, bool}>
     */
    public static function named(): iterable
    {
        yield 'seconds since 1970, by range and name' => ['created_at', '[1893456000,1893459600]', ['type' => 'datetime', 'read_as' => 'epoch'], 'seconds since 1970', false];
        yield 'milliseconds since 1970' => ['lastModified', '[1893456000000,1893459600000]', ['type' => 'datetime', 'read_as' => 'epoch-ms'], 'milliseconds', false];
        yield 'seconds as text' => ['expires', '["1893456000","1893459600"]', ['type' => 'datetime', 'read_as' => 'epoch'], 'seconds', false];
        yield 'the same numbers under another name' => ['visitors', '[1893456000,1893459600]', ['type' => 'integer'], null, false];
        yield 'a small number under the name of a time' => ['updated', '[3,12]', ['type' => 'integer'], null, false];
        yield 'days as numbers' => ['due_date', '[20310302,20311231]', ['type' => 'date', 'read_as' => 'yyyyMMdd'], 'a day as a number', false];
        yield 'numbers that are no days' => ['due_date', '[20310302,20319999]', ['type' => 'integer'], null, false];
        yield 'the day first, proven' => ['due', '["03/04/2031","25/04/2031"]', ['type' => 'date', 'read_as' => 'dd/MM/yyyy'], '25/04/2031 proves', false];
        yield 'the month first, proven' => ['due', '["03/04/2031","04/25/2031"]', ['type' => 'date', 'read_as' => 'MM/dd/yyyy'], '04/25/2031 proves', false];
        yield 'with short numbers' => ['due', '["3.4.2031","25.4.2031"]', ['type' => 'date', 'read_as' => 'd.M.yyyy'], 'the day stands first', false];
        yield 'either first, unproven' => ['due', '["03/04/2031","05/04/2031"]', ['type' => 'text'], 'day first or month first', true];
        yield 'both ways at once' => ['due', '["13/04/2031","04/13/2031"]', ['type' => 'text'], null, false];
        yield 'year first' => ['due', '["2031/04/13"]', ['type' => 'date', 'read_as' => 'yyyy/MM/dd'], null, false];
        yield 'OData 2' => ['due', '["/Date(1893456000000)/","/Date(1893456000000+0120)/"]', ['type' => 'datetime', 'read_as' => 'odata-v2'], 'OData 2', false];
        yield 'as in mails' => ['sent', '["Sun, 02 Mar 2031 09:30:00 +0100"]', ['type' => 'datetime', 'read_as' => 'rfc2822'], 'mails', false];
        yield 'times of day' => ['opens', '["09:30","18:00:15"]', ['type' => 'time'], null, false];
        yield 'durations' => ['travel', '["PT1H30M","P2D"]', ['type' => 'text'], 'duration', false];
        yield 'basic times' => ['at', '["20310302T093000Z"]', ['type' => 'datetime'], null, false];
        yield 'UUIDs' => ['ref', '["0F4A9E02-7c1b-4d39-9a55-31b0c2d4e6f8"]', ['type' => 'uuid'], 'small letters', false];
        yield 'JSON in a text' => ['payload', '["{\"a\":1}","[1]"]', ['type' => 'json', 'read_as' => 'text'], 'JSON inside a text', false];
        yield 'yes and no' => ['insured', '["yes","no","yes"]', ['type' => 'boolean', 'read_as' => 'yes/no'], 'yes and no', false];
        yield 'only yes' => ['insured', '["yes","yes"]', ['type' => 'text'], null, false];
        yield 'Y under the name of a flag' => ['is_open', '["Y","Y"]', ['type' => 'boolean', 'read_as' => 'y/n'], 'y and n', false];
        yield 'yes, no and more' => ['insured', '["yes","no","unknown"]', ['type' => 'text'], null, false];
        yield '0 and 1 of a flag' => ['isFragile', '[0,1,1]', ['type' => 'boolean'], '0 and 1', false];
        yield '0 and 1 of a count' => ['couriers', '[0,1,1]', ['type' => 'integer'], null, false];
        yield 'true and false as text' => ['open', '["true","false"]', ['type' => 'boolean'], 'as text', false];
        yield 'money is never a float' => ['total_amount', '[1.123456789012,2]', ['type' => 'decimal', 'scale' => 12], null, false];
        yield 'a comma before decimals' => ['fee', '["1.234,50","12,30"]', ['type' => 'decimal', 'scale' => 2, 'read_as' => '1.234,5'], 'written like', false];
        yield 'groups with commas' => ['fee', '["1,234.50","12.30"]', ['type' => 'decimal', 'scale' => 2, 'read_as' => '1,234.5'], 'written like', false];
        yield 'a group or decimals, unproven' => ['fee', '["1,234","2,345"]', ['type' => 'text'], 'say how', true];
        yield 'large groups' => ['fee', '["1,234,567"]', ['type' => 'integer', 'read_as' => '1,234.5'], 'written like', false];
        yield 'blanks between groups' => ['fee', '["1 234,50"]', ['type' => 'decimal', 'scale' => 2, 'read_as' => '1 234,5'], 'written like', false];
        yield 'exponents as text' => ['reading', '["1.5e-3","2"]', ['type' => 'float'], 'exponent', false];
    }

    /**
     * @param  array<string, mixed>  $wanted
     */
    #[DataProvider('named')]
    public function test_names_and_values_together_say_the_type(string $name, string $values, array $wanted, ?string $note, bool $asks): void
    {
        $records = array_map(static fn (mixed $value): object => (object) [$name => $value], json_decode($values, false, 16, JSON_BIGINT_AS_STRING | JSON_THROW_ON_ERROR));
        $proposal = (new Proposer)->propose($records, 'loans');
        $column = $proposal->flatten['columns'][0];
        self::assertSame($wanted, array_diff_key($column, ['name' => 1, 'from' => 1]));
        $note === null ? self::assertArrayNotHasKey("loans.{$column['name']}", $proposal->notes) : self::assertStringContainsString($note, $proposal->notes["loans.{$column['name']}"] ?? '');
        self::assertSame($asks ? ["loans.{$column['name']}"] : [], $proposal->asks);
        self::assertSame(0, (new Flattener(Plan::of($proposal->flatten)))->flatten($records)->rejected);
    }

    /**
     * Records, and the tables proposed: name, where from, columns as name:path.
     *
     * @return iterable<string, array{string, array<string, list<string>>}>
     */
    public static function layouts(): iterable
    {
        yield 'attributes beside an id' => ['[{"type":"loan","id":"1","attributes":{"ref":"NQ-1","due":null}}]', ['loans $' => ['id:$.id', 'type:$.type', 'ref:$.attributes.ref', 'due:$.attributes.due']]];
        yield 'edges and nodes' => ['[{"id":1,"items":{"edges":[{"node":{"no":"a"}},{"node":{"no":"b"}}]}}]', ['loans $' => ['id:$.id'], 'loan_items $.items.edges[*]' => ['loan_id', 'position', 'no:$.node.no']]];
        yield 'results inside' => ['[{"id":1,"items":{"results":[{"no":"a"}]}}]', ['loans $' => ['id:$.id'], 'loan_items $.items.results[*]' => ['loan_id', 'position', 'no:$.no']]];
        yield 'a list of names and values' => ['[{"id":1,"facts":[{"name":"colour","value":"red"},{"name":"weight","value":"12.50"}]},{"id":2,"facts":[{"name":"weight","value":"3.00"}]}]', ['loans $' => ['id:$.id', 'facts_colour:$.facts[?@.name == "colour"].value', 'facts_weight:$.facts[?@.name == "weight"].value']]];
        yield 'the same name twice in one list' => ['[{"id":1,"facts":[{"name":"colour","value":"red"},{"name":"colour","value":"blue"}]}]', ['loans $' => ['id:$.id'], 'loan_facts $.facts[*]' => ['loan_id', 'position', 'name:$.name', 'value:$.value']]];
        yield 'a dictionary of numbers' => ['[{"id":1,"by_day":{"2031-03-01":3,"2031-03-02":4,"2031-03-03":1}},{"id":2,"by_day":{}}]', ['loans $' => ['id:$.id'], 'loan_by_day $.by_day.*' => ['loan_id', 'day', 'value:$']]];
        yield 'a dictionary of objects' => ['[{"id":1,"houses":{"NQ-1":{"open":1,"out":2},"HM-2":{"open":0,"out":1},"LG-3":{"open":2,"out":0}}}]', ['loans $' => ['id:$.id'], 'loan_houses $.houses.*' => ['loan_id', 'house', 'open:$.open', 'out_:$.out']]];
        yield 'points' => ['[{"id":1,"place":[5.1,60.2]},{"id":2,"place":[5.2,60.3]}]', ['loans $' => ['id:$.id', 'place_1:$.place[0]', 'place_2:$.place[1]']]];
        yield 'a long list of values' => ['[{"id":1,"readings":['.implode(',', range(1, 40)).']}]', ['loans $' => ['id:$.id'], 'loan_readings $.readings[*]' => ['loan_id', 'position', 'value:$']]];
        yield 'lists in lists' => ['[{"id":1,"items":[{"no":"a","marks":[{"at":"x"},{"at":"y"}]}]}]', ['loans $' => ['id:$.id'], 'loan_items $.items[*]' => ['loan_id', 'position', 'no:$.no'], 'loan_item_marks $.marks[*]' => ['loan_id', 'item_position', 'position', 'at:$.at']]];
        yield 'rows without names' => ['[[1,"a"],[2,"b"]]', ['loans $' => ['column_1:$[0]', 'column_2:$[1]']]];
        yield 'an object and a value' => ['[{"id":1,"x":{"a":1}},{"id":2,"x":5}]', ['loans $' => ['id:$.id', 'x:$.x']]];
    }

    /**
     * @param  array<string, list<string>>  $wanted
     */
    #[DataProvider('layouts')]
    public function test_structures_become_columns_and_tables(string $records, array $wanted): void
    {
        $proposal = $this->propose($records);
        $tables = [];
        foreach (Plan::tablesIn($proposal->flatten) as $table) {
            $tables[$table['table'].' '.($table['from'] ?? '$')] = array_map(static fn (array $column): string => $column['name'].(isset($column['from']) ? ':'.$column['from'] : ''), $table['columns']);
        }
        self::assertSame($wanted, $tables);
        self::assertSame(0, (new Flattener(Plan::of($proposal->flatten)))->flatten(json_decode($records))->rejected);
    }

    public function test_columns_together_are_a_key_where_none_is_one_alone(): void
    {
        $proposal = $this->propose('[{"house_id":"nq","day":"2031-03-01","n":1},{"house_id":"nq","day":"2031-03-02","n":1},{"house_id":"hm","day":"2031-03-01","n":1}]');
        self::assertSame(['house_id', 'day'], $proposal->flatten['key']);
        self::assertStringContainsString('together unique', $proposal->reasons['loans.key']);
        $proposal = $this->propose('[{"n":1,"day":"2031-03-01"},{"n":2,"day":"2031-03-01"}]');
        self::assertSame([], $proposal->flatten['key']);
        self::assertStringContainsString('no column', $proposal->reasons['loans.key']);
    }

    public function test_the_prefix_is_left_out_where_the_name_alone_is_unique(): void
    {
        $records = json_decode('[{"id":1,"borrower":{"name":"a","town":"x"},"courier":{"name":"b"}}]');
        self::assertSame(['id', 'borrower_name', 'borrower_town', 'courier_name'], array_column((new Proposer(true))->propose($records, 'loans')->flatten['columns'], 'name'));
        self::assertSame(['id', 'borrower_name', 'town', 'courier_name'], array_column((new Proposer(false))->propose($records, 'loans')->flatten['columns'], 'name'));
    }

    public function test_records_with_very_many_fields_are_not_spread_over_as_many_columns(): void
    {
        $record = ['id' => 1];
        foreach (range(1, 40) as $group) {
            $record["group$group"] = array_combine(array_map(static fn (int $one): string => "field$one", range(1, 30)), range(1, 30)) + ['label' => 'x'];
        }
        $proposal = $this->propose((string) json_encode([$record]));
        self::assertLessThanOrEqual(400, count($proposal->flatten['columns']));
        self::assertSame('json', $proposal->flatten['columns'][1]['type']);
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
        self::assertSame(['order_', 'order_2', 'order_3'], array_slice($names, 0, 3));
    }

    public function test_records_that_are_no_objects_become_one_column(): void
    {
        self::assertSame('value', $this->propose('[1,2,3]')->flatten['columns'][0]['name']);
    }

    private function propose(string $records): TableProposal
    {
        return (new Proposer)->propose(json_decode($records, false, 32, JSON_BIGINT_AS_STRING | JSON_THROW_ON_ERROR), 'loans');
    }
}
