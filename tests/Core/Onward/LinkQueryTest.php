<?php

declare(strict_types=1);

namespace Tests\Core\Onward;

use DeepSpring\Onward\LinkQuery;
use DeepSpring\Onward\OnwardDefinition;
use DeepSpring\Onward\Page;
use DeepSpring\Onward\PagingFinding;
use DeepSpring\Onward\Walk;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * A link to the next page that asks for something else than the first page did.
 */
final class LinkQueryTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string, string|null}>
     */
    public static function links(): iterable
    {
        yield 'the same and a page' => ['?status=open&limit=5', '?status=open&limit=5&page=2', null];
        yield 'without a condition' => ['?status=open&limit=5', '?limit=5&page=2', 'leaves out status=open,'];
        yield 'without two' => ['?status=open&house=vell', '?page=2', 'leaves out status=open and house=vell,'];
        yield 'with another' => ['?status=open', '?status=all&page=2', 'changes status to all,'];
        yield 'without the size' => ['?limit=5&page=1', '?page=2', null];
        yield 'a token may carry it' => ['?status=open', '?cursor=eyJzIjoib3BlbiJ9', null];
        yield 'a short number cannot' => ['?status=open', '?after=20', 'leaves out status=open,'];
        yield 'a key is never told of' => ['?api_key=canary-1', '?page=2', null];
        yield 'encoded' => ['?q=two%20words', '?q=two+words&page=2', null];
        yield 'nothing was sent' => ['', '?page=2', null];
        yield 'sent empty' => ['?status=', '?page=2', null];
        yield 'twice' => ['?tag=a&tag=b', '?tag=a&page=2', 'changes tag to a,'];
    }

    #[DataProvider('links')]
    public function test_what_a_link_changes_is_told(string $sent, string $link, ?string $says): void
    {
        $change = LinkQuery::change("https://h.example/l$sent", "https://h.example/l$link", 2);
        $says === null ? self::assertNull($change) : self::assertStringStartsWith("The link to page 2 $says", (string) $change);
        self::assertStringNotContainsString('canary', (string) $change);
    }

    public function test_a_total_that_changes_with_it_is_not_called_a_change_of_the_list(): void
    {
        $codes = static function (string $link): array {
            $onward = OnwardDefinition::of(['style' => 'next-link', 'link' => '$.next', 'total' => '$.total']);
            $walk = new Walk($onward->pager(new \DateTimeImmutable('2031-01-01')), $onward);
            $walk->first();
            $walk->next(new Page(1, json_decode('{"next":"'.$link.'","total":8}'), 5, 5, 'https://h.example/l?status=open', 'a'));
            $walk->next(new Page(2, json_decode('{"next":null,"total":30}'), 5, 10, "https://h.example$link", 'b'));

            return array_map(static fn (PagingFinding $one): string => $one->code, $walk->findings());
        };
        self::assertContains('link-query', $codes('/l?page=2'));
        self::assertNotContains('total-changed', $codes('/l?page=2'));
        self::assertContains('total-changed', $codes('/l?status=open&page=2'));
        self::assertNotContains('link-query', $codes('/l?status=open&page=2'));
    }
}
