<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * Files that came along with a description: by name, or by the part of the name after the last slash.
 */
final readonly class Files
{
    /**
     * @param  array<string, string>  $contents  by name
     */
    public function __construct(private array $contents)
    {
    }

    public function get(string $name): ?string
    {
        return $this->contents[$name] ?? $this->contents[basename(str_replace('\\', '/', $name))] ?? null;
    }

    /**
     * @return list<string>
     */
    public function names(): array
    {
        return array_map(strval(...), array_keys($this->contents));
    }
}
