<?php

declare(strict_types=1);

namespace Tests\Core\SourceFile;

use DeepSpring\SourceFile\EqualParts;
use DeepSpring\SourceFile\PackedEndpoints;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class PackedEndpointsTest extends TestCase
{
    public function test_what_is_packed_comes_back_to_the_last_digit(): void
    {
        $endpoints = [];
        foreach ((array) glob(__DIR__.'/../../../database/demo/*.yaml') as $file) {
            $text = (string) file_get_contents((string) $file);
            if (str_contains($text, 'deepspring:')) {
                array_push($endpoints, ...(SourceFile::read($text)->document['endpoints'] ?? []));
            }
        }
        self::assertGreaterThan(20, count($endpoints));
        $odd = static fn (string $slug, mixed $of): array => ['slug' => $slug, 'name' => "Line\nbreak, \u{2028} and 1.0", 'ask' => ['path' => '/x', 'inputs' => [['name' => 'a', 'in' => 'query', 'try' => 1.0]], 'body' => ['as' => 'json', 'of' => $of]], 'answer' => ['sample' => (object) ['0' => new \stdClass, 'list' => [], 'big' => 1e300]]];
        foreach ([new \stdClass, [], (object) ['a' => []], (object) ['0' => 1.0, '1' => null], [[new \stdClass]], 'part of it', 5] as $number => $of) {
            $endpoints[] = $odd("odd-$number", $of);
            $endpoints[] = $odd("again-$number", $of);
        }
        $back = PackedEndpoints::unpack(PackedEndpoints::pack($endpoints));
        self::assertEquals($endpoints, $back);
        self::assertSame(SourceFile::trusted(['endpoints' => $endpoints])->json(), SourceFile::trusted(['endpoints' => $back])->json());
        self::assertSame([], PackedEndpoints::unpack(PackedEndpoints::pack([])));
    }

    public function test_what_endpoints_have_in_common_is_written_and_held_once(): void
    {
        $columns = array_map(static fn (int $number): array => ['name' => "column_$number", 'from' => "$.a.column_$number", 'type' => 'text'], range(1, 200));
        $endpoints = array_map(static fn (int $number): array => ['slug' => "e$number", 'name' => 'E', 'ask' => ['path' => "/e$number"], 'flatten' => ['table' => "t$number", 'columns' => $columns]], range(1, 500));
        $packed = PackedEndpoints::pack($endpoints);
        $json = SourceFile::trusted(['endpoints' => $endpoints])->json();
        self::assertLessThan(strlen($json) / 100, strlen($packed));
        $before = memory_get_usage();
        $back = PackedEndpoints::unpack($packed);
        self::assertLessThan(strlen($json) / 4, memory_get_usage() - $before);
        // One of them is changed without the others.
        $back[0]['flatten']['columns'][0]['name'] = 'other';
        self::assertSame('column_1', $back[1]['flatten']['columns'][0]['name']);
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function broken(): iterable
    {
        $packed = PackedEndpoints::pack([['slug' => 'a', 'name' => 'A', 'ask' => ['path' => '/', 'inputs' => [['name' => 'q', 'in' => 'query']]]], ['slug' => 'b', 'name' => str_repeat('B', 300), 'ask' => ['path' => '/']]]);
        yield 'nothing' => [''];
        yield 'text' => ['{"endpoints":[]}'];
        yield 'cut off' => [substr($packed, 0, -9)];
        yield 'a part that is not there' => [(string) gzcompress('{"slug":"a","ask":{"inputs":7}}'."\n")];
        yield 'no JSON' => [(string) gzcompress("{\n")];
        yield 'no end of the line' => [(string) gzcompress('{"slug":"a"}')];
    }

    #[DataProvider('broken')]
    public function test_what_is_broken_is_refused_whole(string $packed): void
    {
        $this->expectException(\UnexpectedValueException::class);
        $this->expectExceptionMessage('cannot be unpacked');
        PackedEndpoints::unpack($packed);
    }

    public function test_parts_are_put_back_by_whoever_has_them(): void
    {
        $parts = new EqualParts;
        $endpoint = ['slug' => 'a', 'ask' => ['inputs' => [['name' => 'q']], 'body' => ['as' => 'text', 'of' => '{q}']], 'flatten' => ['columns' => [['name' => 'id']], 'branches' => []]];
        $short = $parts->taken($endpoint);
        self::assertSame(['inputs' => 2, 'body' => 3], $short['ask']);
        self::assertSame($endpoint, $parts->put($short));
        self::assertSame($endpoint, $parts->put($endpoint), 'what is whole stays whole');
    }
}
