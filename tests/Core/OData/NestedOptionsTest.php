<?php

declare(strict_types=1);

namespace Tests\Core\OData;

use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\Url\ExpandOption;
use DeepSpring\OData\Url\InvalidOption;
use DeepSpring\OData\Url\NestedText;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class NestedOptionsTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string, list<string>|string}> text, sign, and parts or the sentence
     */
    public static function texts(): iterable
    {
        yield 'nothing' => ['', ',', ['']];
        yield 'plain' => ['a, b ,c', ',', ['a', 'b', 'c']];
        yield 'inside parentheses' => ['a($select=b,c),d', ',', ['a($select=b,c)', 'd']];
        yield 'inside quotes' => ["x eq 'a,b';y", ',', ["x eq 'a,b';y"]];
        yield 'a quote in quotes' => ["'it''s, so',b", ',', ["'it''s, so'", 'b']];
        yield 'a parenthesis in quotes' => ["f('(',1),b", ',', ["f('(',1)", 'b']];
        yield 'double quotes' => ['$search="a;(b";$top=1', ';', ['$search="a;(b"', '$top=1']];
        yield 'a slash in a key' => ["loans('a/b')/items", '/', ["loans('a/b')", 'items']];
        yield 'deeper' => ['a(b(c,d),e),f', ',', ['a(b(c,d),e)', 'f']];
        yield 'not closed' => ['a(b', ',', 'A parenthesis is not closed.'];
        yield 'closed too often' => ['a)b(', ',', 'A parenthesis is closed that was never opened.'];
        yield 'an open quote' => ["a eq 'b", ',', 'A text is not closed by a quote.'];
    }

    /**
     * @param  list<string>|string  $parts
     */
    #[DataProvider('texts')]
    public function test_texts_are_split_where_nothing_is_open(string $text, string $sign, array|string $parts): void
    {
        if (is_string($parts)) {
            $this->expectExceptionObject(InvalidOption::because($parts));
        }
        self::assertSame($parts, NestedText::split($text, $sign));
    }

    /**
     * @return iterable<string, array{string, ODataVersion, mixed}>
     */
    public static function expansions(): iterable
    {
        yield 'one' => ['items', ODataVersion::V4, ['items' => [[], []]]];
        yield 'options' => ['items($select=a,b;$filter=x eq \'a;b\' and f(y) eq 1;top=3)', ODataVersion::V4, ['items' => [['select' => 'a,b', 'filter' => 'x eq \'a;b\' and f(y) eq 1', 'top' => '3'], []]]];
        yield 'within each other' => ['items($expand=object($select=a),line;$top=1),house()', ODataVersion::V4, ['items' => [['top' => '1'], ['object' => [['select' => 'a'], []], 'line' => [[], []]]], 'house' => [[], []]]];
        yield 'paths of version 2' => ['items/object,house,items/line', ODataVersion::V2, ['items' => [[], ['object' => [[], []], 'line' => [[], []]]], 'house' => [[], []]]];
        yield 'nothing between commas' => ['a,,b', ODataVersion::V4, 'Between the commas of $expand stands nothing.'];
        yield 'a star' => ['*', ODataVersion::V4, '"*" is no way that can be followed'];
        yield 'a path in version 4' => ['a/b', ODataVersion::V4, '"a/b" is no way that can be followed'];
        yield 'no value' => ['a($top)', ODataVersion::V4, '"$top" in the parentheses of a is no option with a value.'];
        yield 'said twice' => ['a($top=1;top=2)', ODataVersion::V4, '$top of a is said once.'];
        yield 'too deep' => ['a($expand=a($expand=a($expand=a($expand=a($expand=a)))))', ODataVersion::V4, 'At most 5 ways are followed one behind another.'];
        yield 'too deep in version 2' => ['a/a/a/a/a/a', ODataVersion::V2, 'At most 5 ways are followed one behind another.'];
        yield 'too many' => [implode(',', array_map(static fn (int $number): string => "a$number", range(1, 21))), ODataVersion::V4, 'At most 20 ways are followed in one request.'];
        yield 'behind the parentheses' => ['a($top=1)b', ODataVersion::V4, 'goes on behind its parentheses'];
    }

    #[DataProvider('expansions')]
    public function test_what_is_expanded_is_read(string $text, ODataVersion $version, mixed $means): void
    {
        if (is_string($means)) {
            $this->expectException(InvalidOption::class);
            $this->expectExceptionMessage($means);
        }
        self::assertSame($means, self::plain(ExpandOption::read($text, $version)));
    }

    /**
     * @param  list<ExpandOption>  $options
     * @return array<string, array{array<string, string>, array<string, mixed>}>
     */
    private static function plain(array $options): array
    {
        $plain = [];
        foreach ($options as $one) {
            $plain[$one->name] = [$one->options, self::plain($one->expand)];
        }

        return $plain;
    }
}
