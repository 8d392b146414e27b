<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Flatten\Proposal\AnswerColumns;

/**
 * How the rest is got, from the names of parameters and of members of the answer.
 */
final readonly class Paging
{
    private const PAGE = '/^(?:page|page_?(?:no|num|number|index)|p|pagenumber)$/i';

    private const SIZE = '/^(?:limit|size|count|top|first|per_?page|page_?size|page_?limit|max_?results|max_?items|results?_?per_?page)$/i';

    private const OFFSET = '/^(?:offset|skip|start|start_?(?:at|index|row))$/i';

    private const TOTAL = '/^(?:total|total_?(?:count|items|results|records|elements)|count)$/i';

    private const CURSOR = '/^(?:after|cursor|next|next_?token|page_?token|next_?page_?token|starting_?after|continuation_?token|next_?cursor|marker|scroll_?id)$/i';

    private const NEXT = '/^(?:next|next_?cursor|next_?page_?token|next_?token|cursor|continuation_?token|next_?page|end_?cursor|after|next_?marker)$/i';

    public function __construct(private Schemas $schemas)
    {
    }

    /**
     * @param  list<array<string, mixed>>  $inputs
     * @return array{array<string, mixed>|null, list<string>} onward of a source file, and the inputs that it takes the place of
     */
    public function of(array $inputs, Schema $answer, string $place): array
    {
        $query = array_values(array_map(static fn (array $input): string => (string) $input['name'], array_filter($inputs, static fn (array $input): bool => $input['in'] === 'query')));
        $named = static fn (string $like): ?string => array_values(array_filter($query, static fn (string $name): bool => preg_match($like, $name) === 1))[0] ?? null;
        $members = $this->members($answer, '$', $place, 0);
        $size = $named(self::SIZE);
        $sized = $size === null ? [] : ['size_as' => $size, 'size' => $this->size($inputs, $size)];
        $taken = static fn (?string ...$names): array => array_values(array_filter($names, is_string(...)));

        $cursor = $named(self::CURSOR);
        $next = $this->find($members, self::NEXT, ['string', 'any', 'integer']);
        if ($cursor !== null && $next !== null) {
            $more = $this->find($members, '/^(?:has_?more|has_?next(?:_?page)?|more|is_?truncated)$/i', ['boolean']);

            return [['style' => 'cursor', 'send_as' => $cursor, 'next' => $next] + ($more === null ? [] : ['more' => $more]) + $sized, $taken($cursor, $size)];
        }
        $page = $named(self::PAGE);
        if ($page !== null) {
            $pages = $this->find($members, '/^(?:pages|total_?pages|page_?count|last_?page|num_?pages)$/i', ['integer', 'number']);
            $total = $this->find($members, self::TOTAL, ['integer', 'number']);

            return [['style' => 'page', 'send_as' => $page] + ($this->first($inputs, $page) === 0 ? ['first' => 0] : []) + $sized + ($pages !== null ? ['pages' => $pages] : ($total !== null ? ['total' => $total] : [])), $taken($page, $size)];
        }
        $link = $this->find($members, '/^(?:next|next_?(?:url|link|page_?url)|@odata\.nextLink|href)$/i', ['string', 'any'], true);
        if ($link !== null) {
            return [['style' => 'next-link', 'link' => $link] + $sized, $taken($size, $named(self::OFFSET))];
        }

        $offset = $named(self::OFFSET);
        if ($offset !== null && $size !== null) {
            $total = $this->find($members, self::TOTAL, ['integer', 'number']);

            return [['style' => 'offset', 'send_as' => $offset] + $sized + ($total === null ? [] : ['total' => $total]), $taken($offset, $size)];
        }

        return [null, []];
    }

    /**
     * @return list<array{string, string, Schema}> path, name and schema of members beside the records
     */
    private function members(Schema $schema, string $path, string $place, int $depth): array
    {
        $members = [];
        foreach ($schema->properties as $name => [$raw, $file]) {
            $inner = $this->schemas->of($raw, $place, $file);
            $at = $path.AnswerColumns::step((string) $name);
            if ($inner->type === 'object' && $depth < 2 && preg_match('/^(?:meta|paging|pagination|page_?info|links|_links|cursors?|next|info|response_?metadata|page)$/i', (string) $name) === 1) {
                array_push($members, ...$this->members($inner, $at, $place, $depth + 1));
            } elseif ($inner->type !== 'array' && $inner->type !== 'object') {
                $members[] = [$at, (string) $name, $inner];
            }
        }

        return $members;
    }

    /**
     * @param  list<array{string, string, Schema}>  $members
     * @param  list<string>  $types
     */
    private function find(array $members, string $like, array $types, bool $isLink = false): ?string
    {
        foreach ($members as [$path, $name, $schema]) {
            $fits = preg_match($like, $name) === 1 && in_array($schema->type, $types, true);
            $link = in_array($schema->format, ['uri', 'url', 'uri-reference'], true) || preg_match('/url|link|href/i', $path) === 1 || is_string($schema->example()) && preg_match('~^(?:https?:/)?/~', (string) $schema->example()) === 1;
            if ($fits && $link === $isLink && ($name !== 'href' || str_contains($path, 'next'))) {
                return $path;
            }
        }

        return null;
    }

    /**
     * @param  list<array<string, mixed>>  $inputs
     */
    private function size(array $inputs, string $name): int
    {
        foreach ($inputs as $input) {
            if ($input['name'] === $name && preg_match('/\((\d+) when left out\)/', (string) ($input['about'] ?? ''), $part) === 1 && (int) $part[1] > 0) {
                return min(100_000, (int) $part[1]);
            }
        }

        return 50;
    }

    /**
     * @param  list<array<string, mixed>>  $inputs
     */
    private function first(array $inputs, string $name): int
    {
        foreach ($inputs as $input) {
            if ($input['name'] === $name) {
                return preg_match('/\(0 when left out\)|zero[- ]based|starts? (?:at|with|from) 0/i', (string) ($input['about'] ?? '')) === 1 ? 0 : 1;
            }
        }

        return 1;
    }
}
