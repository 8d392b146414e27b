<?php

declare(strict_types=1);

namespace Tests\Core\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Onward\End;
use DeepSpring\Onward\EndReason;
use DeepSpring\Onward\OnwardDefinition;
use DeepSpring\Onward\OnwardFailure;
use DeepSpring\Onward\Page;
use DeepSpring\Onward\PagingFinding;
use DeepSpring\Onward\Walk;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * One suite for all styles, against a service that refuses to be asked wrongly.
 */
final class PagersTest extends TestCase
{
    /** Settings of each style, and the list it is for. */
    private const STYLES = [
        'page' => ['style' => 'page', 'send_as' => 'page', 'size_as' => 'size', 'size' => 10, 'pages' => '$.pages', 'total' => '$.total'],
        'page-0' => ['style' => 'page', 'send_as' => 'page', 'first' => 0],
        'page-in-body' => ['style' => 'page', 'send_as' => 'page', 'in' => 'body', 'size_as' => 'size', 'size' => 10],
        'page-404' => ['style' => 'page', 'send_as' => 'page', 'end_on' => [404]],
        'page-header-total' => ['style' => 'page', 'send_as' => 'page', 'total' => 'X-Total-Count'],
        'offset' => ['style' => 'offset', 'send_as' => 'offset', 'size_as' => 'size', 'size' => 10, 'total' => '$.total'],
        'offset-1' => ['style' => 'offset', 'send_as' => 'start', 'first' => 1],
        'cursor' => ['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next', 'more' => '$.more', 'size_as' => 'size', 'size' => 10],
        'cursor-alone' => ['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next'],
        'cursor-header' => ['style' => 'cursor', 'send_as' => 'X-After', 'in' => 'header', 'next' => '$.next'],
        'cursor-body' => ['style' => 'cursor', 'send_as' => 'page.after', 'in' => 'body', 'next' => '$.next', 'size_as' => 'page.size', 'size' => 10],
        'last-record' => ['style' => 'cursor', 'send_as' => 'since', 'from_last' => '$.id'],
        'next-link' => ['style' => 'next-link', 'link' => '$.links.next'],
        'next-link-relative' => ['style' => 'next-link', 'link' => '$.next'],
        'link-header' => ['style' => 'link-header'],
        'range' => ['style' => 'range', 'size' => 10],
        'range-unknown' => ['style' => 'range', 'size' => 10],
        'partition' => ['style' => 'partition', 'list' => '$.parts[*]', 'value' => '$.number', 'send_as' => 'part', 'method' => 'GET', 'path' => '/statements/{handle}', 'take' => ['handle' => '$.handle']],
        'partition-apart' => ['style' => 'partition', 'list' => '$.parts[*]', 'value' => '$.number', 'send_as' => 'part', 'first_holds' => 'none', 'method' => 'GET', 'path' => '/statements/{handle}', 'take' => ['handle' => '$.handle']],
        'window' => ['style' => 'window', 'from_as' => 'from', 'to_as' => 'to', 'step' => 'P5D', 'start' => '2030-01-01', 'end' => '2030-02-20'],
        'window-counted-in' => ['style' => 'window', 'from_as' => 'from', 'to_as' => 'to', 'step' => 'P5D', 'start' => '2030-01-01', 'end' => '2030-02-20', 'to_is' => 'included'],
        'window-paged' => ['style' => 'window', 'from_as' => 'from', 'to_as' => 'to', 'step' => 'P10D', 'start' => '2030-01-01', 'end' => '2030-02-20', 'inner' => ['style' => 'page', 'send_as' => 'page']],
    ];

    /**
     * @return iterable<string, array{string}>
     */
    public static function styles(): iterable
    {
        foreach (array_keys(self::STYLES) as $style) {
            yield $style => [$style];
        }
    }

    #[DataProvider('styles')]
    public function test_a_list_is_read_to_its_end_once_and_says_what_proves_it(string $style): void
    {
        foreach ([0, 1, 9, 10, 11, 30, 31, 95] as $all) {
            [$records, $end, $walk] = $this->walk(self::STYLES[$style], $service = new ListService($style, $all));
            self::assertSame($all === 0 ? [] : range(1, $all), $records, "a list of $all");
            self::assertFalse($end->isCutShort());
            self::assertStringContainsString("$all record", $walk->proof());
            self::assertSame([], array_values(array_filter($walk->findings(), static fn (PagingFinding $one): bool => $one->isDoubt)), 'no doubt about a list of '.$all);
            self::assertSame($service->asked, array_unique($service->asked), 'nothing is asked for twice');
        }
    }

    #[DataProvider('styles')]
    public function test_pages_asked_for_ahead_are_those_that_are_asked_for_in_turn(string $style): void
    {
        [, , , $inTurn] = $this->walk(self::STYLES[$style], new ListService($style, 95));
        $walk = OnwardDefinition::of(self::STYLES[$style])->walk($this->now());
        self::assertNull($walk->ahead(2), 'nothing is known before the first page');
        $service = new ListService($style, 95);
        $page = $this->page(1, $service->answer($walk->first()), 0);
        $step = $walk->next($page);
        self::assertInstanceOf(PageRequest::class, $step);
        if ($walk->ahead(3) === null) {
            self::assertContains(self::STYLES[$style]['style'], ['cursor', 'next-link', 'link-header', 'window'], 'only these need the page before');

            return;
        }
        for ($number = 2; isset($inTurn[$number]); $number++) {
            self::assertEquals($inTurn[$number], $walk->ahead($number), "page $number");
        }
        if (in_array($style, ['page', 'offset', 'range', 'partition', 'partition-apart', 'window', 'window-counted-in'], true)) {
            self::assertNull($walk->ahead($number), 'it knows where the list ends');
        }
    }

    #[DataProvider('styles')]
    public function test_a_run_goes_on_in_another_process_from_any_page(string $style): void
    {
        [, $wholeEnd, $whole] = $this->walk(self::STYLES[$style], $service = new ListService($style, 43));
        $pages = count($service->asked);
        for ($break = 1; $break < $pages; $break++) {
            $service = new ListService($style, 43);
            $walk = OnwardDefinition::of(self::STYLES[$style])->walk($this->now());
            $step = $walk->first();
            $records = [];
            for ($number = 1; $number <= $break; $number++) {
                $page = $this->page($number, $service->answer($step), count($records));
                array_push($records, ...$this->ids($page));
                $step = $walk->next($page);
                self::assertInstanceOf(PageRequest::class, $step);
            }
            $kept = json_decode((string) json_encode(['memory' => $walk->memory(), 'next' => $step->toArray(), 'page' => $number, 'records' => count($records)]), true);
            unset($walk);
            $again = OnwardDefinition::of(self::STYLES[$style])->walk($this->now());
            $again->remember($kept['memory']);
            [$rest, $end, $walk] = $this->walk(self::STYLES[$style], $service, $again, PageRequest::fromArray($kept['next']), $kept['page'], $kept['records']);
            self::assertSame(range(1, 43), [...$records, ...$rest], "broken after page $break");
            self::assertSame($wholeEnd->sentence, $end->sentence);
            self::assertSame($whole->proof(), $walk->proof());
            self::assertSame($service->asked, array_unique($service->asked), 'no page is asked for again');
        }
    }

    #[DataProvider('styles')]
    public function test_a_maximum_ends_the_run_and_says_that_there_is_more(string $style): void
    {
        [$records, $end, $walk, $asked] = $this->walk(['max_pages' => 2] + self::STYLES[$style], new ListService($style, 95));
        self::assertSame(EndReason::MaxPages, $end->reason);
        self::assertTrue($end->isCutShort());
        self::assertCount(2, $asked);
        self::assertNotContains('total-differs', array_map(static fn (PagingFinding $one): string => $one->code, $walk->findings()));
        [$records, $end] = $this->walk(['max_records' => 11] + self::STYLES[$style], new ListService($style, 95));
        self::assertSame(EndReason::MaxRecords, $end->reason);
        self::assertLessThan(95, count($records));
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function stylesWithPagesOfTheirOwn(): iterable
    {
        foreach (array_diff(array_keys(self::STYLES), ['window-paged']) as $style) {
            yield $style => [$style];
        }
    }

    #[DataProvider('stylesWithPagesOfTheirOwn')]
    public function test_a_page_that_came_before_fails_the_run(string $style): void
    {
        $this->expectException(OnwardFailure::class);
        $this->walk(self::STYLES[$style], new ListService($style, 95), spoil: static function (array $answer): array {
            $answer['document']->records = [(object) ['id' => 1], (object) ['id' => 2]];

            return $answer;
        });
    }

    public function test_empty_pages_count_in_a_row_and_from_none_again_after_one_with_records(): void
    {
        $held = [1 => 4, 5, 0, 0, 6, 0, 0, 7, 0, 0, 8];
        $service = static function (PageRequest $request) use ($held): array {
            $number = 1 + (int) substr($request->query['after'] ?? 'c0', 1);

            return ['records' => ($held[$number] ?? 0) === 0 ? [] : [['id' => $held[$number]]], 'next' => isset($held[$number + 1]) ? "c$number" : null];
        };
        [$records, $end] = $this->walk(['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next'], $service);
        self::assertSame([4, 5, 6, 7, 8], $records);
        self::assertNotSame(EndReason::EmptyPage, $end->reason);
    }

    public function test_parts_without_a_value_go_by_themselves_or_by_their_place(): void
    {
        $settings = ['style' => 'partition', 'list' => '$.parts[*]', 'send_as' => 'part', 'first_holds' => 'none'];
        $asked = static function (mixed $parts) use ($settings): array {
            $walk = OnwardDefinition::of($settings)->walk(new \DateTimeImmutable('2030-05-02T15:04:05Z'));
            $sent = [];
            $step = $walk->first();
            for ($number = 1; $step instanceof PageRequest && $number < 9; $number++) {
                $sent[] = $step->query['part'] ?? null;
                $step = $walk->next(new Page($number, json_decode((string) json_encode(['parts' => $parts])), $number === 1 ? 0 : 1, $number - 1, 'https://a.example/list', (string) $number));
            }

            return $sent;
        };
        self::assertSame([null, 'a', 'b'], $asked(['a', 'b']));
        self::assertSame([null, '7', '8'], $asked([7, 8]));
        self::assertSame([null, '0', '1'], $asked([['rows' => 5], ['rows' => 6]]));
        $this->expectExceptionMessage('of part 2 at $.parts[*]');
        $asked(['a', 1.5]);
    }

    public function test_an_ignored_page_parameter_is_named_with_the_one_that_the_answer_hints_at(): void
    {
        $failure = $this->failure(['style' => 'page', 'send_as' => 'page'], static fn (): array => ['records' => [['id' => 1]], 'page_no' => 1, 'total_pages' => 9, 'page_size' => 1]);
        self::assertSame('Page 2 holds the same records as page 1: the API ignores "page".', $failure->getMessage());
        self::assertStringContainsString('The response suggests the parameter "page_no": $.page_no is 1 and $.total_pages is 9.', (string) $failure->hint);
        $failure = $this->failure(['style' => 'offset', 'send_as' => 'skip'], static fn (): array => ['records' => [['id' => 1]], 'next' => '/v1/list?cursor=x']);
        self::assertStringContainsString('Next link in the response', (string) $failure->hint);
        self::assertStringContainsString('That address carries "cursor".', (string) $failure->hint);
        $failure = $this->failure(['style' => 'page', 'send_as' => 'pagina'], static fn (): array => ['records' => [['id' => 1]]]);
        self::assertStringContainsString('how its documentation spells', (string) $failure->hint);
    }

    public function test_a_page_that_comes_back_later_names_both(): void
    {
        $failure = $this->failure(['style' => 'page', 'send_as' => 'page'], static fn (PageRequest $request): array => ['records' => [['id' => (int) $request->query['page'] % 3]]]);
        self::assertSame('Page 4 holds the same records as page 1.', $failure->getMessage());
    }

    public function test_a_cursor_that_loops_fails_the_run(): void
    {
        $number = 0;
        $failure = $this->failure(['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next'], static function () use (&$number): array {
            return ['records' => [['id' => ++$number]], 'next' => 'same'];
        });
        self::assertStringContainsString('a cursor that was used before: "same"', $failure->getMessage());
    }

    public function test_a_cursor_that_leads_nowhere_fails_the_run(): void
    {
        $failure = $this->failure(['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next', 'more' => '$.more'], static fn (): array => ['records' => [['id' => 1]], 'more' => true, 'next' => null]);
        self::assertStringContainsString('$.next finds no cursor', $failure->getMessage());
        $failure = $this->failure(['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next'], static fn (): array => ['records' => [['id' => 1]], 'next' => ['a' => 1]]);
        self::assertStringContainsString('neither a text nor a number', $failure->getMessage());
        $failure = $this->failure(['style' => 'cursor', 'send_as' => 'after', 'from_last' => '$.key'], static fn (): array => ['records' => [['id' => 1]]]);
        self::assertStringContainsString('$.key of the last record finds no cursor', $failure->getMessage());
    }

    public function test_a_record_that_its_own_cursor_counts_in_is_the_end_when_it_stands_alone(): void
    {
        [$records, $end] = $this->walk(['style' => 'cursor', 'send_as' => 'since', 'from_last' => '$.id'], new ListService('last-record-counted-in', 28));
        self::assertSame(range(1, 28), array_values(array_unique($records)));
        self::assertSame(EndReason::NoMore, $end->reason);
    }

    public function test_a_link_to_another_origin_fails_the_run_without_its_query_unless_allowed(): void
    {
        $elsewhere = static fn (PageRequest $request): array => ['records' => [['id' => $request->uri === null ? 1 : 2]]] + ($request->uri === null ? ['next' => 'https://elsewhere.example/list?token=abc'] : []);
        $failure = $this->failure(['style' => 'next-link', 'link' => '$.next'], $elsewhere);
        self::assertStringContainsString('https://elsewhere.example/list', $failure->getMessage());
        self::assertStringNotContainsString('token=abc', $failure->getMessage());
        [$records] = $this->walk(['style' => 'next-link', 'link' => '$.next', 'any_origin' => true], $elsewhere);
        self::assertSame([1, 2], $records);
    }

    public function test_a_link_that_was_followed_or_is_none_fails_the_run(): void
    {
        $number = 0;
        $failure = $this->failure(['style' => 'next-link', 'link' => '$.next'], static function () use (&$number): array {
            return ['records' => [['id' => ++$number]], 'next' => '/v1/list#top'];
        });
        self::assertStringContainsString('links to a page that was read before', $failure->getMessage());
        self::assertStringContainsString('is not a link', $this->failure(['style' => 'next-link', 'link' => '$.next'], static fn (): array => ['records' => [['id' => 1]], 'next' => 7])->getMessage());
    }

    public function test_what_is_found_on_the_way_is_said_with_its_name(): void
    {
        $pages = static fn (array $totals, array $counts): \Closure => static function (PageRequest $request) use ($totals, $counts): array {
            $page = (int) $request->query['page'];

            return ['records' => array_map(static fn (int $n): array => ['id' => 100 * $page + $n], ($counts[$page] ?? 0) === 0 ? [] : range(1, $counts[$page])), 'total' => $totals[$page] ?? end($totals)];
        };
        $setting = ['style' => 'page', 'send_as' => 'page', 'size_as' => 'n', 'size' => 5, 'total' => '$.total'];
        $table = [
            'total-differs' => [$setting, $pages([1 => 12], [1 => 5, 5]), 'The total says 12 records, and 10 came.', true],
            'total-changed' => [$setting, $pages([1 => 10, 11, 11], [1 => 5, 5, 1]), 'The total changed on the way, from 10 to 11 (first on page 2)', false],
            'size-lowered' => [['size' => 50] + $setting, $pages([1 => 10], [1 => 5, 5]), 'The page size asked for is 50, and 5 came', false],
            'size-ignored' => [['size' => 2] + $setting, $pages([1 => 10], [1 => 5, 5]), 'The page size asked for is 2, and 5 came', false],
            'empty-page' => [$setting, $pages([1 => 10], [1 => 5, 0, 5]), 'Page 2 is empty, though the API says that there is more; it was read on.', false],
        ];
        foreach ($table as $code => [$onward, $service, $sentence, $isDoubt]) {
            [, , $walk] = $this->walk($onward, $service);
            $found = array_values(array_filter($walk->findings(), static fn (PagingFinding $one): bool => $one->code === $code));
            self::assertCount(1, $found, "$code: ".json_encode(array_map(static fn (PagingFinding $one): array => $one->toArray(), $walk->findings())));
            self::assertStringContainsString($sentence, $found[0]->sentence);
            self::assertSame($isDoubt, $found[0]->isDoubt, $code);
        }
    }

    public function test_three_empty_pages_in_a_row_are_the_end(): void
    {
        [, $end, , $asked] = $this->walk(['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next'], static fn (PageRequest $request): array => ['records' => [], 'next' => 'c'.(1 + (int) substr($request->query['after'] ?? 'c0', 1))]);
        self::assertCount(3, $asked);
        self::assertStringContainsString('3 in a row', $end->sentence);
    }

    public function test_keys_on_two_pages_are_counted_once_as_an_overlap(): void
    {
        $walk = OnwardDefinition::of(['style' => 'page', 'send_as' => 'page'])->walk($this->now());
        $walk->overlap(2, 3);
        $walk->overlap(3, 2);
        self::assertStringStartsWith('5 keys came again on the page after (first on page 2)', $walk->findings()[0]->sentence);
    }

    public function test_a_service_that_does_not_heed_range_is_one_page(): void
    {
        [, $end] = $this->walk(['style' => 'range', 'size' => 10], static fn (): array => ['records' => [['id' => 1]]]);
        self::assertSame(EndReason::Single, $end->reason);
        self::assertStringContainsString('ignores Range', $end->sentence);
    }

    public function test_another_range_than_the_one_asked_for_fails_the_run(): void
    {
        $walk = OnwardDefinition::of(['style' => 'range', 'size' => 10])->walk($this->now());
        $walk->next(new Page(1, null, 10, 10, ListService::ADDRESS, 'a', ['content-range' => 'items 0-9/30'], 206));
        $this->expectExceptionMessage('items from 10 on were asked for, and Content-Range says 0-9');
        $walk->next(new Page(2, null, 10, 20, ListService::ADDRESS, 'b', ['content-range' => 'items 0-9/30'], 206));
    }

    public function test_months_as_windows_do_not_drift_and_the_last_reaches_up_to_now(): void
    {
        [, $end, , $asked] = $this->walk(['style' => 'window', 'from_as' => 'from', 'to_as' => 'to', 'step' => 'P1M', 'start' => '2030-01-31', 'end' => 'now'], static fn (PageRequest $request): array => ['records' => [['id' => crc32($request->query['from'])]]]);
        self::assertSame([['2030-01-31', '2030-02-28'], ['2030-02-28', '2030-03-31'], ['2030-03-31', '2030-04-30'], ['2030-04-30', '2030-05-03']], array_map(static fn (PageRequest $one): array => array_values($one->query), array_values($asked)));
        self::assertSame(EndReason::All, $end->reason);
        [, , , $asked] = $this->walk(['style' => 'window', 'from_as' => 'from', 'to_as' => 'to', 'step' => 'PT6H', 'start' => '2030-05-02T01:00:00+01:00', 'end' => '2030-05-02T13:00:00Z'], static fn (PageRequest $request): array => ['records' => [['id' => crc32($request->query['from'])]]]);
        self::assertSame([['2030-05-02T00:00:00Z', '2030-05-02T06:00:00Z'], ['2030-05-02T06:00:00Z', '2030-05-02T12:00:00Z'], ['2030-05-02T12:00:00Z', '2030-05-02T13:00:00Z']], array_map(static fn (PageRequest $one): array => array_values($one->query), array_values($asked)));
        [, , , $asked] = $this->walk(['style' => 'window', 'from_as' => 'from', 'step' => 'P1D', 'start' => '-P2D'], static fn (PageRequest $request): array => ['records' => [['id' => crc32($request->query['from'])]]]);
        self::assertSame(['2030-04-30', '2030-05-01', '2030-05-02'], array_map(static fn (PageRequest $one): string => $one->query['from'], array_values($asked)));
    }

    public function test_a_single_page_is_the_end_even_when_empty(): void
    {
        [$records, $end, $walk] = $this->walk(['style' => 'none'], new ListService('none', 0));
        self::assertSame([[], EndReason::Single, '1 page, 0 records. One request, as set; nothing in the answer says that there is more.'], [$records, $end->reason, $walk->proof()]);
    }

    public function test_every_style_and_every_finding_is_explained(): void
    {
        $docs = (string) file_get_contents(dirname(__DIR__, 3).'/docs/pagination.md');
        foreach (['Walk', 'Totals'] as $class) {
            preg_match_all("/new PagingFinding\('([a-z-]+)'/", (string) file_get_contents(dirname(__DIR__, 3)."/core/Onward/$class.php"), $found);
            self::assertNotSame([], $found[1]);
            foreach ($found[1] as $code) {
                self::assertStringContainsString("`$code`", $docs);
            }
        }
        foreach (array_diff(\DeepSpring\Onward\Pagers::family()->names(), ['none']) as $style) {
            self::assertStringContainsString("{style: $style", $docs);
        }
        preg_match_all('/`(\{style: .*?\})`(?: \||;)/', $docs, $rows);
        self::assertGreaterThan(12, count($rows[1]));
        foreach ($rows[1] as $row) {
            $onward = \Symfony\Component\Yaml\Yaml::parse($row);
            $document = ['deepspring' => 1, 'source' => ['slug' => 's', 'name' => 'S', 'environments' => ['trial' => ['base' => 'http://h.example']]], 'endpoints' => [['slug' => 'e', 'name' => 'E', 'ask' => ['method' => 'POST', 'path' => '/e'], 'onward' => $onward]]];
            self::assertSame($onward['style'], \DeepSpring\SourceFile\SourceFile::of($document)->endpoints()[0]->onward()->style, $row);
        }
    }

    /**
     * @param  array<string, mixed>  $settings
     * @param  \Closure(PageRequest): array<string, mixed>  $service
     */
    private function failure(array $settings, \Closure $service): OnwardFailure
    {
        try {
            $this->walk($settings, $service);
        } catch (OnwardFailure $failure) {
            return $failure;
        }
        self::fail('It did not fail.');
    }

    /**
     * @param  array<string, mixed>  $settings
     * @param  ListService|\Closure(PageRequest): array<string, mixed>  $service
     * @param  (\Closure(array{status: int, headers: array<string, string>, document: mixed, uri: string}): array<string, mixed>)|null  $spoil
     * @return array{list<int>, End, Walk, array<int, PageRequest>}
     */
    private function walk(array $settings, ListService|\Closure $service, ?Walk $walk = null, ?PageRequest $step = null, int $number = 1, int $before = 0, ?\Closure $spoil = null): array
    {
        $walk ??= OnwardDefinition::of($settings)->walk($this->now());
        $step ??= $walk->first();
        $records = [];
        $asked = [];
        for (; $number < 100; $number++) {
            $asked[$number] = $step;
            $answer = $service instanceof ListService ? $service->answer($step) : ['status' => 200, 'headers' => [], 'document' => json_decode((string) json_encode($service($step))), 'uri' => $step->uri ?? ListService::ADDRESS];
            $page = $this->page($number, $spoil === null ? $answer : $spoil($answer), $before + count($records));
            array_push($records, ...$this->ids($page));
            $next = $walk->next($page);
            if ($next instanceof End) {
                return [$records, $next, $walk, $asked];
            }
            $step = $next;
        }
        self::fail('It never ended.');
    }

    /**
     * @param  array<string, mixed>  $answer
     */
    private function page(int $number, array $answer, int $before): Page
    {
        $records = $answer['document']->records;

        return new Page($number, $answer['document'], count($records), $before + count($records), $answer['uri'], $records === [] ? '' : (string) json_encode($records), $answer['headers'], $answer['status'], $records === [] ? null : $records[count($records) - 1]);
    }

    /**
     * @return list<int>
     */
    private function ids(Page $page): array
    {
        return array_map(static fn (object $record): int => $record->id, $page->document->records);
    }

    private function now(): \DateTimeImmutable
    {
        return new \DateTimeImmutable('2030-05-02T15:04:05Z');
    }
}
