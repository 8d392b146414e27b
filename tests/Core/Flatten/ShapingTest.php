<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Shaping;
use PHPUnit\Framework\TestCase;

final class ShapingTest extends TestCase
{
    private const PLAN = ['table' => 'loans', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'borrower_name', 'from' => '$.borrower.name', 'type' => 'text'], ['name' => 'twice', 'compute' => "concat(borrower_name, 'borrower_name', id)"]], 'where' => 'id > 1'];

    private const RECORDS = '[{"id":1,"borrower":{"name":"Reed","town":"Osmery"},"courier":{"name":"Wend"},"items":[{"no":"a","marks":[{"x":1}]}],"tags":["a"]}]';

    public function test_a_field_is_added_with_its_type_where_it_is_wanted(): void
    {
        $shaped = $this->shaping()->add('$.borrower.town', 1);
        self::assertSame(['id', 'borrower_town', 'borrower_name', 'twice'], array_column($shaped['columns'], 'name'));
        self::assertSame($shaped, (new Shaping($shaped, json_decode(self::RECORDS)))->add('$.borrower.town'), 'it is not added twice');
        self::assertSame(['name' => 'tags', 'from' => '$.tags[*]', 'type' => 'text', 'many' => 'join', 'with' => ', '], $this->shaping()->add('$.tags')['columns'][3]);
    }

    public function test_all_below_a_field_is_added_or_only_its_leaves(): void
    {
        $all = $this->shaping()->add('$');
        self::assertSame(['id', 'borrower_name', 'twice', 'borrower_town', 'courier_name', 'tags'], array_column($all['columns'], 'name'));
        self::assertSame(['loans', 'loan_items', 'loan_item_marks'], array_column(Plan::tablesIn($all), 'table'));
        self::assertCount(1, Plan::tablesIn($this->shaping()->add('$', null, true)));
        $deep = (new Shaping($all, json_decode(self::RECORDS)))->exclude('$.items[*].no');
        self::assertSame(['loan_id', 'position'], array_column($deep['branches'][0]['columns'], 'name'));
        self::assertSame('$.no', (new Shaping($deep, json_decode(self::RECORDS)))->add('$.items[*].no')['branches'][0]['columns'][2]['from']);
        self::assertSame(['name' => 'items_no', 'from' => '$.items[*].no', 'type' => 'text', 'many' => 'join', 'with' => ', '], $this->shaping()->add('$.items[*].no')['columns'][3]);
    }

    public function test_what_is_excluded_goes_with_all_below_it_but_the_key_stays(): void
    {
        $all = $this->shaping()->add('$');
        $less = (new Shaping($all, []))->exclude('$.borrower');
        self::assertNotContains('borrower_name', array_column($less['columns'], 'name'));
        self::assertArrayNotHasKey('branches', (new Shaping($all, []))->exclude('$.items'));
        self::assertSame('id', (new Shaping($all, []))->exclude('$.id')['columns'][0]['name']);
    }

    public function test_columns_move_and_are_dropped(): void
    {
        self::assertSame(['borrower_name', 'id', 'twice'], array_column($this->shaping()->move(0, 0, 1)['columns'], 'name'));
        self::assertSame(['twice', 'id', 'borrower_name'], array_column($this->shaping()->move(0, 2, 0)['columns'], 'name'));
        self::assertSame(['borrower_name', 'twice', 'id'], array_column($this->shaping()->move(0, 0, 99)['columns'], 'name'));
        self::assertSame(self::PLAN, $this->shaping()->move(0, 7, 0));
        self::assertSame(self::PLAN, $this->shaping()->move(3, 0, 1));
        $less = $this->shaping()->drop(0, 0);
        self::assertSame([[], ['borrower_name', 'twice']], [$less['key'], array_column($less['columns'], 'name')]);
    }

    public function test_a_name_changes_wherever_it_is_used(): void
    {
        $renamed = $this->shaping()->rename(0, 1, 'who borrows');
        self::assertSame("concat(`who borrows`, 'borrower_name', id)", $renamed['columns'][2]['compute']);
        $renamed = $this->shaping()->rename(0, 0, 'loan_id');
        self::assertSame([['loan_id'], 'loan_id > 1', "concat(borrower_name, 'borrower_name', loan_id)"], [$renamed['key'], $renamed['where'], $renamed['columns'][2]['compute']]);
        self::assertSame(self::PLAN, $this->shaping()->rename(0, 1, ''));
        Plan::of($renamed);
    }

    public function test_prefixes_are_one_switch(): void
    {
        $all = $this->shaping()->add('$.courier')['columns'];
        $short = (new Shaping(['columns' => $all] + self::PLAN, []))->prefix(0, false);
        self::assertSame(['id', 'borrower_name', 'twice', 'courier_name'], array_column($short['columns'], 'name'), 'two names that are alike keep theirs');
        $short = $this->shaping()->prefix(0, false);
        self::assertSame(['id', 'name', 'twice'], array_column($short['columns'], 'name'));
        self::assertSame("concat(name, 'borrower_name', id)", $short['columns'][2]['compute']);
        self::assertSame(['id', 'borrower_name', 'twice'], array_column((new Shaping($short, []))->prefix(0, true)['columns'], 'name'));
    }

    public function test_records_are_split_into_two_tables(): void
    {
        $split = $this->shaping()->split();
        self::assertSame(['loans', 'loans_2'], array_column(Plan::tablesIn($split), 'table'));
        self::assertSame(['$', ['id']], [$split['branches'][0]['from'], $split['branches'][0]['key']]);
        self::assertTrue(Plan::of($split)->table->branches[0]->isSplit());
    }

    public function test_a_key_is_made_of_all_columns_where_there_is_none(): void
    {
        $keyed = (new Shaping(['table' => 't', 'key' => [], 'columns' => [['name' => 'a', 'from' => '$.a'], ['name' => 'in', 'from' => '$.b', 'type' => 'integer']]], []))->makeKey(0);
        self::assertSame([['row_key'], 'fingerprint(a, `in`)'], [$keyed['key'], $keyed['columns'][2]['compute']]);
        $rows = (new Flattener(Plan::of($keyed)))->flatten(json_decode('[{"a":"x","b":1},{"a":"x","b":1},{"a":"x1"},{"a":"x","b":null}]'))->rows[0];
        self::assertSame($rows[0][2], $rows[1][2]);
        self::assertCount(3, array_unique(array_column($rows, 2)));
    }

    public function test_a_computed_column_gets_a_name_of_its_own(): void
    {
        self::assertSame(['name' => 'id_2', 'compute' => 'id * 2'], $this->shaping()->compute(0, 'id', 'id * 2')['columns'][3]);
    }

    private function shaping(): Shaping
    {
        return new Shaping(self::PLAN, json_decode(self::RECORDS));
    }
}
