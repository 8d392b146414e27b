<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

use DeepSpring\Answer\JsonPath\Selector\IndexSelector;
use DeepSpring\Answer\JsonPath\Selector\NameSelector;

/**
 * A compiled JSONPath (RFC 9535). Documents are values of `json_decode` with objects as `stdClass`.
 */
final readonly class JsonPath
{
    private ?FastPath $fast;

    private function __construct(public string $text, private JsonPathQuery $query)
    {
        $this->fast = FastPath::of($query);
    }

    /**
     * @throws InvalidJsonPath
     */
    public static function parse(string $text): self
    {
        return new self($text, (new JsonPathParser($text))->query());
    }

    /**
     * Whether it finds at most one value, whatever the document.
     */
    public function isSingular(): bool
    {
        return $this->query->isSingular();
    }

    /**
     * @return list<mixed>
     *
     * @throws TooCostly
     */
    public function values(mixed $document): array
    {
        if ($this->fast !== null) {
            return $this->fast->values($document);
        }

        return array_map(static fn (JsonNode $node): mixed => $node->value, $this->query->nodes($document, new Evaluation($document)));
    }

    /**
     * @return list<JsonNode>
     *
     * @throws TooCostly
     */
    public function nodes(mixed $document): array
    {
        return $this->query->nodes($document, new Evaluation($document));
    }

    /**
     * Whether it has a filter, which may compare numbers.
     */
    public function filters(): bool
    {
        return $this->fast === null && str_contains($this->text, '[?');
    }

    /**
     * The names and indexes with which the path begins, up to the first step that may find several.
     *
     * @return list<string|int>
     */
    public function head(): array
    {
        $head = [];
        foreach ($this->query->segments as $segment) {
            $selector = $segment->isSingular() ? $segment->selectors[0] : null;
            if ($selector instanceof NameSelector) {
                $head[] = $selector->name;
            } elseif ($selector instanceof IndexSelector && $selector->index >= 0) {
                $head[] = $selector->index;
            } else {
                break;
            }
        }

        return $head;
    }

    /**
     * The name of the member that the path ends with; null where it ends otherwise.
     */
    public function lastName(): ?string
    {
        $last = $this->query->segments[count($this->query->segments) - 1] ?? null;
        $selector = $last !== null && count($last->selectors) === 1 ? $last->selectors[0] : null;

        return $selector instanceof NameSelector ? $selector->name : null;
    }

    /**
     * The names from the root, when the path is nothing but names: `$.a.b` → ['a', 'b'].
     *
     * @return list<string>|null
     */
    public function names(): ?array
    {
        return $this->fast?->names();
    }

    public function __toString(): string
    {
        return $this->text;
    }
}
