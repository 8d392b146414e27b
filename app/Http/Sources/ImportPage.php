<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Imports\Importing;
use App\Models\PendingImport;
use App\Models\Source;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\ImportMerge;
use DeepSpring\Describe\NoticeGroup;
use DeepSpring\SourceFile\DocumentChange;
use Illuminate\Pagination\LengthAwarePaginator;

/**
 * What a description lists, to be chosen from: all on one page as long as that can be read, and by
 * pages with a search on the server beyond that.
 */
final readonly class ImportPage
{
    /** Operations that stand on one page, where a search hides those that do not match. */
    private const WHOLE = 400;

    private const PER_PAGE = 200;

    /** Operations up to which all are chosen to begin with. */
    private const ALL_CHOSEN = 30;

    /** Places of a notice that are listed at once. */
    public const NOTICES = 20;

    /**
     * @param  array<string, string>  $there  slugs in the description → slugs in the source
     */
    public function __construct(public PendingImport $import, public Described $described, public ?Source $source, public ?ImportMerge $merge, private array $there, public string $search, private int $page)
    {
    }

    public function count(): int
    {
        return count($this->described->endpoints);
    }

    public function isPaged(): bool
    {
        return $this->count() > self::WHOLE;
    }

    /**
     * Operations that the search finds, and that can be added.
     *
     * @return list<string> slugs
     */
    public function choosable(): array
    {
        return array_values(array_map(static fn (ImportedEndpoint $one): string => $one->slug(), array_filter($this->found(), fn (ImportedEndpoint $one): bool => $this->canBeChosen($one))));
    }

    /**
     * @return LengthAwarePaginator<int, ImportedEndpoint>
     */
    public function rows(): LengthAwarePaginator
    {
        $found = $this->found();
        $size = $this->isPaged() ? self::PER_PAGE : max(1, count($found));
        $page = max(1, min($this->page, (int) ceil(count($found) / $size)));

        return new LengthAwarePaginator(array_slice($found, ($page - 1) * $size, $size), count($found), $size, $page, ['path' => route('imports.show', $this->import), 'query' => array_filter(['q' => $this->search])]);
    }

    public function canBeChosen(ImportedEndpoint $one): bool
    {
        return $one->refusal === null && ! isset($this->there[$one->slug()]);
    }

    public function isChosenFirst(ImportedEndpoint $one): bool
    {
        return $this->count() <= self::ALL_CHOSEN && ! $one->isDeprecated;
    }

    public function isThere(ImportedEndpoint $one): bool
    {
        return isset($this->there[$one->slug()]);
    }

    /**
     * What it changes of the endpoint that is there.
     *
     * @return list<DocumentChange>
     */
    public function changes(ImportedEndpoint $one): array
    {
        return $this->merge->changes[$this->there[$one->slug()] ?? ''] ?? [];
    }

    /**
     * Whether the source has a way of authentication already, so that the one of the description is not taken.
     */
    public function keepsAccess(): bool
    {
        return ($this->source?->current()->document['source']['access'] ?? []) !== [] && $this->described->access !== [];
    }

    /**
     * @return list<string> servers that the description names and at which the source does not stand
     */
    public function newServers(): array
    {
        return $this->source === null ? [] : Importing::newServers($this->described, $this->source);
    }

    /**
     * @return list<NoticeGroup>
     */
    public function notices(): array
    {
        return NoticeGroup::all($this->described->mends);
    }

    /**
     * Every word of the search somewhere in path, name, tag or slug.
     *
     * @return list<ImportedEndpoint>
     */
    private function found(): array
    {
        $words = array_filter(explode(' ', mb_strtolower($this->search)), static fn (string $word): bool => $word !== '');
        if ($words === []) {
            return $this->described->endpoints;
        }

        return array_values(array_filter($this->described->endpoints, static function (ImportedEndpoint $one) use ($words): bool {
            $text = self::text($one);

            return array_filter($words, static fn (string $word): bool => ! str_contains($text, $word)) === [];
        }));
    }

    /**
     * What an operation is found by.
     */
    public static function text(ImportedEndpoint $one): string
    {
        return mb_strtolower("$one->group $one->id {$one->endpoint['name']} {$one->slug()}");
    }
}
