<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\Drift\Answers;
use DeepSpring\Flatten\Drift\Changes;
use DeepSpring\Flatten\Drift\DataProfile;
use DeepSpring\Flatten\Drift\FieldChange;
use DeepSpring\Flatten\Drift\Watcher;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class DriftTest extends TestCase
{
    private const PLAN = ['table' => 'loans', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'status', 'from' => '$.status'], ['name' => 'house', 'from' => '$.borrower.name'], ['name' => 'due', 'from' => '$.due', 'type' => 'date'], ['name' => 'note', 'from' => '$.note'], ['name' => 'colour', 'from' => "$.facts[?@.name == 'colour'].value", 'many' => 'first']], 'branches' => [['table' => 'items', 'from' => '$.items[*]', 'key' => ['id', 'line'], 'columns' => [['name' => 'id', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'line', 'position' => 1], ['name' => 'no', 'from' => '$.no']]]]];

    /**
     * What one run changes in each record, and the changes that are found, as kind, table and path.
     *
     * @return iterable<string, array{\Closure(object, int): void, list<list<string>>, string}>
     */
    public static function changes(): iterable
    {
        yield 'nothing' => [static fn (object $one): null => null, [], ''];
        yield 'a new field' => [static function (object $one, int $number): void {
            $number % 4 === 0 && $one->insured = true;
        }, [['new field', 'loans', '$.insured']], 'in 25 of 100 records'];
        yield 'a new object with fields' => [static function (object $one): void {
            $one->courier = (object) ['name' => 'Wend', 'van' => (object) ['no' => 5]];
        }, [['new field', 'loans', '$.courier']], 'with 3 below it, in all 100 records'];
        yield 'an object that was absent, whose field is read already' => [static function (object $one): void {
            $one->borrower->town = 'Osmery';
        }, [['new field', 'loans', '$.borrower.town']], ''];
        yield 'a new field in a branch' => [static function (object $one): void {
            $one->items[0]->weight = 1.5;
        }, [['new field', 'items', '$.items[*].weight']], 'in all 100 records'];
        yield 'a field gone' => [static function (object $one): void {
            unset($one->due);
        }, [['field gone', 'loans', '$.due'], ['emptied', 'loans', 'due']], 'loans.due is empty'];
        yield 'a field renamed' => [static function (object $one): void {
            $one->state = $one->status;
            unset($one->status);
        }, [['new field', 'loans', '$.state'], ['field gone', 'loans', '$.status'], ['emptied', 'loans', 'status']], ''];
        yield 'an object gone' => [static function (object $one): void {
            unset($one->borrower);
        }, [['field gone', 'loans', '$.borrower.name'], ['emptied', 'loans', 'house']], ''];
        yield 'another type' => [static function (object $one, int $number): void {
            $one->id = "NQ-$number";
        }, [['other type', 'loans', '$.id']], '$.id was number before, and is text now'];
        yield 'a value that becomes an object' => [static function (object $one): void {
            $one->status = (object) ['code' => 'open'];
        }, [['new field', 'loans', '$.status.code'], ['other type', 'loans', '$.status'], ['emptied', 'loans', 'status']], ''];
        yield 'a new value in a closed set' => [static function (object $one, int $number): void {
            $number === 50 && $one->status = 'lost';
        }, [['new value', 'loans', 'status']], 'had 2 values so far (open, closed), and has a new one'];
        yield 'a text longer than ever' => [static function (object $one, int $number): void {
            $number === 7 && $one->note = str_repeat('x', 400);
        }, [['longer text', 'loans', 'note']], 'of 400 bytes'];
        yield 'what is null now' => [static function (object $one): void {
            $one->note = null;
        }, [['emptied', 'loans', 'note']], 'in all 100 rows'];
        yield 'what was left out for good' => [static function (object $one): void {
            $one->internal = (object) ['x' => 1];
        }, [], ''];
    }

    /**
     * @param  \Closure(object, int): void  $change
     * @param  list<list<string>>  $wanted
     */
    #[DataProvider('changes')]
    public function test_what_changed_is_found_and_nothing_else(\Closure $change, array $wanted, string $sentence): void
    {
        $before = $this->picture(static fn (object $one): null => null);
        $found = (new Changes(Plan::of(self::PLAN), ['$.internal']))->between($before, $this->picture($change));
        self::assertSame($wanted, array_map(static fn (FieldChange $one): array => [$one->kind->value, $one->table, $one->path], $found), implode("\n", array_map(static fn (FieldChange $one): string => $one->sentence, $found)));
        self::assertStringContainsString($sentence, implode(' ', array_map(static fn (FieldChange $one): string => $one->sentence, $found)));
    }

    public function test_an_answer_changes_the_plan(): void
    {
        $records = json_decode('[{"id":"NQ-1","due":"2031-03-02","courier":{"name":"Wend","vans":[{"no":1}]},"items":[{"no":"a","weight":1.5}]},{"id":"NQ-2","due":null,"courier":{"name":"Reed","vans":[]},"items":[]}]');
        $answers = new Answers(self::PLAN, $records);
        $added = $answers->apply('add', '$.courier');
        self::assertSame(['name' => 'courier_name', 'from' => '$.courier.name', 'type' => 'text'], $added['columns'][6]);
        self::assertSame('$.courier.vans[*]', $added['branches'][1]['from']);
        $added = $answers->apply('add', '$.items[*].weight');
        self::assertSame(['name' => 'weight', 'from' => '$.weight', 'type' => 'decimal', 'scale' => 2], $added['branches'][0]['columns'][3]);
        self::assertSame(['name' => 'id', 'from' => '$.id', 'type' => 'text'], $answers->apply('change type', '$.id')['columns'][0]);
        self::assertSame(['$.courier'], $answers->apply('leave out', '$.courier')['leave_out']);
        self::assertNotContains('due', array_column($answers->apply('drop column', '$.due')['columns'], 'name'));
        self::assertSame(self::PLAN, $answers->apply('accept', '$.due'));
        self::assertContains('id', array_column($answers->apply('drop column', '$.id')['columns'], 'name'), 'the key stays');
    }

    public function test_a_picture_is_the_same_after_it_was_kept(): void
    {
        $picture = $this->picture(static fn (object $one): null => null);
        self::assertEquals($picture, DataProfile::fromArray((array) json_decode((string) json_encode($picture->toArray()), true)));
        self::assertSame([100, 100], [$picture->records, $picture->looked]);
        self::assertSame(['times' => 100, 'nulls' => 0, 'kinds' => ['text'], 'examples' => ['open', 'closed']], $picture->fields['$.status']);
    }

    /**
     * @return iterable<string, array{\Closure(array<string, mixed>): array<string, mixed>}>
     */
    public static function plans(): iterable
    {
        $column = static fn (int $number, array $change): \Closure => static fn (array $plan): array => array_replace_recursive($plan, ['columns' => [$number => $change]]);
        yield 'another type' => [$column(1, ['type' => 'integer'])];
        yield 'another field under the same name' => [$column(1, ['from' => '$.note'])];
        yield 'a type whose values do not fit' => [$column(4, ['type' => 'date'])];
        yield 'another way with several' => [$column(5, ['many' => 'count'])];
    }

    /**
     * @param  \Closure(array<string, mixed>): array<string, mixed>  $change
     */
    #[DataProvider('plans')]
    public function test_what_a_person_changes_in_the_plan_is_no_drift(\Closure $change): void
    {
        $before = $this->picture(static fn (object $one): null => null);
        $plan = $change(self::PLAN);
        self::assertSame([], (new Changes(Plan::of($plan)))->between($before, $this->picture(static fn (object $one): null => null, $plan)));
    }

    public function test_more_values_than_are_listed_are_said_as_such(): void
    {
        $before = $this->picture(static fn (object $one): null => null);
        $found = (new Changes(Plan::of(self::PLAN)))->between($before, $this->picture(static function (object $one, int $number): void {
            $one->status = "status $number";
        }));
        self::assertSame([['has more different ones than are listed, or longer ones', []]], array_map(static fn (FieldChange $one): array => [substr($one->sentence, (int) strpos($one->sentence, 'has '), -1), $one->examples], $found));
    }

    public function test_a_field_that_appears_late_in_a_long_run_is_found(): void
    {
        $plan = Plan::of(['table' => 't', 'columns' => [['name' => 'a', 'from' => '$.a', 'type' => 'integer']]]);
        $watcher = new Watcher($plan);
        $flattener = new Flattener($plan);
        for ($page = 1; $page <= 500; $page++) {
            $records = array_map(static fn (int $number): object => (object) (['a' => $number] + ($page > 480 ? ['late' => 'x'] : [])), range(1, 50));
            $watcher->see($records, $flattener->flatten($records));
        }
        $picture = $watcher->picture();
        self::assertArrayHasKey('$.late', $picture->fields);
        self::assertSame(25_000, $picture->records);
        self::assertLessThan(8000, $picture->looked);
    }

    /**
     * @param  \Closure(object, int): void  $change
     * @param  array<string, mixed>  $plan
     */
    private function picture(\Closure $change, array $plan = self::PLAN): DataProfile
    {
        $plan = Plan::of($plan);
        $watcher = new Watcher($plan);
        $flattener = new Flattener($plan);
        foreach ([range(1, 60), range(61, 100)] as $numbers) {
            $records = [];
            foreach ($numbers as $number) {
                $record = json_decode((string) json_encode(['id' => $number, 'status' => $number % 2 === 0 ? 'closed' : 'open', 'borrower' => ['name' => "House $number and more"], 'due' => '2031-03-02', 'note' => "Note $number", 'facts' => [['name' => 'colour', 'value' => "red $number"]], 'items' => [['no' => "a$number"]]]));
                $change($record, $number);
                $records[] = $record;
            }
            // The second page is looked at in parts in a long run; here it is small enough for all.
            foreach (array_chunk($records, 12) as $part) {
                $watcher->see($part, $flattener->flatten($part));
            }
        }

        return $watcher->picture();
    }
}
