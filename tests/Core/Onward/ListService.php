<?php

declare(strict_types=1);

namespace Tests\Core\Onward;

use DeepSpring\Ask\PageRequest;
use PHPUnit\Framework\Assert;

/**
 * A list behind each style of paging, which refuses to be asked for anything but what its style
 * allows, and notes what it was asked.
 */
final class ListService
{
    public const ADDRESS = 'http://127.0.0.1:8401/v1/list';

    /** @var list<string> every request, in a short form */
    public array $asked = [];

    /**
     * @param  int  $most  records it hands out at once, whatever is asked
     */
    public function __construct(public readonly string $style, public int $all, public readonly int $most = 10)
    {
    }

    /**
     * @return array{status: int, headers: array<string, string>, document: mixed, uri: string}
     */
    public function answer(PageRequest $request): array
    {
        $this->asked[] = (string) json_encode($request->toArray(), JSON_UNESCAPED_SLASHES);
        parse_str((string) parse_url((string) $request->uri, PHP_URL_QUERY), $link);
        $q = $request->query;

        return match ($this->style) {
            'page' => $this->only($request, ['page', 'size']) ?? $this->give($this->slice(((int) ($q['page'] ?? 1) - 1) * $this->size($q), $this->size($q)), ['pages' => (int) max(1, ceil($this->all / $this->size($q))), 'total' => $this->all]),
            'page-0' => $this->only($request, ['page']) ?? $this->give($this->slice((int) $q['page'] * $this->most)),
            'page-in-body' => $this->bodyOnly($request, ['page', 'size']) ?? $this->give($this->slice(((int) $request->body['page'] - 1) * min($this->most, (int) $request->body['size']), min($this->most, (int) $request->body['size']))),
            'page-404' => (int) $q['page'] > 1 && ((int) $q['page'] - 1) * $this->most >= $this->all ? $this->give([], status: 404) : $this->give($this->slice(((int) $q['page'] - 1) * $this->most)),
            'page-header-total' => $this->give($this->slice(((int) $q['page'] - 1) * $this->most), headers: ['x-total-count' => (string) $this->all]),
            'offset' => $this->only($request, ['offset', 'size']) ?? $this->give($this->slice((int) $q['offset'], $this->size($q)), ['total' => $this->all]),
            'offset-1' => $this->only($request, ['start']) ?? $this->give($this->slice((int) $q['start'] - 1)),
            'cursor' => $this->only($request, ['after', 'size']) ?? $this->cursor((int) ($q['after'] ?? 0)),
            'cursor-alone' => $this->only($request, ['after']) ?? $this->cursor((int) ($q['after'] ?? 0), false),
            'cursor-header' => $this->cursor((int) ($request->headers['x-after'] ?? 0), false),
            'cursor-body' => $this->bodyOnly($request, ['page.after', 'page.size']) ?? $this->cursor((int) ($request->body['page.after'] ?? 0), false),
            'last-record' => $this->only($request, ['since']) ?? $this->give($this->slice((int) ($q['since'] ?? 0))),
            'last-record-counted-in' => $this->only($request, ['since']) ?? $this->give($this->slice(max(0, (int) ($q['since'] ?? 1) - 1))),
            'next-link' => $this->linked($link, static fn (?string $next): array => ['links' => $next === null ? new \stdClass : ['next' => self::ADDRESS.$next]]),
            'next-link-relative' => $this->linked($link, static fn (?string $next): array => ['next' => $next ?? '']),
            'link-header' => $this->linked($link, static fn (): array => [], static fn (?string $next): array => ['link' => ($next === null ? '' : "<$next>; rel=\"next\"; title=\"a, b; rel=\\\"prev\\\"\", ").'</v1/list?from=0>; rel="first start", <http://elsewhere.example/>; rel=next; anchor="#part"']),
            'range' => $this->range($request, true),
            'range-unknown' => $this->range($request, false),
            'partition' => $this->partition($request, 'first'),
            'partition-apart' => $this->partition($request, 'none'),
            'window' => $this->only($request, ['from', 'to']) ?? $this->give($this->days($q['from'], $q['to'], false)),
            'window-counted-in' => $this->only($request, ['from', 'to']) ?? $this->give($this->days($q['from'], $q['to'], true)),
            'window-paged' => $this->only($request, ['from', 'to', 'page']) ?? $this->give(array_slice($this->days($q['from'], $q['to'], false), ((int) $q['page'] - 1) * 3, 3)),
            'none' => $this->only($request, []) ?? $this->give($this->slice(0, $this->all)),
            default => Assert::fail("There is no style {$this->style}."),
        };
    }

    /**
     * @return list<int>
     */
    private function slice(int $from, ?int $size = null): array
    {
        Assert::assertGreaterThanOrEqual(0, $from);

        return $from < $this->all ? range($from + 1, min($this->all, $from + ($size ?? $this->most))) : [];
    }

    /**
     * @param  array<array-key, string>  $query
     */
    private function size(array $query): int
    {
        return min($this->most, (int) ($query['size'] ?? $this->most));
    }

    /**
     * Records made on successive days from 2030-01-01 on, two a day.
     *
     * @return list<int>
     */
    private function days(string $from, string $to, bool $countedIn): array
    {
        Assert::assertMatchesRegularExpression('/^\d{4}-\d{2}-\d{2}$/D', $from.'' === '' ? $to : $from);
        $found = [];
        for ($n = 1; $n <= $this->all; $n++) {
            $day = gmdate('Y-m-d', (int) gmmktime(0, 0, 0, 1, 1 + intdiv($n - 1, 2), 2030));
            if ($day >= $from && ($countedIn ? $day <= $to : $day < $to)) {
                $found[] = $n;
            }
        }

        return $found;
    }

    /**
     * @return array{status: int, headers: array<string, string>, document: mixed, uri: string}
     */
    private function cursor(int $from, bool $flag = true): array
    {
        $more = $from + $this->most < $this->all;

        return $this->give($this->slice($from), $flag ? ['next' => (string) ($from + $this->most), 'more' => $more] : ['next' => $more ? $from + $this->most : null]);
    }

    /**
     * @param  array<array-key, mixed>  $link
     * @param  \Closure(string|null): array<string, mixed>  $members
     * @param  (\Closure(string|null): array<string, string>)|null  $headers
     * @return array{status: int, headers: array<string, string>, document: mixed, uri: string}
     */
    private function linked(array $link, \Closure $members, ?\Closure $headers = null): array
    {
        $from = is_string($link['from'] ?? null) ? (int) $link['from'] : 0;
        $next = $from + $this->most < $this->all ? '?from='.($from + $this->most) : null;

        return $this->give($this->slice($from), $members($next), $headers === null ? [] : $headers($next), uri: self::ADDRESS.($from === 0 ? '' : "?from=$from"));
    }

    /**
     * @return array{status: int, headers: array<string, string>, document: mixed, uri: string}
     */
    private function range(PageRequest $request, bool $knowsTotal): array
    {
        Assert::assertSame(['range'], array_keys($request->headers));
        Assert::assertMatchesRegularExpression('/^items=\d+-\d+$/D', $request->headers['range']);
        sscanf($request->headers['range'], 'items=%d-%d', $from, $to);
        $total = $knowsTotal ? (string) $this->all : '*';
        $records = $this->slice((int) $from, min($this->most, $to - $from + 1));

        return $records === [] ? $this->give([], headers: ['content-range' => "items */$total"], status: 416) : $this->give($records, headers: ['content-range' => "items $from-".($from + count($records) - 1)."/$total"], status: 206);
    }

    /**
     * @return array{status: int, headers: array<string, string>, document: mixed, uri: string}
     */
    private function partition(PageRequest $request, string $firstHolds): array
    {
        $count = (int) max(1, ceil($this->all / $this->most));
        if ($request->path === null) {
            return $this->give($firstHolds === 'first' ? $this->slice(0) : [], ['handle' => 'a/b c', 'parts' => array_map(static fn (int $n): array => ['number' => $n], range(0, $count - 1))]);
        }
        Assert::assertSame(['GET', '/statements/a%2Fb%20c', ['part']], [$request->method, $request->path, array_keys($request->query)]);
        Assert::assertLessThan($count, (int) $request->query['part']);

        return $this->give($this->slice((int) $request->query['part'] * $this->most));
    }

    /**
     * @param  list<string>  $names
     */
    private function only(PageRequest $request, array $names): null
    {
        Assert::assertSame([], array_values(array_diff(array_keys($request->query), $names)), 'nothing else is sent');
        Assert::assertSame([null, [], [], null, null], [$request->uri, $request->headers, $request->body, $request->method, $request->path]);

        return null;
    }

    /**
     * @param  list<string>  $names
     */
    private function bodyOnly(PageRequest $request, array $names): null
    {
        Assert::assertSame([], array_values(array_diff(array_keys($request->body), $names)), 'nothing else is sent');
        Assert::assertSame([[], null, []], [$request->query, $request->uri, $request->headers]);

        return null;
    }

    /**
     * @param  list<int>  $records
     * @param  array<string, mixed>  $members
     * @param  array<string, string>  $headers
     * @return array{status: int, headers: array<string, string>, document: mixed, uri: string}
     */
    private function give(array $records, array $members = [], array $headers = [], int $status = 200, string $uri = self::ADDRESS): array
    {
        return ['status' => $status, 'headers' => $headers, 'document' => json_decode((string) json_encode(['records' => array_map(static fn (int $id): array => ['id' => $id], $records)] + $members)), 'uri' => $uri];
    }
}
