<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

use DeepSpring\Answer\JsonPath\Selector\IndexSelector;
use DeepSpring\Answer\JsonPath\Selector\NameSelector;
use DeepSpring\Answer\JsonPath\Selector\WildcardSelector;

/**
 * Runs a path made of single names, indexes and wildcards straight over the document, with no
 * node and no list for each step. The values and their order are those of the general way.
 */
final readonly class FastPath
{
    /**
     * @param  list<string|int|true>  $steps  true is a wildcard
     */
    private function __construct(private array $steps)
    {
    }

    public static function of(JsonPathQuery $query): ?self
    {
        $steps = [];
        foreach ($query->segments as $segment) {
            if ($segment->descendant || count($segment->selectors) !== 1) {
                return null;
            }
            $selector = $segment->selectors[0];
            if ($selector instanceof NameSelector) {
                $steps[] = $selector->name;
            } elseif ($selector instanceof IndexSelector) {
                $steps[] = $selector->index;
            } elseif ($selector instanceof WildcardSelector) {
                $steps[] = true;
            } else {
                return null;
            }
        }

        return new self($steps);
    }

    /**
     * @return list<mixed>
     */
    public function values(mixed $document): array
    {
        $found = [];
        $this->walk($document, 0, $found);

        return $found;
    }

    /**
     * @return list<string>|null
     */
    public function names(): ?array
    {
        $names = [];
        foreach ($this->steps as $step) {
            if (! is_string($step)) {
                return null;
            }
            $names[] = $step;
        }

        return $names;
    }

    /**
     * @param  list<mixed>  $found
     */
    private function walk(mixed $value, int $at, array &$found): void
    {
        for ($count = count($this->steps); $at < $count; $at++) {
            $step = $this->steps[$at];
            if ($step === true) {
                if (is_array($value)) {
                    $children = $value;
                } elseif (is_object($value)) {
                    $children = get_object_vars($value);
                } else {
                    return;
                }
                if ($at === $count - 1 && $found === [] && is_array($value) && array_is_list($value)) {
                    // As it is, where nothing was found before.
                    $found = $value;
                } elseif ($at === $count - 1) {
                    foreach ($children as $child) {
                        $found[] = $child;
                    }
                } else {
                    foreach ($children as $child) {
                        $this->walk($child, $at + 1, $found);
                    }
                }

                return;
            }
            if (is_string($step)) {
                if (! is_object($value) || (! isset($value->{$step}) && ! property_exists($value, $step))) {
                    return;
                }
                $value = $value->{$step};
            } else {
                if (! is_array($value)) {
                    return;
                }
                $index = $step < 0 ? count($value) + $step : $step;
                if ($index < 0 || $index >= count($value)) {
                    return;
                }
                $value = $value[$index];
            }
        }
        $found[] = $value;
    }
}
