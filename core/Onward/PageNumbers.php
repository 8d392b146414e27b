<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Phrase;

/**
 * Pages counted by number, up to a number of pages, a total of records, or an empty page.
 */
final class PageNumbers implements PagingStyle
{
    use PlainPager;

    /** The number of the last page, where something says it. */
    private ?int $last = null;

    private bool $begun = false;

    public static function kind(): Kind
    {
        return new Kind('page', 'Page number', 'Pages are counted: `?page=2`.', [
            PagingSettings::sendAs('the number of the page', 'page'),
            PagingSettings::in('query', 'body'),
            new Field('first', FieldType::Number, 'first page', 'The number of the first page.', default: 1, example: '1'),
            new Field('pages', FieldType::Figure, 'number of pages at', 'Where the number of pages stands.', example: '$.pages'),
            PagingSettings::total(),
            ...PagingSettings::size(),
            ...PagingSettings::ends(),
            PagingSettings::endOn(),
        ]);
    }

    public function __construct(private readonly OnwardDefinition $onward)
    {
    }

    public function first(): PageRequest
    {
        return $this->request(1);
    }

    public function next(Page $page): PageRequest|End
    {
        $this->begun = true;
        if (in_array($page->status, $this->onward->endOn, true)) {
            return new End(EndReason::PastEnd, "The service answered {$page->status} to page {$page->number}, which means that there is none.");
        }
        $pages = $this->onward->pages?->read($page);
        if ($pages !== null && $page->number >= $pages) {
            return new End(EndReason::Total, "Page {$page->number} is the last of $pages.");
        }
        $total = $this->onward->total?->read($page);
        if ($total !== null && $page->recordsSoFar >= $total) {
            return new End(EndReason::Total, 'All of the total have come: '.Phrase::count($total, 'record').'.');
        }
        if ($page->number === 1) {
            $this->last = $pages ?? ($total !== null && $page->records > 0 ? (int) ceil($total / $page->records) : null);
        }

        return $this->request($page->number + 1);
    }

    public function ahead(int $number): ?PageRequest
    {
        return $this->begun && ($this->last === null || $number <= $this->last) ? $this->request($number) : null;
    }

    public function statuses(): array
    {
        return $this->onward->endOn;
    }

    public function memory(): array
    {
        return ['last' => $this->last];
    }

    public function remember(array $memory): void
    {
        $this->last = $memory['last'] ?? null;
        $this->begun = true;
    }

    private function request(int $page): PageRequest
    {
        $number = ($this->onward->first ?? 1) + $page - 1;
        if ($this->onward->in === 'body') {
            return new PageRequest(body: [$this->onward->sendAs => $number] + $this->onward->sizeBody());
        }

        return new PageRequest([$this->onward->sendAs => (string) $number] + $this->onward->sizeQuery());
    }
}
