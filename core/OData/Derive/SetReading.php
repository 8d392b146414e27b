<?php

declare(strict_types=1);

namespace DeepSpring\OData\Derive;

use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\SetChoice;
use DeepSpring\OData\Url\QueryOptions;

/**
 * What is asked, where the records are and how the rest of them comes, for what reads an entity set.
 */
final readonly class SetReading
{
    public function __construct(private ODataVersion $version)
    {
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array{ask: array<string, mixed>, answer: array<string, mixed>, onward: array<string, mixed>}
     */
    public function of(array $endpoint): array
    {
        $choice = SetChoice::of($endpoint);
        $page = $endpoint['page'] ?? [];
        $isByClient = ($page['by'] ?? 'service') === 'client';
        $size = $page['size'] ?? null;
        $counts = $choice->top === null && ($page['count'] ?? true);
        $options = (new QueryOptions($this->version))->of($isByClient ? $this->ordered($choice, $page['stable'] ?? []) : $choice);
        if ($counts) {
            $options += $this->version->isV4() ? ['$count' => 'true'] : ['$inlinecount' => 'allpages'];
        }
        $headers = ['accept' => $this->version->accept(($page['long_numbers'] ?? false) === true)] + $this->version->headers();
        $prefer = array_filter([
            ! $isByClient && $size !== null && $this->version->isV4() ? "odata.maxpagesize=$size" : null,
            ($endpoint['track'] ?? false) === true && $this->version->isV4() ? 'odata.track-changes' : null,
        ]);
        if ($prefer !== []) {
            $headers['prefer'] = implode(',', $prefer);
        }
        $total = $counts ? ['total' => $this->version->isV4() ? "$['@odata.count','@count']" : '$.d.__count'] : [];
        $link = ['style' => 'next-link', 'link' => $this->version->isV4() ? "$['@odata.nextLink','@nextLink']" : '$.d.__next'];

        return [
            'ask' => ['method' => 'GET', 'path' => "/{$endpoint['entity_set']}"] + $this->inputs($options) + ['headers' => $headers],
            'answer' => ['format' => 'json', 'records' => $this->version->isV4() ? '$.value[*]' : '$.d.results[*]'],
            'onward' => ($isByClient ? ['style' => 'offset', 'send_as' => '$skip', 'size_as' => '$top', 'size' => $size ?? 500] : $link) + $total + ($choice->top === null ? [] : ['max_records' => $choice->top]),
        ];
    }

    /**
     * Options as inputs that nobody changes.
     *
     * @param  array<string, string>  $options
     * @return array{inputs?: list<array<string, mixed>>}
     */
    private function inputs(array $options): array
    {
        $inputs = array_map(static fn (string $name, string $value): array => ['name' => $name, 'in' => 'query', 'fixed' => $value], array_keys($options), $options);

        return $inputs === [] ? [] : ['inputs' => $inputs];
    }

    /**
     * Pages that the client cuts need an order in which every record has one place: that of the key, after
     * whatever is wanted first.
     *
     * @param  list<string>  $key
     */
    private function ordered(SetChoice $choice, array $key): SetChoice
    {
        $order = array_filter([$choice->order, ...array_diff($key, $choice->orderedBy())], static fn (string $one): bool => $one !== '');

        return new SetChoice($choice->select, $choice->filter, implode(',', $order), null, $choice->expand, $choice->search, null);
    }
}
