<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

/**
 * The segments after an identifier `$` or `@`.
 */
final readonly class JsonPathQuery
{
    /**
     * @param  list<Segment>  $segments
     */
    public function __construct(public array $segments, public bool $absolute)
    {
    }

    public function isSingular(): bool
    {
        foreach ($this->segments as $segment) {
            if (! $segment->isSingular()) {
                return false;
            }
        }

        return true;
    }

    /**
     * @return list<JsonNode>
     */
    public function nodes(mixed $start, Evaluation $in): array
    {
        $nodes = [new JsonNode($start, new Location)];
        foreach ($this->segments as $segment) {
            $nodes = $segment->apply($nodes, $in);
        }

        return $nodes;
    }
}
