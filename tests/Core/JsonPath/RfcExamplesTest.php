<?php

declare(strict_types=1);

namespace Tests\Core\JsonPath;

use DeepSpring\Answer\JsonPath\InvalidJsonPath;
use DeepSpring\Answer\JsonPath\JsonNode;
use DeepSpring\Answer\JsonPath\JsonPath;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * The examples of RFC 9535, table by table; people and titles are made up, everything else is as there.
 */
final class RfcExamplesTest extends TestCase
{
    private const STORE = '{"store":{"book":[{"category":"reference","author":"Ines Varga","title":"Sayings of the Quay","price":8.95},{"category":"fiction","author":"Tomas Reyl","title":"Sword of the Marsh","price":12.99},{"category":"fiction","author":"Maren Osk","title":"The Pale Eel","isbn":"0-553-21311-3","price":8.99},{"category":"fiction","author":"L. T. R. Wend","title":"The Lord of the Weirs","isbn":"0-395-19395-8","price":22.99}],"bicycle":{"color":"red","price":399}}}';

    private const FILTERED = '{"a":[3,5,1,2,4,6,{"b":"j"},{"b":"k"},{"b":{}},{"b":"kilo"}],"o":{"p":1,"q":2,"r":3,"s":5,"t":{"u":6}},"e":"f"}';

    private const DESCENDED = '{"o":{"j":1,"k":2},"a":[5,3,[{"j":4},{"k":6}]]}';

    private const NULLS = '{"a":null,"b":[null],"c":[{}],"null":1}';

    /**
     * @return iterable<string, array{string, string, string, list<string>|null}>
     */
    public static function examples(): iterable
    {
        $letters = '["a","b","c","d","e","f","g"]';
        $tables = [
            // Table 2 and §1.5
            [self::STORE, '$.store.book[*].author', '["Ines Varga","Tomas Reyl","Maren Osk","L. T. R. Wend"]'],
            [self::STORE, '$..author', '["Ines Varga","Tomas Reyl","Maren Osk","L. T. R. Wend"]'],
            [self::STORE, '$..price', '[8.95,12.99,8.99,22.99,399]'],
            [self::STORE, '$.store..price', '[8.95,12.99,8.99,22.99,399]'],
            [self::STORE, '$..book[2].title', '["The Pale Eel"]'],
            [self::STORE, '$..book[2].author', '["Maren Osk"]'],
            [self::STORE, '$..book[2].publisher', '[]'],
            [self::STORE, '$..book[-1].title', '["The Lord of the Weirs"]'],
            [self::STORE, '$..book[0,1].title', '["Sayings of the Quay","Sword of the Marsh"]'],
            [self::STORE, '$..book[:2].title', '["Sayings of the Quay","Sword of the Marsh"]'],
            [self::STORE, '$..book[?@.isbn].title', '["The Pale Eel","The Lord of the Weirs"]'],
            [self::STORE, '$..book[?@.price<10].title', '["Sayings of the Quay","The Pale Eel"]'],
            [self::STORE, '$.store.book[?@.price < 10].title', '["Sayings of the Quay","The Pale Eel"]'],
            // §2.2.3 root
            ['{"k":"v"}', '$', '[{"k":"v"}]', ['$']],
            // §2.3.1.3 names
            ['{"o":{"j j":{"k.k":3}},"\'":{"@":2}}', "$.o['j j']", '[{"k.k":3}]', ["$['o']['j j']"]],
            ['{"o":{"j j":{"k.k":3}},"\'":{"@":2}}', "$.o['j j']['k.k']", '[3]', ["$['o']['j j']['k.k']"]],
            ['{"o":{"j j":{"k.k":3}},"\'":{"@":2}}', '$.o["j j"]["k.k"]', '[3]', ["$['o']['j j']['k.k']"]],
            ['{"o":{"j j":{"k.k":3}},"\'":{"@":2}}', '$["\'"]["@"]', '[2]', ["$['\\'']['@']"]],
            // §2.3.2.3 wildcards
            ['{"o":{"j":1,"k":2},"a":[5,3]}', '$[*]', '[{"j":1,"k":2},[5,3]]', ["$['o']", "$['a']"]],
            ['{"o":{"j":1,"k":2},"a":[5,3]}', '$.o[*]', '[1,2]', ["$['o']['j']", "$['o']['k']"]],
            ['{"o":{"j":1,"k":2},"a":[5,3]}', '$.o[*, *]', '[1,2,1,2]', ["$['o']['j']", "$['o']['k']", "$['o']['j']", "$['o']['k']"]],
            ['{"o":{"j":1,"k":2},"a":[5,3]}', '$.a[*]', '[5,3]', ["$['a'][0]", "$['a'][1]"]],
            // §2.3.3.3 indexes
            ['["a","b"]', '$[1]', '["b"]', ['$[1]']],
            ['["a","b"]', '$[-2]', '["a"]', ['$[0]']],
            // §2.3.4.3 slices
            [$letters, '$[1:3]', '["b","c"]', ['$[1]', '$[2]']],
            [$letters, '$[5:]', '["f","g"]', ['$[5]', '$[6]']],
            [$letters, '$[1:5:2]', '["b","d"]', ['$[1]', '$[3]']],
            [$letters, '$[5:1:-2]', '["f","d"]', ['$[5]', '$[3]']],
            [$letters, '$[::-1]', '["g","f","e","d","c","b","a"]', ['$[6]', '$[5]', '$[4]', '$[3]', '$[2]', '$[1]', '$[0]']],
            // §2.3.5.3 filters
            [self::FILTERED, "$.a[?@.b == 'kilo']", '[{"b":"kilo"}]', ["$['a'][9]"]],
            [self::FILTERED, "$.a[?(@.b == 'kilo')]", '[{"b":"kilo"}]', ["$['a'][9]"]],
            [self::FILTERED, '$.a[?@>3.5]', '[5,4,6]', ["$['a'][1]", "$['a'][4]", "$['a'][5]"]],
            [self::FILTERED, '$.a[?@.b]', '[{"b":"j"},{"b":"k"},{"b":{}},{"b":"kilo"}]'],
            [self::FILTERED, '$[?@.*]', '[[3,5,1,2,4,6,{"b":"j"},{"b":"k"},{"b":{}},{"b":"kilo"}],{"p":1,"q":2,"r":3,"s":5,"t":{"u":6}}]', ["$['a']", "$['o']"]],
            [self::FILTERED, '$[?@[?@.b]]', '[[3,5,1,2,4,6,{"b":"j"},{"b":"k"},{"b":{}},{"b":"kilo"}]]', ["$['a']"]],
            [self::FILTERED, '$.o[?@<3, ?@<3]', '[1,2,1,2]'],
            [self::FILTERED, '$.a[?@<2 || @.b == "k"]', '[1,{"b":"k"}]', ["$['a'][2]", "$['a'][7]"]],
            [self::FILTERED, '$.a[?match(@.b, "[jk]")]', '[{"b":"j"},{"b":"k"}]'],
            [self::FILTERED, '$.a[?search(@.b, "[jk]")]', '[{"b":"j"},{"b":"k"},{"b":"kilo"}]'],
            [self::FILTERED, '$.o[?@>1 && @<4]', '[2,3]', ["$['o']['q']", "$['o']['r']"]],
            [self::FILTERED, '$.o[?@.u || @.x]', '[{"u":6}]', ["$['o']['t']"]],
            [self::FILTERED, '$.a[?@.b == $.x]', '[3,5,1,2,4,6]'],
            [self::FILTERED, '$.a[?@ == @]', '[3,5,1,2,4,6,{"b":"j"},{"b":"k"},{"b":{}},{"b":"kilo"}]'],
            // §2.5.1.3 child segments
            [$letters, '$[0, 3]', '["a","d"]', ['$[0]', '$[3]']],
            [$letters, '$[0:2, 5]', '["a","b","f"]', ['$[0]', '$[1]', '$[5]']],
            [$letters, '$[0, 0]', '["a","a"]', ['$[0]', '$[0]']],
            // §2.5.2.3 descendant segments
            [self::DESCENDED, '$..j', '[1,4]'],
            [self::DESCENDED, '$..[0]', '[5,{"j":4}]', ["$['a'][0]", "$['a'][2][0]"]],
            [self::DESCENDED, '$..o', '[{"j":1,"k":2}]', ["$['o']"]],
            [self::DESCENDED, '$.o..[*, *]', '[1,2,1,2]'],
            [self::DESCENDED, '$.a..[0, 1]', '[5,3,{"j":4},{"k":6}]'],
            // §2.6.1 null
            [self::NULLS, '$.a', '[null]', ["$['a']"]],
            [self::NULLS, '$.a[0]', '[]'],
            [self::NULLS, '$.a.d', '[]'],
            [self::NULLS, '$.b[0]', '[null]', ["$['b'][0]"]],
            [self::NULLS, '$.b[*]', '[null]'],
            [self::NULLS, '$.b[?@]', '[null]'],
            [self::NULLS, '$.b[?@==null]', '[null]'],
            [self::NULLS, '$.c[?@.d==null]', '[]'],
            [self::NULLS, '$.null', '[1]', ["$['null']"]],
        ];
        foreach ($tables as $number => $row) {
            yield "$number {$row[1]}" => [$row[0], $row[1], $row[2], $row[3] ?? null];
        }
    }

    /**
     * @param  list<string>|null  $paths
     */
    #[DataProvider('examples')]
    public function test_an_example_gives_what_the_rfc_says(string $document, string $path, string $values, ?array $paths): void
    {
        $compiled = JsonPath::parse($path);
        $decoded = json_decode($document, false, 512, JSON_THROW_ON_ERROR);
        self::assertSame($values, json_encode($compiled->values($decoded), JSON_UNESCAPED_SLASHES));
        self::assertSame($values, json_encode(array_map(static fn (JsonNode $node): mixed => $node->value, $compiled->nodes($decoded)), JSON_UNESCAPED_SLASHES));
        if ($paths !== null) {
            self::assertSame($paths, array_map(static fn (JsonNode $node): string => $node->path(), $compiled->nodes($decoded)));
        }
    }

    public function test_a_descendant_wildcard_finds_every_node_below_the_root(): void
    {
        $document = json_decode(self::DESCENDED);
        $found = array_map(json_encode(...), JsonPath::parse('$..*')->values($document));
        sort($found);
        $wanted = ['{"j":1,"k":2}', '[5,3,[{"j":4},{"k":6}]]', '1', '2', '5', '3', '[{"j":4},{"k":6}]', '{"j":4}', '{"k":6}', '4', '6'];
        sort($wanted);
        self::assertSame($wanted, $found);
        self::assertSame($found, (static function (array $found): array {
            sort($found);

            return $found;
        })(array_map(json_encode(...), JsonPath::parse('$..[*]')->values($document))));
        self::assertCount(27, JsonPath::parse('$..*')->values(json_decode(self::STORE)));
    }

    /**
     * Table 11 of §2.3.5.3.
     *
     * @return iterable<string, array{string, bool}>
     */
    public static function comparisons(): iterable
    {
        $table = [
            '$.absent1 == $.absent2' => true, '$.absent1 <= $.absent2' => true, "$.absent == 'g'" => false, '$.absent1 != $.absent2' => false,
            "$.absent != 'g'" => true, '1 <= 2' => true, '1 > 2' => false, "13 == '13'" => false, "'a' <= 'b'" => true, "'a' > 'b'" => false,
            '$.obj == $.arr' => false, '$.obj != $.arr' => true, '$.obj == $.obj' => true, '$.obj != $.obj' => false, '$.arr == $.arr' => true,
            '$.arr != $.arr' => false, '$.obj == 17' => false, '$.obj != 17' => true, '$.obj <= $.arr' => false, '$.obj < $.arr' => false,
            '$.obj <= $.obj' => true, '$.arr <= $.arr' => true, '1 <= $.arr' => false, '1 >= $.arr' => false, '1 > $.arr' => false,
            '1 < $.arr' => false, 'true <= true' => true, 'true > true' => false,
        ];
        foreach ($table as $comparison => $holds) {
            yield $comparison => [$comparison, $holds];
        }
    }

    #[DataProvider('comparisons')]
    public function test_a_comparison_is_as_the_rfc_says(string $comparison, bool $holds): void
    {
        $document = json_decode('{"obj":{"x":"y"},"arr":[2,3],"one":[1]}');
        $found = JsonPath::parse("$.one[?$comparison]")->values($document);
        self::assertSame($holds ? [1] : [], $found);
    }

    /**
     * Table 14 of §2.4.9: whether a function expression is well-typed.
     *
     * @return iterable<string, array{string, bool}>
     */
    public static function typing(): iterable
    {
        $table = [
            '$[?length(@) < 3]' => true, '$[?length(@.*) < 3]' => false, '$[?count(@.*) == 1]' => true, '$[?count(1) == 1]' => false,
            '$[?match(@.timezone, \'Europe/.*\')]' => true, '$[?match(@.timezone, \'Europe/.*\') == true]' => false,
            '$[?value(@..color) == "red"]' => true, '$[?value(@..color)]' => false, '$[?count(foo(@.*)) == 1]' => false, '$[?bar(@.a)]' => false, '$[?bar(@.*)]' => false,
        ];
        foreach ($table as $path => $wellTyped) {
            yield $path => [$path, $wellTyped];
        }
    }

    #[DataProvider('typing')]
    public function test_a_function_is_well_typed_or_refused(string $path, bool $wellTyped): void
    {
        if (! $wellTyped) {
            $this->expectException(InvalidJsonPath::class);
        }
        self::assertSame($path, (string) JsonPath::parse($path));
    }

    /**
     * Table 20 of §2.7.
     *
     * @return iterable<string, array{string, string, string}>
     */
    public static function normalized(): iterable
    {
        yield 'a name' => ['{"a":1}', '$.a', "$['a']"];
        yield 'an index' => ['[0,1]', '$[1]', '$[1]'];
        yield 'an index from the end' => ['[0,1,2,3,4]', '$[-3]', '$[2]'];
        yield 'nested' => ['{"a":{"b":[0,1]}}', '$.a.b[1:2]', "$['a']['b'][1]"];
        yield 'an escape' => ["{\"\x7f\":1,\"\\u000b\":2}", '$["\u000B"]', "$['\\u000b']"];
        yield 'an escape not needed' => ['{"a":1}', '$["\u0061"]', "$['a']"];
    }

    #[DataProvider('normalized')]
    public function test_a_path_is_written_normalized(string $document, string $path, string $normalized): void
    {
        self::assertSame($normalized, JsonPath::parse($path)->nodes(json_decode($document))[0]->path());
    }
}
