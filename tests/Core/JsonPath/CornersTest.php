<?php

declare(strict_types=1);

namespace Tests\Core\JsonPath;

use DeepSpring\Answer\JsonPath\InvalidJsonPath;
use DeepSpring\Answer\JsonPath\JsonNode;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Answer\JsonPath\TooCostly;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class CornersTest extends TestCase
{
    /**
     * Document, path, values; a dozen documents, each asked many ways.
     *
     * @return iterable<string, array{string, string, string}>
     */
    public static function found(): iterable
    {
        $cases = [
            '{"a":{"b":{"c":1}}}' => ['$.a.b.c' => '[1]', '$.a.b' => '[{"c":1}]', "$['a']['b']['c']" => '[1]', '$["a"].b["c"]' => '[1]', '$.a.x.c' => '[]', '$.a.b.c.d' => '[]', '$.a[0]' => '[]', '$.a[*]' => '[{"c":1}]', '$.a.*.*' => '[1]', '$..c' => '[1]', '$..b.c' => '[1]', '$ .a' => '[{"b":{"c":1}}]', "$.a .b\n.c" => '[1]', "$[ 'a' ][\t\"b\"\r]" => '[{"c":1}]', '$.a..c' => '[1]', '$.*.*.c' => '[1]'],
            '[0,1,2,3,4,5,6,7,8,9]' => ['$[0]' => '[0]', '$[9]' => '[9]', '$[10]' => '[]', '$[-1]' => '[9]', '$[-10]' => '[0]', '$[-11]' => '[]', '$[:]' => '[0,1,2,3,4,5,6,7,8,9]', '$[::]' => '[0,1,2,3,4,5,6,7,8,9]', '$[2:4]' => '[2,3]', '$[7:99]' => '[7,8,9]', '$[-3:]' => '[7,8,9]', '$[:-7]' => '[0,1,2]', '$[-3:-1]' => '[7,8]', '$[4:2]' => '[]', '$[3:3]' => '[]', '$[::2]' => '[0,2,4,6,8]', '$[1::3]' => '[1,4,7]', '$[::0]' => '[]', '$[1:5:0]' => '[]', '$[::-2]' => '[9,7,5,3,1]', '$[8:2:-3]' => '[8,5]', '$[2:8:-1]' => '[]', '$[:3:-1]' => '[9,8,7,6,5,4]', '$[3::-1]' => '[3,2,1,0]', '$[-2:-5:-1]' => '[8,7,6]', '$[99:-99:-4]' => '[9,5,1]', '$[-99:2]' => '[0,1]', '$[ 1 : 5 : 2 ]' => '[1,3]', '$[1:5:2,0]' => '[1,3,0]', '$[0,0,-1]' => '[0,0,9]', '$[?@>=7]' => '[7,8,9]', '$[?@>7||@<2]' => '[0,1,8,9]', '$[?@==3.0]' => '[3]', '$[?@==3e0]' => '[3]', '$[?@ != 3 && @ < 5]' => '[0,1,2,4]', '$[?!(@>2)]' => '[0,1,2]', '$[?(@>2)&&!(@>4)]' => '[3,4]', '$[?(@==1||@==2)&&@!=2]' => '[1]', '$[?@==1||@==2&&@!=2]' => '[1]', '$[?1==@]' => '[1]', '$[?-0==@]' => '[0]', '$[?@==-0.0]' => '[0]', '$[?$[0]==@]' => '[0]', '$[?@<$[2]]' => '[0,1]', '$[9007199254740991]' => '[]', '$[-9007199254740991]' => '[]'],
            '{"k":"v","K":"V","k ":"w","":"e","é":"acute","☺":"smile","a-b":1,"1":"one","$":"dollar","@":"at","_x9":2}' => ['$.k' => '["v"]', '$.K' => '["V"]', "$['k ']" => '["w"]', "$['']" => '["e"]', '$[""]' => '["e"]', '$.é' => '["acute"]', '$.☺' => '["smile"]', '$["\u00e9"]' => '["acute"]', '$["\u00E9"]' => '["acute"]', '$["\u263a"]' => '["smile"]', "$['a-b']" => '[1]', "$['1']" => '["one"]', "$['$']" => '["dollar"]', "$['@']" => '["at"]', '$._x9' => '[2]', '$["k","K","nope"]' => '["v","V"]', '$["k","k"]' => '["v","v"]', '$[0]' => '[]', '$[:]' => '[]', '$[?@=="v"]' => '["v"]', "$[?@<'W'&&@>'U']" => '["V"]'],
            '{"a\'b":1,"a\"b":2,"a\\\\b":3,"a/b":4,"tab\\there":5,"\ud83d\ude00":6,"new\\nline":7}' => ['$["a\'b"]' => '[1]', "$['a\\'b']" => '[1]', '$["a\\"b"]' => '[2]', "$['a\"b']" => '[2]', '$["a\\\\b"]' => '[3]', '$["a/b"]' => '[4]', '$["a\/b"]' => '[4]', '$["tab\there"]' => '[5]', '$["\uD83D\uDE00"]' => '[6]', '$["😀"]' => '[6]', '$.😀' => '[6]', '$["new\nline"]' => '[7]'],
            '{"t":[{"x":1,"y":null},{"x":"1"},{"y":false},{"x":[1]},{"x":{"z":1}},{"x":true},{"x":1.0}]}' => ['$.t[?@.x==1].x' => '[1,1.0]', '$.t[?@.x=="1"].x' => '["1"]', '$.t[?@.y==null]' => '[{"x":1,"y":null}]', '$.t[?@.y==false]' => '[{"y":false}]', '$.t[?@.x==true].x' => '[true]', '$.t[?!@.x]' => '[{"y":false}]', '$.t[?@.y]' => '[{"x":1,"y":null},{"y":false}]', '$.t[?@.x.z]' => '[{"x":{"z":1}}]', '$.t[?@.x[0]]' => '[{"x":[1]}]', '$.t[?@.x[0]==1]' => '[{"x":[1]}]', '$.t[?@.x>0].x' => '[1,1.0]', '$.t[?@.x<="1"].x' => '["1"]', '$.t[?@.x==@.y]' => '[]', '$.t[?@.q==@.r].x' => '[1,"1",[1],{"z":1},true,1.0]', '$.t[?@["x"]==1].x' => '[1,1.0]', '$.t[?@.x!=1].x' => '["1",[1],{"z":1},true]', '$.t[?@[?@==1]].x' => '[1,1.0]', '$.t[?@.x==$.t[3].x].x' => '[[1]]', '$.t[?@.x==$.t[4].x].x' => '[{"z":1}]', '$.t[?count(@.*)==2].x' => '[1]', '$.t[?count(@.*)>=1 && @.y!=null].x' => '["1",[1],{"z":1},true,1.0]'],
            '["", "a", "ab", "é", "日本", [1,2], {"a":1}, 5, null, true]' => ['$[?length(@)==0]' => '[""]', '$[?length(@)==1]' => '["a","é",{"a":1}]', '$[?length(@)==2]' => '["ab","日本",[1,2]]', '$[?length(@)>1]' => '["ab","日本",[1,2]]', '$[?length(@)<=1]' => '["","a","é",{"a":1}]', '$[?length("xyz")==3 && @==5]' => '[5]', '$[?length(@)!=99 && @==5]' => '[5]', '$[?length(length(@))==1]' => '[]', '$[?match(@,"a")]' => '["a"]', '$[?match(@,"a.*")]' => '["a","ab"]', '$[?search(@,"b")]' => '["ab"]', '$[?match(@,".")]' => '["a","é"]', '$[?match(@,"..")]' => '["ab","日本"]', '$[?match(@,"")]' => '[""]', '$[?search(@,"")]' => '["","a","ab","é","日本"]', '$[?match(@,"[a-c]+")]' => '["a","ab"]', '$[?match(@,"[^a-c]+")]' => '["é","日本"]', '$[?match(@,"\\\\p{L}+")]' => '["a","ab","é","日本"]', '$[?match(@,"\\\\p{Lo}+")]' => '["日本"]', '$[?match(@,"\\\\P{Lo}+")]' => '["a","ab","é"]', '$[?match(@,"a|é")]' => '["a","é"]', '$[?match(@,"(a)(b)?")]' => '["a","ab"]', '$[?match(@,"a{1}b{0,1}")]' => '["a","ab"]', '$[?match(@,5)]' => '[]', '$[?!match(@,"a.*") && length(@)==1]' => '["é",{"a":1}]', '$[?match("a",@)]' => '["a"]'],
            '["^a$","a^","$","\\n","\\r","x\\ny","a.c","abc","(","[","a-b","\\\\d","5"]' => ['$[?match(@,"^a$")]' => '["^a$"]', '$[?search(@,"^")]' => '["^a$","a^"]', '$[?match(@,"[$]")]' => '["$"]', '$[?match(@,".")]' => '["$","(","[","5"]', '$[?match(@,"x.y")]' => '[]', '$[?match(@,"x\\\\ny")]' => '["x\\ny"]', '$[?match(@,"a\\\\.c")]' => '["a.c"]', '$[?match(@,"a.c")]' => '["a.c","abc"]', '$[?match(@,"\\\\(")]' => '["("]', '$[?match(@,"\\\\[")]' => '["["]', '$[?match(@,"[-a]+b?")]' => '["a-b"]', '$[?match(@,"[ab-]+")]' => '["a-b"]', '$[?match(@,"\\\\d")]' => '[]', '$[?match(@,"\\\\w+")]' => '[]', '$[?match(@,"(?=a)")]' => '[]', '$[?match(@,"a*?")]' => '[]', '$[?match(@,"(")]' => '[]', '$[?match(@,"[")]' => '[]', '$[?match(@,"a{2,1}")]' => '[]', '$[?match(@,"[z-a]")]' => '[]', '$[?match(@,"(a)\\\\1")]' => '[]'],
            '{"l":[[1,2],[3,[4,5]],[]],"m":{"n":[6]}}' => ['$..[0]' => '[[1,2],1,3,4,6]', '$.l[*][0]' => '[1,3]', '$.l[*][*]' => '[1,2,3,[4,5]]', '$.l..[1]' => '[[3,[4,5]],2,[4,5],5]', '$.l[?@[1]]' => '[[1,2],[3,[4,5]]]', '$.l[?count(@[*])==0]' => '[[]]', '$.l[?@==$.l[2]]' => '[[]]', '$..n[*]' => '[6]', '$[*][*][*]' => '[1,2,3,[4,5],6]', '$.l[?value(@[0])==3]' => '[[3,[4,5]]]', '$.l[?value(@..[1])==2]' => '[[1,2]]', '$..[?@==5]' => '[5]', '$.m[?@[0]==6]' => '[[6]]', '$.l[-1]' => '[[]]', '$.l[1][1][-1]' => '[5]'],
            'null' => ['$' => '[null]', '$.a' => '[]', '$[*]' => '[]', '$..*' => '[]', '$[0]' => '[]', '$[?@]' => '[]'],
            '"text"' => ['$' => '["text"]', '$[0]' => '[]', '$.length' => '[]', '$..*' => '[]'],
            '{}' => ['$' => '[{}]', '$.*' => '[]', '$[?@]' => '[]', '$["a"]' => '[]'],
            '[]' => ['$[0]' => '[]', '$[-1]' => '[]', '$[::-1]' => '[]', '$[:]' => '[]', '$[*]' => '[]'],
        ];
        foreach ($cases as $document => $paths) {
            foreach ($paths as $path => $values) {
                yield mb_substr((string) $document, 0, 24)." $path" => [(string) $document, (string) $path, $values];
            }
        }
    }

    #[DataProvider('found')]
    public function test_a_path_finds_these_values(string $document, string $path, string $values): void
    {
        $decoded = json_decode($document, false, 512, JSON_THROW_ON_ERROR);
        $compiled = JsonPath::parse($path);
        $flags = JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION;
        self::assertSame($values, json_encode($compiled->values($decoded), $flags));
        self::assertSame($values, json_encode(array_map(static fn (JsonNode $node): mixed => $node->value, $compiled->nodes($decoded)), $flags), 'the general way and the fast way differ');
    }

    /**
     * @return iterable<string, array{string, int}>
     */
    public static function refused(): iterable
    {
        $paths = [
            '' => 0, 'a' => 0, '@.a' => 0, '$.' => 2, '$..' => 3, '$a' => 1, '$.a.' => 4, '$ ' => 1, ' $' => 0, '$. a' => 3, '$.. a' => 4, '$.1' => 2, '$.a-b' => 3, '$.[0]' => 2,
            '$[' => 2, '$[]' => 2, '$[0' => 3, '$[a]' => 2, '$["a]' => 2, "$['a\"]" => 2, '$[01]' => 3, '$[-0]' => 2, '$[1.0]' => 2, '$[1e2]' => 2, '$[0,]' => 4, '$[,0]' => 2, '$[0:1:2:3]' => 7, '$[1:a]' => 4,
            '$[9007199254740992]' => 2, '$[-9007199254740992]' => 2, '$[99999999999999999999]' => 2, '$[0:9007199254740992]' => 4, '$["\x"]' => 3, "$['\\\"']" => 3, '$["\\\'"]' => 3, '$["\u12"]' => 3, '$["\uD800"]' => 3, '$["\uDC00"]' => 3, '$["\uD800\u0041"]' => 3, "$[\"a\tb\"]" => 4,
            '$[?]' => 3, '$[?@.a==]' => 8, '$[?==1]' => 3, '$[?@.a=1]' => 6, '$[?@.a<>1]' => 7, '$[?1]' => 3, '$[?"a"]' => 3, '$[?true]' => 3, '$[?null]' => 3, '$[?@.a && ]' => 10, '$[?(@.a]' => 7, '$[?@.a)]' => 6, '$[?!1]' => 4, '$[?!@.a==1]' => 7, '$[?@.*==1]' => 3, '$[?@..a==1]' => 3, '$[?@[0,1]==1]' => 3, '$[?@[0:1]==1]' => 3, '$[?1==@.*]' => 6, '$[?@.a==b]' => 8, '$[?True==@]' => 3, '$[?@==01]' => 7, '$[?@==1.]' => 7, '$[?@==.5]' => 6, '$[?@==+1]' => 6, '$[?@==[1]]' => 6,
            '$[?length()==1]' => 3, '$[?length(@,@)==1]' => 3, '$[?count(1)==1]' => 9, '$[?count("a")==1]' => 9, '$[?length(@.*)==1]' => 10, '$[?length(@)]' => 3, '$[?count(@.*)]' => 3, '$[?value(@.*)]' => 3, '$[?match(@.a)]' => 3, '$[?match(@.a,"b")==true]' => 3, '$[?match(@.*,"b")]' => 9, '$[?length (@)==1]' => 3, '$[?LENGTH(@)==1]' => 3, '$[?nope(@)==1]' => 3, '$[?length(@.a==1)==1]' => 13, '$.a$' => 3, '$.a[0]b' => 6, '$..' => 3, '$...a' => 3, '$.*a' => 3, '$.a#' => 3,
        ];
        foreach ($paths as $path => $position) {
            yield (string) $path => [(string) $path, $position];
        }
    }

    #[DataProvider('refused')]
    public function test_what_is_no_path_is_refused_at_its_fault(string $path, int $position): void
    {
        try {
            JsonPath::parse($path);
            self::fail("$path was taken.");
        } catch (InvalidJsonPath $invalid) {
            self::assertSame($position, $invalid->position, $invalid->getMessage());
            self::assertStringEndsWith('of the path).', $invalid->getMessage());
        }
    }

    public function test_a_filter_nested_beyond_reason_is_refused(): void
    {
        $this->expectException(InvalidJsonPath::class);
        JsonPath::parse('$[?'.str_repeat('(', 5000).'@.a'.str_repeat(')', 5000).']');
    }

    public function test_a_pattern_that_would_run_for_ever_is_given_up(): void
    {
        foreach (['$[?match(@, "(a+)+")]', '$[?! match(@, "(a+)+")]', '$[?search(@, "^?(a+)+b")]'] as $number => $path) {
            try {
                JsonPath::parse($path)->values([str_repeat('a', 40).'!', 'a']);
                self::assertSame(2, $number, 'it counted as an answer');
            } catch (TooCostly $costly) {
                self::assertTrue($costly->isOfText);
                self::assertStringStartsWith('the regular expression (a+)+ gave up on a text of 41 bytes', $costly->getMessage());
            } catch (InvalidJsonPath) {
                self::assertSame(2, $number);
            }
        }
    }

    public function test_a_long_text_is_matched_and_what_is_too_long_is_said(): void
    {
        foreach ([8191, 8192, 20_000] as $length) {
            $text = str_repeat('ab', intdiv($length, 2));
            self::assertSame([$text], JsonPath::parse('$[?match(@, "(a|b)*")]')->values([$text, $text.'c']), "$length characters");
            self::assertCount(2, JsonPath::parse('$[?search(@, "b(a|b)*")]')->values([$text, $text.'c']));
        }
        $this->expectException(TooCostly::class);
        JsonPath::parse('$[?match(@, "(a|b)*")]')->values([str_repeat('ab', 1_000_000)]);
    }

    public function test_a_path_that_multiplies_is_stopped_within_bounds(): void
    {
        $deep = 1;
        for ($level = 0; $level < 120; $level++) {
            $deep = (object) ['a' => $deep, 'b' => [$level]];
        }
        $list = array_map(static fn (int $id): \stdClass => (object) ['id' => $id, 'town' => 'Vell'], range(1, 3000));
        foreach ([['$..*..*..*..*', $deep, 'finds more than'], ['$[?count($..*)>0]', $list, 'looks at more than'], ['$'.str_repeat('[*,*,*,*,*,*,*,*]', 8), [[[[[[[[1]]]]]]]], 'more than']] as [$path, $document, $why]) {
            memory_reset_peak_usage();
            $before = memory_get_usage();
            try {
                JsonPath::parse($path)->values($document);
                self::fail("$path went on.");
            } catch (TooCostly $costly) {
                self::assertFalse($costly->isOfText);
                self::assertStringContainsString($why, $costly->getMessage());
            }
            self::assertLessThan(350_000_000, memory_get_peak_usage() - $before, $path);
        }
        // What a large answer needs is not kept from it.
        self::assertCount(3000, JsonPath::parse('$..town')->values($list));
        self::assertCount(3000, JsonPath::parse('$[?@.id > 0]')->values($list));
    }

    public function test_names_are_known_of_a_path_of_names_only(): void
    {
        self::assertSame(['a', 'b c'], JsonPath::parse("$.a['b c']")->names());
        self::assertNull(JsonPath::parse('$.a[0]')->names());
        self::assertTrue(JsonPath::parse('$.a[0].b')->isSingular());
        self::assertFalse(JsonPath::parse('$.a[*]')->isSingular());
    }
}
