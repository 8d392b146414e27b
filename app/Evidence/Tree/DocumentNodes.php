<?php

declare(strict_types=1);

namespace App\Evidence\Tree;

/**
 * Nodes of a document that is in memory.
 */
final readonly class DocumentNodes implements TreeNodes
{
    public function __construct(private mixed $document)
    {
    }

    public function children(array $steps, int $from, int $most): ?TreeChildren
    {
        $value = $this->document;
        foreach ($steps as [$step]) {
            $value = $value instanceof \stdClass ? $value->{$step} ?? null : (is_array($value) ? $value[$step] ?? null : null);
        }
        if (! is_array($value) && ! $value instanceof \stdClass) {
            return null;
        }
        $children = is_array($value) ? $value : get_object_vars($value);
        $items = [];
        foreach (array_slice($children, $from, $most, true) as $step => $child) {
            $items[] = [is_array($value) ? (int) $step : (string) $step, $child];
        }

        return new TreeChildren(is_array($value), count($children), $from, $items);
    }
}
