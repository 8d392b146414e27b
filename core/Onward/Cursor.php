<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * A token in each answer that asks for the next one, or a value of the last record that does.
 */
final class Cursor implements PagingStyle
{
    use PlainPager;

    /** @var array<array-key, true> */
    private array $seen = [];

    private ?string $sent = null;

    public static function kind(): Kind
    {
        return new Kind('cursor', 'Cursor', 'Each response hands out a token for the next page, or the last record has an id that goes back.', [
            new Field('next', FieldType::Path, 'cursor at', 'Where the cursor stands in the response.', start: '$.next', example: '$.next'),
            new Field('from_last', FieldType::Path, 'or in the last record at', 'Where the cursor stands in the last record, instead of `next`.', example: '$.id'),
            PagingSettings::sendAs('the cursor', 'after'),
            PagingSettings::in('query', 'body', 'header'),
            new Field('more', FieldType::Path, 'more pages while true at', 'A flag: false is the end; true without a cursor is a failure.', example: '$.has_more'),
            ...PagingSettings::size(),
            ...PagingSettings::ends(),
            PagingSettings::total(true),
        ]);
    }

    public function __construct(private readonly OnwardDefinition $onward)
    {
    }

    public function first(): PageRequest
    {
        return new PageRequest($this->onward->sizeQuery(), body: $this->onward->sizeBody());
    }

    public function next(Page $page): PageRequest|End
    {
        $more = $this->onward->more?->values($page->document)[0] ?? null;
        if (in_array($more, [false, 0, 'false', '0', ''], true)) {
            return new End(EndReason::NoMore, "{$this->onward->more} is false on page {$page->number}.");
        }
        $path = $this->onward->fromLast ?? $this->onward->next;
        $cursor = $path?->values($this->onward->fromLast === null ? $page->document : $page->last)[0] ?? null;
        if ($cursor === null || $cursor === '' || $cursor === false) {
            if ($this->onward->fromLast !== null) {
                return $page->records === 0
                    ? new End(EndReason::EmptyPage, "Page {$page->number} is empty.")
                    : throw OnwardFailure::cursorMissing($page->number, "$path of the last record", null);
            }

            return $more === null
                ? new End(EndReason::NoNext, "$path holds no cursor on page {$page->number}.")
                : throw OnwardFailure::cursorMissing($page->number, (string) $path, (string) $this->onward->more);
        }
        if (! is_string($cursor) && ! is_int($cursor) && ! is_float($cursor)) {
            throw OnwardFailure::notACursor($page->number, (string) $path);
        }
        $cursor = (string) $cursor;
        if ($this->onward->fromLast !== null && $page->records === 1 && $cursor === $this->sent) {
            return new End(EndReason::NoMore, "Page {$page->number} holds only the record that its cursor stands on.");
        }
        $key = strlen($cursor) > 32 ? hash('xxh128', $cursor) : $cursor;
        if (isset($this->seen[$key])) {
            throw OnwardFailure::repeatedCursor($page->number, $cursor);
        }
        $this->seen[$key] = true;
        $this->sent = $cursor;

        return match ($this->onward->in) {
            'header' => new PageRequest($this->onward->sizeQuery(), headers: [strtolower($this->onward->sendAs) => $cursor]),
            'body' => new PageRequest(body: [$this->onward->sendAs => $cursor] + $this->onward->sizeBody()),
            default => new PageRequest([$this->onward->sendAs => $cursor] + $this->onward->sizeQuery()),
        };
    }

    public function memory(): array
    {
        return ['sent' => $this->sent];
    }

    public function remember(array $memory): void
    {
        $this->sent = $memory['sent'] ?? null;
        if ($this->sent !== null) {
            $this->seen[strlen($this->sent) > 32 ? hash('xxh128', $this->sent) : $this->sent] = true;
        }
    }
}
