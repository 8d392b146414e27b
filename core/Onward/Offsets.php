<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Phrase;

/**
 * Pages that begin after a number of records. The step is what the first page really held, so that
 * an API that hands out fewer than it was asked for loses nothing.
 */
final class Offsets implements PagingStyle
{
    use PlainPager;

    private ?int $step = null;

    private ?int $total = null;

    public static function kind(): Kind
    {
        return new Kind('offset', 'Offset', 'Records are skipped: `?offset=100`.', [
            PagingSettings::sendAs('the number of records that are skipped', 'offset'),
            PagingSettings::in('query', 'body'),
            new Field('first', FieldType::Number, 'first offset', 'The offset of the first record.', default: 0, example: '0'),
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
        return $this->request($this->onward->first ?? 0);
    }

    public function next(Page $page): PageRequest|End
    {
        if (in_array($page->status, $this->onward->endOn, true)) {
            return new End(EndReason::PastEnd, "The service answered {$page->status} to page {$page->number}, which means that there is none.");
        }
        $this->step ??= max(1, $page->records);
        $this->total = $this->onward->total?->read($page) ?? $this->total;
        if ($this->total !== null && ($page->recordsSoFar >= $this->total || $this->offset($page->number + 1) - ($this->onward->first ?? 0) >= $this->total)) {
            return new End(EndReason::Total, $page->recordsSoFar >= $this->total ? 'All of the total have come: '.Phrase::count($this->total, 'record').'.' : "Offset {$this->offset($page->number + 1)} lies past the total of {$this->total}.");
        }

        return $this->request($this->offset($page->number + 1));
    }

    public function ahead(int $number): ?PageRequest
    {
        if ($this->step === null || $this->total !== null && $this->offset($number) - ($this->onward->first ?? 0) >= $this->total) {
            return null;
        }

        return $this->request($this->offset($number));
    }

    public function statuses(): array
    {
        return $this->onward->endOn;
    }

    public function memory(): array
    {
        return ['step' => $this->step, 'total' => $this->total];
    }

    public function remember(array $memory): void
    {
        $this->step = $memory['step'] ?? null;
        $this->total = $memory['total'] ?? null;
    }

    private function offset(int $page): int
    {
        return ($this->onward->first ?? 0) + ($page - 1) * (int) $this->step;
    }

    private function request(int $offset): PageRequest
    {
        if ($this->onward->in === 'body') {
            return new PageRequest(body: [$this->onward->sendAs => $offset] + $this->onward->sizeBody());
        }

        return new PageRequest([$this->onward->sendAs => (string) $offset] + $this->onward->sizeQuery());
    }
}
