<?php

declare(strict_types=1);

namespace Tests\Core\Value;

use DeepSpring\Value\JsonSubtrees;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class JsonSubtreesTest extends TestCase
{
    /**
     * @return iterable<string, array{mixed, string}> what was written as arrays, and its JSON
     */
    public static function trees(): iterable
    {
        yield 'a map' => [['a' => ['b' => 1]], '{"a":{"b":1}}'];
        yield 'a list' => [[['a' => 1], ['a' => 2]], '[{"a":1},{"a":2}]'];
        yield 'an empty list' => [[], '[]'];
        yield 'an empty object' => [new \stdClass, '{}'];
        yield 'a map inside an object' => [(object) ['a' => ['b' => ['c' => 1]], 'd' => 2], '{"a":{"b":{"c":1}},"d":2}'];
        yield 'a map before a plain member' => [(object) ['a' => ['b' => 1], 'z' => 'last'], '{"a":{"b":1},"z":"last"}'];
        yield 'a plain value' => ['text', '"text"'];
    }

    #[DataProvider('trees')]
    public function test_maps_become_objects_at_every_depth(mixed $written, string $json): void
    {
        self::assertSame($json, json_encode(JsonSubtrees::tree($written)));
    }

    public function test_an_object_in_which_nothing_changes_stays_the_same_object(): void
    {
        $inner = (object) ['b' => [1, 2]];
        $object = (object) ['a' => $inner, 'c' => null];
        self::assertSame($object, JsonSubtrees::tree($object));
        self::assertSame($inner, JsonSubtrees::tree($object)->a);
        $changed = (object) ['a' => $inner, 'c' => ['d' => 1], 'e' => 2];
        self::assertNotSame($changed, JsonSubtrees::tree($changed));
        self::assertSame($inner, JsonSubtrees::tree($changed)->a);
    }
}
