<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Answer\Stream\JsonRecords;
use DeepSpring\Expression\CannotEvaluate;
use DeepSpring\Expression\Expression;
use DeepSpring\Expression\Functions\Definition;
use DeepSpring\Expression\Functions\Library;
use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\Scope;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\RowBatch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Whatever a service sends is a cell, an empty cell, or a reject that says why and holds the value as
 * it was written.
 */
final class NoValueEndsARunTest extends TestCase
{
    /**
     * @return iterable<string, array{array<string, mixed>}>
     */
    public static function types(): iterable
    {
        foreach (HostileValues::types() as $name => $column) {
            yield $name => [$column];
        }
    }

    /**
     * @param  array<string, mixed>  $column
     */
    #[DataProvider('types')]
    public function test_every_literal_meets_every_type(array $column): void
    {
        $literals = HostileValues::literals();
        $batch = $this->flatten($column, $literals);
        self::assertCount(count($literals), $batch->rows[0]);
        $rejected = [];
        foreach ($batch->rejects as $reject) {
            $rejected[$reject->record] = $reject;
            self::assertNotSame('', $reject->reason);
        }
        foreach ($literals as $number => $literal) {
            $cell = $batch->rows[0][$number][1];
            $isEmpty = $literal === 'null';
            self::assertSame($isEmpty, $cell === null && ! isset($rejected[$number]), "$literal is neither a cell nor a reject");
            self::assertFalse($cell !== null && isset($rejected[$number]), "$literal is both");
            if (isset($rejected[$number])) {
                self::assertSame($this->shown($literal), $rejected[$number]->value, "$literal is not shown as it was written");
            }
        }
    }

    #[DataProvider('types')]
    public function test_the_same_holds_for_elements_of_a_branch_and_for_several_values(array $column): void
    {
        $literals = HostileValues::literals();
        $body = '['.implode(',', array_map(static fn (int $id, string $literal): string => "{\"id\":$id,\"list\":[$literal,{\"v\":$literal}]}", array_keys($literals), $literals)).']';
        $plan = Plan::of(['table' => 'loans', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'last', 'from' => '$.list[*].v', 'many' => 'last'] + $column, ['name' => 'joined', 'from' => '$.list[*].v', 'many' => 'join'] + $column], 'branches' => [
            ['table' => 'items', 'from' => '$.list[*]', 'columns' => [['name' => 'id', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'place', 'position' => 1], ['name' => 'v', 'from' => '$.v'] + $column]],
        ]]);
        $batch = (new Flattener($plan))->flatten($this->answer()->page(json_decode($body, false, 512, JSON_BIGINT_AS_STRING), $body));
        self::assertSame([count($literals), 2 * count($literals)], [count($batch->rows[0]), count($batch->rows[1])]);
        foreach ($batch->rejects as $reject) {
            if ($reject->table === 'items' || $reject->column === 'last') {
                self::assertSame($this->shown($literals[$reject->record]), $reject->value);
            }
        }
    }

    public function test_what_is_kept_has_the_digits_that_came(): void
    {
        $cases = [
            ['12345678901234567890.123456789012', ['type' => 'decimal', 'scale' => 12], '12345678901234567890.123456789012'],
            ['1e-400', ['type' => 'decimal', 'scale' => 2], null],
            ['1e400', ['type' => 'decimal', 'scale' => 2], null],
            ['1.5e3', ['type' => 'decimal', 'scale' => 2], '1500'],
            ['123456789012345678e2', ['type' => 'decimal', 'scale' => 0], '12345678901234567800'],
            ['1e400', ['type' => 'text'], '1e400'],
            ['1.50', ['type' => 'text'], '1.50'],
            ['-0', ['type' => 'text'], '-0'],
            ['{"a":[12345678901234567890,-0,1.10,1e400]}', ['type' => 'json'], '{"a":[12345678901234567890,-0,1.10,1e400]}'],
            ['12345678901234567890', ['type' => 'json'], '12345678901234567890'],
            ['"12345678901234567890"', ['type' => 'json'], '"12345678901234567890"'],
            ['-0', ['type' => 'json'], '-0'],
            ['1e400', ['type' => 'json'], '1e400'],
        ];
        foreach ($cases as [$literal, $column, $kept]) {
            $batch = $this->flatten($column, [$literal]);
            self::assertSame($kept, $batch->rows[0][0][1], "$literal as {$column['type']}");
            self::assertCount($kept === null ? 1 : 0, $batch->rejects, "$literal as {$column['type']}");
        }
    }

    public function test_no_value_breaks_a_function(): void
    {
        // JSON columns, whose values may be anything.
        $values = [...HostileValues::literals(), null];
        $functions = array_merge(...array_values((new Library(new \DateTimeImmutable('2031-03-02T09:30:00Z')))->groups()));
        $runs = $refused = 0;
        mt_srand(20310302);
        foreach ($functions as $function) {
            foreach (range($function->least, min(4, $function->most())) as $count) {
                $expression = $this->call($function, $count);
                if ($expression === null) {
                    continue;
                }
                foreach (range(1, $count < 2 ? 1 : 12) as $ignored) {
                    foreach ($values as $value) {
                        // The first one in turn, the others at random, each also in turn.
                        $row = [$value, ...array_map(static fn (): mixed => $values[mt_rand(0, count($values) - 1)], range(1, 4))];
                        shuffle($row);
                        $runs++;
                        try {
                            $expression->value($row);
                        } catch (CannotEvaluate $cannot) {
                            $refused++;
                            self::assertNotSame('', $cannot->getMessage());
                        }
                    }
                }
            }
        }
        self::assertGreaterThan(20_000, $runs);
        self::assertGreaterThan(1_000, $refused);
    }

    public function test_a_pattern_that_comes_from_data_is_a_reject_with_its_reason(): void
    {
        $plan = Plan::of(['table' => 'loans', 'columns' => [
            ['name' => 'a', 'from' => '$.a', 'type' => 'text'], ['name' => 'p', 'from' => '$.p', 'type' => 'text'],
            ['name' => 'day', 'compute' => 'date(a, p)'], ['name' => 'year', 'compute' => "year(json(a, '\$'))"], ['name' => 'like', 'compute' => 'matches(a, p)', 'type' => 'boolean'],
        ]]);
        $batch = (new Flattener($plan))->flatten([(object) ['a' => '02.03.2031', 'p' => 'dd.MM.yyyy'], (object) ['a' => '02.03.2031', 'p' => 'abc'], (object) ['a' => '"2031-99-99"', 'p' => '[']]);
        self::assertSame([['2031-03-02', null], [null, null], [null, null]], array_map(static fn (array $row): array => [$row[2], $row[3]], $batch->rows[0]));
        $reasons = array_map(static fn (object $reject): string => "{$reject->record} {$reject->column}: {$reject->reason}", $batch->rejects);
        self::assertContains('1 day: "abc" has "b", which stands for nothing; text stands between apostrophes', $reasons);
        self::assertContains('2 year: not a day', $reasons);
        self::assertContains('2 like: the pattern is no regular expression', $reasons);
    }

    public function test_filters_compare_numbers_by_all_of_their_digits(): void
    {
        $body = '{"data":[{"id":12345678901234567890,"n":1},{"id":4,"n":2},{"id":"12345678901234567890","n":3},{"id":12345678901234567891,"n":4},{"id":0.10000000000000000001,"n":5},{"id":-99999999999999999999,"n":6}]}';
        foreach (['@.id > 5' => [1, 4], '@.id >= 12345678901234567891' => [4], '@.id == 12345678901234567890' => [1], '@.id == "12345678901234567890"' => [3], '@.id > 0.1 && @.id < 1' => [5], '@.id < -5' => [6], '@.n == 2' => [2]] as $filter => $wanted) {
            $answer = AnswerDefinition::of(['records' => "\$.data[?$filter]"]);
            $page = $answer->pageOf($answer->read($body, 'application/json'));
            $batch = (new Flattener(Plan::of(['table' => 'loans', 'columns' => [['name' => 'n', 'from' => '$.n', 'type' => 'integer'], ['name' => 'id', 'from' => '$.id', 'type' => 'text']]])))->flatten($page);
            self::assertSame(array_map(strval(...), $wanted), array_column($batch->rows[0], 0), $filter);
            // The same filter inside of a record.
            $whole = AnswerDefinition::of(['records' => '$']);
            $column = (new Flattener(Plan::of(['table' => 'loans', 'columns' => [['name' => 'n', 'from' => "\$.data[?$filter].n", 'type' => 'text', 'many' => 'join', 'with' => ' ']]])))->flatten($whole->pageOf($whole->read($body, 'application/json')));
            self::assertSame(implode(' ', $wanted), $column->rows[0][0][0], $filter);
        }
        self::assertSame('0.10000000000000000001', (new Flattener(Plan::of(['table' => 'loans', 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'text']]])))->flatten(AnswerDefinition::of(['records' => '$.data[?@.n == 5]'])->page(json_decode($body, false, 512, JSON_BIGINT_AS_STRING), $body))->rows[0][0][0]);
    }

    public function test_filters_compare_all_digits_around_a_record_above_an_element_and_on_the_way_to_a_branch(): void
    {
        $lists = '[{"id":12345678901234567890,"n":1},{"id":4,"n":2},{"id":12345678901234567891,"n":3}]';
        $body = "{\"seen\":$lists,\"data\":[{\"id\":1},{\"id\":2,\"of\":$lists,\"lines\":[{\"l\":7,\"parts\":$lists}]}]}";
        $filter = '[?@.id > 12345678901234567890]';
        $joined = ['type' => 'text', 'many' => 'join', 'with' => ' '];
        $plan = Plan::of(['table' => 'loans', 'columns' => [['name' => 'seen', 'envelope' => "\$.seen{$filter}.n"] + $joined], 'branches' => [
            ['table' => 'found', 'from' => "\$.of$filter", 'columns' => [['name' => 'n', 'from' => '$.n', 'type' => 'integer'], ['name' => 'id', 'from' => '$.id', 'type' => 'text'], ['name' => 'place', 'position' => 1]]],
            ['table' => 'lines', 'from' => '$.lines[*]', 'columns' => [['name' => 'above', 'parent' => "\$.of{$filter}.n"] + $joined, ['name' => 'here', 'from' => "\$.parts{$filter}.n"] + $joined], 'branches' => [
                ['table' => 'parts', 'from' => "\$.parts$filter", 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'text'], ['name' => 'above', 'parent' => "\$.parts{$filter}.n"] + $joined]],
            ]],
        ]]);
        $answer = AnswerDefinition::of(['records' => '$.data[*]']);
        $left = $body;
        $stream = JsonRecords::of(static function (int $most) use (&$left): string {
            [$part, $left] = [$left, ''];

            return $part;
        }, $answer->records) ?? self::fail('It cannot be read in parts.');
        $pages = iterator_to_array($stream->batches(), false);
        foreach (['whole' => $answer->pageOf($answer->read($body, 'application/json')), 'in parts' => RecordPage::together($pages, 10)->within($stream->envelope(), $stream->around())] as $way => $page) {
            $batch = (new Flattener($plan))->flatten($page);
            self::assertSame([[['3'], ['3']], [['3', '12345678901234567891', '1']], [['3', '3']], [['12345678901234567891', '3']]], $batch->rows, $way);
            self::assertSame(0, $batch->rejected);
        }
    }

    public function test_what_of_a_moment_the_database_has_no_place_for_is_counted_and_said(): void
    {
        $columns = [['name' => 'at', 'from' => '$.at', 'type' => 'datetime'], ['name' => 'clock', 'from' => '$.clock', 'type' => 'time'], ['name' => 'epoch', 'from' => '$.epoch', 'type' => 'datetime', 'read_as' => 'epoch'], ['name' => 'mail', 'from' => '$.mail', 'type' => 'datetime', 'read_as' => 'rfc2822'], ['name' => 'own', 'from' => '$.own', 'type' => 'datetime', 'read_as' => 'dd.MM.yyyy HH:mm:ss']];
        $plan = Plan::of(['table' => 'loans', 'columns' => $columns]);
        $records = [
            ['at' => '2031-03-02T09:30:00.123456789Z', 'clock' => '09:30:00.1234567', 'epoch' => '1893456000.1234567', 'mail' => 'Mon, 30 Jun 2031 23:59:60 GMT', 'own' => '30.06.2031 23:59:60'],
            ['at' => '2031-06-30T23:59:60Z', 'clock' => '09:30:00.123456000', 'epoch' => 1893456000, 'mail' => 'Mon, 30 Jun 2031 23:59:59 GMT', 'own' => '30.06.2031 23:59:59'],
            ['at' => '2031-03-02T09:30:00.123456Z', 'clock' => '09:30', 'epoch' => '1893456000.5', 'mail' => null, 'own' => null],
            ['at' => '2031-03-02T10:30:00.1234569+01:00'],
        ];
        $batch = (new Flattener($plan))->flatten(array_map(static fn (array $record): \stdClass => (object) $record, $records));
        self::assertSame([0, ['2031-07-01 00:00:00', '2031-07-01 00:00:00']], [$batch->rejected, [$batch->rows[0][1][0], $batch->rows[0][0][3]]]);
        self::assertSame([
            'loans.at: 2 values had digits finer than a microsecond, which are cut.', 'loans.at: 1 value had a leap second, kept as the second after it.',
            'loans.clock: 1 value had digits finer than a microsecond, which are cut.', 'loans.epoch: 1 value had digits finer than a microsecond, which are cut.',
            'loans.mail: 1 value had a leap second, kept as the second after it.', 'loans.own: 1 value had a leap second, kept as the second after it.',
        ], $plan->losses());
    }

    private function call(Definition $function, int $count): ?Expression
    {
        $scope = new Scope(array_map(static fn (string $name): array => [$name, 'json'], ['a', 'b', 'c', 'd', 'e']));
        try {
            return Expression::of($function->name.'('.implode(', ', array_slice(['a', 'b', 'c', 'd'], 0, $count)).')', $scope, new \DateTimeImmutable('2031-03-02T09:30:00Z'));
        } catch (InvalidExpression) {
            return null;
        }
    }

    /**
     * @param  array<string, mixed>  $column
     * @param  list<string>  $literals
     */
    private function flatten(array $column, array $literals): RowBatch
    {
        $body = '['.implode(',', array_map(static fn (int $id, string $literal): string => "{\"id\": $id, \"v\": $literal}", array_keys($literals), $literals)).']';
        $plan = Plan::of(['table' => 'loans', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'v', 'from' => '$.v'] + $column]]);

        return (new Flattener($plan))->flatten($this->answer()->page(json_decode($body, false, 512, JSON_BIGINT_AS_STRING), $body));
    }

    private function answer(): AnswerDefinition
    {
        return AnswerDefinition::of(['records' => '$[*]']);
    }

    /**
     * As a reject shows it: texts as this application writes JSON, everything else as it came.
     */
    private function shown(string $literal): string
    {
        $isText = $literal[0] === '"' || str_starts_with($literal, '["');

        return mb_strimwidth($isText ? (string) json_encode(json_decode($literal), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES) : $literal, 0, 500, '…', 'UTF-8');
    }
}
