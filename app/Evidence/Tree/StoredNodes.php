<?php

declare(strict_types=1);

namespace App\Evidence\Tree;

use App\Evidence\AnswerParts;
use App\Models\AnswerPart;
use App\Models\Exchange;

/**
 * Nodes of a large answer, from its parts.
 */
final readonly class StoredNodes implements TreeNodes
{
    public function __construct(private Exchange $exchange)
    {
    }

    public function children(array $steps, int $from, int $most): ?TreeChildren
    {
        // The node may be a part of its own, or stand inside a part of one above it.
        for ($known = count($steps); $known >= 0; $known--) {
            $at = $known === count($steps) ? $from : $steps[$known][1];
            $part = $this->part(array_slice($steps, 0, $known), $at);
            if ($part === null) {
                continue;
            }
            if ($known === count($steps)) {
                return $this->whole($part, $from, $most, $steps);
            }
            foreach ($this->items($part) as [$step, $isStub, $value]) {
                if ((string) $step === (string) $steps[$known][0] && ! $isStub) {
                    return (new DocumentNodes($value))->children(array_slice($steps, $known + 1), $from, $most);
                }
            }

            return null;
        }

        return null;
    }

    /**
     * @param  list<array{string|int, int}>  $steps
     */
    private function whole(AnswerPart $part, int $from, int $most, array $steps): TreeChildren
    {
        $items = [];
        $content = $this->content($part);
        $place = $part->first;
        $total = $part->number;
        do {
            foreach ($content->items as [$step, $isStub, $value]) {
                if ($place >= $from && count($items) < $most) {
                    $items[] = [$step, $isStub ? new UnreadContainer($value->array, $value->count) : $value];
                }
                $place++;
            }
            $next = count($items) < $most && $place < $total ? $this->part($steps, $place) : null;
            $content = $next === null ? $content : $this->content($next);
        } while ($next !== null);

        return new TreeChildren($content->kind === 'array', $total, $from, $items);
    }

    /**
     * @param  list<array{string|int, int}>  $steps
     */
    private function part(array $steps, int $at): ?AnswerPart
    {
        return AnswerPart::query()->where('exchange_id', $this->exchange->id)->where('node', AnswerParts::node(array_map(static fn (array $step): string|int => $step[0], $steps)))->where('first', '<=', $at)->latest('first')->first();
    }

    private function content(AnswerPart $part): object
    {
        return json_decode((string) gzinflate($part->content), false, 512, JSON_BIGINT_AS_STRING | JSON_THROW_ON_ERROR);
    }

    /**
     * @return list<array{string|int, int, mixed}>
     */
    private function items(AnswerPart $part): array
    {
        return $this->content($part)->items;
    }
}
