<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Answer\JsonPath\JsonPath;

/**
 * How to get the rest, as the source file says it.
 */
final readonly class OnwardDefinition
{
    /**
     * @param  array<string, mixed>  $take  names in `path` → JSONPath in the first answer
     * @param  list<int>  $endOn  statuses that mean there is no such page
     */
    private function __construct(
        public string $style,
        public string $sendAs,
        /** query, body, header; for a partition also path */
        public string $in,
        public ?int $first,
        public ?string $sizeAs,
        public ?int $size,
        public ?Figure $pages,
        public ?Figure $total,
        public ?JsonPath $next,
        public ?JsonPath $fromLast,
        public ?JsonPath $more,
        public ?JsonPath $link,
        public string $rel,
        public string $unit,
        public ?JsonPath $list,
        public ?JsonPath $value,
        public string $firstHolds,
        public ?string $method,
        public ?string $path,
        public array $take,
        public string $fromAs,
        public string $toAs,
        public string $step,
        public string $start,
        public string $end,
        public bool $toIsIncluded,
        public ?self $inner,
        public bool $anyOrigin,
        public bool $shortPageEnds,
        public array $endOn,
        public ?int $maxPages,
        public ?int $maxRecords,
        /** @var array<string, mixed> all of it as it stands in the file */
        public array $settings = [],
    ) {
    }

    /**
     * @param  array<string, mixed>  $onward  valid by the schema
     *
     * @throws \DeepSpring\Answer\JsonPath\InvalidJsonPath
     */
    public static function of(array $onward): self
    {
        $path = static fn (string $name): ?JsonPath => isset($onward[$name]) ? JsonPath::parse($onward[$name]) : null;
        $figure = static fn (string $name): ?Figure => isset($onward[$name]) ? Figure::parse($onward[$name]) : null;

        return new self(
            style: $onward['style'] ?? 'none', sendAs: $onward['send_as'] ?? '', in: $onward['in'] ?? 'query', first: $onward['first'] ?? null,
            sizeAs: $onward['size_as'] ?? null, size: $onward['size'] ?? null, pages: $figure('pages'), total: $figure('total'),
            next: $path('next'), fromLast: $path('from_last'), more: $path('more'), link: $path('link'), rel: $onward['rel'] ?? 'next', unit: $onward['unit'] ?? 'items',
            list: $path('list'), value: $path('value'), firstHolds: $onward['first_holds'] ?? 'first', method: $onward['method'] ?? null, path: $onward['path'] ?? null, take: $onward['take'] ?? [],
            fromAs: $onward['from_as'] ?? '', toAs: $onward['to_as'] ?? '', step: $onward['step'] ?? 'P1M', start: (string) ($onward['start'] ?? ''), end: (string) ($onward['end'] ?? 'now'),
            toIsIncluded: ($onward['to_is'] ?? 'excluded') === 'included', inner: isset($onward['inner']) ? self::of($onward['inner']) : null,
            anyOrigin: $onward['any_origin'] ?? false, shortPageEnds: $onward['short_page_ends'] ?? false, endOn: array_values($onward['end_on'] ?? []),
            maxPages: $onward['max_pages'] ?? null, maxRecords: $onward['max_records'] ?? null,
            settings: $onward,
        );
    }

    /**
     * @param  \DateTimeImmutable  $now  for windows that reach up to now
     * @param  (\Closure(array<string, mixed>): bool)|null  $isRefuted  whether another way is known not to work, and is not hinted at
     */
    public function walk(\DateTimeImmutable $now, ?\Closure $isRefuted = null): Walk
    {
        return new Walk($this->pager($now), $this, $isRefuted);
    }

    public function pager(\DateTimeImmutable $now): Pager
    {
        $class = Pagers::family()->class($this->style) ?? SinglePage::class;

        return $class::of($this, $now);
    }

    /**
     * @return array<string, string>
     */
    public function sizeQuery(): array
    {
        return $this->sizeAs !== null && $this->size !== null && $this->in !== 'body' ? [$this->sizeAs => (string) $this->size] : [];
    }

    /**
     * @return array<string, int>
     */
    public function sizeBody(): array
    {
        return $this->sizeAs !== null && $this->size !== null && $this->in === 'body' ? [$this->sizeAs => $this->size] : [];
    }

    /**
     * What carries on, by the name of it, for sentences.
     */
    public function carrier(): string
    {
        return match ($this->style) {
            'next-link' => (string) $this->link,
            'link-header' => 'Link',
            'range' => 'Range',
            'window' => $this->fromAs,
            default => $this->sendAs,
        };
    }
}
