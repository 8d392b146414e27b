<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * Parts asked for with `Range` and told with `Content-Range` (RFC 9110 §14): 206 for a part, 416
 * past the end, 200 where all of it came.
 */
final class Ranges implements PagingStyle
{
    use PlainPager;

    private ?int $step = null;

    private ?int $total = null;

    private int $asked = 0;

    public static function kind(): Kind
    {
        return new Kind('range', 'Range header', '`Range` is sent, `Content-Range` comes back (RFC 9110 §14).', [
            new Field('unit', FieldType::Token, 'unit', 'The range unit.', default: 'items', start: 'items', example: 'items'),
            new Field('size', FieldType::Size, 'page size', 'Records of a range.', default: null, start: 100, example: '100'),
            new Field('first', FieldType::Number, 'first', 'The position of the first record.', default: 0, example: '0', isAdvanced: true),
            ...PagingSettings::ends(false),
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
        $range = ContentRange::parse($page->headers['content-range'] ?? '');
        $this->total = $range->total ?? $this->total;
        $this->asked = $page->number === 1 ? $this->onward->first ?? 0 : $this->from($page->number);
        if ($page->status === 416) {
            return new End(EndReason::PastEnd, "The service answered 416 to {$this->onward->unit} from {$this->asked} on, which lies past the end.");
        }
        if ($page->status !== 206 && $range === null) {
            return $page->number === 1
                ? new End(EndReason::Single, 'The service ignores Range: it answered 200 with the whole list.')
                : throw OnwardFailure::notPartial($page->number, $page->status);
        }
        if ($range?->first !== null && $range->first !== $this->asked) {
            throw OnwardFailure::otherRange($page->number, "{$this->onward->unit} from {$this->asked} on", "{$range->first}-{$range->last}");
        }
        $this->step ??= max(1, $range?->first !== null ? $range->last - $range->first + 1 : $page->records);
        if ($this->total !== null && $this->from($page->number + 1) >= $this->total) {
            return new End(EndReason::Total, "Content-Range says {$this->total} {$this->onward->unit}, and this was the last part.");
        }

        return $this->request($this->from($page->number + 1));
    }

    public function ahead(int $number): ?PageRequest
    {
        return $this->step === null || $this->total !== null && $this->from($number) >= $this->total ? null : $this->request($this->from($number));
    }

    public function statuses(): array
    {
        return [206, 416];
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

    private function from(int $page): int
    {
        return ($this->onward->first ?? 0) + ($page - 1) * (int) $this->step;
    }

    private function request(int $from): PageRequest
    {
        return new PageRequest(headers: ['range' => "{$this->onward->unit}=$from-".($from + ($this->step ?? $this->onward->size ?? 100) - 1)]);
    }
}
