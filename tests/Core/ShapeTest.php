<?php

declare(strict_types=1);

namespace Tests\Core;

use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\Shape;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ShapeTest extends TestCase
{
    public function test_a_shape_is_paths_with_their_types(): void
    {
        self::assertSame([
            '$' => ['object'], '$.data' => ['array'], '$.data[*]' => ['object'], '$.data[*].id' => ['whole number', 'text'], '$.data[*].n' => ['null', 'number'], '$.ok' => ['boolean'], '$["a b"]' => ['text'],
        ], Shape::of(JsonDecoder::decode('{"ok":true,"data":[{"id":1,"n":null},{"id":"x","n":1.5}],"a b":"c"}'))->paths);
    }

    /**
     * @return iterable<string, array{string, string, list<string>, list<string>, array<string, array{string, string}>}>
     */
    public static function pairs(): iterable
    {
        yield 'the same' => ['{"a":[{"b":1}]}', '{"a":[{"b":2},{"b":3}]}', [], [], []];
        yield 'null is no other type' => ['{"a":null}', '{"a":1}', [], [], []];
        yield 'order of members is nothing' => ['{"a":1,"b":2}', '{"b":2,"a":1}', [], [], []];
        yield 'a member gone and one come' => ['{"a":1}', '{"b":1}', ['$.a'], ['$.b'], []];
        yield 'only the outermost of what is gone' => ['{"a":{"b":{"c":1}},"ab":1}', '{"ab":1}', ['$.a'], [], []];
        yield 'another type' => ['{"a":1}', '{"a":"1"}', [], [], ['$.a' => ['whole number', 'text']]];
        yield 'an object where an array was' => ['{"a":[1]}', '{"a":{"x":1}}', ['$.a[*]'], ['$.a.x'], ['$.a' => ['array', 'object']]];
        yield 'an empty array says nothing of what is in it' => ['{"a":[]}', '{"a":[1]}', [], ['$.a[*]'], []];
        yield 'several types in any order' => ['[1,"a"]', '["b",2]', [], [], []];
        yield 'one type more' => ['[1]', '[1,"a"]', [], [], ['$[*]' => ['whole number', 'text or whole number']]];
    }

    /**
     * @param  list<string>  $here
     * @param  list<string>  $there
     * @param  array<string, array{string, string}>  $types
     */
    #[DataProvider('pairs')]
    public function test_two_answers_are_compared_by_shape(string $left, string $right, array $here, array $there, array $types): void
    {
        self::assertSame(['here' => $here, 'there' => $there, 'types' => $types], Shape::of(JsonDecoder::decode($left))->against(Shape::of(JsonDecoder::decode($right))));
        $back = Shape::of(JsonDecoder::decode($right))->against(Shape::of(JsonDecoder::decode($left)));
        self::assertSame([$there, $here, array_map(array_reverse(...), $types)], [$back['here'], $back['there'], $back['types']], 'and the other way round');
    }
}
