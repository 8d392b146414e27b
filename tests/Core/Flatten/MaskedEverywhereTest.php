<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Answer\Stream\JsonRecords;
use DeepSpring\Flatten\Drift\Watcher;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Mask\Concealing;
use DeepSpring\Flatten\Mask\Masks;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\RowBatch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * A masked value is nowhere in plain, in whatever shape it came, and has the same mask on every way into a
 * table: from the page as it came, from a streamed one, and from the page that is kept.
 */
final class MaskedEverywhereTest extends TestCase
{
    /**
     * @return iterable<string, array{string, array<string, mixed>, array<string, mixed>}>
     */
    public static function shapes(): iterable
    {
        $id = ['name' => 'id', 'from' => '$.id', 'type' => 'integer'];
        $table = static fn (array $columns, array $more = []): array => ['table' => 'loans', 'key' => ['id'], 'columns' => [$id, ...$columns]] + $more;
        $list = ['records' => '$[*]'];
        yield 'a member' => ['[{"id":1,"v":"CANARY"},{"id":2,"v":null},{"id":3}]', $list, $table([['name' => 'v', 'from' => '$.v', 'mask' => 'hash']])];
        yield 'a number with zeros at its end' => ['[{"id":1,"v":987654321.50},{"id":2,"v":987654321.5},{"id":3,"v":"987654321.500"}]', $list, $table([['name' => 'v', 'from' => '$.v', 'type' => 'decimal', 'scale' => 3, 'mask' => 'hash']])];
        yield 'a number that a float would change' => ['[{"id":1,"v":987654321987654321.50},{"id":2,"v":98765432198765432198}]', $list, $table([['name' => 'v', 'from' => '$.v', 'type' => 'decimal', 'scale' => 2, 'mask' => 'hash']])];
        yield 'a number as text' => ['[{"id":1,"v":987654321.50},{"id":2,"v":"987654321.50"}]', $list, $table([['name' => 'v', 'from' => '$.v', 'type' => 'text', 'mask' => 'hash']])];
        yield 'a whole number with a point' => ['[{"id":1,"v":987654321.0},{"id":2,"v":987654321}]', $list, $table([['name' => 'v', 'from' => '$.v', 'type' => 'integer', 'mask' => 'hash']])];
        yield 'moments' => ['[{"id":1,"v":"2031-03-02T09:30:00.500Z"},{"id":2,"v":"2031-03-02T10:30:00.5+01:00"}]', $list, $table([['name' => 'v', 'from' => '$.v', 'type' => 'datetime', 'mask' => 'hash']])];
        yield 'a member deep inside' => ['[{"id":1,"a":{"b":{"v":"CANARY"}}}]', $list, $table([['name' => 'v', 'from' => '$.a.b.v', 'mask' => 'redact']])];
        yield 'under a column of JSON' => ['[{"id":1,"a":{"n":1.50,"v":"CANARY"}}]', $list, $table([['name' => 'v', 'from' => '$.a.v', 'mask' => 'hash'], ['name' => 'all', 'from' => '$.a', 'type' => 'json']])];
        yield 'JSON as a whole' => ['[{"id":1,"a":{"b":1.50,"v":"CANARY"}},{"id":2,"a":{"v":"CANARY","b":1.5}}]', $list, $table([['name' => 'v', 'from' => '$.a', 'type' => 'json', 'mask' => 'hash']])];
        yield 'several joined' => ['[{"id":1,"v":["CANARY","b",987654321.50]},{"id":2,"v":[]},{"id":3,"v":["CANARY",null]}]', $list, $table([['name' => 'v', 'from' => '$.v[*]', 'many' => 'join', 'type' => 'text', 'mask' => 'hash']])];
        yield 'several joined, a structure among them' => ['[{"id":1,"v":["CANARY",{"x":"CANARY"}]}]', $list, $table([['name' => 'v', 'from' => '$.v[*]', 'many' => 'join', 'type' => 'text', 'mask' => 'hash']])];
        yield 'several as JSON' => ['[{"id":1,"v":["CANARY",{"x":"CANARY","y":1.50},987654321.50,true,null]}]', $list, $table([['name' => 'v', 'from' => '$.v[*]', 'mask' => 'hash']])];
        yield 'the first and the last' => ['[{"id":1,"v":["CANARY","b","CANARY-2"]}]', $list, $table([['name' => 'v', 'from' => '$.v[*]', 'many' => 'first', 'type' => 'text', 'mask' => 'hash'], ['name' => 'w', 'from' => '$.v[*]', 'many' => 'last', 'type' => 'text', 'mask' => 'hash']])];
        yield 'a filter' => ['[{"id":1,"f":[{"n":"phone","v":"CANARY"},{"n":"town","v":"Vell"}]}]', $list, $table([['name' => 'v', 'from' => '$.f[?@.n == "phone"].v', 'many' => 'first', 'type' => 'text', 'mask' => 'hash'], ['name' => 'town', 'from' => '$.f[?@.n == "town"].v', 'many' => 'first', 'type' => 'text']])];
        yield 'what does not fit' => ['[{"id":1,"v":"CANARY"},{"id":2,"v":{"x":"CANARY"}}]', $list, $table([['name' => 'v', 'from' => '$.v', 'type' => 'integer', 'mask' => 'hash']])];
        yield 'a key that does not fit' => ['[{"id":1,"v":"CANARY"}]', $list, ['table' => 'loans', 'key' => ['v'], 'columns' => [['name' => 'v', 'from' => '$.v', 'type' => 'integer', 'mask' => 'hash']]]];
        yield 'rows whose names stand elsewhere' => ['{"names":["id","phone","town"],"data":[[1,"CANARY","Vell"],[2,"CANARY","Quay","CANARY-3"]]}', ['rows' => ['names' => '$.names[*]', 'data' => '$.data[*]']], $table([['name' => 'v', 'from' => '$.phone', 'mask' => 'hash'], ['name' => 'w', 'from' => '$.column_4', 'mask' => 'redact'], ['name' => 'town', 'from' => '$.town']])];
        yield 'inside of rows' => ['{"names":["id","who"],"data":[[1,{"phones":[{"no":"CANARY"}]}]]}', ['rows' => ['names' => '$.names[*]', 'data' => '$.data[*]']], $table([], ['branches' => [['table' => 'phones', 'from' => '$.who.phones[*]', 'columns' => [['name' => 'id', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'no', 'from' => '$.no', 'mask' => 'hash']]]]])];
        yield 'a branch' => ['[{"id":1,"items":[{"v":"CANARY"},{"v":"b"}]}]', $list, $table([], ['branches' => [['table' => 'items', 'from' => '$.items[*]', 'columns' => [['name' => 'id', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'v', 'from' => '$.v', 'mask' => 'hash']]]]])];
        yield 'a value of the parent' => ['[{"id":1,"v":"CANARY","items":[{"n":1},{"n":2}]}]', $list, $table([], ['branches' => [['table' => 'items', 'from' => '$.items[*]', 'columns' => [['name' => 'id', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'v', 'parent' => '$.v', 'mask' => 'hash']]]]])];
        yield 'a value further up' => ['[{"id":1,"v":"CANARY","items":[{"w":"CANARY-2","parts":[{"n":1}]}]}]', $list, $table([], ['branches' => [['table' => 'items', 'from' => '$.items[*]', 'columns' => [['name' => 'id', 'parent' => '$.id', 'type' => 'integer']], 'branches' => [['table' => 'parts', 'from' => '$.parts[*]', 'columns' => [['name' => 'v', 'parent' => '$.v', 'up' => 1, 'mask' => 'hash'], ['name' => 'w', 'parent' => '$.w', 'mask' => 'hash'], ['name' => 'n', 'from' => '$.n', 'type' => 'integer']]]]]]])];
        yield 'around the records' => ['{"by":"CANARY","data":[{"id":1}]}', ['records' => '$.data[*]'], $table([['name' => 'v', 'envelope' => '$.by', 'mask' => 'hash']])];
        yield 'records under names' => ['{"data":{"x":{"id":1,"v":"CANARY"}}}', ['records' => '$.data.*'], $table([['name' => 'v', 'from' => '$.v', 'mask' => 'redact']])];
        yield 'computed of what is masked' => ['[{"id":1,"v":"CANARY"}]', $list, $table([['name' => 'v', 'from' => '$.v', 'mask' => 'hash'], ['name' => 'w', 'compute' => "concat('x ', v)"]])];
    }

    /**
     * @param  array<string, mixed>  $answer
     * @param  array<string, mixed>  $flatten
     */
    #[DataProvider('shapes')]
    public function test_a_masked_value_is_nowhere_and_its_mask_is_the_same_on_every_way(string $body, array $answer, array $flatten): void
    {
        $definition = AnswerDefinition::of($answer);
        $plan = Plan::of($flatten);
        $masks = new Masks('a key', static fn (int $bytes): string => str_repeat("\1", $bytes));
        $flattener = new Flattener($plan, [], $masks);
        $fresh = $flattener->flatten($definition->pageOf($definition->read($body, 'application/json')));

        $kept = (new Concealing($plan, $definition, $masks))->body($body, 'application/json');
        self::assertNotNull($kept);
        $again = $flattener->flatten($definition->pageOf($definition->read($kept, 'application/json')));
        $sample = (string) json_encode((new Concealing($plan, $definition, $masks))->document(json_decode($body)));

        $watcher = new Watcher($plan);
        $watcher->see($definition->pageOf($definition->read($body, 'application/json'))->values, $fresh);
        $picture = (string) json_encode($watcher->picture()->toArray());

        foreach (['the kept page' => $kept, 'the sample' => $sample, 'the picture of the run' => $picture, 'the rows' => self::text($fresh), 'the rows made anew' => self::text($again)] as $place => $text) {
            self::assertStringNotContainsString('CANARY', $text, $place);
            self::assertStringNotContainsString('987654321', $text, $place);
        }
        self::assertSame($fresh->rows, $again->rows);
        self::assertSame(self::rejects($fresh), self::rejects($again));
        self::assertSame($kept, (new Concealing($plan, $definition, $masks))->body($kept, 'application/json'), 'what is masked stays as it is');
        $streamed = self::streamed($body, $definition);
        if ($streamed !== null) {
            self::assertSame($fresh->rows, $flattener->flatten($streamed)->rows);
        }
        // Everything else came through.
        self::assertSame(count($fresh->rows[0]) + count($fresh->rejects) > 0, true);
        foreach (['Vell', 'Quay'] as $plain) {
            self::assertSame(str_contains($body, $plain), str_contains(self::text($again), $plain));
        }
    }

    public function test_equal_values_have_equal_masks(): void
    {
        $masks = new Masks('a key', static fn (int $bytes): string => str_repeat("\1", $bytes));
        $rows = function (string $body, array $column) use ($masks): array {
            $definition = AnswerDefinition::of(['records' => '$[*]']);

            return array_column((new Flattener(Plan::of(['table' => 't', 'columns' => [$column + ['name' => 'v', 'from' => '$.v', 'mask' => 'hash']]]), [], $masks))->flatten($definition->pageOf($definition->read($body, 'application/json')))->rows[0], 0);
        };
        foreach ([['decimal', '[{"v":1.50},{"v":"1.5"},{"v":15e-1},{"v":1.5000}]'], ['integer', '[{"v":100},{"v":"100"},{"v":1e2}]'], ['float', '[{"v":0.5},{"v":"0.50"},{"v":5e-1}]'], ['uuid', '[{"v":"0B8E5C71-F9A2-4D46-8A1C-55D0B7E23F2A"},{"v":"{0b8e5c71-f9a2-4d46-8a1c-55d0b7e23f2a}"}]'], ['json', '[{"v":{"a":1.0,"b":[1,2.50]}},{"v":{"b":[1.0,2.5],"a":1}}]'], ['datetime', '[{"v":"2031-03-02T09:30:00Z"},{"v":"2031-03-02T10:30:00.000+01:00"}]']] as [$type, $body]) {
            self::assertCount(1, array_unique($rows($body, ['type' => $type])), $type);
        }
        // One that stands alone, and one among several.
        self::assertSame($rows('[{"v":"x"}]', [])[0].', '.$rows('[{"v":"y"}]', [])[0], $rows('[{"v":["x","y"]}]', ['from' => '$.v[*]', 'many' => 'join', 'type' => 'text'])[0]);
        self::assertCount(2, array_unique($rows('[{"v":"1.50"},{"v":"1.5"}]', ['type' => 'text'])), 'texts that differ are others');
    }

    public function test_what_cannot_be_masked_in_the_answer_is_not_kept(): void
    {
        $masks = new Masks('a key', static fn (int $bytes): string => str_repeat("\1", $bytes));
        $definition = AnswerDefinition::of(['records' => '$.*']);
        foreach ([
            [['name' => 'all', 'from' => '$.a', 'type' => 'json', 'mask' => 'hash'], ['name' => 'town', 'from' => '$.a.town']],
            [['name' => 'who', 'member' => true, 'mask' => 'hash'], ['name' => 'town', 'from' => '$.a.town']],
        ] as $columns) {
            $plan = Plan::of(['table' => 'loans', 'columns' => $columns]);
            self::assertNull((new Concealing($plan, $definition, $masks))->body('{"x":{"a":{"town":"Vell"}}}', 'application/json'));
            $row = (new Flattener($plan, [], $masks))->flatten($definition->page(json_decode('{"x":{"a":{"town":"Vell"}}}')))->rows[0][0];
            self::assertSame('Vell', $row[1], 'what is not masked is still read');
            self::assertStringStartsWith('hash:', (string) $row[0]);
        }
    }

    public function test_a_text_that_looks_like_our_note_is_masked_like_any_other(): void
    {
        $masks = new Masks('a key', static fn (int $bytes): string => str_repeat("\1", $bytes));
        $plan = Plan::of(['table' => 'loans', 'columns' => [['name' => 'v', 'from' => '$.v', 'mask' => 'hash']]]);
        $definition = AnswerDefinition::of(['records' => '$[*]']);
        $body = '[{"v":"unfit:0123456789abcdef CANARY"},{"v":"hash:CANARY"},{"v":"[redacted] CANARY"}]';
        self::assertStringNotContainsString('CANARY', (string) (new Concealing($plan, $definition, $masks))->body($body, ''));
        $batch = (new Flattener($plan, [], $masks))->flatten($definition->page(json_decode($body), $body));
        self::assertSame([3, 0], [count($batch->rows[0]), $batch->rejected]);
    }

    public function test_what_was_encrypted_one_by_one_is_opened_in_its_cell(): void
    {
        $masks = new Masks('a key', random_bytes(...));
        $plan = Plan::of(['table' => 'loans', 'columns' => [['name' => 'v', 'from' => '$.v[*]', 'many' => 'join', 'with' => ' + ', 'type' => 'text', 'mask' => 'encrypt']]]);
        $cell = (string) (new Flattener($plan, [], $masks))->flatten([(object) ['v' => ['oar', 'lamp']]])->rows[0][0][0];
        self::assertStringNotContainsString('oar', $cell);
        self::assertSame('oar + lamp', $masks->opened($cell));
        self::assertSame($cell, (new Masks('another', random_bytes(...)))->opened($cell));
    }

    private static function streamed(string $body, AnswerDefinition $definition): ?RecordPage
    {
        $isRead = false;
        $stream = JsonRecords::of(static function (int $most) use ($body, &$isRead): string {
            [$part, $isRead] = [$isRead ? '' : $body, true];

            return $part;
        }, $definition->records ?? JsonPath::parse('$..x'));
        $pages = iterator_to_array($stream?->batches() ?? [], false);

        return $stream === null || $pages === [] ? null : RecordPage::together($pages, 100)->within($stream->envelope(), $stream->around());
    }

    private static function text(RowBatch $batch): string
    {
        return (string) json_encode([$batch->rows, self::rejects($batch)]);
    }

    /**
     * @return list<list<mixed>>
     */
    private static function rejects(RowBatch $batch): array
    {
        return array_map(static fn (object $reject): array => [$reject->table, $reject->column, $reject->record, $reject->value, $reject->reason, $reject->key], $batch->rejects);
    }
}
