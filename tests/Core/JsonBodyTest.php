<?php

declare(strict_types=1);

namespace Tests\Core;

use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Answer\UnreadableKind;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class JsonBodyTest extends TestCase
{
    public function test_digits_and_types_survive(): void
    {
        $document = JsonDecoder::decode("\xEF\xBB\xBF".'{"big":99999999999999999999,"id":9007199254740993,"empty":{},"list":[],"0":1,"null":null}');
        self::assertSame('99999999999999999999', $document->big);
        self::assertSame(9007199254740993, $document->id);
        self::assertInstanceOf(\stdClass::class, $document->empty);
        self::assertSame([], $document->list);
        self::assertTrue(property_exists($document, 'null'));
        self::assertNull(JsonDecoder::decode('null'));
    }

    /**
     * @return iterable<string, array{string, UnreadableKind, int|null, string}>
     */
    public static function faults(): iterable
    {
        yield 'nothing' => ['', UnreadableKind::Empty, null, 'no body'];
        yield 'blank' => [" \n\t", UnreadableKind::Empty, null, 'no body'];
        yield 'a page' => ['<!doctype html><title>Sign in &amp; go</title>', UnreadableKind::Html, null, 'Sign in & go'];
        yield 'a page without a title' => ['<html><body>x', UnreadableKind::Html, null, 'web page'];
        yield 'cut in an object' => ['{"a":1,', UnreadableKind::NotJson, 7, 'ends too early'];
        yield 'cut in a string' => ['{"a":"bc', UnreadableKind::NotJson, 5, 'breaks off'];
        yield 'cut in an array' => ['[1,[2', UnreadableKind::NotJson, 5, 'ends too early'];
        yield 'a comma too many' => ['[1,]', UnreadableKind::NotJson, 3, 'near "]"'];
        yield 'single quotes' => ["{'a':1}", UnreadableKind::NotJson, 1, "near \"'a':1}\""];
        yield 'two documents' => ['{"a":1}{"a":2}', UnreadableKind::NotJson, 7, 'something follows the end'];
        yield 'XML' => ['<loans/>', UnreadableKind::NotJson, 0, '<loans/>'];
        yield 'a leading zero' => ['{"a":01}', UnreadableKind::NotJson, 6, 'near "1}"'];
        yield 'a bracket of the wrong kind' => ['{"a":[1}', UnreadableKind::NotJson, 7, 'near "}"'];
        yield 'a raw line break' => ["[\"a\nb\"]", UnreadableKind::NotJson, 1, 'breaks off'];
        yield 'bytes that are no UTF-8' => ["[\"a\xff\"]", UnreadableKind::NotJson, 3, 'not UTF-8'];
        yield 'half a surrogate pair' => ['["\ud800"]', UnreadableKind::NotJson, null, 'surrogate'];
        yield 'too deep' => [str_repeat('[', 10000).str_repeat(']', 10000), UnreadableKind::NotJson, null, 'more than 512 levels'];
        yield 'a name that starts with NUL' => ['{"\u0000a":1}', UnreadableKind::NotJson, null, 'NUL'];
    }

    #[DataProvider('faults')]
    public function test_a_body_that_is_no_json_is_explained_with_its_place(string $body, UnreadableKind $kind, ?int $position, string $says): void
    {
        try {
            JsonDecoder::decode($body);
            self::fail('It was read.');
        } catch (UnreadableAnswer $fault) {
            self::assertSame($kind, $fault->kind, $fault->getMessage());
            self::assertStringContainsString($says, $fault->getMessage());
            self::assertSame($position, $fault->position, $fault->getMessage());
        }
    }

    public function test_a_large_body_with_a_fault_at_its_end_is_explained(): void
    {
        $body = '['.str_repeat('{"a":"'.str_repeat('x', 5000).'"},', 2000);
        try {
            JsonDecoder::decode($body);
            self::fail('It was read.');
        } catch (UnreadableAnswer $fault) {
            self::assertSame(strlen($body), $fault->position);
        }
    }
}
