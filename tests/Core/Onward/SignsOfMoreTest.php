<?php

declare(strict_types=1);

namespace Tests\Core\Onward;

use DeepSpring\Onward\OnwardDefinition;
use DeepSpring\Onward\Page;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * What is said of one request: that it is all only where nothing speaks against it.
 */
final class SignsOfMoreTest extends TestCase
{
    private const NOTHING = 'One request, as set; nothing in the answer says that there is more.';

    /**
     * @return iterable<string, array{string, string, array<string, string>, string}>
     */
    public static function answers(): iterable
    {
        $records = (string) json_encode(array_map(static fn (int $id): array => ['id' => $id], range(1, 20)));
        $but = static fn (string $sign): string => "One request, as set. It may not be all: $sign.";
        yield 'a list and nothing else' => ["{\"data\": $records}", '/loans', [], self::NOTHING];
        yield 'a total that is six times as many' => ["{\"data\": $records, \"total\": 120}", '/loans', [], $but('$.total says 120, and 20 records came')];
        yield 'a total that is just as many' => ["{\"data\": $records, \"total\": 20}", '/loans', [], self::NOTHING];
        yield 'a total in a header' => [$records, '/loans', ['x-total-count' => '21'], $but('x-total-count says 21, and 20 records came')];
        yield 'a link' => [$records, '/loans', ['link' => '</loans?page=2>; rel="next"'], $but('the Link header has a link with rel="next"')];
        yield 'a link in the answer' => ["{\"data\": $records, \"next\": \"/loans?page=2\"}", '/loans', [], $but('$.next holds an address')];
        yield 'a link that is empty' => ["{\"data\": $records, \"next\": null, \"previous\": null}", '/loans', [], self::NOTHING];
        yield 'a token and a flag' => ["{\"data\": $records, \"next\": \"bG9\", \"has_more\": true}", '/loans', [], $but('$.next holds a token and $.has_more is true')];
        yield 'a flag that says no' => ["{\"data\": $records, \"has_more\": false}", '/loans', [], self::NOTHING];
        yield 'a full page' => ["{\"data\": $records}", '/loans?limit=20', [], $but('limit asked for 20, and exactly as many came')];
        yield 'a page that is not full' => ["{\"data\": $records}", '/loans?limit=50', [], self::NOTHING];
        yield 'a page in the address' => ["{\"data\": $records}", '/loans?page=1', [], $but('the address has page in it')];
        yield 'several' => ["{\"data\": $records, \"total\": 120}", '/loans?offset=0&limit=20', [], $but('$.total says 120, and 20 records came; limit asked for 20, and exactly as many came; the address has offset in it')];
    }

    /**
     * @param  array<string, string>  $headers
     */
    #[DataProvider('answers')]
    public function test_it_is_called_all_only_where_nothing_speaks_against_it(string $body, string $target, array $headers, string $says): void
    {
        $pager = OnwardDefinition::of([])->pager(new \DateTimeImmutable('2031-01-01'));
        self::assertSame($says, $pager->next(new Page(1, json_decode($body), 20, 20, "http://h.example$target", 'x', $headers))->sentence);
    }
}
