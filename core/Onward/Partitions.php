<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * Parts that the first answer lists; the first of them is in that answer, or only the list is.
 */
final class Partitions implements PagingStyle
{
    use PlainPager;

    /** @var list<string>|null */
    private ?array $parts = null;

    /** @var array<string, string> what stands for the names in the path */
    private array $taken = [];

    public static function kind(): Kind
    {
        return new Kind('partition', 'Partitions', 'The first response lists parts, each of which is asked for by its number or name.', [
            new Field('list', FieldType::Path, 'partitions at', 'Where the first response lists the parts.', true, start: '$.partitions[*]', example: '$.partitions[*]'),
            new Field('value', FieldType::Path, 'value at', 'What of a part is sent; the part itself without it.', example: '$.number'),
            PagingSettings::sendAs('the part', 'partition'),
            PagingSettings::in('query', 'body', 'header', 'path'),
            new Field('path', FieldType::Text, 'path', 'Another path for the further parts, with `{names}` in it.', example: '/statements/{handle}', shape: ['type' => 'string', 'minLength' => 1, 'maxLength' => 2000]),
            new Field('method', FieldType::Choice, 'method', 'Another method for the further parts.', default: '', choices: ['' => 'the same', 'GET' => 'GET', 'POST' => 'POST']),
            new Field('take', FieldType::Paths, 'path variables', 'What stands for the names in `path`, found in the first response.', example: 'handle: $.handle'),
            new Field('first_holds', FieldType::Choice, 'the first response holds', 'Whether the first response holds the first part already.', default: 'first', choices: ['first' => 'the first part', 'none' => 'only the list']),
            PagingSettings::total(true),
            ...PagingSettings::ends(false),
        ]);
    }

    public function __construct(private readonly OnwardDefinition $onward)
    {
    }

    public function first(): PageRequest
    {
        return new PageRequest;
    }

    public function next(Page $page): PageRequest|End
    {
        if ($page->number === 1) {
            $this->read($page);
        }

        return $this->ahead($page->number + 1) ?? new End(EndReason::All, match (count($this->parts ?? [])) {
            0 => "{$this->onward->list} lists no further parts.", 1 => 'The only part was read.', default => 'All '.count($this->parts ?? []).' parts were read.'
        });
    }

    public function ahead(int $number): ?PageRequest
    {
        $part = $this->parts[$this->onward->firstHolds === 'none' ? $number - 2 : $number - 1] ?? null;
        if ($part === null || $number < 2) {
            return null;
        }
        $path = $this->onward->path;
        if ($path !== null) {
            $fill = $this->taken + ($this->onward->in === 'path' ? [$this->onward->sendAs => $part] : []);
            $path = strtr($path, array_combine(array_map(static fn (string $name): string => '{'.$name.'}', array_keys($fill)), array_map(rawurlencode(...), array_values($fill))));
        }

        return new PageRequest(
            query: $this->onward->in === 'query' ? [$this->onward->sendAs => $part] : [],
            headers: $this->onward->in === 'header' ? [strtolower($this->onward->sendAs) => $part] : [],
            body: $this->onward->in === 'body' ? [$this->onward->sendAs => ctype_digit($part) ? (int) $part : $part] : [],
            method: $this->onward->method, path: $path,
        );
    }

    public function endsEmpty(): bool
    {
        return false;
    }

    public function memory(): array
    {
        return ['parts' => $this->parts, 'taken' => $this->taken];
    }

    public function remember(array $memory): void
    {
        $this->parts = $memory['parts'] ?? null;
        $this->taken = $memory['taken'] ?? [];
    }

    private function read(Page $page): void
    {
        $this->parts = [];
        foreach ($this->onward->list?->values($page->document) ?? [] as $place => $part) {
            $value = $this->onward->value !== null ? $this->onward->value->values($part)[0] ?? null : (is_scalar($part) ? $part : $place);
            if (! is_string($value) && ! is_int($value)) {
                throw OnwardFailure::noPart("{$this->onward->value} of part ".($place + 1).' at '.$this->onward->list);
            }
            $this->parts[] = (string) $value;
        }
        foreach ($this->onward->take as $name => $path) {
            $value = \DeepSpring\Answer\JsonPath\JsonPath::parse($path)->values($page->document)[0] ?? null;
            if (! is_string($value) && ! is_int($value)) {
                throw OnwardFailure::noPart($path);
            }
            $this->taken[$name] = (string) $value;
        }
    }
}
