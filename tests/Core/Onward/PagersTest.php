<?php

declare(strict_types=1);

namespace Tests\Core\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Onward\End;
use DeepSpring\Onward\EndReason;
use DeepSpring\Onward\OnwardDefinition;
use DeepSpring\Onward\OnwardFailure;
use DeepSpring\Onward\Page;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * One suite for all styles: a list of records behind each, and what a run over it must see.
 */
final class PagersTest extends TestCase
{
    private const ORIGIN = 'http://127.0.0.1:8401';

    /**
     * Every style: its settings, and a service that answers a request of it with a document.
     *
     * @return iterable<string, array{array<string, mixed>, \Closure(PageRequest, int): array<string, mixed>}>
     */
    public static function styles(): iterable
    {
        $slice = static fn (int $from, int $size, int $all): array => $from < $all ? range($from + 1, min($all, $from + $size)) : [];
        yield 'page with pages' => [['style' => 'page', 'send_as' => 'page', 'size_as' => 'per_page', 'size' => 10, 'pages' => '$.pages'],
            static fn (PageRequest $request, int $all): array => ['records' => $slice(((int) $request->query['page'] - 1) * 10, 10, $all), 'pages' => (int) ceil($all / 10)]];
        yield 'page with total' => [['style' => 'page', 'send_as' => 'p', 'total' => '$.total'],
            static fn (PageRequest $request, int $all): array => ['records' => $slice(((int) $request->query['p'] - 1) * 10, 10, $all), 'total' => $all]];
        yield 'page from 0' => [['style' => 'page', 'send_as' => 'page', 'first' => 0],
            static fn (PageRequest $request, int $all): array => ['records' => $slice((int) $request->query['page'] * 10, 10, $all)]];
        yield 'page until empty' => [['style' => 'page', 'send_as' => 'page'],
            static fn (PageRequest $request, int $all): array => ['records' => $slice(((int) $request->query['page'] - 1) * 10, 10, $all)]];
        yield 'page until short' => [['style' => 'page', 'send_as' => 'page', 'size_as' => 'n', 'size' => 10, 'short_page_ends' => true],
            static fn (PageRequest $request, int $all): array => ['records' => $slice(((int) $request->query['page'] - 1) * (int) $request->query['n'], (int) $request->query['n'], $all)]];
        yield 'cursor with more' => [['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next', 'more' => '$.more', 'size_as' => 'limit', 'size' => 10],
            static fn (PageRequest $request, int $all): array => ['records' => $slice((int) ($request->query['after'] ?? 0), 10, $all), 'next' => (string) ((int) ($request->query['after'] ?? 0) + 10), 'more' => (int) ($request->query['after'] ?? 0) + 10 < $all]];
        yield 'cursor alone' => [['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next'],
            static fn (PageRequest $request, int $all): array => ['records' => $slice((int) ($request->query['after'] ?? 0), 10, $all), 'next' => (int) ($request->query['after'] ?? 0) + 10 < $all ? (int) ($request->query['after'] ?? 0) + 10 : null]];
        yield 'next link, absolute' => [['style' => 'next-link', 'link' => '$.links.next'],
            static fn (PageRequest $request, int $all): array => ['records' => $slice($from = self::fromOf($request->uri), 10, $all), 'links' => $from + 10 < $all ? ['next' => self::ORIGIN.'/v1/list?from='.($from + 10)] : (object) []]];
        yield 'next link, relative' => [['style' => 'next-link', 'link' => '$.next'],
            static fn (PageRequest $request, int $all): array => ['records' => $slice($from = self::fromOf($request->uri), 10, $all), 'next' => $from + 10 < $all ? '?from='.($from + 10) : '']];
    }

    /**
     * @param  array<string, mixed>  $settings
     * @param  \Closure(PageRequest, int): array<string, mixed>  $service
     */
    #[DataProvider('styles')]
    public function test_a_list_is_read_to_its_end_once(array $settings, \Closure $service): void
    {
        foreach ([0, 1, 9, 10, 11, 30, 31] as $all) {
            [$records, $end] = $this->walk($settings, $service, $all);
            self::assertSame($all === 0 ? [] : range(1, $all), $records, "a list of $all");
            self::assertFalse($end->isCutShort());
            self::assertNotSame('', $end->sentence);
        }
    }

    /**
     * @param  array<string, mixed>  $settings
     * @param  \Closure(PageRequest, int): array<string, mixed>  $service
     */
    #[DataProvider('styles')]
    public function test_a_maximum_ends_the_run_and_says_that_there_is_more(array $settings, \Closure $service): void
    {
        [$records, $end] = $this->walk($settings + ['max_pages' => 2], $service, 95);
        self::assertCount(20, $records);
        self::assertSame(EndReason::MaxPages, $end->reason);
        self::assertTrue($end->isCutShort());
        [$records] = $this->walk($settings + ['max_records' => 15], $service, 95);
        self::assertCount(20, $records);
    }

    /**
     * @param  array<string, mixed>  $settings
     * @param  \Closure(PageRequest, int): array<string, mixed>  $service
     */
    #[DataProvider('styles')]
    public function test_a_page_that_came_before_fails_the_run(array $settings, \Closure $service): void
    {
        $this->expectException(OnwardFailure::class);
        $this->walk($settings, static fn (PageRequest $request, int $all): array => ['records' => range(1, 10)] + $service($request, $all), 95);
    }

    public function test_a_repeated_page_names_the_parameter_that_was_ignored(): void
    {
        try {
            $this->walk(['style' => 'page', 'send_as' => 'pagina'], static fn (): array => ['records' => [1, 2]], 0);
            self::fail('It went on.');
        } catch (OnwardFailure $failure) {
            self::assertSame(2, $failure->page);
            self::assertStringContainsString('"pagina"', (string) $failure->hint);
        }
    }

    public function test_a_cursor_that_came_before_fails_the_run(): void
    {
        $number = 0;
        $this->expectExceptionMessage('a cursor that was used before: "same"');
        $this->walk(['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next'], static function () use (&$number): array {
            return ['records' => [++$number], 'next' => 'same'];
        }, 0);
    }

    public function test_more_without_a_cursor_fails_the_run(): void
    {
        $this->expectExceptionMessage('$.next finds no cursor');
        $this->walk(['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next', 'more' => '$.more'], static fn (): array => ['records' => [1], 'more' => true, 'next' => null], 0);
    }

    public function test_a_cursor_that_is_a_structure_fails_the_run(): void
    {
        $this->expectExceptionMessage('neither a text nor a number');
        $this->walk(['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next'], static fn (): array => ['records' => [1], 'next' => ['a' => 1]], 0);
    }

    public function test_a_link_to_another_origin_fails_the_run_without_its_query(): void
    {
        try {
            $this->walk(['style' => 'next-link', 'link' => '$.next'], static fn (): array => ['records' => [1], 'next' => 'https://elsewhere.example/list?token=abc'], 0);
            self::fail('It followed.');
        } catch (OnwardFailure $failure) {
            self::assertStringContainsString('https://elsewhere.example/list', $failure->getMessage());
            self::assertStringNotContainsString('token=abc', $failure->getMessage());
        }
    }

    public function test_a_link_to_another_origin_is_followed_when_allowed(): void
    {
        [$records] = $this->walk(['style' => 'next-link', 'link' => '$.next', 'any_origin' => true], static fn (PageRequest $request): array => $request->uri === null ? ['records' => [1], 'next' => 'https://elsewhere.example/list'] : ['records' => [2]], 0);
        self::assertSame([1, 2], $records);
    }

    public function test_a_link_that_came_before_fails_the_run(): void
    {
        $number = 0;
        $this->expectExceptionMessage('links to a page that was read before');
        $this->walk(['style' => 'next-link', 'link' => '$.next'], static function () use (&$number): array {
            return ['records' => [++$number], 'next' => '/v1/list'];
        }, 0);
    }

    public function test_a_single_page_is_the_end_even_when_empty(): void
    {
        [$records, $end] = $this->walk(['style' => 'none'], static fn (): array => ['records' => []], 0);
        self::assertSame([], $records);
        self::assertSame(EndReason::Single, $end->reason);
    }

    /**
     * @param  array<string, mixed>  $settings
     * @param  \Closure(PageRequest, int): array<string, mixed>  $service
     * @return array{list<int>, End}
     */
    private function walk(array $settings, \Closure $service, int $all): array
    {
        $pager = OnwardDefinition::of($settings)->pager();
        $step = $pager->first();
        $records = [];
        for ($number = 1; $number < 100; $number++) {
            $document = json_decode((string) json_encode($service($step, $all)));
            array_push($records, ...$document->records);
            $next = $pager->next(new Page($number, $document, count($document->records), count($records), $step->uri ?? self::ORIGIN.'/v1/list', $document->records === [] ? '' : (string) json_encode($document->records)));
            if ($next instanceof End) {
                return [$records, $next];
            }
            $step = $next;
        }
        self::fail('It never ended.');
    }

    private static function fromOf(?string $uri): int
    {
        parse_str((string) parse_url((string) $uri, PHP_URL_QUERY), $query);

        return (int) (is_string($query['from'] ?? null) ? $query['from'] : 0);
    }
}
