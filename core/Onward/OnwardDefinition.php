<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Answer\JsonPath\JsonPath;

final readonly class OnwardDefinition
{
    public function __construct(
        public string $style,
        public string $sendAs,
        public int $first,
        public ?string $sizeAs,
        public ?int $size,
        public ?JsonPath $pages,
        public ?JsonPath $total,
        public ?JsonPath $next,
        public ?JsonPath $more,
        public ?JsonPath $link,
        public bool $anyOrigin,
        public bool $shortPageEnds,
        public ?int $maxPages,
        public ?int $maxRecords,
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

        return new self(
            $onward['style'] ?? 'none', $onward['send_as'] ?? '', $onward['first'] ?? 1,
            $onward['size_as'] ?? null, $onward['size'] ?? null,
            $path('pages'), $path('total'), $path('next'), $path('more'), $path('link'),
            $onward['any_origin'] ?? false, $onward['short_page_ends'] ?? false,
            $onward['max_pages'] ?? null, $onward['max_records'] ?? null,
        );
    }

    public function pager(): Pager
    {
        $inner = match ($this->style) {
            'page' => new PageNumbers($this),
            'cursor' => new Cursor($this),
            'next-link' => new NextLink($this),
            default => new SinglePage,
        };

        return new Bounded($inner, $this);
    }

    /**
     * @return array<string, string>
     */
    public function sizeQuery(): array
    {
        return $this->sizeAs !== null && $this->size !== null ? [$this->sizeAs => (string) $this->size] : [];
    }
}
