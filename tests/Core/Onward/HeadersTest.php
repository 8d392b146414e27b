<?php

declare(strict_types=1);

namespace Tests\Core\Onward;

use DeepSpring\Onward\ContentRange;
use DeepSpring\Onward\WebLink;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * RFC 8288 §3 and RFC 9110 §14.4.
 */
final class HeadersTest extends TestCase
{
    /**
     * @return iterable<string, array{string, list<array{string, list<string>}>}>
     */
    public static function links(): iterable
    {
        yield 'one' => ['<https://h.example/?page=2>; rel="next"', [['https://h.example/?page=2', ['next']]]];
        yield 'several' => ['</a>; rel="prev", </b>; rel="next"', [['/a', ['prev']], ['/b', ['next']]]];
        yield 'several relations' => ['</a>; rel="next last"', [['/a', ['next', 'last']]]];
        yield 'no quotes' => ['</a>;rel=next', [['/a', ['next']]]];
        yield 'capitals' => ['</a>; REL="Next"', [['/a', ['next']]]];
        yield 'commas in the address' => ['</a?ids=1,2,3>; rel="next", </b>; rel=prev', [['/a?ids=1,2,3', ['next']], ['/b', ['prev']]]];
        yield 'commas and semicolons in quotes' => ['</a>; title="one, two; rel=\"prev\""; rel="next"', [['/a', ['next']]]];
        yield 'the first rel counts' => ['</a>; rel="next"; rel="prev"', [['/a', ['next']]]];
        yield 'blanks everywhere' => [' ,  </a>  ;  rel = "next"  ,, </b> ; rel=prev ', [['/a', ['next']], ['/b', ['prev']]]];
        yield 'a parameter without a value' => ['</a>; crossorigin; rel=next', [['/a', ['next']]]];
        yield 'an empty address is this one' => ['<>; rel=self', [['', ['self']]]];
        yield 'an extension relation' => ['</a>; rel="next https://h.example/rels/More"', [['/a', ['next', 'https://h.example/rels/more']]]];
        yield 'title in another character set' => ["</a>; title*=UTF-8''n%c3%a4chste; rel=next", [['/a', ['next']]]];
        yield 'no relation' => ['</a>', [['/a', []]]];
        yield 'words in between' => ['hello, </a>; rel=next', [['/a', ['next']]]];
        yield 'never closed' => ['</a; rel=next', []];
        yield 'quotes never closed' => ['</a>; rel="next', [['/a', []]]];
        yield 'nothing' => ['', []];
    }

    /**
     * @param  list<array{string, list<string>}>  $expected
     */
    #[DataProvider('links')]
    public function test_a_link_header_is_read(string $header, array $expected): void
    {
        self::assertSame($expected, array_map(static fn (WebLink $link): array => [$link->target, $link->rels], WebLink::all($header)));
    }

    public function test_a_long_hostile_header_is_read_in_no_time(): void
    {
        self::assertCount(0, WebLink::all(str_repeat('"', 100_000).str_repeat('<', 100_000)));
        self::assertCount(20_000, WebLink::all(str_repeat('<a>; rel="x",', 20_000)));
    }

    public function test_a_link_from_elsewhere_is_not_about_this_page(): void
    {
        $about = static fn (string $anchor): bool => WebLink::all("</a>; rel=next; anchor=\"$anchor\"")[0]->isAbout('http://h.example/v1/list?page=1');
        self::assertTrue(WebLink::all('</a>; rel=next')[0]->isAbout('http://h.example/v1/list'));
        self::assertTrue($about('http://h.example/v1/list?page=1'));
        self::assertTrue($about('?page=1'));
        self::assertFalse($about('#chapter'));
        self::assertFalse($about('/v1/other'));
        self::assertFalse($about('http://[broken'));
    }

    /**
     * @return iterable<string, array{string, array{string, int|null, int|null, int|null}|null}>
     */
    public static function ranges(): iterable
    {
        yield 'whole' => ['items 0-49/640', ['items', 0, 49, 640]];
        yield 'total unknown' => ['items 50-99/*', ['items', 50, 99, null]];
        yield 'past the end' => ['items */640', ['items', null, null, 640]];
        yield 'no unit' => ['0-9/10', ['', 0, 9, 10]];
        yield 'equals sign' => ['items=0-9/10', ['items', 0, 9, 10]];
        yield 'backwards' => ['items 9-0/10', null];
        yield 'no total' => ['items 0-9', null];
        yield 'nothing' => ['', null];
        yield 'too many digits' => ['items 0-9/99999999999999999999', null];
    }

    /**
     * @param  array{string, int|null, int|null, int|null}|null  $expected
     */
    #[DataProvider('ranges')]
    public function test_a_content_range_is_read(string $header, ?array $expected): void
    {
        $range = ContentRange::parse($header);
        self::assertSame($expected, $range === null ? null : [$range->unit, $range->first, $range->last, $range->total]);
    }
}
