<?php

declare(strict_types=1);

namespace Tests\Core\Answer;

use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Answer\Duplicates;
use DeepSpring\Answer\Format\Formats;
use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Answer\Stream\JsonRecords;
use DeepSpring\Answer\UnreadableAnswer;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class FormatsTest extends TestCase
{
    /**
     * A body, its media type, the document as JSON, the format, a part of what was detected.
     *
     * @return iterable<string, array{string, string, string, string, string}>
     */
    public static function bodies(): iterable
    {
        yield 'JSON' => ['{"a":1}', 'application/json', '{"a":1}', 'json', ''];
        yield 'JSON in UTF-16' => [mb_convert_encoding('{"a":"é"}', 'UTF-16LE', 'UTF-8'), 'application/json; charset=utf-16', '{"a":"é"}', 'json', ''];
        yield 'JSON in UTF-16 with a mark' => ["\xFE\xFF".mb_convert_encoding('[1]', 'UTF-16BE', 'UTF-8'), '', '[1]', 'json', ''];
        yield 'JSON said to be text' => [" \n[1]", 'text/plain', '[1]', 'json', ''];
        yield 'JSON packed' => [(string) gzencode('[1]'), 'application/octet-stream', '[1]', 'json', ''];
        yield 'lines' => ["{\"a\":1}\n{\"a\":2}\n\n", 'application/x-ndjson', '[{"a":1},{"a":2}]', 'ndjson', 'a line'];
        yield 'lines said to be JSON' => ["{\"a\":1}\r\n{\"a\":2}\r\n", 'application/json', '[{"a":1},{"a":2}]', 'ndjson', 'a line'];
        yield 'one line' => ['{"a":1}', 'application/jsonl', '[{"a":1}]', 'ndjson', 'a line'];
        yield 'a sequence' => ["\x1e{\"a\":1}\n\x1e{\"a\":\n2}\n", 'application/json-seq', '[{"a":1},{"a":2}]', 'ndjson', 'RFC 7464'];
        yield 'XML' => ['<?xml version="1.0"?><loans count="2"><loan id="1"><ref>NQ-1</ref></loan><loan id="2"><ref>NQ-2</ref></loan></loans>', 'application/xml', '{"loans":{"@count":"2","loan":[{"@id":"1","ref":"NQ-1"},{"@id":"2","ref":"NQ-2"}]}}', 'xml', '1 name is repeated'];
        yield 'XML, a list of one beside longer ones' => ['<l><h><i>a</i><i>b</i></h><h><i>c</i></h></l>', 'text/xml', '{"l":{"h":[{"i":["a","b"]},{"i":["c"]}]}}', 'xml', ''];
        yield 'XML with text and elements' => ['<a>before<b>x</b> after</a>', 'text/xml', '{"a":{"b":"x","#text":"before after"}}', 'xml', ''];
        yield 'XML with an attribute and text' => ['<a u="kg">12.50</a>', 'text/xml', '{"a":{"@u":"kg","#text":"12.50"}}', 'xml', ''];
        yield 'XML with nothing' => ['<a><b/><c></c><d xsi:nil="true" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"></d><e><!-- no text -->&lt;x&gt;</e></a>', 'text/xml', '{"a":{"b":null,"c":"","d":null,"e":"<x>"}}', 'xml', ''];
        yield 'XML with prefixes' => ['<s:a xmlns:s="urn:s" xmlns:t="urn:t"><s:b>1</s:b><t:c>2</t:c></s:a>', 'application/soap+xml', '{"a":{"b":"1","c":"2"}}', 'xml', ''];
        yield 'XML with prefixes that are needed' => ['<a xmlns:s="urn:s" xmlns:t="urn:t"><s:b>1</s:b><t:b>2</t:b></a>', 'text/xml', '{"a":{"s:b":"1","t:b":"2"}}', 'xml', ''];
        yield 'XML in another encoding' => ["<?xml version=\"1.0\" encoding=\"ISO-8859-1\"?><a>\xE9</a>", 'text/xml', '{"a":"é"}', 'xml', ''];
        yield 'XML said to be JSON' => ['<?xml version="1.0"?><a>1</a>', 'application/json', '{"a":"1"}', 'xml', ''];
        yield 'CSV' => ["ref,due\nNQ-1,2031-03-02\nNQ-2,\n", 'text/csv', '[{"ref":"NQ-1","due":"2031-03-02"},{"ref":"NQ-2","due":null}]', 'csv', 'commas'];
        yield 'CSV with semicolons and commas' => ["ref;fee\r\nNQ-1;1,5\r\nNQ-2;2,5\r\n", 'text/csv', '[{"ref":"NQ-1","fee":"1,5"},{"ref":"NQ-2","fee":"2,5"}]', 'csv', 'semicolons'];
        yield 'CSV with tabs' => ["a\tb\n1\t2\n", 'text/tab-separated-values', '[{"a":"1","b":"2"}]', 'csv', 'tabs'];
        yield 'CSV with quotes, breaks and quotes in quotes' => ["a,b\n\"x, \"\"y\"\"\nz\",\"\"\n1,2\n", 'text/csv', '[{"a":"x, \"y\"\nz","b":""},{"a":"1","b":"2"}]', 'csv', 'commas'];
        yield 'CSV without names' => ["1,2\n3,4\n", 'text/csv', '[{"column_1":"1","column_2":"2"},{"column_1":"3","column_2":"4"}]', 'csv', 'without a line of names'];
        yield 'CSV whose lines differ in length' => ["a,b\n1\n1,2,3\n", 'text/csv', '[{"a":"1"},{"a":"1","b":"2","column_3":"3"}]', 'csv', ''];
        yield 'CSV with a name twice and one missing' => ["a,a,\n1,2,3\n", 'text/csv; header=present', '[{"column_1":"a","column_2":"a","column_3":null},{"column_1":"1","column_2":"2","column_3":"3"}]', 'csv', ''];
        yield 'CSV in windows-1252' => ["name,fee\nLoan \x96 \xE9,\x80 5\n", 'text/csv', '[{"name":"Loan – é","fee":"€ 5"}]', 'csv', 'windows-1252'];
        yield 'CSV in ISO 8859-1' => ["name,x\n\xE9,1\n", 'text/csv; charset=latin1', '[{"name":"é","x":"1"}]', 'csv', 'iso-8859-1'];
        yield 'CSV with a mark' => ["\xEF\xBB\xBFa,b\nx,y\n", 'text/csv', '[{"a":"x","b":"y"}]', 'csv', 'utf-8'];
        yield 'JSON packed in two parts' => [gzencode('[1,').gzencode('2]')."\0\0\0", 'application/gzip', '[1,2]', 'json', ''];
        yield 'lines packed part by part' => [implode('', array_map(static fn (int $id): string => (string) gzencode("{\"id\":$id}\n"), range(1, 3))), 'application/x-ndjson', '[{"id":1},{"id":2},{"id":3}]', 'ndjson', ''];
        yield 'lines with a comma after each' => ["{\"a\":1},\n{\"a\":2},\n{\"a\":3}\n", 'application/x-ndjson', '[{"a":1},{"a":2},{"a":3}]', 'ndjson', 'with commas between records'];
        yield 'two records on a line' => ["{\"a\":1},{\"a\":2}\n{\"a\":3}\n", 'application/x-ndjson', '[{"a":1},{"a":2},{"a":3}]', 'ndjson', 'with commas between records'];
        yield 'XML with one name in two default namespaces' => ['<a><b xmlns="urn:x:loans">1</b><b xmlns="urn:x:moves">2</b><b>3</b></a>', 'text/xml', '{"a":{"b":"1","moves:b":"2","{}b":"3"}}', 'xml', ''];
        yield 'XML with one prefix for two namespaces' => ['<a><s:b xmlns:s="urn:x:loans">1</s:b><s:b xmlns:s="urn:x:moves">2</s:b></a>', 'text/xml', '{"a":{"s:b":"1","moves:b":"2"}}', 'xml', ''];
        yield 'XML with attributes of one name' => ['<a xmlns:x="urn:x" xmlns:y="urn:y" id="1" x:id="2" y:id="3" x:n="4"/>', 'text/xml', '{"a":{"@id":"1","@x:id":"2","@y:id":"3","@n":"4"}}', 'xml', ''];
        yield 'XML that speaks of a document type' => ['<a><!-- <!DOCTYPE a SYSTEM "x"> --><b><![CDATA[<!DOCTYPE html PUBLIC "-//x"> <!ENTITY x "y">]]></b></a>', 'text/xml', '{"a":{"b":"<!DOCTYPE html PUBLIC \"-//x\"> <!ENTITY x \"y\">"}}', 'xml', ''];
        yield 'XML with a bare document type' => ['<?xml version="1.0"?><!DOCTYPE a><a>1</a>', 'text/xml', '{"a":"1"}', 'xml', ''];
        yield 'CSV in UTF-16 without a mark' => [mb_convert_encoding("a,b\nø,1\n", 'UTF-16LE', 'UTF-8'), 'text/csv; charset=utf-16le', '[{"a":"ø","b":"1"}]', 'csv', 'utf-16le'];
        yield 'CSV in UTF-16, the other half first' => [mb_convert_encoding("a,b\nø,1\n", 'UTF-16BE', 'UTF-8'), 'text/csv; charset=UTF-16BE', '[{"a":"ø","b":"1"}]', 'csv', 'utf-16be'];
        yield 'CSV said to be text' => ["a;b\nx;y\n", 'text/plain', '[{"a":"x","b":"y"}]', 'csv', 'semicolons'];
    }

    #[DataProvider('bodies')]
    public function test_a_body_is_read_by_what_it_is(string $body, string $type, string $document, string $format, string $how): void
    {
        $read = (new Formats)->read($body, $type);
        self::assertSame($document, json_encode($read->document, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES));
        self::assertSame($format, $read->format);
        self::assertStringContainsString($how, $read->how);
        self::assertSame([], $read->bad);
    }

    public function test_what_the_source_file_says_counts(): void
    {
        self::assertSame('x', (new Formats('text'))->read('x', 'text/html')->document);
        self::assertEquals([(object) ['column_1' => 'a', 'column_2' => 'b|c']], (new Formats('csv', ['csv' => ['delimiter' => '/', 'header' => false, 'quote' => '']]))->read("a/b|c\n", 'application/json')->document);
        self::assertEquals([(object) ['é' => 'ü']], (new Formats('csv', ['csv' => ['encoding' => 'iso-8859-15', 'header' => true]]))->read("\xE9\n\xFC\n", 'text/csv; charset=utf-8')->document);
        self::assertEquals([1, 2], (new Formats('ndjson'))->read("1\n2", '')->document);
    }

    public function test_only_formats_of_records_alone_are_records_without_a_path(): void
    {
        foreach ([['[1, 2]', 'application/json', 1], ["1\n2\n", 'application/x-ndjson', 2], ["1\n2", 'text/csv', 2], ['<a><b/><b/></a>', 'application/xml', 1]] as [$body, $type, $records]) {
            $answer = AnswerDefinition::of([]);
            self::assertCount($records, $answer->pageOf($answer->read($body, $type))->values, $type);
        }
        $chosen = AnswerDefinition::of(['records' => '$[0]']);
        self::assertSame([1], $chosen->pageOf($chosen->read("1\n2\n", 'application/x-ndjson'))->values, 'unless one is chosen');
    }

    public function test_a_line_is_as_deep_as_a_document_may_be(): void
    {
        $deep = static fn (int $levels): string => str_repeat('[', $levels).str_repeat(']', $levels);
        self::assertCount(2, (new Formats)->read($deep(JsonDecoder::DEPTH - 1)."\n1\n", 'application/x-ndjson')->document);
        $read = (new Formats)->read($deep(JsonDecoder::DEPTH - 1)."\n".$deep(JsonDecoder::DEPTH)."\n1\n", 'application/x-ndjson');
        self::assertSame([2, ['line 2']], [count($read->document), array_column($read->bad, 'place')]);
    }

    public function test_a_broken_line_costs_only_its_record(): void
    {
        $read = (new Formats)->read("{\"a\":1}\n{\"a\":\n{\"a\":\"\xff\"}\n{\"a\":2}\n", 'application/x-ndjson');
        self::assertEquals([(object) ['a' => 1], (object) ['a' => 2]], $read->document);
        self::assertSame(['line 2', 'line 3'], array_column($read->bad, 'place'));
        self::assertStringContainsString('ends too early', $read->bad[0]->reason);
        $read = (new Formats)->read("a,b\n1,\"x\n2,y\n", 'text/csv');
        self::assertStringContainsString('never ends', $read->bad[0]->reason);
    }

    /**
     * @return iterable<string, array{string, string, string}>
     */
    public static function broken(): iterable
    {
        $bomb = '<?xml version="1.0"?><!DOCTYPE l [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;">]><l>&b;</l>';
        yield 'entities' => [$bomb, 'text/xml', 'entities of its own'];
        yield 'a file from outside in UTF-16' => ["\xFF\xFE".mb_convert_encoding('<?xml version="1.0" encoding="UTF-16"?><!DOCTYPE l SYSTEM "file:///etc/passwd"><l/>', 'UTF-16LE', 'UTF-8'), 'text/xml', 'DTD'];
        yield 'entities in UTF-16' => ["\xFE\xFF".mb_convert_encoding('<?xml version="1.0" encoding="UTF-16"?><!DOCTYPE l [<!ENTITY a "b">]><l>&a;</l>', 'UTF-16BE', 'UTF-8'), 'text/xml', 'entities of its own'];
        yield 'a second part of gzip that is broken' => [gzencode('[1]').substr((string) gzencode(str_repeat('loan ', 1000)), 0, 40), '', 'damaged after the first part'];
        yield 'something behind gzip' => [gzencode('[1]').'and more', '', 'damaged after the first part'];
        yield 'a file from outside' => ['<?xml version="1.0"?><!DOCTYPE l SYSTEM "file:///etc/passwd"><l/>', 'text/xml', 'DTD'];
        yield 'broken XML' => ["<a>\n<b></a>", 'text/xml', 'no well-formed XML'];
        yield 'deep XML' => [str_repeat('<a>', 300).str_repeat('</a>', 300), 'text/xml', 'levels deep'];
        yield 'a web page' => ['<!doctype html><html><title>Sign in</title></html>', 'text/xml', 'web page'];
        yield 'deep JSON' => [str_repeat('[', 10_000).str_repeat(']', 10_000), 'application/json', 'levels deep'];
        yield 'half a surrogate' => ['{"a":"\ud83d"}', 'application/json', 'surrogate'];
        yield 'no UTF-8' => ["{\"a\":\"\xff\"}", 'application/json', 'not UTF-8'];
        yield 'a name that begins with NUL' => ['{"\u0000a":1}', 'application/json', 'NUL'];
        yield 'no line that is JSON' => ["a\nb", 'application/x-ndjson', 'no line of it is JSON'];
        yield 'broken gzip' => [substr((string) gzencode(str_repeat('loan ', 1000)), 0, 40), '', 'damaged'];
        yield 'a broken archive' => ["PK\x03\x04 and nothing", '', 'damaged'];
        yield 'nothing' => ['', 'text/csv', 'no body'];
    }

    #[DataProvider('broken')]
    public function test_what_cannot_be_read_is_said_clearly(string $body, string $type, string $why): void
    {
        $this->expectException(UnreadableAnswer::class);
        $this->expectExceptionMessage($why);
        (new Formats)->read($body, $type);
    }

    public function test_a_zip_archive_of_one_file_is_opened(): void
    {
        self::assertSame([1, 2], (new Formats)->read(self::zip(['loans.json' => '[1,2]', '__MACOSX/x' => 'y']), 'application/zip')->document);
        $this->expectExceptionMessage('a zip archive of 2 files (a.json, b.json)');
        (new Formats)->read(self::zip(['a.json' => '[]', 'b.json' => '[]']), 'application/zip');
    }

    public function test_a_zip_archive_that_holds_one_name_twice_is_two_files(): void
    {
        $one = self::zip(['a.json' => '[1]', 'b.json' => '[2]']);
        $this->expectExceptionMessage('a zip archive of 2 files (a.json, a.json)');
        (new Formats)->read(str_replace('b.json', 'a.json', $one), 'application/zip');
    }

    public function test_a_list_that_stands_twice_is_refused_and_never_halved(): void
    {
        $answer = AnswerDefinition::of(['records' => '$.out.data[*]']);
        foreach (['{"out":{"data":[{"id":1}],"page":1,"data":[{"id":2}]}}' => 'the member "data" stands twice in $.out', '{"out":{"data":[{"id":1}], "page" :1,"data":[]}}' => 'the member "data" stands twice in $.out', '{"out":{"data":[{"id":1}]},"x":":","out":{}}' => 'the member "out" stands twice in $,', '{"out":{"data":[{"id":1}]},"out" : 5}' => 'the member "out" stands twice in $,'] as $body => $why) {
            foreach ([fn (): mixed => $answer->pageOf($answer->read($body, 'application/json')), function () use ($body): void {
                $read = false;
                $stream = JsonRecords::of(static function (int $most) use ($body, &$read): string {
                    [$part, $read] = [$read ? '' : $body, true];

                    return $part;
                }, JsonPath::parse('$.out.data[*]'));
                iterator_to_array($stream?->batches() ?? [], false);
            }] as $way) {
                try {
                    $way();
                    self::fail("$body was read.");
                } catch (UnreadableAnswer $unreadable) {
                    self::assertStringContainsString($why, $unreadable->getMessage());
                }
            }
        }
        // Beside the records, what stands twice takes nothing from them.
        self::assertCount(2, $answer->pageOf($answer->read('{"out":{"data":[1,2],"n":1,"n":2}}', 'application/json'))->values);
    }

    public function test_members_that_stand_twice_are_found_however_they_are_written(): void
    {
        mt_srand($seed = (int) (getenv('SPRING_SEED') ?: random_int(1, 1_000_000)));
        $twice = 0;
        for ($number = 0; $number < 4000; $number++) {
            $json = self::randomObject(3);
            $document = json_decode($json);
            self::assertNotNull($document, "seed $seed: $json");
            $found = Duplicates::find($json);
            $twice += $found === [] ? 0 : 1;
            self::assertSame($found !== [], Duplicates::areIn($json, $document), "seed $seed: $json");
        }
        self::assertGreaterThan(100, $twice);
        self::assertGreaterThan(100, 4000 - $twice);
    }

    public function test_halves_of_a_record_on_two_lines_are_never_put_together(): void
    {
        $read = (new Formats)->read("{\"a\":[1\n2]},{\"b\":3}\n{\"c\":4}\n", 'application/x-ndjson');
        self::assertSame(['[{"c":4}]', ['line 1', 'line 2']], [json_encode($read->document), array_column($read->bad, 'place')]);
    }

    public function test_a_quote_that_never_ends_says_where_it_began_and_what_it_took(): void
    {
        foreach (["ref,note\nNQ-1,\"two\nlines\"\nNQ-2,\"open\nNQ-3,x\nNQ-4,y\n" => ['line 4', 'NQ-2,"open', 'so this line and the 2 lines after it could not be read'], "ref,note\r\nNQ-1,\"x\"\r\nNQ-2,\"open" => ['line 3', 'NQ-2,"open', 'a field begins with a quote that never ends']] as $body => [$place, $text, $why]) {
            $read = (new Formats)->read($body, 'text/csv');
            self::assertSame([1, 1], [count($read->document), count($read->bad)]);
            self::assertSame([$place, $text], [$read->bad[0]->place, $read->bad[0]->text]);
            self::assertStringEndsWith($why, $read->bad[0]->reason);
        }
    }

    private static function randomObject(int $depth): string
    {
        $blank = static fn (): string => ['', '', '', ' ', "\n", "\t ", "\r\n"][mt_rand(0, 6)];
        $name = static fn (): string => ['"a"', '"b"', '"c d"', '":"', '"a\\\\"', '"\\""', '"\\":"', '""', '"\\u0061"'][mt_rand(0, 8)];
        $value = static fn (): string => $depth === 0 ? ['1', 'null', '"x"', '":b"', '"\\":"', '" : "', '[":",":"]', '{}'][mt_rand(0, 7)] : (mt_rand(0, 2) === 0 ? '['.implode(',', array_map(static fn (): string => self::randomObject($depth - 1), range(1, mt_rand(1, 2)))).']' : self::randomObject($depth - 1));
        $members = array_map(static fn (): string => $name().$blank().':'.$blank().$value().$blank(), range(1, mt_rand(1, 3)));

        return '{'.$blank().implode(','.$blank(), $members).'}';
    }

    public function test_a_bomb_is_refused_before_it_unfolds(): void
    {
        $packing = deflate_init(ZLIB_ENCODING_GZIP, ['level' => 1]) ?: self::fail();
        $bomb = '';
        for ($megabyte = 0; $megabyte < 300; $megabyte++) {
            $bomb .= deflate_add($packing, str_repeat('0', 1_000_000), ZLIB_NO_FLUSH);
        }
        $bomb .= deflate_add($packing, '', ZLIB_FINISH);
        memory_reset_peak_usage();
        $before = memory_get_usage();
        try {
            (new Formats)->read($bomb, '');
            self::fail('It was taken.');
        } catch (UnreadableAnswer $unreadable) {
            self::assertStringContainsString('more than 256 MB', $unreadable->getMessage());
        }
        self::assertLessThan(20_000_000, memory_get_peak_usage() - $before, 'it was unfolded before it was refused');
    }

    public function test_a_string_of_50_mb_is_read(): void
    {
        $document = (new Formats)->read('[{"a":"'.str_repeat('x', 50_000_000).'"}]', 'application/json')->document;
        self::assertSame(50_000_000, strlen(is_array($document) ? $document[0]->a : ''));
    }

    /**
     * @param  array<string, string>  $files
     */
    private static function zip(array $files): string
    {
        $path = (string) tempnam(sys_get_temp_dir(), 'zip');
        $zip = new \ZipArchive;
        $zip->open($path, \ZipArchive::OVERWRITE);
        foreach ($files as $name => $content) {
            $zip->addFromString($name, $content);
        }
        $zip->close();
        $bytes = (string) file_get_contents($path);
        unlink($path);

        return $bytes;
    }
}
