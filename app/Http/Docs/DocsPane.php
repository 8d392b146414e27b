<?php

declare(strict_types=1);

namespace App\Http\Docs;

use App\Models\Source;
use App\View\Markdown;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\HtmlString;

/**
 * What stands beside a sheet of the documentation: links and notes of the source and the endpoint, and the
 * pages that are kept with the source.
 */
final readonly class DocsPane
{
    private SourceFile $file;

    /**
     * @param  string  $slug  of the endpoint whose sheet is open; empty on that of the source
     * @param  int  $page  number of the page that is shown
     */
    public function __construct(public Source $source, public string $slug, public string $search, public int $page, public ?string $fault = null)
    {
        $this->file = $source->current();
    }

    /**
     * @return array<string, mixed> of a source file
     */
    public function docs(): array
    {
        return $this->file->document['source']['docs'] ?? [];
    }

    /**
     * @return array<string, mixed> of a source file
     */
    public function ofEndpoint(): array
    {
        return $this->slug === '' ? [] : $this->file->endpoint($this->slug)->endpoint['docs'] ?? [];
    }

    /**
     * @return list<array{title: string, url: string}>
     */
    public function links(): array
    {
        return array_map(static fn (array $one): array => ['title' => $one['title'] ?? $one['url'], 'url' => $one['url']], [...$this->ofEndpoint()['links'] ?? [], ...$this->docs()['links'] ?? []]);
    }

    /**
     * Links as they are typed: one a line, its title after the address.
     *
     * @param  array<string, mixed>  $docs
     */
    public static function typed(array $docs): string
    {
        return implode("\n", array_map(static fn (array $one): string => trim($one['url'].' '.($one['title'] ?? '')), $docs['links'] ?? []));
    }

    /**
     * @return list<array{title: string, url: string, kept: string, hits: int}>
     */
    public function pages(): array
    {
        return array_map(fn (array $one): array => ['title' => $one['title'], 'url' => $one['url'] ?? '', 'kept' => $one['kept'] ?? '', 'hits' => $this->search === '' ? 0 : substr_count(mb_strtolower($one['text']), mb_strtolower($this->search))], array_values($this->docs()['pages'] ?? []));
    }

    /**
     * The page that is shown: the one that was chosen, or the first in which something is found.
     */
    public function shown(): ?int
    {
        $pages = $this->pages();
        if (isset($pages[$this->page]) && ($this->search === '' || $pages[$this->page]['hits'] > 0)) {
            return $this->page;
        }
        foreach ($pages as $number => $one) {
            if ($one['hits'] > 0) {
                return $number;
            }
        }

        return $pages === [] ? null : 0;
    }

    public function text(int $page): HtmlString
    {
        return Markdown::html((string) ($this->docs()['pages'][$page]['text'] ?? ''), $this->search);
    }
}
