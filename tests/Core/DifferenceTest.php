<?php

declare(strict_types=1);

namespace Tests\Core;

use DeepSpring\Answer\Difference;
use DeepSpring\Answer\Digest;
use DeepSpring\Answer\SampleFields;
use DeepSpring\Answer\UnreadableAnswer;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class DifferenceTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string, list<string>}>
     */
    public static function pairs(): iterable
    {
        yield 'the same' => ['{"a": [1, {"b": null}]}', '{"a": [1, {"b": null}]}', []];
        yield 'another order of members' => ['{"a": 1, "b": 2}', '{"b": 2, "a": 1}', []];
        yield 'a value' => ['{"a": 1}', '{"a": 2}', ['changed $.a']];
        yield 'a type' => ['{"a": 1}', '{"a": "1"}', ['changed $.a']];
        yield 'a number written otherwise' => ['{"a": 1}', '{"a": 1.0}', []];
        yield 'null and missing' => ['{"a": null}', '{}', ['removed $.a']];
        yield 'a member more' => ['{}', '{"a": {"b": 1}}', ['added $.a']];
        yield 'deep inside' => ['{"a": {"b": [1, 2]}}', '{"a": {"b": [1, 3]}}', ['changed $.a.b[1]']];
        yield 'records by key' => ['{"data": [{"id": 1, "s": "a"}, {"id": 2, "s": "b"}]}', '{"data": [{"id": 2, "s": "c"}, {"id": 3, "s": "d"}]}', ['removed $.data[?@.id == 1]', 'changed $.data[?@.id == 2].s', 'added $.data[?@.id == 3]']];
        yield 'records that moved' => ['[{"ref": "NQ-1"}, {"ref": "NQ-2"}]', '[{"ref": "NQ-2"}, {"ref": "NQ-1"}]', []];
        yield 'keys that are texts' => ['[{"ref": "NQ-1", "a": 1}]', '[{"ref": "NQ-1", "a": 2}]', ["changed $[?@.ref == 'NQ-1'].a"]];
        yield '1 and "1" are two keys' => ['[{"id": 1}, {"id": "1"}]', '[{"id": "1"}]', ['removed $[?@.id == 1]']];
        yield 'without a key by place' => ['[{"a": 1}, {"a": 1}]', '[{"a": 1}, {"a": 2}]', ['changed $[1].a']];
        yield 'a key that is not unique' => ['[{"id": 1, "a": 1}, {"id": 1, "a": 2}]', '[{"id": 1, "a": 1}]', ['removed $[1]']];
        yield 'an array became an object' => ['{"a": []}', '{"a": {}}', ['changed $.a']];
        yield 'names with signs' => ['{"a b": 1}', '{"a b": 2}', ["changed $['a b']"]];
        yield 'nothing to compare' => ['1', '"x"', ['changed $']];
    }

    /**
     * @param  list<string>  $changes
     */
    #[DataProvider('pairs')]
    public function test_two_answers_differ_by_structure(string $was, string $now, array $changes): void
    {
        $difference = new Difference;
        $found = $difference->of(json_decode($was), json_decode($now));
        self::assertSame($changes, array_map(static fn (array $one): string => "{$one['kind']} {$one['path']}", $found));
        self::assertSame(count($changes), $difference->count);
    }

    public function test_many_changes_are_counted_and_not_all_kept(): void
    {
        $difference = new Difference;
        self::assertCount(500, $difference->of(range(1, 900), range(2, 901)));
        self::assertSame(900, $difference->count);
    }

    public function test_a_digest_keeps_the_shape_and_is_small(): void
    {
        $document = (object) ['data' => array_map(static fn (int $n): object => (object) ['id' => $n, 'tags' => range(1, 50), 'text' => str_repeat('x', 5000)], range(1, 3000)), 'total' => 3000];
        $digest = Digest::of($document);
        self::assertLessThan(1_000_001, strlen((string) json_encode($digest)));
        self::assertSame([3000, 1], [$digest->total, $digest->data[0]->id]);
        self::assertGreaterThanOrEqual(12, count($digest->data));
        self::assertEquals((object) ['a' => [1]], Digest::of((object) ['a' => [1]]));
    }

    public function test_fields_of_a_documentation_become_a_sample(): void
    {
        $sample = SampleFields::document("# loan\nid   integer   8812\nref: string\nborrower.name  text  Gull Tower\ndue | date | 2031-03-02\nfee\tdecimal\t12.30\nitems[].line  int\ntags[]  text  fragile\nsealed boolean false\n");
        self::assertSame('{"id":8812,"ref":"text","borrower":{"name":"Gull Tower"},"due":"2031-03-02","fee":12.3,"items":[{"line":1}],"tags":["fragile"],"sealed":false}', json_encode($sample));
        $this->expectException(UnreadableAnswer::class);
        $this->expectExceptionMessage('line 2');
        SampleFields::document("id integer\n?? what");
    }
}
