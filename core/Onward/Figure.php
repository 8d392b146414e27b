<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Answer\JsonPath\JsonPath;

/**
 * A whole number that an answer states: at a JSONPath, or in a header.
 */
final readonly class Figure
{
    private function __construct(private string $text, private ?JsonPath $path)
    {
    }

    /**
     * @param  string  $text  a JSONPath, or the name of a header
     *
     * @throws \DeepSpring\Answer\JsonPath\InvalidJsonPath
     */
    public static function parse(string $text): self
    {
        return new self($text, str_starts_with($text, '$') ? JsonPath::parse($text) : null);
    }

    public function read(Page $page): ?int
    {
        $found = $this->path === null ? $page->headers[strtolower($this->text)] ?? null : $page->document;
        $found = $this->path === null ? $found : $this->path->values($found)[0] ?? null;
        if (is_float($found) && floor($found) === $found && abs($found) < 1e15) {
            return (int) $found;
        }

        return is_int($found) || (is_string($found) && preg_match('/^\d{1,15}$/D', trim($found)) === 1) ? (int) $found : null;
    }

    public function __toString(): string
    {
        return $this->text;
    }
}
